<script setup lang="ts">
import type { Language, Member, Slips } from '@sammlung/contract';
import { dayAt } from '@sammlung/core';
import { computed, defineAsyncComponent, ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { useRoute, useRouter } from 'vue-router';
import { api } from '../../app/api/api.ts';
import { useChanging } from '../../app/changing.ts';
import { LANGUAGES } from '../../app/i18n.ts';
import { useFormat } from '../../app/format.ts';
import { useSession } from '../../app/session/session.ts';
import { say } from '../../app/shell/toast.ts';
import AppButton from '../../ui/AppButton.vue';
import PageState from '../../app/PageState.vue';
import RowMenu from '../../ui/RowMenu.vue';
import ClassWay from './ClassWay.vue';
import MemberDays from './MemberDays.vue';
import { useClassList, useRoster } from './roster.ts';

/** Who belongs to a class, since when and until when, and whether they can sign in. */
const SlipSheet = defineAsyncComponent(() => import('../../app/SlipSheet.vue'));
const { t } = useI18n();
const { day } = useFormat();
const route = useRoute();
const router = useRouter();
const session = useSession();
const { attempt, changed, withRefresh } = useChanging();
const { remove, leave, moveTo } = useRoster();
const id = computed(() => String(route.params.class));
const list = useClassList(() => id.value);
const data = computed(() => list.data.value);
const here = computed(() => data.value?.members.filter((m) => m.state !== 'left') ?? []);
const left = computed(() => data.value?.members.filter((m) => m.state === 'left') ?? []);
/** Whether somebody may sign in and has not yet. */
const waits = ({ access }: Member) => access === 'invited' || access === 'none';
const without = computed(() => here.value.filter(waits));
/** Those for whom the person may make a first password. */
const beginners = computed(() => without.value.filter((m) => m.managed));
const office = computed(() => session.person?.kind === 'office');
const reachable = computed(() => beginners.value.filter((m) => m.email !== null));
const slips = ref<Slips['slips'] | null>(null);
const editing = ref<string | null>(null);

const zone = computed(() => session.person?.school.timeZone ?? 'UTC');
/** In words since when and until when, where that is not simply now. */
const span = ({ from, until, state }: Member) =>
  [
    state === 'later' && from ? t('roster.joins', { day: day(from) }) : '',
    until ? t(state === 'left' ? 'roster.left-on' : 'roster.leaves', { day: day(until) }) : '',
  ]
    .filter(Boolean)
    .join(', ');
const asDay = (instant: string | null) =>
  instant === null ? null : dayAt(Date.parse(instant), zone.value);

const invite = (people: readonly Member[]) =>
  attempt(async () => {
    const { sent } = await api('POST /api/classes/:class/invitations', {
      params: { class: id.value },
      body: {
        people: people.map((m) => m.personId),
      },
    });
    say({ text: t('roster.invited', sent) });
    void changed();
    return true;
  });

const print = (people: readonly Member[]) =>
  attempt(async () => {
    slips.value = (
      await api('POST /api/classes/:class/slips', {
        params: { class: id.value },
        body: {
          people: people.map((m) => m.personId),
        },
      })
    ).slips;
    void changed();
    return true;
  });

const actions = (member: Member) => () => [
  { name: 'days', text: t('roster.days') },
  ...(data.value?.siblings ?? []).map((c) => ({
    name: `move ${c.id}`,
    text: t('roster.move-to', { code: c.code }),
  })),
  ...(member.managed && member.email && waits(member)
    ? [{ name: 'invite', text: t('roster.invite-one') }]
    : []),
  ...(member.managed && (waits(member) || (office.value && member.access === 'ready'))
    ? [{ name: 'slip', text: t('roster.slip-one') }]
    : []),
  { name: 'leave', text: t('roster.leave-now') },
];
function act(name: string, member: Member) {
  if (name === 'days') editing.value = member.membershipId;
  if (name === 'invite') void invite([member]);
  if (name === 'slip') void print([member]);
  if (name === 'leave') void leave(id.value, member);
  const to = data.value?.siblings.find((c) => name === `move ${c.id}`);
  if (to) void moveTo(id.value, member, to);
}
const withdraw = (requestId: string, name: string) =>
  attempt(async () => {
    await withRefresh(
      api('DELETE /api/join-requests/:request', { params: { request: requestId } }),
    );
    say({ text: t('roster.withdrawn', { name }) });
    return true;
  });
const language = computed({
  get: () => data.value?.language ?? '',
  set: (chosen) =>
    void attempt(async () => {
      await withRefresh(
        api('PATCH /api/classes/:class', {
          params: { class: id.value },
          body: { language: (chosen || null) as Language | null },
        }),
      );
      return true;
    }),
});
async function removeClass() {
  if (data.value && (await remove('classes', id.value, data.value.code)))
    await router.push({ name: 'classes' });
}
</script>

<template>
  <div class="mx-auto w-full max-w-5xl px-5 py-7 sm:px-10">
    <PageState v-if="!data" :error="list.error.value" @again="list.refetch()" />
    <template v-else>
      <ClassWay />
      <div class="mt-1 flex flex-wrap items-center gap-x-4 gap-y-2">
        <h1 class="flex flex-1 items-center gap-4 text-[28px]">
          <span
            class="inline-flex h-9 items-center rounded-[5px] px-3.5 font-code text-[18px] font-semibold text-white"
            :style="{ background: `var(--${data.colour})` }"
            >{{ data.code }}</span
          >
          <span>{{ data.course.title }}</span>
        </h1>
        <AppButton
          :tone="here.length === 0 ? 'main' : 'quiet'"
          @click="router.push({ name: 'class-list', params: { class: id } })"
          >{{ t('roster.take-list') }}</AppButton
        >
        <AppButton v-if="reachable.length > 0" @click="invite(reachable)">{{
          t('roster.invite', reachable.length)
        }}</AppButton>
        <AppButton v-if="beginners.length > 0" @click="print(beginners)">{{
          t('roster.slips', beginners.length)
        }}</AppButton>
      </div>
      <p class="mt-1 mb-4 text-soft">
        {{ t('count.students', here.length)
        }}<template v-if="here.length > 0">
          ·
          {{
            without.length > 0 ? t('roster.not-ready', without.length) : t('roster.all-ready')
          }}</template
        >
      </p>
      <div v-if="here.length === 0" class="border-t border-line py-9">
        <p class="text-[17px] font-semibold">{{ t('roster.empty') }}</p>
        <p class="mt-1 text-soft">{{ t('roster.empty-text') }}</p>
      </div>
      <template v-for="group in [here, left]" :key="group === left ? 'left' : 'here'">
        <h2 v-if="group === left && left.length > 0" class="mt-9 mb-1 text-[17px] text-soft">
          {{ t('roster.who-left') }}
        </h2>
        <ul v-if="group.length > 0" class="border-b border-line">
          <li v-for="m in group" :key="m.membershipId" class="border-t border-line">
            <div class="flex min-h-12 items-center gap-4 py-1">
              <span
                class="w-64 shrink-0 font-semibold"
                :class="{ 'text-soft': m.state !== 'now' }"
                >{{ m.name }}</span
              >
              <span class="min-w-0 flex-1 truncate text-[15px] text-soft">{{
                m.email ?? m.signInName
              }}</span>
              <span
                v-if="m.otherClasses.length > 0 && m.state === 'now'"
                class="text-meta text-saffron-ink"
                >{{ t('roster.also-in', { codes: m.otherClasses.join(', ') }) }}</span
              >
              <span v-if="span(m)" class="text-meta text-soft">{{ span(m) }}</span>
              <span
                v-if="m.access !== 'ready' && m.state !== 'left'"
                class="text-meta text-saffron-ink"
                >{{ t(`roster.access.${m.access}`) }}</span
              >
              <RowMenu
                v-if="m.state !== 'left'"
                :label="t('library.actions', { title: m.name })"
                :actions="actions(m)"
                @act="act($event, m)"
              />
            </div>
            <MemberDays
              v-if="editing === m.membershipId"
              :class-id="id"
              :member="m"
              :from="asDay(m.from)"
              :until="asDay(m.until)"
              @done="editing = null"
            />
          </li>
        </ul>
      </template>
      <template v-if="data.asked.length > 0">
        <h2 class="mt-9 mb-1 text-[17px] text-soft">{{ t('roster.asked', data.asked.length) }}</h2>
        <p class="mb-1 text-meta text-soft">{{ t('roster.asked-text') }}</p>
        <ul class="border-b border-line">
          <li
            v-for="one in data.asked"
            :key="one.id"
            class="flex min-h-12 items-center gap-4 border-t border-line py-1"
          >
            <span class="w-64 shrink-0 font-semibold text-soft">{{ one.name }}</span>
            <span class="flex-1 text-meta text-soft">{{ day(one.askedAt) }}</span>
            <AppButton @click="withdraw(one.id, one.name)">{{ t('roster.withdraw') }}</AppButton>
          </li>
        </ul>
      </template>
      <div class="mt-10 flex flex-wrap items-center gap-x-8 gap-y-3">
        <label class="flex items-center gap-3">
          {{ t('roster.language') }}
          <select
            v-model="language"
            class="h-9 rounded-edge border border-line bg-raised px-2 text-[15px] pointer-coarse:h-11"
          >
            <option value="">{{ t('roster.language-any') }}</option>
            <option v-for="(name, key) in LANGUAGES" :key="key" :value="key">{{ name }}</option>
          </select>
        </label>
        <AppButton @click="removeClass">{{ t('roster.remove-class') }}</AppButton>
      </div>
      <SlipSheet
        v-if="slips"
        :slips="slips"
        :title="`${data.code}, ${data.course.title}`"
        @close="slips = null"
      />
    </template>
  </div>
</template>
