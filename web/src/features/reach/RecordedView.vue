<script setup lang="ts">
import type { Recorded, ReachLevel } from '@sammlung/contract';
import { useInfiniteQuery, useQuery, useQueryCache } from '@pinia/colada';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink } from 'vue-router';
import { useAction } from '../../app/action.ts';
import { api } from '../../app/api/api.ts';
import { useFormat } from '../../app/format.ts';
import PageState from '../../app/PageState.vue';
import { useSession } from '../../app/session/session.ts';
import { say } from '../../app/shell/toast.ts';
import AppButton from '../../ui/AppButton.vue';

/** What is recorded of what somebody opens, and who is told of it; the office decides that here. */
const { t } = useI18n();
const { moment, day } = useFormat();
const session = useSession();
const cache = useQueryCache();
const school = useQuery({ key: ['school-reach'], query: () => api('GET /api/school/reach') });
const own = useInfiniteQuery<Recorded, Error, number | null>({
  key: ['recorded'],
  initialPageParam: null,
  query: ({ pageParam }) => api('GET /api/recorded', { query: { before: pageParam ?? undefined } }),
  getNextPageParam: (page) => page.next,
});
const openings = computed(() => own.data.value?.pages.flatMap((page) => page.openings) ?? []);
const decides = computed(() => session.person?.kind === 'office');
const student = computed(() => session.person?.kind === 'student');
const LEVELS: readonly ReachLevel[] = ['names', 'numbers', 'nothing'];

const attempt = useAction();
const choose = (level: ReachLevel) =>
  attempt(async () => {
    cache.setQueryData(['school-reach'], await api('PUT /api/school/reach', { body: { level } }));
    say({ text: t('recorded.set') });
  });
</script>

<template>
  <div class="mx-auto w-full max-w-3xl px-5 py-7 sm:px-10">
    <h1 class="text-[28px]">{{ t('recorded.title') }}</h1>
    <PageState v-if="!school.data.value" :error="school.error.value" @again="school.refetch()" />
    <template v-else>
      <fieldset v-if="decides" class="mt-4">
        <legend class="font-title text-[19px] font-semibold">{{ t('recorded.decide') }}</legend>
        <label
          v-for="level in LEVELS"
          :key="level"
          class="mt-2 flex items-start gap-3 border-t border-line pt-2"
        >
          <input
            type="radio"
            name="level"
            class="mt-0.5 size-5 accent-(--action)"
            :value="level"
            :checked="school.data.value.level === level"
            @change="choose(level)"
          />
          <span
            ><b class="block font-semibold">{{ t(`recorded.level.${level}.name`) }}</b
            ><span class="block text-meta text-soft">{{
              t(`recorded.level.${level}.text`)
            }}</span></span
          >
        </label>
        <p class="mt-3 text-meta text-soft">{{ t('recorded.more-begins-anew') }}</p>
      </fieldset>
      <ul v-else class="mt-3 max-w-2xl list-disc space-y-1.5 pl-5">
        <li>{{ t('recorded.what') }}</li>
        <li>
          {{
            t(
              student
                ? `recorded.student.${school.data.value.level}`
                : `recorded.teacher.${school.data.value.level}`,
              { day: day(school.data.value.since) },
            )
          }}
        </li>
        <li v-if="student">{{ t('recorded.no-classmate') }}</li>
        <li>{{ t('recorded.year') }}</li>
        <li>{{ t('recorded.visitors') }}</li>
      </ul>
    </template>
    <h2 class="mt-8 text-[19px]">{{ t('recorded.own') }}</h2>
    <PageState v-if="!own.data.value" :error="own.error.value" @again="own.refetch()" />
    <p v-else-if="openings.length === 0" class="mt-2 text-soft">{{ t('recorded.nothing') }}</p>
    <template v-else>
      <ul class="mt-2">
        <li
          v-for="one in openings"
          :key="one.id"
          class="flex min-h-11 flex-wrap items-baseline gap-x-4 border-t border-line py-2"
        >
          <span class="min-w-40 flex-1 wrap-anywhere">
            <RouterLink
              v-if="one.placementId"
              :to="{ name: 'item', params: { placement: one.placementId } }"
              class="font-semibold hover:text-petrol hover:underline"
              >{{ one.title }}</RouterLink><span v-else class="text-soft">{{
              t('recorded.unseen')
            }}</span>
            <span v-if="(one.version ?? 1) > 1" class="text-meta text-soft">
              · {{ t('item.version', { number: one.version }) }}</span
            ></span
          >
          <span class="text-meta text-soft"
            >{{ t(`recorded.kind.${one.kind}`) }}, {{ moment(one.at) }}</span
          >
        </li>
      </ul>
      <AppButton v-if="own.hasNextPage.value" class="mt-4" @click="own.loadNextPage()">{{
        t('recorded.older')
      }}</AppButton>
    </template>
  </div>
</template>
