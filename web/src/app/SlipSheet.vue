<script setup lang="ts">
import type { Slips } from '@sammlung/contract';
import { useI18n } from 'vue-i18n';
import AppButton from '../ui/AppButton.vue';
import ModalSheet from '../ui/ModalSheet.vue';

/** Slips with sign-in name and start word, to be printed and cut apart. They are shown this once. */
defineProps<{ slips: Slips['slips']; title: string }>();
const emit = defineEmits<{ close: [] }>();
const { t } = useI18n();
const address = location.host;
const print = () => window.print();
</script>

<template>
  <ModalSheet :title="t('roster.slips-for', { title })" @close="emit('close')">
    <p class="mt-1 text-soft">{{ t('roster.slips-once') }}</p>
    <div class="mt-3 flex gap-2">
      <AppButton tone="main" @click="print">{{ t('roster.print') }}</AppButton>
      <AppButton @click="emit('close')">{{ t('common.close') }}</AppButton>
    </div>
    <ul class="mt-4 max-h-[46vh] overflow-y-auto border-y border-line" tabindex="0">
      <li
        v-for="slip in slips"
        :key="slip.signInName"
        class="border-t border-line py-2 first:border-t-0"
      >
        <b class="block font-semibold">{{ slip.name }}</b>
        <span class="font-code text-[14px]">{{ slip.signInName }} · {{ slip.firstPassword }}</span>
      </li>
    </ul>
  </ModalSheet>
  <Teleport to="body">
    <div class="print-only">
      <div v-for="slip in slips" :key="slip.signInName" class="slip">
        <p class="slip-school">{{ t('shell.name') }} · {{ title }}</p>
        <p class="slip-name">{{ slip.name }}</p>
        <p>
          {{ t('roster.slip-address') }} <b>{{ address }}</b>
        </p>
        <p>
          {{ t('roster.slip-name') }} <b class="font-code">{{ slip.signInName }}</b>
        </p>
        <p>
          {{ t('roster.slip-word') }} <b class="font-code">{{ slip.firstPassword }}</b>
        </p>
        <p class="slip-hint">{{ t('roster.slip-hint') }}</p>
      </div>
    </div>
  </Teleport>
</template>

<style scoped>
.print-only {
  display: none;
}
@media print {
  .print-only {
    display: grid;
    grid-template-columns: 1fr 1fr;
  }
  .slip {
    break-inside: avoid;
    border: 1px dashed #999;
    padding: 7mm;
    color: black;
    font-size: 12pt;
    line-height: 1.5;
  }
  .slip-school,
  .slip-hint {
    font-size: 9.5pt;
    color: #444;
  }
  .slip-name {
    font-family: var(--font-title);
    font-size: 16pt;
  }
}
</style>
