<script setup lang="ts">
import { checkName, FORBIDDEN_CHARACTERS } from '@sammlung/core';
import { computed, onMounted, ref, useTemplateRef } from 'vue';
import { useI18n } from 'vue-i18n';
import { explain } from './api/problems.ts';
import AppButton from '../ui/AppButton.vue';

/** One line to type a name in, checked while typing. Enter does it, Escape gives up; a refusal stands below. */
const {
  was = '',
  label,
  yes,
  act,
  siblings = [],
} = defineProps<{
  was?: string;
  label: string;
  yes: string;
  act: (title: string) => Promise<unknown>;
  /** Names beside it. */
  siblings?: readonly string[];
}>();
const emit = defineEmits<{ done: [] }>();
const { t } = useI18n();
const title = ref(was);
const refused = ref('');
const busy = ref(false);
const field = useTemplateRef('field');
onMounted(() => {
  field.value?.focus();
  field.value?.select();
});

const check = computed(() => checkName(title.value.trim(), siblings));
const fault = computed(() => {
  const [first] = check.value.faults;
  return title.value !== '' && first
    ? t(`problem.name.${first}`, { characters: FORBIDDEN_CHARACTERS })
    : refused.value;
});

async function go() {
  if (check.value.faults.length > 0 || busy.value) return;
  if (title.value.trim() === was) return emit('done');
  refused.value = '';
  busy.value = true;
  try {
    await act(title.value.trim());
    emit('done');
  } catch (error) {
    refused.value = explain(t, error);
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <form @submit.prevent="go" @keydown.stop @keydown.esc="emit('done')">
    <div class="flex flex-wrap items-center gap-2">
      <input
        ref="field"
        v-model="title"
        :aria-label="label"
        :placeholder="label"
        :aria-invalid="fault !== ''"
        class="h-9 min-w-40 flex-1 rounded-edge border border-line bg-raised px-3"
        @input="refused = ''"
      />
      <AppButton tone="main" submits :disabled="check.faults.length > 0">{{ yes }}</AppButton>
      <AppButton @click="emit('done')">{{ t('common.cancel') }}</AppButton>
    </div>
    <p role="alert" class="mt-1.5 text-meta font-medium text-brick-ink empty:hidden">{{ fault }}</p>
    <p class="mt-1.5 text-meta text-soft empty:hidden">
      {{ check.long ? t('library.name-long') : '' }}
    </p>
  </form>
</template>
