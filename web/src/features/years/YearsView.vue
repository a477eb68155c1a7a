<script setup lang="ts">
import type { YearRow } from '@sammlung/contract';
import { useQuery, useQueryCache } from '@pinia/colada';
import { computed, defineAsyncComponent, nextTick, ref, useTemplateRef } from 'vue';
import { useI18n } from 'vue-i18n';
import { useAction } from '../../app/action.ts';
import { api } from '../../app/api/api.ts';
import { useFormat } from '../../app/format.ts';
import PageState from '../../app/PageState.vue';
import { say } from '../../app/shell/toast.ts';
import AppButton from '../../ui/AppButton.vue';
import CloseYearSheet from './CloseYearSheet.vue';
import YearDaysForm from './YearDaysForm.vue';

/** The years of the school, for the office: a new one, and those that are over. */
const { t } = useI18n();
const { day } = useFormat();
const query = useQuery({ key: ['years'], query: () => api('GET /api/years'), staleTime: 0 });
const years = computed(() => query.data.value?.years ?? []);
const cache = useQueryCache();
const refresh = () =>
  Promise.all([['years'], ['courses'], ['people']].map((key) => cache.invalidateQueries({ key })));
const attempt = useAction(refresh);
const NewYearForm = defineAsyncComponent(() => import('./NewYearForm.vue'));

const adding = ref(false);
const changing = ref<string | null>(null);
const closing = ref<YearRow>();
const add = useTemplateRef('add');

const spanOf = (year: YearRow) =>
  [year.firstDay, year.lastDay].map((at) => day(`${at}T12:00:00Z`)).join(' – ');
const params = (year: YearRow) => ({ params: { year: year.id } });
const reopen = (year: YearRow) =>
  attempt(async () => {
    await api('DELETE /api/years/:year/closed', params(year));
    say({ text: t('years.reopened', { label: year.label }) });
  });
function close(year: YearRow) {
  closing.value = undefined;
  return attempt(async () => {
    await api('PUT /api/years/:year/closed', params(year));
    say({
      text: t('years.closed', { label: year.label }),
      undo: async () => {
        await api('DELETE /api/years/:year/closed', params(year));
        await refresh();
      },
    });
  });
}
async function done() {
  adding.value = false;
  changing.value = null;
  await refresh();
  await nextTick();
  (add.value?.$el as HTMLElement | undefined)?.focus();
}
</script>

<template>
  <div class="mx-auto w-full max-w-4xl px-5 py-7 sm:px-10">
    <div class="flex flex-wrap items-end gap-x-4 gap-y-2">
      <div class="min-w-60 flex-1">
        <h1 class="text-[28px]">{{ t('shell.years') }}</h1>
        <p class="mt-1 text-soft">{{ t('years.text') }}</p>
      </div>
      <AppButton v-if="!adding && years.length > 0" ref="add" tone="main" @click="adding = true">{{
        t('years.add')
      }}</AppButton>
    </div>
    <PageState v-if="!query.data.value" :error="query.error.value" @again="query.refetch()" />
    <template v-else>
      <NewYearForm
        v-if="adding && years[0]"
        :after="years[0]"
        class="mt-5"
        @done="done"
        @close="adding = false"
      />
      <ul class="mt-6 border-b border-line">
        <li v-for="year in years" :key="year.id" class="border-t border-line py-4">
          <div class="flex flex-wrap items-center gap-x-5 gap-y-2">
            <span class="min-w-52 flex-1">
              <span class="flex items-baseline gap-3"
                ><span class="font-title text-[21px] font-[620]">{{ year.label }}</span
                ><span v-if="year.closedAt" class="text-meta font-semibold text-soft">{{
                  t('years.closed-since', { day: day(year.closedAt) })
                }}</span></span
              >
              <span class="block text-meta text-soft"
                >{{ spanOf(year) }} · {{ t('years.classes', year.classes) }} ·
                {{ t('years.students', year.students) }}</span
              >
            </span>
            <AppButton
              :aria-label="t('years.change-of', { label: year.label })"
              :aria-expanded="changing === year.id"
              @click="changing = changing === year.id ? null : year.id"
              >{{ t('years.change') }}</AppButton
            >
            <AppButton
              v-if="year.closedAt"
              :aria-label="t('years.reopen-of', { label: year.label })"
              @click="reopen(year)"
              >{{ t('years.reopen') }}</AppButton
            >
            <AppButton
              v-else
              :aria-label="t('years.close-of', { label: year.label })"
              @click="closing = year"
              >{{ t('years.close') }}</AppButton
            >
          </div>
          <YearDaysForm
            v-if="changing === year.id"
            :year="year"
            class="mt-3"
            @done="done"
            @close="changing = null"
          />
        </li>
      </ul>
    </template>
    <CloseYearSheet
      v-if="closing"
      :year="closing"
      @confirm="close(closing)"
      @close="closing = undefined"
    />
  </div>
</template>
