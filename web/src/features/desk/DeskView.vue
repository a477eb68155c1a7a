<script setup lang="ts">
import type { FolderRow, ItemRow, Origin } from '@sammlung/contract';
import { useQuery, useQueryCache } from '@pinia/colada';
import { useDropZone } from '@vueuse/core';
import { FilePen, FolderPlus, Upload } from 'lucide-vue-next';
import { computed, ref, useTemplateRef, watch } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink, useRoute, useRouter } from 'vue-router';
import { api } from '../../app/api/api.ts';
import { useAction } from '../../app/action.ts';
import { readDropped } from '../../app/uploads/dropped.ts';
import { useFormat } from '../../app/format.ts';
import { useMeta } from '../../app/meta.ts';
import NameLine from '../../app/NameLine.vue';
import { contentAddress, folderArchiveAddress } from '../../app/api/addresses.ts';
import { useContents, useFolder, useReadingPlace } from '../../app/place.ts';
import { say } from '../../app/shell/toast.ts';
import { useUploads } from '../../app/uploads/uploads.ts';
import AppButton from '../../ui/AppButton.vue';
import CrumbLine from '../../ui/CrumbLine.vue';
import ItemLink from '../../ui/ItemLink.vue';
import KindMark from '../../ui/KindMark.vue';
import PageState from '../../app/PageState.vue';
import RowMenu from '../../ui/RowMenu.vue';
import SmallPicture from '../../app/SmallPicture.vue';
import { walkRows } from '../../ui/listKeys.ts';
import MoveSheet from './MoveSheet.vue';
import VersionsSheet from './VersionsSheet.vue';
import { changeThing } from '../../app/things.ts';

/** A student's own copies and files; those on their way come first (`arriving`). */
defineSlots<{ arriving(props: { folder: string }): unknown }>();
const { t } = useI18n();
const route = useRoute();
const router = useRouter();
const place = useReadingPlace();
const cache = useQueryCache();
const uploads = useUploads();
const meta = useMeta();
const { size } = useFormat();

const desk = useQuery({ key: ['desk'], query: () => api('POST /api/desk'), staleTime: 0 });
const top = computed(() => desk.data.value?.folderId ?? '');
const id = computed(() => String(route.params.folder ?? top.value));
const folder = useFolder(place, () => id.value);
const contents = useContents(place, () => id.value);
const origins = useQuery({
  key: () => ['folder', place.base, id.value, 'origins'],
  query: () => api('GET /api/folders/:folder/origins', { params: { folder: id.value } }),
  enabled: () => id.value !== '',
});
const title = computed(() =>
  id.value === top.value ? t('shell.desk') : (folder.data.value?.title ?? ''),
);
const pages = computed(() => contents.data.value?.pages ?? []);
const folders = computed(() => pages.value[0]?.folders ?? []);
const items = computed(() => pages.value.flatMap((page) => page.items));
const error = computed(() => desk.error.value ?? folder.error.value ?? contents.error.value);
const originOf = (row: ItemRow): Origin | undefined =>
  origins.data.value?.origins.find((origin) => origin.placementId === row.placementId);
const names = computed(() => folders.value.map((row) => row.title));

const refresh = () =>
  Promise.all([['folder'], ['desk'], ['tree']].map((key) => cache.invalidateQueries({ key })));
const attempt = useAction(refresh);

// A page of the list that is left shows nothing half done.
type Row = { kind: 'folder'; row: FolderRow } | { kind: 'placement'; row: ItemRow };
const making = ref(false);
const renaming = ref('');
const moving = ref<Row | null>(null);
const looking = ref<ItemRow | null>(null);
watch(id, () => ((making.value = false), (renaming.value = '')));
const idOf = (one: Row) => (one.kind === 'folder' ? one.row.id : one.row.placementId);
const thingOf = (one: Row) => ({ kind: one.kind, id: idOf(one) });

const makeFolder = async (name: string) => {
  await api('POST /api/folders', { body: { parentId: id.value, title: name } });
  await refresh();
};
const newPage = () =>
  attempt(async () => {
    const body = { folderId: id.value, title: t('library.page-title') };
    const made = await api('POST /api/pages', { body });
    await router.push({ name: 'page', params: { placement: made.id } });
  });
const rename = (one: Row) => async (name: string) => {
  await changeThing(thingOf(one), { title: name });
  await refresh();
};
const remove = (one: Row) =>
  attempt(async () => {
    const things = [thingOf(one)];
    await api('POST /api/bin', { body: { things } });
    say({
      text: t('desk.removed', { title: one.row.title }),
      undo: () => api('POST /api/bin/restore', { body: { things } }).then(refresh),
    });
  });
