<script setup lang="ts">
import { useQuery } from '@pinia/colada';
import { useI18n } from 'vue-i18n';
import PageState from '../PageState.vue';
import { fetchText } from './text.ts';

const { address } = defineProps<{ address: string }>();
const { t } = useI18n();
const text = useQuery({ key: () => ['text', address], query: () => fetchText(address) });
</script>

<template>
  <div class="mx-auto w-full max-w-3xl flex-1 p-5 sm:p-8">
    <PageState v-if="text.error.value" :error="text.error.value" @again="text.refetch()" />
    <template v-else-if="text.data.value">
      <pre class="border border-line bg-raised p-6 font-text whitespace-pre-wrap shadow-sm">{{
        text.data.value.text
      }}</pre>
      <p v-if="text.data.value.cut" class="mt-3 text-soft">{{ t('viewer.cut') }}</p>
    </template>
    <PageState v-else />
  </div>
</template>
