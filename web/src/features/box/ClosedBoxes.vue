<script setup lang="ts">
import type { TaughtBox } from '@sammlung/contract';
import { useQueryCache } from '@pinia/colada';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink } from 'vue-router';
import { useAction } from '../../app/action.ts';
import { address } from '../../app/api/addresses.ts';
import { api } from '../../app/api/api.ts';
import { BOXES_KEY, useEndedBoxes } from '../../app/box/boxes.ts';
import { useFormat } from '../../app/format.ts';
import PageState from '../../app/PageState.vue';
import { say } from '../../app/shell/toast.ts';
import AppButton from '../../ui/AppButton.vue';

/** The closed hand-in boxes of a teacher, also of years that are over: kept, or cleared in one step. */
const { t } = useI18n();
const { day } = useFormat();
const ended = useEndedBoxes();
const cache = useQueryCache();
const boxes = computed(() => ended.data.value?.taught);
const kept = computed(() => (boxes.value ?? []).filter((box) => box.goesAt === null));
const withWork = (some: readonly TaughtBox[]) => some.filter((box) => box.handedIn > 0);

const refresh = () => cache.invalidateQueries({ key: BOXES_KEY });
const attempt = useAction(refresh);
const send = (some: readonly TaughtBox[], clear: boolean) =>
  api('POST /api/boxes/clear', { body: { boxes: some.map(({ id }) => id), clear } });
const clear = (some: readonly TaughtBox[]) =>
  attempt(async () => {
    await send(some, true);
    await refresh();
    const goesAt = boxes.value?.find(({ id }) => id === some[0]!.id)?.goesAt ?? '';
    say({
      text: t('taught-box.cleared', { n: some.length, day: goesAt && day(goesAt) }, some.length),
      undo: () => send(some, false).then(refresh),
    });
  });
const keep = (box: TaughtBox) =>
  attempt(async () => {
    await send([box], false);
    say({
      text: t('taught-box.kept', { title: box.title }),
      undo: () => send([box], true).then(refresh),
    });
  });
/** One archive holds 30 boxes at most. */
const archive = computed(() =>
  withWork(boxes.value ?? [])
    .slice(0, 30)
    .map(({ id }) => id)
    .join(','),
);
</script>

<template>
  <div class="mx-auto w-full max-w-4xl flex-1 px-5 py-7 sm:px-10">
    <h1 class="text-[28px]">{{ t('taught-box.closed-title') }}</h1>
    <PageState v-if="!boxes" :error="ended.error.value" @again="ended.refetch()" />
    <p v-else-if="boxes.length === 0" class="mt-3 text-soft">{{ t('taught-box.closed-none') }}</p>
    <template v-else>
      <p class="mt-1 max-w-prose text-soft">{{ t('taught-box.closed-text') }}</p>
      <div class="mt-4 flex flex-wrap gap-2">
        <AppButton v-if="kept.length > 1" @click="clear(kept)">{{
          t('taught-box.clear-all', kept.length)
        }}</AppButton>
        <a
          v-if="archive"
          :href="address('GET /api/box-archive', { query: { boxes: archive } })"
          download
          class="inline-flex min-h-9 items-center rounded-edge border border-line bg-raised px-3.5 text-[15px] font-semibold hover:border-petrol hover:text-petrol pointer-coarse:min-h-11"
          >{{ t('going-through.take-all') }}</a
        >
      </div>
      <ul class="mt-4 border-b border-line">
        <li
          v-for="box in boxes"
          :key="box.id"
          class="flex flex-wrap items-center gap-x-4 gap-y-1 border-t border-line py-2"
        >
          <span
            class="inline-flex h-[22px] items-center rounded-[4px] px-2 font-code text-[12px] font-semibold text-white"
            :style="{ background: `var(--${box.colour})` }"
            >{{ box.code }}</span
          >
          <span class="min-w-48 flex-1">
            <RouterLink
              :to="{ name: 'box', params: { box: box.id } }"
              class="font-semibold wrap-anywhere hover:text-petrol hover:underline"
              >{{ box.title }}</RouterLink
            >
            <span class="block text-meta" :class="box.goesAt ? 'text-brick-ink' : 'text-soft'">{{
              box.goesAt
                ? t('taught-box.goes', { day: day(box.goesAt) })
                : t('taught-box.in', { n: box.handedIn, of: box.students })
            }}</span>
          </span>
          <AppButton v-if="box.goesAt" @click="keep(box)">{{ t('taught-box.keep') }}</AppButton>
          <AppButton v-else @click="clear([box])">{{ t('taught-box.clear') }}</AppButton>
        </li>
      </ul>
    </template>
  </div>
</template>
