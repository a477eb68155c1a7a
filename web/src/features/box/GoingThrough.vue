<script setup lang="ts">
import type { PlaceRow, PlaceThing } from '@sammlung/contract';
import { useQuery, useQueryCache } from '@pinia/colada';
import { useEventListener, useLocalStorage, useMounted } from '@vueuse/core';
import { computed, defineAsyncComponent, nextTick, ref, useTemplateRef, watch } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink, useRoute, useRouter } from 'vue-router';
import { address, contentAddress, folderArchiveAddress } from '../../app/api/addresses.ts';
import { api } from '../../app/api/api.ts';
import { useInitial } from '../../app/api/initial-state.ts';
import { BOXES_KEY, useBoxWords } from '../../app/box/boxes.ts';
import { useFormat } from '../../app/format.ts';
import { useLive } from '../../app/live/live.ts';
import PageState from '../../app/PageState.vue';
import { useReadingPlace } from '../../app/place.ts';
import { usePageTitle } from '../../app/shell/title.ts';
import AppButton from '../../ui/AppButton.vue';
import KindMark from '../../ui/KindMark.vue';
import ModalSheet from '../../ui/ModalSheet.vue';
import PhraseBar from './PhraseBar.vue';
import ThingSheet from './ThingSheet.vue';

/** A hand-in box gone through: a tab for each student, and beside the sheet what is said about it. */
const { boxId } = defineProps<{ boxId: string }>();
const { t } = useI18n();
const { moment } = useFormat();
const { until } = useBoxWords();
const route = useRoute();
const router = useRouter();
const place = useReadingPlace();
/** The server makes this page without what it would have to ask for besides. */
const mounted = useMounted();

const rowsKey = () => [...BOXES_KEY, boxId];
useInitial(useQueryCache(), rowsKey(), address('GET /api/boxes/:box', { params: { box: boxId } }));
const query = useQuery({
  key: rowsKey,
  query: () => api('GET /api/boxes/:box', { params: { box: boxId } }),
  placeholderData: (before) => before,
});
const box = computed(() => query.data.value?.box);
usePageTitle(() => box.value && `${box.value.code} ${box.value.title}`);
/** Who has handed in nothing comes first, where that is wanted. */
const missingFirst = useLocalStorage('box-missing-first', false, { initOnMounted: true });
const rows = computed(() => {
  const all = query.data.value?.places ?? [];
  if (!missingFirst.value) return all;
  return [...all.filter((row) => row.files === 0), ...all.filter((row) => row.files > 0)];
});
/** The student who is looked at: the one of the address, else the first with something new, else the first with something. */
const placeId = computed(
  () =>
    rows.value.find((row) => row.placeId === route.params.place)?.placeId ??
    (
      rows.value.find((row) => row.fresh > 0) ??
      rows.value.find((row) => row.files > 0) ??
      rows.value[0]
    )?.placeId ??
    '',
);
const at = computed(() => rows.value.findIndex((row) => row.placeId === placeId.value));
const row = computed(() => rows.value[at.value]);
const to = (one: PlaceRow) => ({
  name: 'box',
  params: { box: boxId, place: one.placeId },
});
const before = computed(() => rows.value[at.value - 1]);
const next = computed(() => rows.value[at.value + 1]);
const go = (one: PlaceRow | undefined) => one && router.replace(to(one));
useEventListener('keydown', (event: KeyboardEvent) => {
  const target = event.target as HTMLElement;
  if (target.matches('input, textarea, select, video, audio') || event.ctrlKey || event.metaKey)
    return;
  if (event.altKey || event.shiftKey) return;
  if (event.key === 'ArrowRight') void go(next.value);
  if (event.key === 'ArrowLeft') void go(before.value);
});
/** The tab of the student is kept on the screen. */
const tabs = useTemplateRef('tabs');
watch(placeId, async () => {
  await nextTick();
  tabs.value
    ?.querySelector('[aria-current]')
    ?.scrollIntoView({ block: 'nearest', inline: 'center' });
});

