<script setup lang="ts">
import type { ItemReach, ItemReachStudent } from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { computed, ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { useRoute, useRouter } from 'vue-router';
import { api } from '../../app/api/api.ts';
import { useFormat } from '../../app/format.ts';
import PageState from '../../app/PageState.vue';
import { usePageTitle } from '../../app/shell/title.ts';
import AppButton from '../../ui/AppButton.vue';
import ReachHead from './ReachHead.vue';
import ReachShare from './ReachShare.vue';
import ReminderForm from './ReminderForm.vue';

/** Who has opened one thing and who has not; from here straight to those who have not. */
const { t } = useI18n();
const { moment } = useFormat();
const route = useRoute();
const router = useRouter();
const placement = computed(() => String(route.params.placement));
const chosen = computed(() => (typeof route.query.class === 'string' ? route.query.class : null));
const reach = useQuery<ItemReach>({
  key: () => ['reach', 'item', placement.value, chosen.value ?? ''],
  query: () =>
    api('GET /api/placements/:placement/reach', {
      params: { placement: placement.value },
      query: { class: chosen.value ?? undefined },
    }),
  placeholderData: (before: ItemReach | undefined) => before,
});
const data = computed(() => reach.data.value);
const item = computed(() => data.value?.item);
usePageTitle(() => item.value && t('reach.title', { title: item.value.title }));
const choose = (id: string | null) => router.replace({ query: id ? { class: id } : {} });

type Part = 'unopened' | 'earlier' | 'newest';
const partOf = ({ state }: ItemReachStudent): Part =>
  state === 'opened' || state === 'downloaded' ? 'newest' : state;
const parts = computed(() => {
  const { students = [] } = data.value ?? {};
  const { people = 0, opened, newest } = item.value ?? {};
  if (opened === undefined || opened === null || newest === undefined || newest === null) return [];
  const counts = { unopened: people - opened, earlier: opened - newest, newest };
  return (['unopened', 'earlier', 'newest'] as const)
    .filter((part) => counts[part] > 0 || part === 'unopened')
    .map((part) => ({
      part,
      count: counts[part],
      students: students.filter((one) => partOf(one) === part),
    }));
});
const writing = ref<'unopened' | 'not-newest' | null>(null);
const done = (one: ItemReachStudent) =>
  one.downloadedAt
    ? t('reach.downloaded-at', { when: moment(one.downloadedAt) })
    : one.openedAt
      ? moment(one.openedAt)
      : '';
</script>

<template>
  <div class="mx-auto w-full max-w-5xl px-5 py-7 sm:px-10">
    <PageState v-if="!data || !item" :error="reach.error.value" @again="reach.refetch()" />
    <template v-else>
      <ReachHead
        v-bind="data"
        :crumb="{ title: item.title, to: { name: 'item', params: { placement } } }"
        :title="t('reach.title', { title: item.title })"
        :chosen="chosen"
        @choose="choose"
      >
        <ReachShare class="mt-2" :item="item" />
      </ReachHead>
      <template v-if="data.level !== 'nothing'">
        <section v-for="{ part, count, students } in parts" :key="part" class="mt-7">
          <div class="flex flex-wrap items-center gap-x-4 gap-y-2">
            <h2 class="flex-1 text-[19px]">{{ t(`reach.part.${part}`, count) }}</h2>
            <AppButton
              v-if="part === 'unopened' && count > 0 && writing === null"
              tone="main"
              @click="writing = 'unopened'"
              >{{ t('reach.write', count) }}</AppButton
            >
            <AppButton
              v-if="part === 'earlier' && writing === null"
              @click="writing = 'not-newest'"
              >{{ t('reach.write-newest') }}</AppButton
            >
          </div>
          <ReminderForm
            v-if="writing === (part === 'earlier' ? 'not-newest' : part)"
            class="mt-3"
            :placement="placement"
            :class-id="chosen"
            :to="writing!"
            @close="writing = null"
          />
          <ul class="mt-2 sm:columns-2 sm:gap-x-10">
            <li
              v-for="one in students"
              :key="one.personId"
              class="flex min-h-10 break-inside-avoid items-baseline gap-3 border-t border-line py-1.5"
            >
              <span class="min-w-0 flex-1 wrap-anywhere"
                >{{ one.name }}
                <span class="font-code text-[12px] text-soft">{{
                  one.classes.join(', ')
                }}</span></span
              >
              <span v-if="one.openedAt" class="text-right text-meta text-soft"
                >{{ done(one)
                }}<template v-if="part === 'earlier'">
                  · {{ t('reach.version', { number: one.version }) }}</template
                ></span
              >
            </li>
          </ul>
        </section>
        <section
          v-if="
            item.byLink.opened + item.byLink.downloaded > 0 ||
            data.others ||
            data.earlier.people > 0
          "
          class="mt-7 border-t border-line pt-4"
        >
          <h2 class="text-[19px]">{{ t('reach.besides') }}</h2>
          <ul class="mt-1 text-[15px] text-soft">
            <li v-if="item.byLink.opened > 0">
              {{ t('reach.by-link-opened', item.byLink.opened) }}
            </li>
            <li v-if="item.byLink.downloaded > 0">
              {{ t('reach.by-link-downloaded', item.byLink.downloaded) }}
            </li>
            <li v-if="data.others">{{ t('reach.others', data.others) }}</li>
            <li v-if="data.earlier.people + data.earlier.visitors > 0">
              {{ t('reach.earlier-times', data.earlier.people + data.earlier.visitors) }}
            </li>
          </ul>
        </section>
      </template>
    </template>
  </div>
</template>
