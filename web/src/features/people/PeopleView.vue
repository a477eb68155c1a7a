<script setup lang="ts">
import type { PersonKind, Slips } from '@sammlung/contract';
import { refDebounced } from '@vueuse/core';
import { computed, defineAsyncComponent, nextTick, onMounted, ref, useTemplateRef } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import IndexTab from '../../app/IndexTab.vue';
import PageState from '../../app/PageState.vue';
import { say } from '../../app/shell/toast.ts';
import { useSubmit } from '../../app/submit.ts';
import AppButton from '../../ui/AppButton.vue';
import { walkRows } from '../../ui/listKeys.ts';
import { FIELD } from '../../ui/field.ts';
import { usePeople, usePersonChanges, type Shown } from './people.ts';
import PersonCard from './PersonCard.vue';

/** Everybody at the school, for the office. */
const { t } = useI18n();
const typed = ref('');
const words = refDebounced(typed, 120);
const shown = ref<Shown>('all');
const SHOWN: readonly Shown[] = ['all', 'teacher', 'student', 'office', 'ended'];
const query = usePeople(
  () => words.value.trim(),
  () => shown.value,
);
const people = computed(() => query.data.value?.pages.flatMap((page) => page.people) ?? []);
const mails = computed(() => query.data.value?.pages[0]?.mails ?? false);
const more = query.hasNextPage;
const { refresh, sendInvitation, slipFor } = usePersonChanges();
const SlipSheet = defineAsyncComponent(() => import('../../app/SlipSheet.vue'));
/** Slips to be printed: shown this once. */
const slips = ref<Slips['slips']>();

const open = ref<string | null>(null);
const list = useTemplateRef('list');
const search = useTemplateRef('search');
onMounted(() => search.value?.focus());

/** Closes a person’s card; the focus goes back to their row. */
async function close(id: string) {
  open.value = null;
  await nextTick();
  list.value?.querySelector<HTMLElement>(`[data-person="${id}"]`)?.focus();
}
/** Closes the card of somebody who goes from the list; the focus goes to where others are found. */
function gone() {
  open.value = null;
  search.value?.focus();
}
/** Arrow keys walk the rows; in a card they are for what is typed. */
function walk(event: KeyboardEvent) {
  if (list.value && (event.target as HTMLElement).matches('[data-row]'))
    walkRows(list.value, event);
}

const kind = ref<PersonKind>('teacher');
const name = ref('');
const email = ref('');
const { fault, busy, tried } = useSubmit();
async function add() {
  await tried(async () => {
    const body = { kind: kind.value, name: name.value.trim(), email: email.value.trim() || null };
    const { id } = await api('POST /api/people', { body });
    // The new one is shown among all, whatever was looked for.
    typed.value = body.name;
    shown.value = 'all';
    open.value = id;
    name.value = email.value = '';
    // Whoever gets mail is invited by it; for the others there is something to hand them.
    if (mails.value && body.email) {
      await sendInvitation(id);
      say({ text: t('people.added-invited', { name: body.name }) });
    } else {
      slips.value = await slipFor(id);
      say({ text: t('people.added', { name: body.name }) });
    }
    await refresh();
  });
}
</script>

