<script setup lang="ts">
import type { CarryOver } from '@sammlung/contract';
import { useTimeoutPoll } from '@vueuse/core';
import { computed, ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import { explain } from '../../app/api/problems.ts';

/** How far carrying over is. It goes on by itself, also where nobody looks. */
const { first } = defineProps<{ first: CarryOver }>();
const emit = defineEmits<{ ended: [done: CarryOver] }>();
const { t } = useI18n();
const now = ref(first);
const fault = ref('');
const part = computed(() => (now.value.total === 0 ? 0 : now.value.done / now.value.total));

async function look() {
  try {
    now.value = await api('GET /api/carry-over/:carryOver', { params: { carryOver: first.id } });
    fault.value = '';
  } catch (error) {
    fault.value = explain(t, error);
    return;
  }
  if (now.value.state === 'waiting') return;
  poll.pause();
  emit('ended', now.value);
}
const poll = useTimeoutPoll(look, 700, { immediateCallback: true });
</script>

<template>
  <div class="rounded-lg border border-line bg-raised px-5 py-4" role="status">
    <p class="font-semibold">
      {{
        now.total === 0
          ? t('carry-over.begins')
          : t('carry-over.running', { done: now.done, total: now.total })
      }}
    </p>
    <div
      class="mt-2 h-2 overflow-hidden rounded-edge bg-line"
      role="progressbar"
      aria-valuemin="0"
      aria-valuemax="100"
      :aria-valuenow="Math.round(part * 100)"
      :aria-label="t('shell.carry-over')"
    >
      <div class="h-full bg-petrol" :style="{ width: `${part * 100}%` }" />
    </div>
    <p class="mt-2 text-meta text-soft">{{ t('carry-over.goes-on') }}</p>
    <p role="alert" class="font-medium text-brick-ink empty:hidden">{{ fault }}</p>
  </div>
</template>
