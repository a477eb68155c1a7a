<script setup lang="ts">
import { useQuery, useQueryCache } from '@pinia/colada';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import { useRoute } from 'vue-router';
import { address } from '../../app/api/addresses.ts';
import { api } from '../../app/api/api.ts';
import { useInitial } from '../../app/api/initial-state.ts';
import { useLive } from '../../app/live/live.ts';
import PageState from '../../app/PageState.vue';
import { useReadingPlace } from '../../app/place.ts';
import ClassSheet from './ClassSheet.vue';

/** The website of a class: what is open to whoever comes, and what they are told of the rest. */
const { t } = useI18n();
const route = useRoute();
const place = useReadingPlace();
const params = computed(() => ({ token: String(route.params.token) }));
const key = computed(() => ['website', params.value.token]);
useInitial(
  useQueryCache(),
  key.value,
  address('GET /api/open/:token/website', { params: params.value }),
);
const website = useQuery({
  key,
  query: () => api('GET /api/open/:token/website', { params: params.value }),
});
const data = computed(() => website.data.value);
const sheet = computed(() => data.value && { ...data.value, rest: [] });
const empty = computed(
  () =>
    data.value &&
    [data.value.top, data.value.loose, data.value.headings].every((part) => part.length === 0),
);
useLive(() => address('GET /api/open/:token/website/live', { params: params.value }), {
  changed: () => website.refetch(),
});
</script>

<template>
  <div class="w-full flex-1 bg-paper">
    <div class="mx-auto w-full max-w-5xl px-4 py-6 sm:px-10">
      <PageState v-if="!data || !sheet" :error="website.error.value" @again="website.refetch()" />
      <template v-else>
        <div class="flex flex-wrap items-center gap-x-4 gap-y-2">
          <span
            class="inline-flex h-8 items-center rounded-[5px] px-3.5 font-code text-[16px] font-semibold text-white"
            :style="{ background: `var(--${data.colour})` }"
            >{{ data.code }}</span
          >
          <h1 class="text-[28px]">{{ data.course }}</h1>
          <p class="text-[15px] text-soft">{{ data.teachers.join(', ') }}</p>
        </div>
        <p v-if="place.cover?.value?.text" class="mt-2 max-w-prose whitespace-pre-line">
          {{ place.cover.value.text }}
        </p>
        <p v-if="empty" class="mt-8 text-soft">{{ t('class-page.website.nothing') }}</p>
        <ClassSheet v-else class="mt-5" :page="sheet" />
        <section v-if="data.signedIn" class="mt-8 border-l-4 border-saffron pl-5">
          <h2 class="text-[19px]">{{ t('class-page.website.signed-in') }}</h2>
          <ul v-if="data.signedIn.titles.length > 0" class="mt-1 list-disc pl-5">
            <li v-for="(title, n) in data.signedIn.titles" :key="n" class="wrap-anywhere">
              {{ title }}
            </li>
          </ul>
          <p v-else class="mt-0.5">
            {{ t('class-page.website.more', data.signedIn.entries) }}
          </p>
          <!-- From a frame on another website it leads out of it: nobody is to sign in there. -->
          <a
            :href="`/class-page/${data.id}`"
            target="_blank"
            rel="noopener"
            class="mt-1 inline-flex min-h-11 items-center font-semibold text-petrol hover:underline"
            >{{ t('class-page.website.sign-in') }}</a
          >
        </section>
        <p v-if="place.cover?.value?.feed" class="mt-6 text-meta">
          <a :href="place.cover.value.feed" class="text-soft underline hover:text-petrol">{{
            t('reading.feed')
          }}</a>
        </p>
      </template>
    </div>
  </div>
</template>
