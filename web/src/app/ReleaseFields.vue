<script setup lang="ts">
import type { Release } from '@sammlung/contract';
import { computed, useId } from 'vue';
import { useI18n } from 'vue-i18n';
import { now } from './api/clock.ts';
import MomentField from './MomentField.vue';
import { backwards } from './span.ts';

/** One release: out at once, out between two moments, or held back. */
const release = defineModel<Release>({ required: true });
const { label } = defineProps<{ label: string }>();
const { t } = useI18n();
const name = useId();

const WAYS = ['out', 'dates', 'held'] as const;
type Way = (typeof WAYS)[number];
const way = computed({
  get: (): Way => {
    const { held, from, until } = release.value;
    if (held) return 'held';
    return from !== null || until !== null ? 'dates' : 'out';
  },
  set: (chosen: Way) => {
    if (chosen === 'held') release.value = { held: true, from: null, until: null };
    if (chosen === 'out') release.value = { held: false, from: null, until: null };
    if (chosen === 'dates') release.value = { held: false, from: nextHour(), until: null };
  },
});
function nextHour() {
  const hour = 3_600_000;
  return new Date(Math.ceil(now() / hour) * hour).toISOString();
}
const part = (which: 'from' | 'until') =>
  computed({
    get: () => release.value[which],
    set: (value) => (release.value = { ...release.value, [which]: value }),
  });
const from = part('from');
const until = part('until');
const fault = computed(() => (backwards(release.value) ? t('problem.ends-before-start') : null));
</script>

<template>
  <fieldset>
    <legend class="sr-only">{{ label }}</legend>
    <div class="flex flex-wrap gap-1.5">
      <label
        v-for="one in WAYS"
        :key="one"
        class="flex min-h-9 cursor-pointer items-center gap-2 rounded-edge border px-3 text-[15px] pointer-coarse:min-h-11"
        :class="
          way === one ? 'border-petrol bg-petrol-pale font-semibold text-petrol' : 'border-line'
        "
      >
        <input v-model="way" type="radio" :name="name" :value="one" class="accent-(--action)" />
        {{ t(`timing.way.${one}`) }}
      </label>
    </div>
    <div v-if="way === 'dates'" class="mt-2 grid gap-3 sm:grid-cols-2">
      <MomentField v-model="from" :label="t('timing.from')" />
      <MomentField v-model="until" :label="t('timing.until')" :fault="fault" />
    </div>
  </fieldset>
</template>
