<script setup lang="ts">
import { ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { now } from '../../app/api/clock.ts';
import MomentField from '../../app/MomentField.vue';
import AppButton from '../../ui/AppButton.vue';
import ModalSheet from '../../ui/ModalSheet.vue';

/** A day and a time at which something goes out. */
const emit = defineEmits<{ choose: [at: string]; close: [] }>();
const { t } = useI18n();
const HOUR_MS = 3_600_000;
const at = ref<string | null>(new Date(Math.ceil(now() / HOUR_MS + 1) * HOUR_MS).toISOString());
</script>

<template>
  <ModalSheet :title="t('tray.goes-out.moment')" @close="emit('close')">
    <form class="mt-4 space-y-4" @submit.prevent="at && emit('choose', at)">
      <MomentField v-model="at" :label="t('tray.when')" />
      <p class="flex gap-2">
        <AppButton tone="main" submits :disabled="at === null">{{ t('tray.set-time') }}</AppButton>
        <AppButton @click="emit('close')">{{ t('common.cancel') }}</AppButton>
      </p>
    </form>
  </ModalSheet>
</template>
