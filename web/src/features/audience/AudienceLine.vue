<script setup lang="ts">
import type { FolderView } from '@sammlung/contract';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import IndexTab from '../../app/IndexTab.vue';
import { useAudience } from './audience.ts';
import { hasIt, keyOf, useAudienceWords } from './rows.ts';

/** Who sees the open folder, in one line: where there is no room beside it, this opens the panel. */
const { folder } = defineProps<{ folder: FolderView }>();
const emit = defineEmits<{ open: [] }>();
const { t } = useI18n();
const { headline } = useAudienceWords();
const audience = useAudience(() => folder.id);
const data = computed(() => audience.data.value);
const having = computed(() => (data.value?.rows ?? []).filter(hasIt));
</script>

<template>
  <button
    type="button"
    class="flex min-h-11 w-full flex-wrap items-center gap-x-2 gap-y-1 rounded-edge border border-line bg-paper/60 px-3 py-1 text-left text-[15px] hover:border-petrol"
    aria-haspopup="dialog"
    @click="emit('open')"
  >
    <span class="text-soft max-sm:sr-only">{{ t('audience.title') }}</span>
    <b v-if="data" class="font-semibold text-petrol">{{
      headline(data) || t('count.students', data.students)
    }}</b>
    <IndexTab v-for="row in having" :key="keyOf(row)" :tab="row" />
  </button>
</template>
