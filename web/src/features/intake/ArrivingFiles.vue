<script setup lang="ts">
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import { useUploads } from '../../app/uploads/uploads.ts';
import type { Transfer } from '../../app/uploads/transfer.ts';
import UploadLine from './UploadLine.vue';

/** The files that are on their way into the open folder, as rows of it; once a file is there, only what is worth saying. */
const { folder } = defineProps<{ folder: string }>();
const { t } = useI18n();
const uploads = useUploads();

const LINES = 20;
const arriving = computed(() =>
  uploads.transfers.filter((x) => x.folder.id === folder && worthSaying(x)),
);
const worthSaying = ({ state, result }: Transfer) =>
  state !== 'done' || result?.outcome !== 'new' || result.renamed;
</script>

<template>
  <ul v-if="arriving.length > 0" :aria-label="t('intake.here')">
    <UploadLine v-for="x in arriving.slice(0, LINES)" :key="x.id" :transfer="x" here />
    <li v-if="arriving.length > LINES" class="border-t border-line py-2 text-meta text-soft">
      {{ t('intake.more', arriving.length - LINES) }}
    </li>
  </ul>
</template>
