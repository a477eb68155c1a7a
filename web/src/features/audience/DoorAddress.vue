<script setup lang="ts">
import { useClipboard } from '@vueuse/core';
import { useI18n } from 'vue-i18n';
import AppButton from '../../ui/AppButton.vue';

/** The address of an open door, to be copied. */
const { address } = defineProps<{ address: string }>();
const emit = defineEmits<{ more: [] }>();
const { t } = useI18n();
const { copy, copied } = useClipboard({ legacy: true, copiedDuring: 4000 });
</script>

<template>
  <div class="mt-2 flex gap-2">
    <input
      :value="address"
      readonly
      class="h-9 min-w-0 flex-1 rounded-edge border border-line bg-raised px-2 font-code text-[13px] text-soft"
      :aria-label="t('audience.address')"
      @focus="($event.target as HTMLInputElement).select()"
    />
    <AppButton @click="copy(address)">{{
      t(copied ? 'audience.copied' : 'audience.copy')
    }}</AppButton>
    <AppButton @click="emit('more')">{{ t('audience.door-more') }}</AppButton>
  </div>
</template>