<template>
  <div class="mx-auto w-full max-w-4xl px-5 py-7 sm:px-10">
    <h1 class="text-[28px]">{{ t('shell.people') }}</h1>
    <p class="mt-1 text-soft">{{ t('people.text') }}</p>
    <form
      class="mt-5 grid items-end gap-3 rounded-lg border border-line bg-raised px-4 pt-3 pb-4 sm:grid-cols-[9rem_1fr_1fr_auto]"
      :aria-label="t('people.add-title')"
      @submit.prevent="add"
    >
      <label class="block"
        ><span class="block text-meta text-soft">{{ t('people.kind') }}</span
        ><select v-model="kind" :class="FIELD">
          <option value="teacher">{{ t('people.one.teacher') }}</option>
          <option value="office">{{ t('people.one.office') }}</option>
          <option value="student">{{ t('people.one.student') }}</option>
        </select></label
      >
      <label class="block"
        ><span class="block text-meta text-soft">{{ t('people.name') }}</span
        ><input v-model="name" maxlength="120" required :class="FIELD"
      /></label>
      <label class="block"
        ><span class="block text-meta text-soft">{{ t('people.email-maybe') }}</span
        ><input v-model="email" type="email" maxlength="254" :class="FIELD"
      /></label>
      <AppButton tone="main" submits :disabled="busy || name.trim() === ''">{{
        t('people.add')
      }}</AppButton>
      <p role="alert" class="font-medium text-brick-ink empty:hidden sm:col-span-4">{{ fault }}</p>
    </form>

    <div class="mt-7 flex flex-wrap items-center gap-x-4 gap-y-2">
      <label class="min-w-60 flex-1">
        <span class="sr-only">{{ t('people.find') }}</span>
        <input
          ref="search"
          v-model="typed"
          type="search"
          :placeholder="t('people.find')"
          class="h-10 w-full rounded-edge border border-line bg-raised px-3 pointer-coarse:h-11"
          @keydown.down.prevent="list?.querySelector<HTMLElement>('[data-row]')?.focus()"
        />
      </label>
      <div class="flex flex-wrap gap-1.5" role="group" :aria-label="t('people.who')">
        <button
          v-for="one in SHOWN"
          :key="one"
          type="button"
          class="min-h-9 rounded-edge border px-3 text-[15px] font-semibold pointer-coarse:min-h-11"
          :class="
            shown === one
              ? 'border-ink bg-ink text-sheet'
              : 'border-line bg-raised hover:border-petrol'
          "
          :aria-pressed="shown === one"
          @click="shown = one"
        >
          {{ t(`people.some.${one}`) }}
        </button>
      </div>
    </div>

    <PageState v-if="!query.data.value" :error="query.error.value" @again="query.refetch()" />
    <p
      v-else-if="people.length === 0"
      class="mt-6 border-t border-line py-6 text-soft"
      role="status"
    >
      {{ t(words.trim() === '' ? 'people.none' : 'people.none-found') }}
    </p>
    <ul v-else ref="list" class="mt-4 border-b border-line" @keydown="walk">
      <li v-for="person in people" :key="person.id" class="border-t border-line">
        <button
          type="button"
          data-row
          :data-person="person.id"
          class="group flex min-h-14 w-full flex-wrap items-center gap-x-4 gap-y-0.5 px-2 py-1.5 text-left hover:bg-paper/60"
          :aria-expanded="open === person.id"
          @click="open = open === person.id ? null : person.id"
        >
          <span class="min-w-52 flex-1">
            <span class="block font-semibold group-hover:text-petrol">{{ person.name }}</span>
            <span class="block text-meta text-soft"
              >{{ t(`people.one.${person.kind}`)
              }}<template v-if="person.email ?? person.signInName">
                · {{ person.email ?? person.signInName }}</template
              ></span
            >
          </span>
          <span class="flex flex-wrap gap-1.5">
            <IndexTab
              v-for="one in person.belongs"
              :key="one.id"
              plain
              :tab="{
                kind: 'class',
                label: one.label,
                colour: one.colour,
                from: null,
                state: 'out',
              }"
            />
          </span>
          <span
            class="w-36 text-right text-meta max-sm:w-auto"
            :class="
              person.access === 'none' || person.access === 'ended'
                ? 'text-saffron-ink'
                : 'text-soft'
            "
            >{{ t(`people.access.${person.access}`) }}</span
          >
        </button>
        <PersonCard
          v-if="open === person.id"
          :person="person"
          :mails="mails"
          @close="close(person.id)"
          @gone="gone"
          @slips="slips = $event"
        />
      </li>
    </ul>
    <AppButton v-if="more" class="mt-4" @click="query.loadNextPage()">{{
      t('people.more')
    }}</AppButton>
    <SlipSheet
      v-if="slips"
      :slips="slips"
      :title="slips[0]?.name ?? ''"
      @close="slips = undefined"
    />
  </div>
</template>
