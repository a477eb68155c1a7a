<script setup lang="ts">
import { useQuery } from '@pinia/colada';
import { readWords } from '@sammlung/core';
import { ref, watch } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import { useChanging } from '../../app/changing.ts';
import { say } from '../../app/shell/toast.ts';
import AppButton from '../../ui/AppButton.vue';
import ModalSheet from '../../ui/ModalSheet.vue';
import PageState from '../../app/PageState.vue';

/** The words by which a name looks confidential. */
const emit = defineEmits<{ close: [] }>();
const { t } = useI18n();
const { withRefresh, attempt } = useChanging();
const words = useQuery({
  key: ['confidential'],
  query: () => api('GET /api/confidential'),
  staleTime: 0,
});
const typed = ref('');
watch(
  () => words.data.value,
  (data) => data && (typed.value = data.words.join('\n')),
  { immediate: true },
);
const save = (list: string[], said: string) =>
  attempt(async () => {
    await withRefresh(api('PUT /api/confidential', { body: { words: list } }));
    say({ text: t(said) });
    emit('close');
    return true;
  });
</script>

<template>
  <ModalSheet :title="t('today.words.title')" @close="emit('close')">
    <PageState v-if="!words.data.value" :error="words.error.value" @again="words.refetch()" />
    <form v-else @submit.prevent="save(readWords(typed), 'today.words.saved')">
      <p class="mt-1 text-soft">{{ t('today.words.text') }}</p>
      <textarea
        v-model="typed"
        rows="10"
        class="mt-3 w-full rounded-edge border border-line bg-raised px-3 py-2 font-code text-[14px]"
        :aria-label="t('today.words.title')"
        spellcheck="false"
      />
      <div class="mt-3 flex flex-wrap gap-2">
        <AppButton tone="main" submits>{{ t('common.save') }}</AppButton>
        <AppButton @click="emit('close')">{{ t('common.cancel') }}</AppButton>
        <span class="flex-1" />
        <AppButton @click="save([], 'today.words.reset')">{{ t('today.words.again') }}</AppButton>
      </div>
    </form>
  </ModalSheet>
</template>
