<script setup lang="ts">
import type { CarryOver, CarryPlan } from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { computed, ref, watch } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink } from 'vue-router';
import { api } from '../../app/api/api.ts';
import PageState from '../../app/PageState.vue';
import CarriedEarlier from './CarriedEarlier.vue';
import CarryChoice from './CarryChoice.vue';
import CarryPreviewPart from './CarryPreviewPart.vue';
import CarryProgress from './CarryProgress.vue';
import ClearYear from './ClearYear.vue';
import { proposedPlan, useCarryOvers } from './carry-over.ts';

/** The structure of one year for the classes of another one, seen before it is made. */
const { t } = useI18n();
const { refresh, tell } = useCarryOvers();
const start = useQuery({
  key: ['carry-over', 'start'],
  query: () => api('GET /api/carry-over'),
  staleTime: 0,
});
const years = computed(() => start.data.value?.years ?? []);
/** Years that have something to carry over, and those with classes to have it. */
const befores = computed(() =>
  years.value.filter(({ folders, classes }) => folders.length + classes.length > 0),
);
const afters = computed(() =>
  years.value.filter(({ closed, classes }) => !closed && classes.length > 0),
);
const from = ref('');
const to = ref('');
const chosen = ref<CarryPlan | null>(null);
const yearOf = (id: string) => years.value.find((year) => year.id === id);
/** What is chosen, without the folders that have been put away meanwhile: they are chosen again when they come back. */
const plan = computed<CarryPlan | null>({
  get() {
    const there = new Set(yearOf(from.value)?.folders.map(({ id }) => id));
    return (
      chosen.value && {
        ...chosen.value,
        folders: chosen.value.folders.filter((id) => there.has(id)),
      }
    );
  },
  set: (changed) => (chosen.value = changed),
});

watch(
  start.data,
  (now) => {
    if (!now || from.value) return;
    // The newest year that is not over, out of the one before it.
    to.value = afters.value[0]?.id ?? '';
    const later = yearOf(to.value);
    from.value = befores.value.find((year) => !later || year.firstDay < later.firstDay)?.id ?? '';
  },
  { immediate: true },
);
watch([from, to], () => {
  const [before, after] = [yearOf(from.value), yearOf(to.value)];
  chosen.value = before && after && before.id !== after.id ? proposedPlan(before, after) : null;
});

/** What is under way. */
const running = ref<CarryOver | null>(null);
async function ended(done: CarryOver) {
  running.value = null;
  await refresh();
  if (done.state === 'done') tell(done);
}
watch(
  () => start.data.value?.done,
  (done) => (running.value ??= done?.find(({ state }) => state === 'waiting') ?? null),
);
</script>

<template>
  <div class="mx-auto w-full max-w-[1400px] px-5 py-6 sm:px-9">
    <p class="text-[15px] text-soft">
      <RouterLink :to="{ name: 'library' }" class="hover:text-petrol hover:underline">{{
        t('library.title')
      }}</RouterLink>
    </p>
    <h1 class="text-[28px]">{{ t('shell.carry-over') }}</h1>
    <p class="mb-5 text-soft">{{ t('carry-over.text') }}</p>
    <PageState v-if="!start.data.value" :error="start.error.value" @again="start.refetch()" />
    <template v-else>
      <CarryProgress v-if="running" :first="running" @ended="ended" />
      <p
        v-else-if="befores.length === 0 || afters.length === 0"
        class="border-t border-line py-10 text-soft"
      >
        {{ t(afters.length === 0 ? 'carry-over.no-year' : 'carry-over.no-folders') }}
      </p>
      <template v-else>
        <p class="flex flex-wrap items-center gap-x-3 gap-y-2 border-y border-line py-3">
          <label class="flex items-center gap-2"
            >{{ t('carry-over.from') }}
            <select
              v-model="from"
              class="h-10 rounded-edge border border-line bg-raised px-2.5 pointer-coarse:h-11"
            >
              <option v-for="year in befores" :key="year.id" :value="year.id">
                {{ year.label }}
              </option>
            </select>
          </label>
          <label class="flex items-center gap-2"
            >{{ t('carry-over.to') }}
            <select
              v-model="to"
              class="h-10 rounded-edge border border-line bg-raised px-2.5 pointer-coarse:h-11"
            >
              <option v-for="year in afters" :key="year.id" :value="year.id">
                {{ year.label }}
              </option>
            </select>
          </label>
        </p>
        <div v-if="plan" class="mt-5 grid items-start gap-9 lg:grid-cols-[minmax(330px,420px)_1fr]">
          <CarryChoice v-model="plan" :from="yearOf(from)!" :to="yearOf(to)!" />
          <CarryPreviewPart :key="`${from} ${to}`" v-model="plan" @begun="running = $event" />
        </div>
        <p v-else class="mt-5 text-soft">{{ t('carry-over.two-years') }}</p>
      </template>
      <ClearYear v-if="yearOf(from)?.folders.length" :year="yearOf(from)!" class="mt-10" />
      <CarriedEarlier
        v-if="start.data.value.done.some(({ state }) => state !== 'waiting')"
        :done="start.data.value.done"
        class="mt-10"
      />
    </template>
  </div>
</template>
