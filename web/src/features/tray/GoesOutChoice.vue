<script setup lang="ts">
import type { GoesOut, GoesOutRule } from '@sammlung/contract';
import { GOES_OUT_RULES } from '@sammlung/core';
import { useI18n } from 'vue-i18n';
import { useFormat } from '../../app/format.ts';

/** When a thing goes out: by a rule, or at an instant that is chosen apart. */
const { goesOut, name } = defineProps<{ goesOut: GoesOut; name: string }>();
const emit = defineEmits<{ choose: [goesOut: GoesOut]; moment: [] }>();
const { t } = useI18n();
const { moment } = useFormat();
const isRule = (value: string): value is GoesOutRule =>
  (GOES_OUT_RULES as readonly string[]).includes(value);

function choose(event: Event) {
  const field = event.target as HTMLSelectElement;
  if (isRule(field.value)) return emit('choose', field.value);
  field.value = goesOut;
  emit('moment');
}
</script>

<template>
  <select
    data-field="goes-out"
    :value="goesOut"
    class="h-9 w-full min-w-0 rounded-edge border border-line bg-raised px-2 text-[15px] pointer-coarse:h-11"
    :aria-label="t('tray.time-of', { title: name })"
    @change="choose"
  >
    <option v-for="rule in GOES_OUT_RULES" :key="rule" :value="rule">
      {{ t(`tray.goes-out.${rule}`) }}
    </option>
    <option v-if="!isRule(goesOut)" :value="goesOut">{{ moment(goesOut) }}</option>
    <option value="moment">{{ t('tray.goes-out.moment') }}</option>
  </select>
</template>
