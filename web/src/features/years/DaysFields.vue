<script setup lang="ts">
import { useI18n } from 'vue-i18n';
import { FIELD } from '../../ui/field.ts';

/** What a year is called, and its first and last day. */
const days = defineModel<{ label: string; firstDay: string; lastDay: string }>({ required: true });
const { t } = useI18n();
</script>

<template>
  <div class="grid gap-3 sm:grid-cols-3">
    <label class="block"
      ><span class="block text-meta text-soft">{{ t('begin.year-label') }}</span
      ><input v-model="days.label" maxlength="40" required :class="FIELD"
    /></label>
    <label class="block"
      ><span class="block text-meta text-soft">{{ t('begin.first-day') }}</span
      ><input v-model="days.firstDay" type="date" required max="2199-12-31" :class="FIELD"
    /></label>
    <label class="block"
      ><span class="block text-meta text-soft">{{ t('begin.last-day') }}</span
      ><input
        v-model="days.lastDay"
        type="date"
        required
        :min="days.firstDay"
        max="2199-12-31"
        :class="FIELD"
    /></label>
  </div>
</template>
