<script setup lang="ts">
import type { Answer, Flag, RequestView, Thing, ScheduledChange } from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { computed, defineAsyncComponent, ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink } from 'vue-router';
import { api } from '../../app/api/api.ts';
import { useChanging } from '../../app/changing.ts';
import { useFormat } from '../../app/format.ts';
import { AT_ONCE, useHandingOut } from '../../app/handing.ts';
import { useSession } from '../../app/session/session.ts';
import { say } from '../../app/shell/toast.ts';
import FeedAddress from '../../app/FeedAddress.vue';
import AppButton from '../../ui/AppButton.vue';
import PageState from '../../app/PageState.vue';

/** What a teacher wants to know when the day begins: what goes out, who asks, what may want a look, what came in. */
defineSlots<{ tray?(): unknown; done?(): unknown }>();
const { t } = useI18n();
const { moment, day } = useFormat();
const { withRefresh, attempt, consent } = useChanging();
const { undoHanding } = useHandingOut();
const session = useSession();
const today = useQuery({
  key: ['today'],
  query: () => api('GET /api/today'),
  staleTime: 0,
});
const data = computed(() => today.data.value);
const WordsSheet = defineAsyncComponent(() => import('./WordsSheet.vue'));
const wording = ref(false);

const to = (thing: Thing) =>
  thing.kind === 'folder'
    ? { name: 'folder', params: { folder: thing.id } }
    : { name: 'item', params: { placement: thing.id } };
const time = (soon: ScheduledChange) => moment(soon.at);

/** Answers once; handing out to a class tells what that does, as everywhere. */
const answer = (request: RequestView, given: Answer, name: string) =>
  attempt(async () => {
    const audience =
      given.answer === 'class'
        ? { kind: 'class' as const, id: given.classId }
        : given.answer === 'link' && { kind: 'public' as const, id: session.person!.school.id };
    if (audience) {
      const change = { do: 'hand-out' as const, things: [request.thing], ...AT_ONCE };
      const yes = t(given.answer === 'link' ? 'today.send-link' : 'audience.hand-out');
      if ((await consent({ ...change, audiences: [audience] }, yes)) === null) return false;
    }
    const answered = await withRefresh(
      api('POST /api/requests/:request/answer', { params: { request: request.id }, body: given }),
    );
    say({
      text:
        given.answer === 'no'
          ? t('today.refused', { name: request.person.name })
          : given.answer === 'link'
            ? t('today.link-sent', { name: request.person.name })
            : t('audience.handed', { title: request.title, name }),
      undo: async () => {
        await api('POST /api/requests/:request/reopen', { params: { request: request.id } });
        if (answered.doorId)
          await api('DELETE /api/doors/:door', { params: { door: answered.doorId } });
        await undoHanding(answered);
      },
    });
    return true;
  });
const again = (noteId: string) =>
  attempt(async () => {
    await withRefresh(api('POST /api/notes/:note/again', { params: { note: noteId } }));
    say({ text: t('today.trying-again') });
    return true;
  });
const flagTo = (flag: Flag) =>
  flag.thing ? to(flag.thing) : { name: 'class', params: { class: flag.classId ?? '' } };
</script>

