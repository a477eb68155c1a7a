<script setup lang="ts">
import type { NewThings } from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { computed, useTemplateRef } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api.ts';
import { useFormat } from '../../app/format.ts';
import { useReadingPlace } from '../../app/place.ts';
import { explain } from '../../app/problems.ts';
import { say } from '../../app/toast.ts';
import ItemLink from '../../ui/ItemLink.vue';
import KindMark from '../../ui/KindMark.vue';
import PageState from '../../ui/PageState.vue';
import { walkRows } from '../../ui/listKeys.ts';
import ClassCards from './ClassCards.vue';
import { useClasses } from './classes.ts';

/** What came in, by day, newest first. */
const { t } = useI18n();
const { dayHeading, size } = useFormat();
const place = useReadingPlace();
const came = useQuery({
  key: () => ['new', place.base],
  query: () => api<NewThings>('GET', `${place.base}/new`),
  staleTime: 0,
});
const classes = useClasses();
const list = useTemplateRef('list');

async function chooseDigest(digest: boolean) {
  try {
    await api<null>('PUT', '/api/new/digest', { digest });
    say({ text: t(digest ? 'receive.digest-on' : 'receive.digest-off') });
  } catch (error) {
    say({ text: explain(t, error), tone: 'bad' });
  }
  await came.refetch();
}

type Thing = NewThings['things'][number];
const days = computed(() => {
  const groups = new Map<string, Thing[]>();
  for (const thing of came.data.value?.things ?? []) {
    const heading = dayHeading(thing.cameAt);
    groups.set(heading, [...(groups.get(heading) ?? []), thing]);
  }
  return [...groups];
});

const about = (thing: Thing) =>
  [
    thing.folder?.title,
    thing.kind === 'file' ? thing.extension.toUpperCase() : t(`kind.${thing.kind}`),
    thing.size === null ? '' : size(thing.size),
    (thing.version ?? 1) > 1 ? t('item.new-version', { number: thing.version }) : '',
  ]
    .filter(Boolean)
    .join(' · ');
</script>

<template>
  <div class="grid flex-1 lg:grid-cols-[1fr_392px]">
    <div class="px-5 py-6 sm:px-10">
      <template v-if="came.data.value">
        <h1 class="text-[28px]">{{ t('receive.title', came.data.value.unopened) }}</h1>
        <p v-if="days.length === 0" class="mt-6 max-w-md text-soft">{{ t('receive.empty') }}</p>
        <div ref="list" @keydown="list && walkRows(list, $event)">
          <section v-for="[day, things] in days" :key="day">
            <h2 class="mt-5 mb-1 text-[15px] text-soft">{{ day }}</h2>
            <ul>
              <li
                v-for="thing in things"
                :key="thing.placementId"
                class="-ml-5 border-t border-line sm:-ml-10"
              >
                <ItemLink
                  :kind="thing.kind"
                  :url="thing.url"
                  :to="place.item(thing.placementId)"
                  class="group flex min-h-16 items-center gap-3.5 py-1.5 hover:bg-paper/60"
                >
                  <span class="flex w-[66px] shrink-0 flex-col gap-1 self-stretch py-1">
                    <span
                      v-for="c in thing.classes.length > 0
                        ? thing.classes
                        : [{ id: '', code: t('receive.me'), colour: 'clay' }]"
                      :key="c.id"
                      class="grid min-h-6 flex-1 place-items-center rounded-r-[4px] px-1 font-code text-[12px] font-semibold text-white"
                      :style="{ background: `var(--${c.colour})` }"
                      >{{ c.code }}</span
                    >
                  </span>
                  <KindMark :kind="thing.kind" :extension="thing.extension" large />
                  <span class="min-w-0 flex-1 pr-2">
                    <span
                      class="block text-[16px] group-hover:text-petrol"
                      :class="thing.opened ? 'font-medium' : 'font-[650]'"
                    >
                      <span v-if="!thing.opened" class="mr-2 inline-block size-[9px] bg-saffron"
                        ><span class="sr-only">{{ t('receive.unopened') }}</span></span
                      >{{ thing.title }}
                    </span>
                    <span class="block text-meta text-soft">{{ about(thing) }}</span>
                  </span>
                </ItemLink>
              </li>
            </ul>
          </section>
        </div>
      </template>
      <PageState v-else :error="came.error.value" @again="came.refetch()" />
      <label
        v-if="place.notes && typeof came.data.value?.digest === 'boolean'"
        class="mt-8 flex min-h-11 items-center gap-2.5 text-meta text-soft"
      >
        <input
          type="checkbox"
          class="size-5 accent-(--action)"
          :checked="came.data.value.digest"
          @change="chooseDigest(($event.target as HTMLInputElement).checked)"
        />
        {{ t('receive.digest') }}
      </label>
    </div>
    <aside
      class="border-line bg-paper px-5 py-6 sm:px-7 lg:border-l"
      :aria-label="t('shell.classes')"
    >
      <h2 class="text-[19px]">{{ t('shell.classes') }}</h2>
      <ClassCards v-if="classes.data.value" :classes="classes.data.value" />
      <PageState v-else :error="classes.error.value" @again="classes.refetch()" />
    </aside>
  </div>
</template>
