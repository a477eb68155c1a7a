<script setup lang="ts">
import type { Thing } from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import { api, ApiError } from '../api/api.ts';
import AskToSee from './AskToSee.vue';
import NothingHere from './NothingHere.vue';

/** Stands at an address of the school behind which there is nothing for this person: says for whom it is, and lets them ask. */
const { thing } = defineProps<{ thing: Thing }>();
const { t } = useI18n();
const wall = useQuery({
  key: () => ['wall', thing.id],
  query: () =>
    (thing.kind === 'folder'
      ? api('GET /api/folders/:folder/wall', { params: { folder: thing.id } })
      : api('GET /api/placements/:placement/wall', { params: { placement: thing.id } })
    ).catch((error: unknown) => {
      // Nothing at all is there, or nothing that may be known of.
      if (error instanceof ApiError && error.problem.status === 404) return null;
      throw error;
    }),
  staleTime: 0,
});
const data = computed(() => wall.data.value);
const ask = async (message: string) => {
  await api('POST /api/requests', { body: { thing, message } });
};
</script>

<template>
  <NothingHere v-if="data === null || wall.error.value" />
  <div v-else-if="data" class="mx-auto w-full max-w-xl px-6 py-16">
    <div class="border-l-4 border-saffron pl-6">
      <h1 class="text-[28px]">{{ t(data.later ? 'wall.soon.title' : 'wall.others.title') }}</h1>
      <p class="mt-3 text-[17px]">
        <template v-if="data.later">{{ t('wall.soon.text', { name: data.ownerName }) }}</template>
        <template v-else-if="data.forWhom.length > 0">{{
          t('wall.others.text', { name: data.ownerName, whom: data.forWhom.join(', ') })
        }}</template>
        <template v-else>{{ t('wall.others.nobody', { name: data.ownerName }) }}</template>
      </p>
    </div>
    <AskToSee v-if="!data.later" :name="data.ownerName" :asking="data.ask" :ask="ask" />
  </div>
</template>
