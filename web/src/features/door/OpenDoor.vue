<script setup lang="ts">
import { useQuery, useQueryCache } from '@pinia/colada';
import { computed, defineAsyncComponent, provide, watch, type AsyncComponentLoader } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterView, useRoute, useRouter } from 'vue-router';
import { address, baseOf } from '../../app/api/addresses.ts';
import { api } from '../../app/api/api.ts';
import { useInitial } from '../../app/api/initial-state.ts';
import { loadTexts } from '../../app/i18n.ts';
import PageState from '../../app/PageState.vue';
import { READING_PLACE } from '../../app/place.ts';

const DoorWall = defineAsyncComponent(async () => {
  await loadTexts('wall');
  return import('./DoorWall.vue');
});

/** What is behind an address: the folder for whoever holds it, or the website of a class, with nothing of the school around; or the wall. */
const { website } = defineProps<{ website: AsyncComponentLoader }>();
// Of this page alone: on the server each page loads its own texts with it.
const ClassWebsite = defineAsyncComponent(website);
const { t } = useI18n();
const route = useRoute();
const router = useRouter();
const token = computed(() => String(route.params.token));
const base = computed(() => baseOf('/api/open/:token', { token: token.value }));
useInitial(useQueryCache(), ['door', token.value], base.value);
const behind = useQuery({
  key: () => ['door', token.value],
  query: () => api('GET /api/open/:token', { params: { token: token.value } }),
});
const opened = computed(() => (behind.data.value?.state === 'open' ? behind.data.value : null));

// In a frame on another website the addresses stay within the frame's own.
const embedded = computed(() => String(route.name).startsWith('embed'));
const named = (part: '' | '-folder' | '-item') => (embedded.value ? `embed${part}` : `door${part}`);
provide(READING_PLACE, {
  base: base.value,
  firstFolder: computed(() => opened.value?.folderId ?? null),
  folder: (id) =>
    id === opened.value?.folderId
      ? { name: named(''), params: { token: token.value } }
      : { name: named('-folder'), params: { token: token.value, folder: id } },
  item: (id) => ({ name: named('-item'), params: { token: token.value, placement: id } }),
  classPage: () => null,
  get home() {
    return opened.value?.website ? { name: named(''), params: { token: token.value } } : null;
  },
  homeName: 'reading.website',
  notes: false,
  live: true,
  takes: computed(() => opened.value?.takes ?? false),
  token: token.value,
  cover: computed(
    () =>
      opened.value && {
        text: opened.value.coverText,
        feed: opened.value.feed
          ? address('GET /api/open/:token/atom.xml', { params: { token: token.value } })
          : null,
      },
  ),
});

// A door to a single item leads straight to it.
watch(
  opened,
  (found) => {
    if (found?.placementId && route.name === named(''))
      void router.replace({
        name: named('-item'),
        params: { token: token.value, placement: found.placementId },
      });
  },
  { immediate: true },
);
</script>

<template>
  <div class="flex min-h-screen flex-col" :class="embedded ? '' : '[--head:3.5rem]'">
    <header
      v-if="!embedded"
      class="flex h-14 items-center border-b-4 border-brick bg-paper px-5 sm:px-10 print:hidden"
    >
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
      <ClassWebsite v-else-if="opened?.website && route.name === named('')" />
      <RouterView v-else-if="opened" />
      <DoorWall
        v-else-if="behind.data.value?.state === 'wall'"
        :wall="behind.data.value"
        :token="token"
        @opened="behind.refetch()"
      />
      <div v-else class="mx-auto w-full max-w-4xl px-5 sm:px-10"><PageState /></div>
    </main>
  </div>
</template>
