<script setup lang="ts">
import type { Behind } from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { computed, provide } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterView, useRoute } from 'vue-router';
import { api } from '../../app/api.ts';
import PageState from '../../ui/PageState.vue';
import { READING_PLACE } from '../../app/place.ts';
import DoorWall from './DoorWall.vue';

/** What stands behind an address: the folder for whoever holds it, with nothing of the school around, or the wall. */
const { t } = useI18n();
const route = useRoute();
const token = computed(() => String(route.params.token));
const behind = useQuery({
  key: () => ['door', token.value],
  query: () => api<Behind>('GET', `/api/open/${encodeURIComponent(token.value)}`),
  staleTime: 0,
});
const opened = computed(() => (behind.data.value?.state === 'open' ? behind.data.value : null));

provide(READING_PLACE, {
  base: `/api/open/${encodeURIComponent(token.value)}`,
  firstFolder: computed(() => opened.value?.folderId ?? null),
  folder: (id) =>
    id === opened.value?.folderId
      ? { name: 'door', params: { token: token.value } }
      : { name: 'door-folder', params: { token: token.value, folder: id } },
  item: (id) => ({ name: 'door-item', params: { token: token.value, placement: id } }),
  notes: false,
});
</script>

<template>
  <div class="flex min-h-screen flex-col">
    <header class="flex h-14 items-center border-b-4 border-brick bg-paper px-5 sm:px-10">
      <p
        v-if="behind.data.value && 'schoolName' in behind.data.value"
        class="font-title text-[17px] font-semibold"
      >
        {{ behind.data.value.schoolName ?? t('shell.name') }}
      </p>
    </header>
    <main class="flex flex-1 flex-col bg-sheet">
      <div v-if="behind.error.value" class="mx-auto w-full max-w-4xl px-5 sm:px-10">
        <PageState :error="behind.error.value" @again="behind.refetch()" />
      </div>
      <RouterView v-else-if="opened" />
      <DoorWall v-else-if="behind.data.value?.state === 'wall'" :wall="behind.data.value" />
      <div v-else class="mx-auto w-full max-w-4xl px-5 sm:px-10"><PageState /></div>
    </main>
  </div>
</template>
