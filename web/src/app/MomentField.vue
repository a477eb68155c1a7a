<script setup lang="ts">
import { instantAt, wallTime } from '@sammlung/core';
import { computed, useId } from 'vue';
import { useSession } from './session/session.ts';

/** A day and time in the school's time zone, as an instant (ISO 8601); null while nothing is entered. */
const model = defineModel<string | null>({ required: true });
defineProps<{
  label: string;
  fault?: string | null;
  /** Without the label above it, which is read out all the same. */
  bare?: boolean;
}>();
const session = useSession();
const zone = computed(() => session.person?.school.timeZone ?? 'UTC');
const id = useId();

const shown = computed({
  get: () => (model.value === null ? '' : wallTime(Date.parse(model.value), zone.value)),
  set: (typed) => {
    const wall = typed.slice(0, 16);
    // A year of five digits, say, is no day: what stood here stays.
    if (typed !== '' && !/^\d{4}-\d\d-\d\dT\d\d:\d\d$/u.test(wall)) return;
    model.value = typed === '' ? null : new Date(instantAt(wall, zone.value)).toISOString();
  },
});
</script>

<template>
  <div>
    <label :for="id" :class="bare ? 'sr-only' : 'block text-meta text-soft'">{{ label }}</label>
    <input
      :id="id"
      v-model.lazy="shown"
      type="datetime-local"
      max="2199-12-31T23:59"
      class="mt-0.5 h-10 w-full rounded-edge border border-line bg-raised px-2.5 text-[15px]"
      :aria-invalid="fault ? true : undefined"
      :aria-describedby="fault ? `${id}-fault` : undefined"
    />
    <p v-if="fault" :id="`${id}-fault`" class="mt-0.5 text-meta text-brick-ink">{{ fault }}</p>
  </div>
</template>
