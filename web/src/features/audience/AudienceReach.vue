<script setup lang="ts">
import type { FolderView } from '@sammlung/contract';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import { useAudience } from './audience.ts';

/** Who will have what is dropped into a folder, in one sentence. */
const { folder } = defineProps<{ folder: FolderView }>();
const { t } = useI18n();
const audience = useAudience(() => folder.id);
const sentence = computed(() => {
  const data = audience.data.value;
  if (!data) return '';
  if (data.rows.some((row) => row.kind === 'public' && row.state === 'out'))
    return t('audience.reach-public');
  return data.students > 0 ? t('audience.reach', data.students) : t('audience.reach-nobody');
});
</script>

<template>
  <span>{{ sentence }}</span>
</template>
