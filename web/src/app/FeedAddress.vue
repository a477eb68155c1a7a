<script setup lang="ts">
import type { Feed, Feeds } from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { useClipboard } from '@vueuse/core';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from './api.ts';
import { explain } from './problems.ts';
import { say } from './toast.ts';
import AppButton from '../ui/AppButton.vue';

/** The private address of a feed, or of the calendar: opened when it is wanted, and closed again. */
const { classId, text, open, close, closed } = defineProps<{
  /** Null for the calendar. */
  classId: string | null;
  text: string;
  open: string;
  close: string;
  closed: string;
}>();
const { t } = useI18n();
const { copy, copied } = useClipboard({ legacy: true, copiedDuring: 4000 });
const feeds = useQuery({ key: ['feeds'], query: () => api<Feeds>('GET', '/api/feeds') });
const feed = computed(() => feeds.data.value?.feeds.find((one) => one.classId === classId));

async function attempt(run: () => Promise<unknown>) {
  try {
    await run();
  } catch (error) {
    say({ text: explain(t, error), tone: 'bad' });
  } finally {
    await feeds.refetch();
  }
}
const make = () => attempt(() => api<Feed>('POST', '/api/feeds', { classId }));
const end = (id: string) =>
  attempt(async () => {
    await api<null>('DELETE', `/api/feeds/${id}`);
    say({ text: closed });
  });
</script>

<template>
  <div v-if="feed" class="text-meta">
    <p class="text-soft">{{ text }}</p>
    <p class="mt-1 font-code text-[13px] wrap-anywhere">{{ feed.address }}</p>
    <div class="mt-1.5 flex flex-wrap gap-2">
      <AppButton @click="copy(feed.address)">{{
        t(copied ? 'feed.copied' : 'feed.copy')
      }}</AppButton>
      <AppButton @click="end(feed.id)">{{ close }}</AppButton>
    </div>
  </div>
  <AppButton v-else :disabled="!feeds.data.value" @click="make">{{ open }}</AppButton>
</template>
