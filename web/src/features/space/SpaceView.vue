<script setup lang="ts">
import { useQuery } from '@pinia/colada';
import { computed, defineAsyncComponent } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink } from 'vue-router';
import { api } from '../../app/api/api.ts';
import { useFormat } from '../../app/format.ts';
import KindMark from '../../ui/KindMark.vue';
import PageState from '../../app/PageState.vue';

/** How much room the files take, by what, and what is left; the largest things first. */
const { t } = useI18n();
const { size } = useFormat();
const space = useQuery({ key: ['space'], query: () => api('GET /api/space') });
const ShareBars = defineAsyncComponent(() => import('./ShareBars.vue'));

const share = computed(() => {
  const data = space.data.value;
  return data ? Math.min(1, data.used / data.quota) : 0;
});
const KIND_COLOURS = {
  pdf: 'brick',
  picture: 'leaf',
  office: 'lake',
  sound: 'plum',
  video: 'rose',
  text: 'slate',
  other: 'bark',
} as const;
const charts = computed(() => {
  const data = space.data.value;
  if (!data) return [];
  return [
    {
      name: 'kind',
      rows: data.kinds.map((x) => ({
        label: t(`space.kinds.${x.kind}`),
        size: x.size,
        files: x.files,
        colour: KIND_COLOURS[x.kind],
      })),
    },
    {
      name: 'course',
      rows: data.courses.map((x) => ({
        label: x.title ?? t('space.no-course'),
        size: x.size,
        files: x.files,
        colour: x.colour ?? 'soft',
      })),
    },
    {
      name: 'year',
      rows: data.years.map((x) => ({
        label: x.label ?? t('space.no-year'),
        size: x.size,
        files: x.files,
        colour: 'petrol',
      })),
    },
  ];
});
</script>

<template>
  <div class="mx-auto w-full max-w-6xl px-5 py-7 sm:px-10">
    <p class="text-[15px] text-soft">
      <RouterLink :to="{ name: 'library' }" class="hover:text-petrol hover:underline">{{
        t('library.title')
      }}</RouterLink>
    </p>
    <h1 class="text-[28px]">{{ t('shell.space') }}</h1>
    <PageState v-if="!space.data.value" :error="space.error.value" @again="space.refetch()" />
    <template v-else>
      <p class="mt-1">
        <b class="font-title text-[24px] font-semibold text-petrol">{{
          size(space.data.value.used)
        }}</b>
        <span class="ml-2 text-soft">{{
          t('space.of', {
            quota: size(space.data.value.quota),
            left: size(Math.max(0, space.data.value.quota - space.data.value.used)),
          })
        }}</span>
      </p>
      <meter class="mt-2 h-3 w-full" :value="share" high="0.9" :aria-label="t('shell.space')">
        {{ Math.round(share * 100) }} %
      </meter>
      <p v-if="space.data.value.unplaced.files > 0" class="mt-2 text-meta">
        {{
          t(
            'space.unplaced',
            { size: size(space.data.value.unplaced.size) },
            space.data.value.unplaced.files,
          )
        }}
        <RouterLink :to="{ name: 'bin' }" class="text-petrol underline underline-offset-2">{{
          t('space.to-bin')
        }}</RouterLink>
      </p>
      <div class="mt-7 grid gap-8 md:grid-cols-3">
        <section v-for="chart in charts" :key="chart.name">
          <h2 class="mb-1 text-[18px]">{{ t(`space.by.${chart.name}`) }}</h2>
          <ShareBars :rows="chart.rows" :label="t(`space.by.${chart.name}`)" />
        </section>
      </div>
      <h2 class="mt-9 mb-2 text-[18px]">{{ t('space.largest') }}</h2>
      <ul class="border-b border-line">
        <li
          v-for="(file, n) in space.data.value.largest"
          :key="n"
          class="flex min-h-12 items-center gap-3 border-t border-line py-1"
        >
          <KindMark kind="file" :extension="file.extension" />
          <span class="min-w-0 flex-1 truncate">
            <RouterLink
              v-if="file.placementId"
              :to="{ name: 'item', params: { placement: file.placementId } }"
              class="font-semibold hover:text-petrol"
              >{{ file.title }}</RouterLink
            >
            <span v-else class="font-semibold">{{ file.title }}</span>
            <span class="ml-2 text-meta text-soft">
              <RouterLink
                v-if="file.folder"
                :to="{ name: 'folder', params: { folder: file.folder.id } }"
                class="hover:text-petrol hover:underline"
                >{{ file.folder.title }}</RouterLink
              >
              <template v-else>{{ t('shell.bin') }}</template>
              <template v-if="file.versions > 1">
                · {{ t('space.versions', file.versions) }}</template
              >
            </span>
          </span>
          <span class="font-code text-[14px] whitespace-nowrap">{{ size(file.size) }}</span>
        </li>
      </ul>
    </template>
  </div>
</template>

<style scoped>
meter {
  accent-color: var(--action);
}
meter::-webkit-meter-bar {
  background: var(--mark);
  border: 0;
  border-radius: 5px;
}
meter::-webkit-meter-optimum-value {
  background: var(--petrol);
  border-radius: 5px 0 0 5px;
}
meter::-webkit-meter-suboptimum-value {
  background: var(--brick);
  border-radius: 5px 0 0 5px;
}
</style>
