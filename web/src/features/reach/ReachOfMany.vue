<script setup lang="ts">
import type { Reach } from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { computed, defineAsyncComponent, ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink, useRoute, useRouter } from 'vue-router';
import { api } from '../../app/api/api.ts';
import PageState from '../../app/PageState.vue';
import { usePageTitle } from '../../app/shell/title.ts';
import AppButton from '../../ui/AppButton.vue';
import KindMark from '../../ui/KindMark.vue';
import { MOST_STUDENTS, MOST_THINGS } from './reach.ts';
import ReachHead from './ReachHead.vue';
import ReachShare from './ReachShare.vue';

/** Who has opened what is in a folder, or what a class has: thing by thing, by days, and by students. */
const { t } = useI18n();
const route = useRoute();
const router = useRouter();
const folder = computed(() => String(route.params.folder ?? ''));
const classId = computed(() => String(route.params.class ?? ''));
const chosen = computed(() => (typeof route.query.class === 'string' ? route.query.class : null));
const reach = useQuery<Reach>({
  key: () => ['reach', folder.value || classId.value, chosen.value ?? ''],
  query: () =>
    folder.value
      ? api('GET /api/folders/:folder/reach', {
          params: { folder: folder.value },
          query: { class: chosen.value ?? undefined },
        })
      : api('GET /api/classes/:class/reach', { params: { class: classId.value } }),
  placeholderData: (before: Reach | undefined) => before,
});
const data = computed(() => reach.data.value);
usePageTitle(() => data.value && t('reach.title', { title: data.value.title }));
const choose = (id: string | null) => router.replace({ query: id ? { class: id } : {} });
const crumb = computed(() =>
  folder.value
    ? { title: data.value?.title ?? '', to: { name: 'folder', params: { folder: folder.value } } }
    : {
        title: t('reach.class-page', { code: data.value?.title ?? '' }),
        to: { name: 'class-page', params: { class: classId.value } },
      },
);
const toItem = (placement: string) => ({
  name: 'reach-item',
  params: { placement },
  query: { class: (classId.value || chosen.value) ?? undefined },
});

const all = ref(false);
const numbered = computed(() =>
  (data.value?.items ?? []).map((item, n) => ({ ...item, number: n + 1 })),
);
const listed = computed(() => (all.value ? numbered.value : numbered.value.slice(0, MOST_THINGS)));
/** What nobody sees now has nothing to show. */
const charted = computed(() =>
  numbered.value.filter((item) => item.people > 0).slice(0, MOST_THINGS),
);
/** Those who have opened the least of it come first, so that they can be asked. */
const students = computed(() =>
  [...(data.value?.students ?? [])]
    .filter((one) => one.items > 0)
    .sort((a, b) => a.opened / a.items - b.opened / b.items)
    .slice(0, MOST_STUDENTS),
);
const DayChart = defineAsyncComponent(() => import('./DayChart.vue'));
const StudentChart = defineAsyncComponent(() => import('./StudentChart.vue'));
</script>

<template>
  <div class="mx-auto w-full max-w-6xl px-5 py-7 sm:px-10">
    <PageState v-if="!data" :error="reach.error.value" @again="reach.refetch()" />
    <template v-else>
      <ReachHead
        v-bind="data"
        :crumb="crumb"
        :title="t('reach.title', { title: data.title })"
        :chosen="chosen"
        @choose="choose"
      >
        <p class="mt-1">
          <template v-if="data.opened === null">{{ t('reach.too-few-text') }}</template>
          <template v-else
            ><b class="mr-2 font-title text-[24px] font-semibold text-petrol">{{ data.opened }}</b
            >{{ t('reach.students-opened', data.people) }}</template
          >
        </p>
      </ReachHead>
      <template v-if="data.level !== 'nothing'">
        <p v-if="data.items.length === 0" class="mt-6 text-soft">{{ t('reach.no-things') }}</p>
        <template v-else>
          <h2 class="mt-7 mb-1 text-[19px]">{{ t('reach.things') }}</h2>
          <ol>
            <li v-for="item in listed" :key="item.itemId" class="border-t border-line">
              <RouterLink
                :to="toItem(item.placementId)"
                class="group flex min-h-12 flex-wrap items-center gap-x-3.5 gap-y-1 py-1.5 hover:bg-paper/60"
              >
                <span class="w-6 text-right text-meta text-soft tabular-nums">{{
                  item.number
                }}</span>
                <KindMark :kind="item.kind" :extension="item.extension" />
                <span class="min-w-40 flex-1">
                  <span class="block wrap-anywhere group-hover:text-petrol">{{ item.title }}</span>
                  <span class="block text-meta text-soft"
                    >{{ item.folder
                    }}<template v-if="item.byLink.opened > 0">
                      · {{ t('reach.by-link', item.byLink.opened) }}</template
                    ></span
                  >
                </span>
                <ReachShare :item="item" />
              </RouterLink>
            </li>
          </ol>
          <AppButton
            v-if="!all && data.items.length > MOST_THINGS"
            class="mt-3"
            @click="all = true"
            >{{ t('reach.show-all', { n: data.items.length }) }}</AppButton
          >
          <p v-if="data.more > 0" class="mt-2 text-meta text-soft">
            {{ t('reach.more', data.more) }}
          </p>
          <template v-if="charted.length > 0">
            <h2 class="mt-8 mb-2 text-[19px]">{{ t('reach.by-day') }}</h2>
            <p class="mb-2 text-meta text-soft">{{ t('reach.by-day-text') }}</p>
            <DayChart :items="charted" :first-day="data.firstDay" />
          </template>
          <template v-if="students.length > 0">
            <h2 class="mt-8 mb-2 text-[19px]">{{ t('reach.by-student') }}</h2>
            <p class="mb-2 text-meta text-soft">
              {{ t('reach.by-student-text') }}
              <template v-if="data.students.length > students.length">{{
                t('reach.first-students', { n: students.length, of: data.students.length })
              }}</template>
            </p>
            <StudentChart :items="charted" :students="students" />
          </template>
        </template>
      </template>
    </template>
  </div>
</template>
