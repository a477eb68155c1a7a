<script setup lang="ts">
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import { address } from '../../app/api/addresses.ts';
import { useBoxes, useEndedBoxes } from '../../app/box/boxes.ts';
import OwnBoxCards from '../../app/box/OwnBoxCards.vue';
import PageState from '../../app/PageState.vue';

/** All that a student has handed in, also in boxes that are closed and in years that are over; to be taken along as one archive. */
const { t } = useI18n();
const boxes = useBoxes();
const ended = useEndedBoxes();
const all = computed(() => {
  const [open, closed] = [boxes.data.value?.own, ended.data.value?.own];
  if (!open || !closed) return null;
  const ids = new Set(closed.map(({ id }) => id));
  return [...open.filter(({ id }) => !ids.has(id)), ...closed];
});
const again = () => Promise.all([boxes.refetch(), ended.refetch()]);
</script>

<template>
  <div class="mx-auto w-full max-w-4xl flex-1 px-5 py-7 sm:px-10">
    <h1 class="text-[28px]">{{ t('box.all-title') }}</h1>
    <PageState v-if="!all" :error="boxes.error.value ?? ended.error.value" @again="again" />
    <p v-else-if="all.length === 0" class="mt-3 text-soft">{{ t('box.none') }}</p>
    <template v-else>
      <p class="mt-1 max-w-prose text-soft">{{ t('box.all-text') }}</p>
      <a
        v-if="all.some((box) => box.handedInAt)"
        :href="address('GET /api/box-archive')"
        download
        class="mt-4 inline-flex min-h-10 items-center rounded-edge bg-action px-4 font-semibold text-white hover:brightness-115 pointer-coarse:min-h-11"
        >{{ t('box.take-all') }}</a
      >
      <OwnBoxCards class="mt-5" :boxes="all" codes />
    </template>
  </div>
</template>