const theirs = useQuery({
  key: () => ['place', placeId.value],
  query: () => api('GET /api/places/:place', { params: { place: placeId.value } }),
  enabled: () => mounted.value && placeId.value !== '',
});
const things = computed(() => theirs.data.value?.things ?? []);
const chosen = ref('');
const shown = computed<PlaceThing | undefined>(
  () =>
    things.value.find((thing) => thing.placementId === chosen.value) ??
    things.value.find((thing) => thing.own && !thing.opened && thing.kind !== 'link') ??
    things.value.find((thing) => thing.own && thing.kind !== 'link') ??
    things.value.find((thing) => thing.kind !== 'link'),
);
// What is looked at stays, also when it is new no more.
watch(
  () => shown.value?.placementId,
  (id) => (chosen.value = id ?? ''),
);
const sheet = useTemplateRef('sheet');
const CopiesSheet = defineAsyncComponent(() => import('../../app/box/CopiesSheet.vue'));
const HandInChart = defineAsyncComponent(() => import('./HandInChart.vue'));
const giving = ref(false);
/** Whether it is shown who had handed in by when. */
const charting = ref(false);
const reload = () => Promise.all([query.refetch(), theirs.refetch()]);
function closeCopies() {
  giving.value = false;
  void reload();
}
useLive(
  () =>
    placeId.value
      ? address('GET /api/folders/:folder/live', { params: { folder: placeId.value } })
      : null,
  {
    changed: reload,
    news: { contents: reload },
  },
);
/** What there is of a student, in words. */
const standing = (one: PlaceRow) =>
  one.handedInAt === null
    ? t('going-through.nothing', { name: one.name })
    : t(
        'going-through.there',
        { name: one.name, n: one.files, when: moment(one.handedInAt) },
        one.files,
      );
/** The look of each tab, said once: there may be hundreds. */
const TAB = [
  '*:inline-flex *:min-h-9 *:shrink-0 *:items-center *:gap-2 *:rounded-t-[6px] *:border *:border-b-0 *:border-line *:px-3 *:text-[14px] *:whitespace-nowrap',
  '*:bg-[color-mix(in_oklab,var(--paper),var(--ink)_5%)] *:hover:text-petrol pointer-coarse:*:min-h-11',
  '*:data-missing:border-dashed *:data-missing:bg-transparent *:data-missing:text-soft',
  '*:aria-[current]:relative *:aria-[current]:-mb-px *:aria-[current]:min-h-11 *:aria-[current]:border-solid *:aria-[current]:bg-sheet *:aria-[current]:text-[16px] *:aria-[current]:font-semibold *:aria-[current]:text-ink',
];
const ACTION =
  'inline-flex min-h-10 items-center gap-2 rounded-edge border px-3.5 text-[15px] font-semibold pointer-coarse:min-h-11';
const PLAIN = 'border-line bg-raised hover:border-petrol hover:text-petrol';
</script>

