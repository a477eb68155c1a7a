<script setup lang="ts">
import type { PlaceThing } from '@sammlung/contract';
import { useQuery, useQueryCache } from '@pinia/colada';
import { useDropZone } from '@vueuse/core';
import { Camera, FolderInput, Upload } from 'lucide-vue-next';
import { computed, defineAsyncComponent, ref, useTemplateRef, watch } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink } from 'vue-router';
import { useAction } from '../../app/action.ts';
import { address, contentAddress, folderArchiveAddress } from '../../app/api/addresses.ts';
import { api, connected } from '../../app/api/api.ts';
import { BOXES_KEY, useBoxWords } from '../../app/box/boxes.ts';
import { useFormat } from '../../app/format.ts';
import { useLive } from '../../app/live/live.ts';
import { useMeta } from '../../app/meta.ts';
import PageState from '../../app/PageState.vue';
import { useReadingPlace } from '../../app/place.ts';
import { usePageTitle } from '../../app/shell/title.ts';
import { say } from '../../app/shell/toast.ts';
import SmallPicture from '../../app/SmallPicture.vue';
import { removeThings } from '../../app/things.ts';
import { readDropped } from '../../app/uploads/dropped.ts';
import { useUploads } from '../../app/uploads/uploads.ts';
import AppButton from '../../ui/AppButton.vue';
import ItemLink from '../../ui/ItemLink.vue';
import { walkRows } from '../../ui/listKeys.ts';
import RowMenu from '../../ui/RowMenu.vue';
import { useOwnPlace } from './own-place.ts';

/** A student’s place in a hand-in box: what they have handed in, and what they were given. */
const { boxId } = defineProps<{ boxId: string }>();
defineSlots<{ arriving(props: { folder: string }): unknown }>();
const { t } = useI18n();
const { day, moment, size } = useFormat();
const meta = useMeta();
const place = useReadingPlace();
const cache = useQueryCache();
const uploads = useUploads();
const { until, standing } = useBoxWords();
const HandInSheet = defineAsyncComponent(() => import('./HandInSheet.vue'));

const { box, loading, error, again, placeId: id, query } = useOwnPlace(() => boxId);
const data = computed(() => query.data.value);
usePageTitle(() => box.value?.title);
const refresh = () =>
  Promise.all(
    [['place'], BOXES_KEY, ['desk'], ['folder']].map((key) => cache.invalidateQueries({ key })),
  );
useLive(
  () =>
    id.value ? address('GET /api/folders/:folder/live', { params: { folder: id.value } }) : null,
  { changed: refresh, news: { contents: refresh } },
);
watch(
  () => uploads.running.length,
  (now, before) => now < before && void refresh(),
);

/** How much more can be handed in, said before it is. */
const desk = useQuery({
  key: ['desk', 'room'],
  query: () => api('POST /api/desk'),
  enabled: () => box.value?.mayAdd === true && connected.value,
});
const room = computed(() => {
  const data = desk.data.value;
  return data ? size(Math.max(0, data.quota - data.used)) : null;
});

const here = computed(() => ({ id: id.value, title: box.value?.title ?? '' }));
const add = (files: readonly File[]) =>
  uploads.add(files.map((file) => ({ file, folder: here.value })));
const picker = useTemplateRef('picker');
const camera = useTemplateRef('camera');
function picked(event: Event) {
  const input = event.target as HTMLInputElement;
  add([...(input.files ?? [])]);
  input.value = '';
}
const attempt = useAction(refresh);
const zone = useTemplateRef('zone');
const { isOverDropZone } = useDropZone(zone, {
  onDrop: (_, event) => {
    const dropped = [...(event.dataTransfer?.items ?? [])];
    if (box.value?.mayAdd)
      void attempt(async () => uploads.addDropped(await readDropped(dropped), here.value));
  },
});
const choosing = ref(false);

const withdraw = ({ placementId, title }: PlaceThing) =>
  attempt(async () => {
    await removeThings('placement', [placementId]);
    say({
      text: t('box.withdrawn', { title }),
      undo: () =>
        api('POST /api/bin/restore', {
          body: { things: [{ kind: 'placement', id: placementId }] },
        }).then(refresh),
    });
  });
const toDesk = ({ placementId, title }: PlaceThing) =>
  attempt(async () => {
    const desk = await api('POST /api/desk');
    const things = [{ kind: 'placement' as const, id: placementId }];
    const { from } = await api('POST /api/moves', {
      body: { things, to: desk.folderId, before: null },
    });
    say({
      text: t('box.on-desk', { title }),
      undo: () => api('POST /api/moves/back', { body: { from } }).then(refresh),
    });
  });
const takeCopy = ({ placementId, title }: PlaceThing) =>
  attempt(async () => {
    await api('POST /api/copies', { body: { things: [{ kind: 'placement', id: placementId }] } });
    say({ text: t('box.copied', { title }) });
  });
const mayChange = (thing: PlaceThing) => box.value?.mayAdd && thing.own;
const actions = (thing: PlaceThing) => () => [
  ...(thing.kind === 'file'
    ? [
        {
          name: 'download',
          text: t('box.download'),
          href: contentAddress(place, thing.placementId, 'attachment'),
        },
      ]
    : []),
  { name: 'copy', text: t('box.take-copy') },
  ...(mayChange(thing)
    ? [
        { name: 'desk', text: t('box.to-desk') },
        { name: 'withdraw', text: t('box.withdraw'), keys: 'Del' },
      ]
    : []),
];
function act(name: string, thing: PlaceThing) {
  if (name === 'copy') void takeCopy(thing);
  if (name === 'desk') void toDesk(thing);
  if (name === 'withdraw') void withdraw(thing);
}
function onKey(event: KeyboardEvent, thing: PlaceThing) {
  if (event.key !== 'Delete' || !mayChange(thing)) return;
  event.preventDefault();
  void withdraw(thing);
}
/** When it came and whether it was seen; of what was given, from whom. */
const about = (thing: PlaceThing) =>
  [
    thing.path.join(' / '),
    meta({ ...thing, lessonDate: null }),
    thing.own ? '' : t('box.from', { name: thing.by }),
    thing.late ? t('box.late') : '',
    thing.own && thing.seenAt ? t('box.seen', { when: moment(thing.seenAt) }) : '',
  ]
    .filter(Boolean)
    .join(' · ');
