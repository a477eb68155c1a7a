<script setup lang="ts">
import type { RoundOfDay } from '@sammlung/contract';
import { groupBy } from '@sammlung/core';
import { useQuery } from '@pinia/colada';
import { computed, ref, shallowRef } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink } from 'vue-router';
import { api } from '../../app/api/api.ts';
import { now } from '../../app/api/clock.ts';
import { useFormat } from '../../app/format.ts';
import IndexTab from '../../app/IndexTab.vue';
import { useAction } from '../../app/action.ts';
import AppButton from '../../ui/AppButton.vue';

/** What was put in place, day by day: what went where, to whom, and when. */
const { t } = useI18n();
const { time, dayHeading } = useFormat();
const attempt = useAction();
const newest = useQuery({
  key: ['rounds'],
  query: () => api('GET /api/tray/rounds'),
  staleTime: 0,
});
/** Rounds of before, where they were asked for; they do not change any more. */
const earlier = shallowRef<readonly RoundOfDay[]>([]);
const before = ref<string | null>();
const rounds = computed(() => {
  const first = newest.data.value?.rounds ?? [];
  const known = new Set(first.map(({ id }) => id));
  return [...first, ...earlier.value.filter(({ id }) => !known.has(id))];
});
const next = computed(() =>
  before.value === undefined ? (newest.data.value?.before ?? null) : before.value,
);
const days = computed(() => [...groupBy(rounds.value, (round) => dayHeading(round.at))]);

const more = () =>
  attempt(async () => {
    if (next.value === null) return;
    const found = await api('GET /api/tray/rounds', { query: { before: next.value } });
    earlier.value = [...earlier.value, ...found.rounds];
    before.value = found.before;
  });
const tabOf = (
  { out }: RoundOfDay['steps'][number],
  { id, code, colour }: RoundOfDay['steps'][number]['classes'][number],
) => {
  const of = out.find((one) => one.classId === id);
  const later = of?.from && Date.parse(of.from) > now();
  const state = of?.held ? ('held' as const) : later ? ('later' as const) : ('out' as const);
  return { kind: 'class' as const, label: code, colour, from: of?.from ?? null, state };
};
</script>

<template>
  <section v-if="rounds.length > 0" aria-labelledby="put-in-place">
    <h2 id="put-in-place" class="text-[19px]">{{ t('tray.day.title') }}</h2>
    <template v-for="[day, several] in days" :key="day">
      <h3 class="mt-2 text-meta font-semibold text-soft">{{ day }}</h3>
      <ul class="mt-1 border-b border-line">
        <template v-for="round in several" :key="round.id">
          <li
            v-for="(step, n) in round.steps"
            :key="`${round.id} ${n}`"
            class="flex min-h-10 flex-wrap items-center gap-x-3 gap-y-0.5 border-t border-line py-1"
          >
            <span class="w-12 shrink-0 text-meta text-soft">{{ time(round.at) }}</span>
            <RouterLink
              v-if="step.placementId"
              :to="{ name: 'item', params: { placement: step.placementId } }"
              class="min-w-0 flex-1 truncate hover:text-petrol hover:underline max-sm:basis-3/5"
              >{{ step.title }}</RouterLink
            >
            <span v-else class="min-w-0 flex-1 truncate text-soft line-through">{{
              step.title
            }}</span>
            <span v-if="step.outcome === 'version'" class="text-meta text-soft">{{
              t('tray.day.version')
            }}</span>
            <RouterLink
              v-if="step.folder"
              :to="{ name: 'folder', params: { folder: step.folder.id } }"
              class="truncate text-meta leading-6 text-soft hover:text-petrol hover:underline"
              >{{ step.folder.title }}</RouterLink
            >
            <span class="flex shrink-0 gap-1">
              <IndexTab v-for="one in step.classes" :key="one.id" :tab="tabOf(step, one)" />
            </span>
          </li>
        </template>
      </ul>
    </template>
    <AppButton v-if="next" class="mt-3" @click="more">{{ t('tray.day.earlier') }}</AppButton>
  </section>
</template>
