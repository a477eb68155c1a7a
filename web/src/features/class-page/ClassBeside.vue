<script setup lang="ts">
import type { EditedPage } from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { provide, ref, watch } from 'vue';
import { baseOf } from '../../app/api/addresses.ts';
import { apiAt } from '../../app/api/api.ts';
import PageState from '../../app/PageState.vue';
import { READING_PLACE } from '../../app/place.ts';
import ClassSheet from './ClassSheet.vue';

/** The page of a class as those who belong to it see it, beside the one that is being made. */
const { page } = defineProps<{ page: EditedPage }>();
const as = `class.${page.id}`;
const base = baseOf('/api/as/:as/:at', { as, at: 'now' });
const params = { class: page.id };
const seen = useQuery({
  key: ['class-page', page.id, 'seen'],
  query: () => apiAt(base, 'GET /class-pages/:class', { params }),
  staleTime: 0,
});
watch(
  () => page,
  () => seen.refetch(),
);
provide(READING_PLACE, {
  base,
  firstFolder: ref(null),
  folder: (id) => ({ name: 'see-as-folder', params: { as, folder: id } }),
  item: (id) => ({ name: 'see-as-item', params: { as, placement: id } }),
  classPage: (id) => ({ name: 'see-as-class-page', params: { as, class: id } }),
  home: null,
  homeName: 'shell.classes',
  notes: false,
  live: false,
  takes: ref(false),
});
</script>

<template>
  <PageState v-if="!seen.data.value" :error="seen.error.value" @again="seen.refetch()" />
  <ClassSheet v-else :page="seen.data.value" />
</template>
