<script setup lang="ts">
import { useI18n } from 'vue-i18n';
import AppButton from '../../ui/AppButton.vue';
import ModalSheet from '../../ui/ModalSheet.vue';
import { asked } from './ask.ts';

/** The one question that may stand open. Escape is no. */
const { t } = useI18n();
</script>

<template>
  <ModalSheet v-if="asked" :title="asked.title" @close="asked.answer(false)">
    <p class="mt-2 mb-6">{{ asked.text }}</p>
    <div class="flex flex-wrap gap-2">
      <AppButton tone="warn" @click="asked.answer(true)">{{ asked.yes }}</AppButton>
      <AppButton @click="asked.answer(false)">{{ t('common.cancel') }}</AppButton>
    </div>
  </ModalSheet>
</template>