const renew = (row: ItemRow) =>
  attempt(async () => {
    await api('POST /api/placements/:placement/renew', { params: { placement: row.placementId } });
    say({ text: t('desk.renewed', { title: row.title }) });
  });

const actions = (one: Row) => () => [
  { name: 'rename', text: t('library.rename'), keys: 'F2' },
  { name: 'move', text: t('library.move') },
  ...(one.kind === 'placement' && one.row.kind === 'file'
    ? [
        { name: 'replace', text: t('desk.replace') },
        ...((one.row.version ?? 1) > 1 ? [{ name: 'versions', text: t('desk.versions') }] : []),
        {
          name: 'download',
          text: t('desk.download'),
          href: contentAddress(place, one.row.placementId, 'attachment'),
        },
      ]
    : []),
  ...(one.kind === 'folder'
    ? [
        {
          name: 'download',
          text: t('desk.download'),
          href: folderArchiveAddress(place, one.row.id),
        },
      ]
    : []),
  { name: 'remove', text: t('desk.remove'), keys: 'Del' },
];
function act(name: string, one: Row) {
  if (name === 'rename') renaming.value = idOf(one);
  if (name === 'move') moving.value = one;
  if (name === 'remove') void remove(one);
  if (one.kind === 'folder') return;
  if (name === 'versions') looking.value = one.row;
  if (name === 'replace') {
    replacing.value = one.row;
    picker.value?.click();
  }
}
function onKey(event: KeyboardEvent, one: Row) {
  if (renaming.value !== '' || event.ctrlKey || event.metaKey || event.altKey) return;
  const name = { F2: 'rename', Delete: 'remove' }[event.key];
  if (!name) return;
  event.preventDefault();
  act(name, one);
}

// Files from the device: new ones, and a worked-on state of one that is here.
const picker = useTemplateRef('picker');
const replacing = ref<ItemRow | null>(null);
const here = computed(() => ({ id: id.value, title: title.value }));
function picked(event: Event) {
  const input = event.target as HTMLInputElement;
  const files = [...(input.files ?? [])];
  const row = replacing.value;
  replacing.value = null;
  input.value = '';
  const [first] = files;
  if (!row) uploads.add(files.map((file) => ({ file, folder: here.value })));
  else if (first) replace(row, first);
}
function replace(row: ItemRow, file: File) {
  const extension = /\.([^.]+)$/u.exec(file.name)?.[1]?.toLowerCase() ?? '';
  const same = extension === row.extension;
  // Under the name of what it replaces it becomes its next version.
  const name = same && extension ? `${row.title}.${extension}` : file.name;
  const { type, lastModified } = file;
  const named = new File([file], name, { type, lastModified });
  uploads.add([{ file: named, folder: here.value }]);
  if (!same) say({ text: t('desk.other-kind', { extension, title: row.title }) });
}
function add() {
  replacing.value = null;
  picker.value?.click();
}
const zone = useTemplateRef('zone');
const { isOverDropZone } = useDropZone(zone, {
  onDrop: (_, event) => {
    const dropped = [...(event.dataTransfer?.items ?? [])];
    void attempt(async () => uploads.addDropped(await readDropped(dropped), here.value));
  },
});
watch(
  () => uploads.running.length,
  (now, before) => now < before && void refresh(),
);

const list = useTemplateRef('list');
const rows = computed<Row[]>(() => [
  ...folders.value.map((row) => ({ kind: 'folder' as const, row })),
  ...items.value.map((row) => ({ kind: 'placement' as const, row })),
]);
</script>

