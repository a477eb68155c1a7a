<script setup lang="ts">
import type { YearRow } from '@sammlung/contract';
import { ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import { say } from '../../app/shell/toast.ts';
import { useSubmit } from '../../app/submit.ts';
import AppButton from '../../ui/AppButton.vue';
import DaysFields from './DaysFields.vue';

/** Changes what a year is called, or its days. */
const { year } = defineProps<{ year: YearRow }>();
const emit = defineEmits<{ done: []; close: [] }>();
const { t } = useI18n();
const before = { label: year.label, firstDay: year.firstDay, lastDay: year.lastDay };
const days = ref({ ...before });
const { fault, busy, tried } = useSubmit();
const write = (body: typeof before) =>
  api('PATCH /api/years/:year', { params: { year: year.id }, body });

async function save() {
  const saved = await tried(() => write(days.value));
  if (!saved) return;
  say({
    text: t('years.changed', { label: days.value.label }),
    undo: async () => {
      await write(before);
      emit('done');
    },
  });
  emit('done');
}
</script>

<template>
  <form @submit.prevent="save" @keydown.esc.stop="emit('close')">
    <DaysFields v-model="days" />
    <p role="alert" class="mt-2 font-medium text-brick-ink empty:hidden">{{ fault }}</p>
    <div class="mt-3 flex gap-2">
      <AppButton tone="main" submits :disabled="busy">{{ t('common.save') }}</AppButton>
      <AppButton @click="emit('close')">{{ t('common.cancel') }}</AppButton>
    </div>
  </form>
</template>
