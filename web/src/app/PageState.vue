<script setup lang="ts">
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import { explain } from './api/problems.ts';
import AppButton from '../ui/AppButton.vue';

/** Stands where content will stand: while it is on its way, or when it could not be had. */
const { error = null } = defineProps<{ error?: unknown }>();
const emit = defineEmits<{ again: [] }>();
const { t } = useI18n();
const text = computed(() => (error ? explain(t, error) : ''));
</script>

<template>
  <div v-if="error" class="px-1 py-10" role="alert">
    <p class="text-[17px]">{{ text }}</p>
    <AppButton class="mt-4" @click="emit('again')">{{ t('common.again') }}</AppButton>
  </div>
  <div v-else class="space-y-3 py-6" aria-busy="true">
    <span class="sr-only">{{ t('common.loading') }}</span>
    <div v-for="n in 5" :key="n" class="h-9 animate-pulse rounded-edge bg-mark opacity-60" />
  </div>
</template>
