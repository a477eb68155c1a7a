<script setup lang="ts">
import { useQuery, useQueryCache } from '@pinia/colada';
import { useClipboard } from '@vueuse/core';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import { address } from './api/addresses.ts';
import { api } from './api/api.ts';
import { useAction } from './action.ts';
import { useInitial } from './api/initial-state.ts';
import { say } from './shell/toast.ts';
import AppButton from '../ui/AppButton.vue';

/** The private address of a feed, or of the calendar: opened when it is wanted, and closed again. */
const { classId, title, text } = defineProps<{
  /** Null for the calendar. */
  classId: string | null;
  title: string;
  /** What it is good for, and who can read it. */
  text: string;
}>();
const { t } = useI18n();
const { copy, copied } = useClipboard({ legacy: true, copiedDuring: 4000 });
useInitial(useQueryCache(), ['feeds'], address('GET /api/feeds'));
const feeds = useQuery({ key: ['feeds'], query: () => api('GET /api/feeds') });
const feed = computed(() => feeds.data.value?.feeds.find((one) => one.classId === classId));

const attempt = useAction(() => feeds.refetch());
const make = () => attempt(() => api('POST /api/feeds', { body: { classId } }));
const end = (id: string) =>
  attempt(async () => {
    await api('DELETE /api/feeds/:feed', { params: { feed: id } });
    say({ text: t('feed.closed') });
  });
</script>

<template>
  <details>
    <summary class="min-h-9 cursor-pointer py-1.5 text-meta text-soft hover:text-petrol">
      {{ title }}
    </summary>
    <div v-if="feed" class="mt-1 mb-2 text-meta">
      <p class="text-soft">{{ text }}</p>
      <p class="mt-1 font-code text-[13px] wrap-anywhere">{{ feed.address }}</p>
      <div class="mt-1.5 flex flex-wrap gap-2">
        <AppButton @click="copy(feed.address)">{{
          t(copied ? 'feed.copied' : 'feed.copy')
        }}</AppButton>
        <AppButton @click="end(feed.id)">{{ t('feed.close') }}</AppButton>
      </div>
    </div>
    <AppButton v-else class="mt-1 mb-2" :disabled="!feeds.data.value" @click="make">{{
      t('feed.open')
    }}</AppButton>
  </details>
</template>
