<script setup lang="ts">
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import { useAudience } from './audience.ts';

/** Who will have what is dropped into a folder, or has what was just added, in one sentence. */
const { folder, now = false } = defineProps<{ folder: string; now?: boolean }>();
const { t } = useI18n();
const audience = useAudience(() => folder);
const sentence = computed(() => {
  const data = audience.data.value;
  if (!data) return '';
  const words = now ? 'has' : 'reach';
  if (data.rows.some((row) => row.kind === 'public' && row.state === 'out'))
    return t(`audience.${words}.public`);
  return data.students > 0
    ? t(`audience.${words}.students`, data.students)
    : t(`audience.${words}.nobody`);
});
</script>

<template>
  <span>{{ sentence }}</span>
</template>