<template>
  <div class="flex w-full min-w-0 flex-1 flex-col bg-paper">
    <div v-if="!query.data.value || !box" class="mx-auto w-full max-w-4xl px-5 py-7 sm:px-10">
      <PageState :error="query.error.value" @again="query.refetch()" />
    </div>
    <template v-else>
      <nav
        ref="tabs"
        class="relative flex items-end gap-[3px] overflow-x-auto border-b border-line px-4 pt-4 sm:px-10"
        :class="TAB"
        :aria-label="t('going-through.students')"
      >
        <RouterLink
          v-for="one in rows"
          :key="one.placeId"
          :to="to(one)"
          replace
          :aria-current="one.placeId === placeId ? 'page' : undefined"
          :data-missing="one.files === 0 || undefined"
        >
          <span v-if="one.fresh > 0" class="size-[9px] shrink-0 bg-saffron"
            ><span class="sr-only">{{ t('receive.unopened') }}</span></span
          ><span>{{ one.placeId === placeId ? one.name : one.familyName }}</span
          ><span v-if="one.files === 0" class="sr-only">{{ t('going-through.missing') }}</span>
        </RouterLink>
      </nav>
      <div
        class="flex flex-wrap items-center gap-x-3 gap-y-2 border-b border-line bg-sheet px-4 py-3 sm:px-10"
      >
        <RouterLink
          :to="{ name: 'class-page', params: { class: box.classId } }"
          class="inline-flex h-[26px] items-center rounded-[4px] px-2.5 font-code text-[13px] font-semibold text-white hover:brightness-115"
          :style="{ background: `var(--${box.colour})` }"
          >{{ box.code }}</RouterLink
        >
        <h1 class="text-[22px] wrap-anywhere">{{ box.title }}</h1>
        <p class="min-w-48 flex-1 text-meta text-soft max-sm:basis-full">
          <button
            type="button"
            class="underline underline-offset-2 hover:text-petrol"
            :title="t('going-through.by-when')"
            @click="charting = true"
          >
            {{ t('taught-box.in', { n: box.handedIn, of: box.students }) }}</button><template
            v-if="row"
          >
            · {{ standing(row) }}</template
          ><span v-if="row?.late" class="font-semibold text-brick-ink"> · {{ t('box.late') }}</span>
          <span class="block">{{ until(box) }}</span>
        </p>
        <label class="flex min-h-10 items-center gap-2 text-meta pointer-coarse:min-h-11">
          <input v-model="missingFirst" type="checkbox" class="size-5 accent-(--action)" />{{
            t('going-through.missing-first')
          }}
        </label>
        <a
          v-if="box.handedIn > 0"
          :href="address('GET /api/box-archive', { query: { boxes: boxId } })"
          :class="[ACTION, PLAIN]"
          download
          >{{ t('going-through.take-all') }}</a
        >
        <button
          type="button"
          :class="[ACTION, PLAIN]"
          :disabled="!before"
          class="disabled:text-soft max-sm:flex-1 max-sm:justify-center"
          @click="go(before)"
        >
          {{ t('going-through.before')
          }}<kbd class="rounded-[4px] border border-line px-1.5 text-[13px]" aria-hidden="true"
            >←</kbd
          >
        </button>
        <button
          type="button"
          :class="[
            ACTION,
            'border-action bg-action text-white hover:brightness-115 disabled:opacity-60',
          ]"
          :disabled="!next"
          class="max-sm:flex-1 max-sm:justify-center"
          @click="go(next)"
        >
          {{ t('going-through.next')
          }}<kbd class="rounded-[4px] border border-white/50 px-1.5 text-[13px]" aria-hidden="true"
            >→</kbd
          >
        </button>
      </div>
      <p v-if="rows.length === 0" class="px-4 py-8 text-soft sm:px-10">
        {{ t('going-through.nobody') }}
      </p>
      <div v-else class="flex flex-1 justify-center px-4 py-5 sm:px-10">
        <ThingSheet ref="sheet" :thing="shown" style="--beside: 18rem" @opened="reload">
          <template #nothing>
            <p v-if="row && theirs.data.value" class="m-auto px-6 text-soft">{{ standing(row) }}</p>
          </template>
          <template #facts>
            <h2 v-if="row" class="text-[19px]">{{ row.name }}</h2>
            <p v-if="row && !row.member" class="text-meta text-soft">
              {{ t('going-through.left', { code: box.code }) }}
            </p>
            <ul class="mt-2">
              <li
                v-for="thing in things"
                :key="thing.placementId"
                class="border-t border-line first:border-t-0"
              >
                <component
                  :is="thing.kind === 'link' ? 'a' : 'button'"
                  v-bind="
                    thing.kind === 'link'
                      ? { href: thing.url, target: '_blank', rel: 'noopener noreferrer' }
                      : { type: 'button', 'aria-pressed': thing.placementId === shown?.placementId }
                  "
                  class="group flex min-h-11 w-full items-center gap-3 py-1.5 text-start"
                  @click="chosen = thing.placementId"
                >
                  <KindMark :kind="thing.kind" :extension="thing.extension" />
                  <span class="min-w-0 flex-1">
                    <span
                      class="block leading-snug wrap-anywhere group-hover:text-petrol"
                      :class="thing.placementId === shown?.placementId ? 'font-semibold' : ''"
                      ><span
                        v-if="thing.own && !thing.opened"
                        class="mr-1.5 inline-block size-[9px] bg-saffron"
                        ><span class="sr-only">{{ t('receive.unopened') }}</span></span
                      >{{ [...thing.path, thing.title].join(' / ') }}</span
                    >
                    <span class="block text-meta text-soft"
                      >{{
                        thing.own
                          ? moment(thing.changedAt)
                          : t('going-through.given', { name: thing.by })
                      }}<span v-if="thing.late" class="font-semibold text-brick-ink">
                        · {{ t('box.late') }}</span
                      ></span
                    >
                  </span>
                </component>
              </li>
            </ul>
            <div
              v-if="things.length > 0"
              class="mt-3 flex flex-wrap gap-x-5 border-t border-line pt-2"
            >
              <a
                v-if="shown?.kind === 'file'"
                :href="contentAddress(place, shown.placementId, 'attachment')"
                class="inline-flex min-h-9 items-center font-semibold text-petrol hover:underline pointer-coarse:min-h-11"
                >{{ t('going-through.download') }}</a
              >
              <a
                v-if="things.length > 1"
                :href="folderArchiveAddress(place, placeId)"
                class="inline-flex min-h-9 items-center font-semibold text-petrol hover:underline pointer-coarse:min-h-11"
                >{{ t('going-through.take-these') }}</a
              >
            </div>
          </template>
        </ThingSheet>
      </div>
      <PhraseBar
        v-if="mounted && placeId"
        :place="{ id: placeId, title: box.title }"
        :writes="shown !== undefined"
        @write="sheet?.remarks.write($event)"
        @copies="giving = true"
      />
      <ModalSheet v-if="charting" :title="t('going-through.by-when')" @close="charting = false">
        <HandInChart class="mt-3" :places="query.data.value.places" />
        <AppButton class="mt-2" @click="charting = false">{{ t('common.close') }}</AppButton>
      </ModalSheet>
      <CopiesSheet v-if="giving" :box="box" @close="closeCopies" />
    </template>
  </div>
</template>