<template>
  <div
    ref="zone"
    class="mx-auto w-full max-w-4xl flex-1 px-5 py-7 sm:px-10"
    :class="isOverDropZone ? 'bg-petrol-pale' : ''"
  >
    <PageState v-if="error" :error="error" @again="refresh" />
    <template v-else>
      <CrumbLine
        v-if="id !== top && folder.data.value"
        :crumbs="folder.data.value.crumbs.slice(1, -1)"
        :to="(crumb) => ({ name: 'desk-folder', params: { folder: crumb } })"
      >
        <li>
          <RouterLink :to="{ name: 'desk' }" class="hover:text-petrol hover:underline">{{
            t('shell.desk')
          }}</RouterLink>
        </li>
      </CrumbLine>
      <div class="flex flex-wrap items-end gap-x-3 gap-y-2">
        <div class="min-w-56 flex-1">
          <h1 class="text-[28px]">{{ title || '…' }}</h1>
          <p v-if="id === top" class="text-soft">{{ t('desk.text') }}</p>
        </div>
        <AppButton :disabled="id === ''" @click="making = true">
          <FolderPlus :size="17" aria-hidden="true" />{{ t('library.new-folder') }}
        </AppButton>
        <AppButton :disabled="id === ''" @click="newPage">
          <FilePen :size="17" aria-hidden="true" />{{ t('library.new-page') }}
        </AppButton>
        <AppButton tone="main" :disabled="id === ''" @click="add">
          <Upload :size="17" aria-hidden="true" />{{ t('desk.add') }}
        </AppButton>
        <input
          ref="picker"
          type="file"
          class="hidden"
          :multiple="replacing === null"
          tabindex="-1"
          aria-hidden="true"
          @change="picked"
        />
      </div>
      <NameLine
        v-if="making"
        class="mt-4"
        :label="t('library.new-folder')"
        :yes="t('common.save')"
        :siblings="names"
        :act="makeFolder"
        @done="making = false"
      />
      <slot v-if="id !== ''" name="arriving" :folder="id" />
      <PageState v-if="pages.length === 0" />
      <p v-else-if="rows.length === 0" class="mt-4 max-w-md border-t border-line py-8 text-soft">
        {{ t(id === top ? 'desk.empty' : 'desk.empty-folder') }}
      </p>
      <ul
        v-else
        ref="list"
        class="mt-4 border-b border-line"
        @keydown="renaming === '' && list && walkRows(list, $event)"
      >
        <li
          v-for="one in rows"
          :key="idOf(one)"
          class="flex items-center gap-1 border-t border-line"
          @keydown="onKey($event, one)"
        >
          <NameLine
            v-if="renaming === idOf(one)"
            class="flex-1 py-2.5"
            :was="one.row.title"
            :label="t('library.rename')"
            :yes="t('common.save')"
            :act="rename(one)"
            @done="renaming = ''"
          />
          <template v-else>
            <ItemLink
              :kind="one.kind === 'folder' ? 'folder' : one.row.kind"
              :url="one.kind === 'folder' ? null : one.row.url"
              :to="
                one.kind === 'folder'
                  ? { name: 'desk-folder', params: { folder: one.row.id } }
                  : place.item(one.row.placementId)
              "
              class="group flex min-h-16 min-w-0 flex-1 items-center gap-4 py-2"
            >
              <KindMark v-if="one.kind === 'folder'" kind="folder" :mark="one.row.mark" large />
              <SmallPicture v-else :item="one.row" line />
              <span class="min-w-0 flex-1">
                <span
                  class="block text-[17px] font-semibold wrap-anywhere group-hover:text-petrol"
                  >{{ one.row.title }}</span
                >
                <span class="block text-meta text-soft">
                  <template v-if="one.kind === 'folder'">{{
                    t('count.items', one.row.items)
                  }}</template>
                  <template v-else>
                    {{ meta(one.row) }}
                    <template v-if="originOf(one.row)?.ownerName">
                      · {{ t('desk.copy-of', { name: originOf(one.row)!.ownerName }) }}
                    </template>
                    <template v-else-if="originOf(one.row)?.state === 'gone'">
                      · {{ t('desk.gone') }}
                    </template>
                  </template>
                </span>
              </span>
            </ItemLink>
            <span
              v-if="one.kind === 'placement' && originOf(one.row)?.state === 'newer'"
              class="max-w-56 text-right text-meta"
            >
              <span class="font-semibold text-saffron-ink">{{ t('desk.newer') }}</span>
              <span class="flex justify-end gap-3">
                <button
                  class="min-h-9 font-semibold text-petrol underline pointer-coarse:min-h-11"
                  @click="renew(one.row)"
                >
                  {{ t('desk.renew') }}
                </button>
                <RouterLink
                  class="grid min-h-9 place-items-center text-petrol underline pointer-coarse:min-h-11"
                  :to="place.item(originOf(one.row)!.originalId!)"
                  >{{ t('desk.original') }}</RouterLink
                >
              </span>
            </span>
            <RowMenu
              :label="t('desk.actions', { title: one.row.title })"
              :actions="actions(one)"
              @act="act($event, one)"
            />
          </template>
        </li>
      </ul>
      <AppButton v-if="contents.hasNextPage.value" class="mt-4" @click="contents.loadNextPage()">
        {{ t('receive.older') }}
      </AppButton>
      <p v-if="desk.data.value" class="mt-5 text-meta text-soft">
        {{
          t('desk.used', { used: size(desk.data.value.used), quota: size(desk.data.value.quota) })
        }}
      </p>
    </template>
    <MoveSheet
      v-if="moving"
      :thing="thingOf(moving)"
      :title="moving.row.title"
      @moved="refresh"
      @close="moving = null"
    />
    <VersionsSheet v-if="looking" :row="looking" @close="looking = null" />
  </div>
</template>
