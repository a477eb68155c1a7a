<script setup lang="ts">
import type { StaleMark } from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink } from 'vue-router';
import { useAction } from '../../app/action.ts';
import { api } from '../../app/api/api.ts';
import PageState from '../../app/PageState.vue';
import { say } from '../../app/shell/toast.ts';
import { useCarryOvers } from './carry-over.ts';

/** What looks out of date in what was carried over, to be mended or left, one by one or all. */
const { of } = defineProps<{ of: string }>();
const { t } = useI18n();
const { refresh } = useCarryOvers();
const attempt = useAction(refresh);
const params = { carryOver: of };
const query = useQuery({
  key: () => ['carry-over', 'marks', of],
  query: () => api('GET /api/carry-over/:carryOver/marks', { params }),
  staleTime: 0,
});
const marks = computed(() => query.data.value?.marks ?? []);
const mendable = computed(() => marks.value.filter(({ place }) => place !== 'inside'));

const settle = (ids: string[] | null, mend: boolean) =>
  attempt(async () => {
    const { settled } = await api('POST /api/carry-over/:carryOver/marks', {
      params,
      body: { ids, mend },
    });
    say({
      text: mend ? t('carry-over.mended', settled) : t('carry-over.settled', settled),
    });
  });
const where = ({ place, count }: StaleMark) => t(`carry-over.in.${place}`, { count }, count);
const BUTTON =
  'min-h-9 font-semibold text-petrol hover:underline pointer-coarse:min-h-11 whitespace-nowrap';
</script>

<template>
  <div
    class="rounded-lg border border-line bg-raised px-5 py-3"
    role="group"
    :aria-label="t('carry-over.stale')"
  >
    <PageState v-if="!query.data.value" :error="query.error.value" @again="query.refetch()" />
    <template v-else>
      <p class="flex flex-wrap items-center gap-x-5">
        <span class="flex-1 text-soft">{{ t('carry-over.marks-text') }}</span>
        <button
          v-if="mendable.length > 1"
          type="button"
          :class="BUTTON"
          @click="
            settle(
              mendable.map(({ id }) => id),
              true,
            )
          "
        >
          {{ t('carry-over.mend-all', mendable.length) }}
        </button>
        <button v-if="marks.length > 1" type="button" :class="BUTTON" @click="settle(null, false)">
          {{ t('carry-over.leave-all') }}
        </button>
      </p>
      <ul class="mt-1">
        <li
          v-for="mark in marks"
          :key="mark.id"
          class="grid gap-x-4 border-t border-line py-1.5 sm:grid-cols-[1fr_1.2fr_auto] sm:items-center"
        >
          <span class="min-w-0"
            ><RouterLink
              :to="{ name: 'item', params: { placement: mark.placementId } }"
              class="text-petrol underline underline-offset-2"
              >{{ mark.title }}</RouterLink
            >
            <span class="block text-meta text-soft">{{ where(mark) }}</span></span
          >
          <span class="min-w-0"
            ><s class="text-soft">{{ mark.found }}</s>
            <template v-if="mark.proposed !== null && mark.place !== 'inside'">
              → <strong>{{ mark.proposed }}</strong></template
            ></span
          >
          <span class="flex gap-4">
            <button
              v-if="mark.place !== 'inside'"
              type="button"
              :class="BUTTON"
              :aria-label="t('carry-over.mend-one', { title: mark.title })"
              @click="settle([mark.id], true)"
            >
              {{ t('carry-over.mend') }}
            </button>
            <button
              type="button"
              :class="BUTTON"
              :aria-label="t('carry-over.leave-one', { title: mark.title })"
              @click="settle([mark.id], false)"
            >
              {{ t('carry-over.leave') }}
            </button>
          </span>
        </li>
      </ul>
      <p v-if="query.data.value.more > 0" class="border-t border-line pt-2 text-meta text-soft">
        {{ t('carry-over.more-marks', query.data.value.more) }}
      </p>
    </template>
  </div>
</template>
