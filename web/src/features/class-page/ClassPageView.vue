<script setup lang="ts">
import { useQuery, useQueryCache } from '@pinia/colada';
import { useEventListener, useMounted } from '@vueuse/core';
import { computed, defineAsyncComponent } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink, useRoute, useRouter } from 'vue-router';
import { address, addressAt } from '../../app/api/addresses.ts';
import { apiAt, connected } from '../../app/api/api.ts';
import { useInitial } from '../../app/api/initial-state.ts';
import { useLive } from '../../app/live/live.ts';
import KeepButton from '../../app/KeepButton.vue';
import PageState from '../../app/PageState.vue';
import { useReadingPlace } from '../../app/place.ts';
import { usePageTitle } from '../../app/shell/title.ts';
import ClassSheet from './ClassSheet.vue';
import { neighbourOf, stepKey } from './step.ts';

/** The page of a class, for those who belong to it, and for a teacher who looks as they would. */
const { t } = useI18n();
const route = useRoute();
const router = useRouter();
const place = useReadingPlace();
const id = computed(() => String(route.params.class));
const key = () => ['classes', place.base, 'page', id.value];
useInitial(
  useQueryCache(),
  key(),
  addressAt(place.base, 'GET /class-pages/:class', { params: { class: id.value } }),
);
const page = useQuery({
  key,
  query: () => apiAt(place.base, 'GET /class-pages/:class', { params: { class: id.value } }),
  placeholderData: (before) => (before?.id === id.value ? before : undefined),
});
const data = computed(() => page.data.value);
const next = computed(() => neighbourOf(data.value?.classes ?? [], id.value, 1));
useEventListener('keydown', (event: KeyboardEvent) => {
  const by = stepKey(event);
  const to = by && neighbourOf(data.value?.classes ?? [], id.value, by);
  if (to) void router.push(place.classPage(to.id)!);
});
usePageTitle(() => data.value?.code);
/** The server makes this page without what it would have to ask for besides. */
const mounted = useMounted();
const OwnBoxes = defineAsyncComponent(() => import('../../app/box/OwnBoxes.vue'));
useLive(() => (place.live ? address('GET /api/new/live') : null), {
  changed: () => page.refetch(),
  counts: () => page.refetch(),
});
</script>

<template>
  <div class="w-full flex-1 bg-paper">
    <div class="mx-auto w-full max-w-6xl px-4 py-6 sm:px-10">
      <PageState v-if="!data" :error="page.error.value" @again="page.refetch()" />
      <template v-else>
        <div class="mb-4 flex flex-wrap items-center gap-x-4 gap-y-2">
          <span
            class="inline-flex h-8 items-center rounded-[5px] px-3.5 font-code text-[16px] font-semibold text-white"
            :style="{ background: `var(--${data.colour})` }"
            >{{ data.code }}</span
          >
          <h1 class="text-[28px]">{{ data.course }}</h1>
          <p class="flex-1 text-[15px] text-soft">{{ data.teachers.join(', ') }}</p>
          <KeepButton
            v-if="place.takes.value && connected"
            :thing="{ kind: 'class', id }"
            :title="data.code"
          />
          <RouterLink
            v-if="next"
            :to="place.classPage(next.id)!"
            :title="t('class-page.step')"
            class="inline-flex min-h-10 items-center rounded-edge border border-line bg-raised px-3.5 text-[15px] font-semibold hover:border-petrol hover:text-petrol pointer-coarse:min-h-11"
            >{{ t('class-page.next', { code: next.code }) }}</RouterLink
          >
        </div>
        <OwnBoxes v-if="mounted && place.notes" class="mb-6" :class-id="id" />
        <ClassSheet :key="id" :page="data" />
      </template>
    </div>
  </div>
</template>
