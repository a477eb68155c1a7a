<script setup lang="ts">
import { useQuery } from '@pinia/colada';
import Papa from 'papaparse';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import PageState from '../PageState.vue';
import { fetchText } from './text.ts';

/** A CSV file as a table, whatever stands between its values. */
const { address } = defineProps<{ address: string }>();
const { t } = useI18n();
const ROWS = 1000;
const text = useQuery({ key: () => ['text', address], query: () => fetchText(address) });
const rows = computed(() =>
  text.data.value
    ? Papa.parse<string[]>(text.data.value.text, { skipEmptyLines: true, preview: ROWS + 2 }).data
    : [],
);
const cut = computed(() => text.data.value?.cut || rows.value.length > ROWS + 1);
const width = computed(() => Math.max(0, ...rows.value.map((row) => row.length)));
</script>

<template>
  <div class="mx-auto w-full max-w-5xl flex-1 p-5 sm:p-8">
    <PageState v-if="text.error.value" :error="text.error.value" @again="text.refetch()" />
    <div
      v-else-if="text.data.value"
      class="overflow-x-auto border border-line bg-raised shadow-sm"
      tabindex="0"
      role="region"
      :aria-label="t('viewer.table')"
    >
      <table class="w-full text-[15px]">
        <thead>
          <tr class="bg-mark text-left">
            <th v-for="n in width" :key="n" scope="col" class="px-3 py-1.5 font-semibold">
              {{ rows[0]?.[n - 1] ?? '' }}
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(row, at) in rows.slice(1, ROWS + 1)" :key="at" class="border-t border-line">
            <td v-for="n in width" :key="n" class="px-3 py-1 tabular-nums">
              {{ row[n - 1] ?? '' }}
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <PageState v-else />
    <p v-if="cut" class="mt-3 text-soft">{{ t('viewer.cut') }}</p>
  </div>
</template>