<template>
  <div class="mx-auto w-full max-w-6xl px-5 py-7 sm:px-10">
    <h1 class="text-[28px]">{{ t('shell.today') }}</h1>
    <slot name="tray" />
    <PageState v-if="!data" :error="today.error.value" @again="today.refetch()" />
    <div v-else class="mt-9 grid gap-x-12 gap-y-8 lg:grid-cols-[1.25fr_1fr]">
      <div class="min-w-0 space-y-9">
        <section v-if="data.requests.length > 0" aria-labelledby="today-requests">
          <h2 id="today-requests" class="text-[19px]">
            {{ t('today.requests', data.requests.length) }}
          </h2>
          <ul class="mt-1.5 border-b border-line">
            <li
              v-for="request in data.requests"
              :key="request.id"
              class="border-t border-line py-3"
            >
              <p>
                <b class="font-semibold">{{ request.person.name }}</b>
                <span v-if="request.email" class="text-meta wrap-anywhere text-soft">{{
                  ` ${t('today.visitor', { email: request.email })} `
                }}</span>
                {{ t('today.wants') }}
                <RouterLink
                  :to="to(request.thing)"
                  class="font-medium text-petrol underline underline-offset-2"
                  >{{ request.title }}</RouterLink
                >
                <span class="text-meta text-soft"> · {{ day(request.askedAt) }}</span>
              </p>
              <p v-if="request.message" class="mt-1 border-l-4 border-line pl-3 text-soft">
                {{ request.message }}
              </p>
              <div class="mt-2 flex flex-wrap gap-2">
                <AppButton
                  v-if="request.person.kind === 'visitor'"
                  tone="main"
                  @click="answer(request, { answer: 'link' }, '')"
                  >{{ t('today.send-link') }}</AppButton
                >
                <AppButton
                  v-else
                  tone="main"
                  @click="answer(request, { answer: 'person' }, request.person.name)"
                  >{{ t('today.to-person') }}</AppButton
                >
                <AppButton
                  v-for="c in request.classes"
                  :key="c.id"
                  @click="answer(request, { answer: 'class', classId: c.id }, c.code)"
                  >{{ t('today.to-class', { code: c.code }) }}</AppButton
                >
                <AppButton @click="answer(request, { answer: 'no' }, '')">{{
                  t('today.no')
                }}</AppButton>
              </div>
            </li>
          </ul>
        </section>
        <section aria-labelledby="today-scheduled">
          <h2 id="today-scheduled" class="text-[19px]">{{ t('today.turns') }}</h2>
          <p v-if="data.scheduled.length === 0" class="mt-1 text-soft">{{ t('today.no-turns') }}</p>
          <ul v-else class="mt-1.5 border-b border-line">
            <li
              v-for="soon of data.scheduled"
              :key="`${soon.at} ${soon.what} ${soon.thing.id}`"
              class="flex items-center gap-4 border-t border-line py-2"
            >
              <span
                class="w-28 shrink-0 text-meta sm:w-40"
                :class="soon.what === 'out' ? 'text-saffron-ink' : 'text-soft'"
              >
                {{ t(`today.${soon.what}`) }}<br />{{ time(soon) }}
              </span>
              <span class="min-w-0 flex-1">
                <RouterLink
                  :to="to(soon.thing)"
                  class="block truncate font-semibold hover:text-petrol hover:underline"
                  >{{ soon.title }}</RouterLink
                >
                <span class="block truncate text-meta text-soft">{{ soon.place }}</span>
              </span>
              <span
                v-for="whom in soon.for"
                :key="whom.label"
                class="inline-flex h-[22px] items-center rounded-[4px] px-2 font-code text-[12px] font-semibold text-white"
                :style="{ background: whom.colour ? `var(--${whom.colour})` : '#665e4c' }"
                >{{ whom.label }}</span
              >
            </li>
          </ul>
          <FeedAddress
            class="mt-2"
            :class-id="null"
            :title="t('today.calendar')"
            :text="t('today.calendar-text')"
          />
        </section>
        <section aria-labelledby="today-added">
          <h2 id="today-added" class="text-[19px]">{{ t('today.added') }}</h2>
          <p v-if="data.added.length === 0" class="mt-1 text-soft">{{ t('today.no-added') }}</p>
          <ul v-else class="mt-1.5 border-b border-line">
            <li
              v-for="one in data.added"
              :key="one.thing.id"
              class="flex min-h-10 flex-wrap items-center gap-x-4 border-t border-line max-sm:py-1.5"
            >
              <RouterLink
                :to="to(one.thing)"
                class="min-w-0 flex-1 truncate hover:text-petrol hover:underline max-sm:basis-full max-sm:whitespace-normal"
                >{{ one.title }}</RouterLink
              >
              <RouterLink
                :to="{ name: 'folder', params: { folder: one.folder.id } }"
                class="truncate text-meta text-soft hover:text-petrol hover:underline max-sm:leading-6"
                >{{ one.folder.title }}</RouterLink
              >
              <span v-if="one.byName" class="text-meta text-soft">{{ one.byName }}</span>
              <span class="shrink-0 text-right text-meta text-soft sm:w-24">{{ day(one.at) }}</span>
            </li>
          </ul>
        </section>
      </div>
      <aside class="min-w-0 space-y-8">
        <slot name="done" />
        <section aria-labelledby="today-flags">
          <h2 id="today-flags" class="text-[19px]">{{ t('today.flags') }}</h2>
          <p v-if="data.flags.length === 0" class="mt-1 text-soft">{{ t('today.no-flags') }}</p>
          <ul v-else class="mt-1.5 border-b border-line">
            <li
              v-for="(flag, n) in data.flags"
              :key="n"
              class="flex gap-3 border-t border-line py-2.5"
            >
              <span
                class="mt-1.5 size-2.5 shrink-0 rounded-[2px]"
                :class="flag.kind === 'public' ? 'bg-brick' : 'bg-saffron'"
                aria-hidden="true"
              />
              <span>
                <RouterLink
                  :to="flagTo(flag)"
                  class="font-semibold hover:text-petrol hover:underline"
                  >{{ flag.title }}</RouterLink
                >
                <span class="block text-meta text-soft">
                  {{ t(`today.flag.${flag.kind}`) }}
                  <template v-if="flag.word">{{
                    t('today.flag.word', { word: flag.word })
                  }}</template>
                </span>
              </span>
            </li>
          </ul>
          <RouterLink
            :to="{ name: 'doors' }"
            class="mt-2 inline-flex min-h-9 items-center text-petrol underline underline-offset-2"
            >{{ t('today.all-doors') }}</RouterLink
          >
          <button
            type="button"
            class="ml-5 min-h-9 text-petrol underline underline-offset-2"
            @click="wording = true"
          >
            {{ t('today.words.title') }}
          </button>
          <WordsSheet v-if="wording" @close="wording = false" />
        </section>
        <section v-if="data.removed.length > 0" aria-labelledby="today-removed">
          <h2 id="today-removed" class="text-[19px]">{{ t('today.removed') }}</h2>
          <ul class="mt-1.5 border-b border-line">
            <li v-for="one in data.removed" :key="one.thing.id" class="border-t border-line py-2.5">
              <b class="font-semibold">{{ one.title }}</b>
              <span class="block text-meta text-soft">
                {{
                  [
                    one.byName,
                    day(one.at),
                    one.thing.kind === 'folder' ? t('count.items', one.items) : '',
                  ]
                    .filter(Boolean)
                    .join(' · ')
                }}
              </span>
            </li>
          </ul>
          <RouterLink
            :to="{ name: 'bin' }"
            class="mt-2 inline-flex min-h-9 items-center text-petrol underline underline-offset-2"
            >{{ t('today.to-bin') }}</RouterLink
          >
        </section>
        <section v-if="data.notes.length > 0" aria-labelledby="today-notes">
          <h2 id="today-notes" class="text-[19px]">{{ t('today.notes') }}</h2>
          <ul class="mt-1.5 border-b border-line">
            <li v-for="note in data.notes" :key="note.id" class="border-t border-line py-2.5">
              <b class="font-semibold">{{ note.title }}</b>
              <span class="text-meta text-soft">
                · {{ note.reminder ? t('today.reminder') : note.audience }} ·
                {{ t('today.sent', note.sent) }}</span
              >
              <p v-for="(one, n) in note.failed" :key="n" class="text-meta text-brick-ink">
                {{
                  one.name ? t('today.not-arrived', { name: one.name }) : t('today.not-arrived-one')
                }}
                {{ one.fault }}
              </p>
              <p v-if="note.trying" class="text-meta text-saffron-ink">
                {{ t('today.trying', note.waiting) }} {{ note.trying }}
              </p>
              <AppButton v-if="note.failed.length > 0" class="mt-2" @click="again(note.id)">{{
                t('common.again')
              }}</AppButton>
            </li>
          </ul>
        </section>
      </aside>
    </div>
  </div>
</template>