const list = useTemplateRef('list');
</script>

<template>
  <div
    ref="zone"
    class="mx-auto w-full max-w-4xl flex-1 px-5 py-7 sm:px-10"
    :class="isOverDropZone && box?.mayAdd ? 'bg-petrol-pale' : ''"
  >
    <PageState v-if="!box && loading" :error="error" @again="again" />
    <p v-else-if="!box" class="text-soft">{{ t('box.gone') }}</p>
    <template v-else>
      <div class="flex flex-wrap items-center gap-x-4 gap-y-1">
        <RouterLink
          :to="place.classPage(box.classId)!"
          class="inline-flex h-8 items-center rounded-[5px] px-3.5 font-code text-[16px] font-semibold text-white hover:brightness-115"
          :style="{ background: `var(--${box.colour})` }"
          >{{ box.code }}</RouterLink
        >
        <h1 class="min-w-40 flex-1 text-[28px] wrap-anywhere">{{ box.title }}</h1>
      </div>
      <p class="mt-1 text-meta text-soft">{{ until(box) }}</p>
      <p v-if="box.goesAt" class="mt-1 font-semibold text-brick-ink">
        {{ t('box.goes', { day: day(box.goesAt) }) }}
      </p>
      <p v-if="box.text" class="mt-3 max-w-prose whitespace-pre-wrap">{{ box.text }}</p>
      <p class="mt-3 font-semibold" :class="box.handedInAt ? '' : 'text-saffron-ink'" role="status">
        {{ standing(box) }}
      </p>
      <div v-if="box.mayAdd && connected" class="mt-3 flex flex-wrap gap-2">
        <AppButton tone="main" @click="picker?.click()">
          <Upload :size="17" aria-hidden="true" />{{ t('box.add') }}
        </AppButton>
        <AppButton @click="camera?.click()">
          <Camera :size="17" aria-hidden="true" />{{ t('box.camera') }}
        </AppButton>
        <AppButton @click="choosing = true">
          <FolderInput :size="17" aria-hidden="true" />{{ t('box.from-desk') }}
        </AppButton>
        <input
          ref="picker"
          type="file"
          multiple
          class="hidden"
          tabindex="-1"
          aria-hidden="true"
          @change="picked"
        />
        <input
          ref="camera"
          type="file"
          accept="image/*"
          capture="environment"
          class="hidden"
          tabindex="-1"
          aria-hidden="true"
          @change="picked"
        />
      </div>
      <p class="mt-3 max-w-prose text-meta text-soft">
        {{ t(box.mayAdd ? 'box.private' : 'box.private-ended') }}
        <template v-if="room !== null">{{ t('box.room', { size: room }) }}</template>
      </p>
      <a
        v-if="data && data.things.length > 0"
        :href="folderArchiveAddress(place, id)"
        download
        class="mt-1 inline-flex min-h-9 items-center font-semibold text-petrol hover:underline pointer-coarse:min-h-11"
        >{{ t('box.take-all') }}</a
      >
      <slot name="arriving" :folder="id" />
      <PageState v-if="!data" :error="query.error.value" @again="query.refetch()" />
      <ul
        v-else-if="data.things.length > 0"
        ref="list"
        class="mt-4 border-b border-line"
        @keydown="list && walkRows(list, $event)"
      >
        <li
          v-for="thing in data.things"
          :key="thing.placementId"
          class="flex items-center gap-1 border-t border-line"
          @keydown="onKey($event, thing)"
        >
          <ItemLink
            :kind="thing.kind"
            :url="thing.url"
            :to="{ name: 'box', params: { box: boxId, place: thing.placementId } }"
            class="group flex min-h-16 min-w-0 flex-1 items-center gap-4 py-2"
          >
            <SmallPicture :item="thing" line />
            <span class="min-w-0 flex-1">
              <span class="block text-[17px] font-semibold wrap-anywhere group-hover:text-petrol"
                ><span
                  v-if="!thing.own && !thing.opened"
                  class="mr-2 inline-block size-[9px] bg-saffron"
                  ><span class="sr-only">{{ t('receive.unopened') }}</span></span
                >{{ thing.title }}</span
              >
              <span class="block text-meta text-soft"
                >{{ about(thing)
                }}<span v-if="thing.remarks.count > 0">
                  · {{ t('remark.count', thing.remarks.count) }}</span
                ><span v-if="thing.remarks.fresh > 0" class="font-semibold text-saffron-ink">
                  · {{ t('remark.fresh', thing.remarks.fresh) }}</span
                ></span
              >
            </span>
          </ItemLink>
          <RowMenu
            :label="t('box.actions', { title: thing.title })"
            :actions="actions(thing)"
            @act="act($event, thing)"
          />
        </li>
      </ul>
    </template>
    <HandInSheet
      v-if="choosing && box"
      :place-id="id"
      :title="box.title"
      @done="refresh"
      @close="choosing = false"
    />
  </div>
</template>
