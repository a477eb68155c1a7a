<script setup lang="ts">
import type { Member } from '@sammlung/contract';
import { computed, ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { useSubmit } from '../../app/submit.ts';
import AppButton from '../../ui/AppButton.vue';
import { useRoster } from './roster.ts';

/** From which day on, and until which, somebody belongs to a class. */
const { classId, member, from, until } = defineProps<{
  classId: string;
  member: Member;
  from: string | null;
  until: string | null;
}>();
const emit = defineEmits<{ done: [] }>();
const { t } = useI18n();
const { changeDays } = useRoster();
const joins = ref(from ?? '');
const leaves = ref(until ?? '');
const { fault, tried } = useSubmit();
const backwards = computed(
  () => joins.value !== '' && leaves.value !== '' && leaves.value <= joins.value,
);

async function save() {
  await tried(async () => {
    const days = { from: joins.value || null, until: leaves.value || null };
    await changeDays(classId, member, days, { from, until });
    emit('done');
  });
}
</script>

<template>
  <form
    class="mb-3 flex flex-wrap items-end gap-3 rounded-lg border border-line bg-paper/60 p-3"
    @submit.prevent="save"
    @keydown.esc="emit('done')"
  >
    <label>
      <span class="block text-meta text-soft">{{ t('roster.first-day') }}</span>
      <input
        v-model="joins"
        type="date"
        class="mt-0.5 h-10 rounded-edge border border-line bg-raised px-2.5"
      />
    </label>
    <label>
      <span class="block text-meta text-soft">{{ t('roster.last-day') }}</span>
      <input
        v-model="leaves"
        type="date"
        :aria-invalid="backwards"
        class="mt-0.5 h-10 rounded-edge border border-line bg-raised px-2.5"
      />
    </label>
    <AppButton tone="main" submits :disabled="backwards">{{ t('common.save') }}</AppButton>
    <AppButton @click="emit('done')">{{ t('common.cancel') }}</AppButton>
    <p role="alert" class="w-full text-meta font-medium text-brick-ink empty:hidden">
      {{ backwards ? t('problem.ends-before-start') : fault }}
    </p>
  </form>
</template>
