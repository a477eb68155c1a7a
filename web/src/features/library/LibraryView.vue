<script setup lang="ts">
import type { FolderView, Thing } from '@sammlung/contract';
import { groupBy } from '@sammlung/core';
import { useEventListener } from '@vueuse/core';
import { computed, defineAsyncComponent, onMounted, ref, useTemplateRef, watch } from 'vue';
import { FolderTree as FolderTreeSign } from 'lucide-vue-next';
import { useI18n } from 'vue-i18n';
import { RouterLink, useRoute, useRouter } from 'vue-router';
import { readDropped, readPicked, type Dropped } from '../../app/uploads/dropped.ts';
import { archiveAddress } from '../../app/api/addresses.ts';
import { toBox } from '../../app/box/to-box.ts';
import { isWall, useContents, useFolder, useReadingPlace } from '../../app/place.ts';
import { explain } from '../../app/api/problems.ts';
import { say } from '../../app/shell/toast.ts';
import { useTree } from '../../app/tree.ts';
import { useUploads } from '../../app/uploads/uploads.ts';
import AppButton from '../../ui/AppButton.vue';
import FirstSteps from '../../app/FirstSteps.vue';
import PageState from '../../app/PageState.vue';
import { SchoolWall } from '../../app/shell/walls.ts';
import AddLink from './AddLink.vue';
import ArrangeFolder from './ArrangeFolder.vue';
import { useLibraryChanges } from './changes.ts';
import { useChoice } from './choice.ts';
import ChosenBar from './ChosenBar.vue';
import { over, vInto, type DropPlace } from './drag.ts';
import FolderTree from './FolderTree.vue';
import FirstFolders from './FirstFolders.vue';
import { folderRow, itemRow, useTopFolders, type Row } from './library.ts';
import LibraryList from './LibraryList.vue';
import NewFolder from './NewFolder.vue';
import { pasted } from './paste.ts';
import { useTakenUp } from './takenUp.ts';

/**
 * The teacher's Library: the tree and the open folder. Who sees it (`audience`) is beside it, or under its title where it is
 * not `wide` enough for that, and in a sentence (`reach`) where files are dropped; files on their way into it come first
 * (`arriving`).
 */
const { wide } = defineProps<{ wide: boolean }>();
defineSlots<{
  audience(props: { folder: FolderView; rows: readonly Row[] }): unknown;
  reach(props: { folder: FolderView }): unknown;
  arriving(props: { folder: FolderView }): unknown;
}>();
const emit = defineEmits<{
  handOut: [things: readonly Thing[], title: string];
  timing: [thing: Thing, title: string];
  why: [thing: Thing, title: string];
}>();
const { t } = useI18n();
const route = useRoute();
const router = useRouter();
const place = useReadingPlace();
const uploads = useUploads();
const changes = useLibraryChanges();
const takenUp = useTakenUp();
// Fetched while nothing else is to do: who types `m` and goes on typing must not have to wait.
const loadPutIn = () => import('./PutIn.vue');
const PutIn = defineAsyncComponent(loadPutIn);
onMounted(() => requestIdleCallback(() => void loadPutIn()));
const id = computed(() => (typeof route.params.folder === 'string' ? route.params.folder : null));

const folder = useFolder(place, () => id.value ?? '');
// The place of a hand-in box has a page of its own.
watch(
  () => folder.data.value?.placeId,
  (placeId) => placeId && void toBox(router, placeId),
);
const contents = useContents(place, () => id.value ?? '');
const top = useTopFolders(() => id.value === null);
const view = computed(() => (id.value === null ? null : (folder.data.value ?? null)));
const mayAdd = computed(
  () => id.value === null || (view.value ? view.value.right !== 'view' : false),
);
const manages = computed(
  () => id.value === null || view.value?.right === 'own' || view.value?.right === 'manage',
);

const pages = computed(() => contents.data.value?.pages ?? []);
const folders = computed(() =>
  id.value === null ? (top.data.value?.folders ?? []) : (pages.value[0]?.folders ?? []),
);
const items = computed(() => (id.value === null ? [] : pages.value.flatMap((page) => page.items)));
const total = computed(() => pages.value[0]?.total ?? items.value.length);
const rows = computed((): Row[] => [...folders.value.map(folderRow), ...items.value.map(itemRow)]);
const tree = useTree();
/** At the top of the library, what is in each of its folders: there is room for it, and it saves a step. */
const inside = computed(() =>
  id.value === null ? groupBy(tree.data.value?.folders ?? [], (x) => x.parentId) : undefined,
);
const choice = useChoice(rows);
const loaded = computed(() =>
  id.value === null ? top.data.value !== undefined : pages.value.length > 0,
);
/** What is shown is being brought up to date. */
const busy = computed(
  () => folder.isLoading.value || contents.isLoading.value || top.isLoading.value,
);
const error = computed(() =>
  id.value === null ? top.error.value : (folder.error.value ?? contents.error.value),
);
const nearEnd = ref(false);
watch(
  () => nearEnd.value && contents.hasNextPage.value && !contents.isLoading.value,
  (more) => more && contents.loadNextPage(),
);

const adding = ref<'folder' | 'link' | null>(null);
/** On a phone the tree is shown when it is asked for. */
const treeOpen = ref(false);
watch(id, () => {
  adding.value = null;
  treeOpen.value = false;
  choice.none();
});
const picker = useTemplateRef('picker');
const folderPicker = useTemplateRef('folderPicker');

// Filling.
async function add(dropped: Dropped | Promise<Dropped>, into: { id: string; title: string }) {
  try {
    const made = await uploads.addDropped(await dropped, into);
    if (made > 0 && (await dropped).files.length === 0)
      say({ text: t('library.folders-made', { folders: t('count.folders', made) }) });
  } catch (failure) {
    if (failure instanceof DOMException) say({ text: t('problem.file-gone'), tone: 'bad' });
    else say({ text: explain(t, failure), tone: 'bad' });
  }
}
const newPage = () =>
  changes.attempt(async () => {
    const made = await changes.makePage(here.value!.id);
    await router.push({ name: 'page', params: { placement: made.id } });
    return true;
  });
const here = computed(() =>
  view.value && mayAdd.value ? { id: view.value.id, title: view.value.title } : null,
);
const addHere = (dropped: Dropped | Promise<Dropped>) => here.value && add(dropped, here.value);

function picked(event: Event) {
  const input = event.target as HTMLInputElement;
  void addHere(readPicked([...(input.files ?? [])]));
  input.value = '';
}
const sheetPlace = computed((): DropPlace | null =>
  here.value || id.value === null
    ? {
        key: 'sheet',
        takes: (dropped) =>
          dropped.length > 0 &&
          dropped.every((row) => !rows.value.some((x) => x.id === row.id)) &&
          (id.value !== null || dropped.every((row) => row.kind === 'folder')),
        rows: (dropped) =>
          void changes.move(dropped, {
            id: id.value,
            title: here.value?.title ?? t('library.title'),
          }),
        files: here.value ? (given) => void addHere(readDropped(given)) : undefined,
      }
    : null,
);
const dropping = computed(() => over.value?.key === 'sheet' && here.value !== null);

const crumbs = computed(() => [
  { id: null as string | null, title: t('library.title') },
  ...(view.value?.crumbs.slice(0, -1) ?? []),
]);
const crumbPlace = (crumb: { id: string | null; title: string }): DropPlace => ({
  key: `crumb ${crumb.id}`,
  takes: (dropped) => crumb.id !== null || dropped.every((row) => row.kind === 'folder'),
  rows: (dropped) => void changes.move(dropped, crumb),
});

/** Pasting: files and pictures are added, rows that were taken up are put here, an address becomes a link. */
useEventListener(document, 'paste', async (event: ClipboardEvent) => {
  if ((event.target as HTMLElement).closest('input, textarea, [role=dialog]')) return;
  const taken = takenUp.taken;
  const what = event.clipboardData && pasted(event.clipboardData, taken, new Date());
  if (!what || !mayAdd.value) return;
  event.preventDefault();
  const to = { id: id.value, title: here.value?.title ?? t('library.title') };
  if (what.kind === 'rows') {
    const done = taken?.cut
      ? await changes.move(what.rows, to)
      : here.value && (await changes.place(what.rows, [here.value]));
    if (done && taken?.cut) takenUp.clear();
  } else if (!here.value) say({ text: t('problem.no-items-on-top'), tone: 'bad' });
  else if (what.kind === 'files') void addHere(readPicked(what.files));
  else
    await changes.attempt(async () => {
      const made = await changes.addLink(here.value!.id, what.url);
      say({
        text: t('library.link-added', { title: made.title }),
        undo: () => changes.takeAway(made.id),
      });
      return true;
    });
});

// Choosing a folder for rows.
const putting = ref<{ how: 'move' | 'place'; rows: readonly Row[] } | null>(null);
const put = (how: 'move' | 'place', concerned: readonly Row[]) =>
  (putting.value = { how, rows: concerned });
/** Several things at once, or one by its name. */
function handOut(concerned: readonly Row[]) {
  emit(
    'handOut',
    concerned.map(({ kind, id: thing }) => ({ kind, id: thing })),
    concerned.length === 1 ? concerned[0]!.title : t('count.things', concerned.length),
  );
}
async function removeChosen() {
  if (await changes.remove(choice.chosen.value)) choice.none();
}

function again() {
  void folder.refetch();
  void contents.refetch();
  void top.refetch();
}
</script>

<template>
  <div
    class="grid flex-1 md:grid-cols-[minmax(190px,250px)_1fr]"
    :class="manages && view ? 'lg:grid-cols-[210px_1fr_300px] xl:grid-cols-[250px_1fr_330px]' : ''"
  >
    <div
      id="library-tree"
      class="border-line bg-paper max-md:border-b md:border-r"
      :class="{ 'max-md:hidden': !treeOpen }"
    >
      <FolderTree :current="id" @files="(given, into) => add(readDropped(given), into)" />
    </div>
    <div
      v-into="sheetPlace"
      data-sheet
      :aria-busy="busy"
      class="relative flex min-w-0 flex-col pt-5 pl-5 sm:pl-7"
      :class="{ 'shadow-[inset_0_0_0_3px_var(--petrol)]': dropping }"
    >
      <SchoolWall v-if="id !== null && isWall(place, error)" :thing="{ kind: 'folder', id }" />
      <div v-else-if="error" class="pr-6"><PageState :error="error" @again="again" /></div>
      <template v-else>
        <div class="pr-6">
          <button
            type="button"
            class="float-right -mt-2 -mr-2 flex min-h-11 items-center gap-1.5 rounded-edge px-2 text-[15px] font-medium text-petrol md:hidden"
            aria-controls="library-tree"
            :aria-expanded="treeOpen"
            @click="treeOpen = !treeOpen"
          >
            <FolderTreeSign :size="18" aria-hidden="true" />{{ t('library.folders') }}
          </button>
          <nav v-if="view" :aria-label="t('common.way-up')" class="text-[15px] text-soft">
            <ol class="flex flex-wrap items-center gap-x-2 pointer-coarse:min-h-9">
              <li v-for="(crumb, n) in crumbs" :key="String(crumb.id)" class="flex gap-x-2">
                <span v-if="n > 0" aria-hidden="true">›</span>
                <RouterLink
                  v-into="crumbPlace(crumb)"
                  :to="crumb.id === null ? { name: 'library' } : place.folder(crumb.id)"
                  class="rounded-[3px] hover:text-petrol hover:underline"
                  :class="{
                    'bg-petrol-pale shadow-[0_0_0_2px_var(--petrol)]':
                      over?.key === `crumb ${crumb.id}`,
                  }"
                  >{{ crumb.title }}</RouterLink
                >
              </li>
            </ol>
          </nav>
          <h1 class="mt-0.5 text-[27px]">
            <template v-if="id === null">{{ t('library.title') }}</template>
            <template v-else-if="view">
              <span
                v-if="view.mark"
                class="mr-1 font-mark"
                :style="view.colour ? { color: `var(--${view.colour})` } : {}"
                aria-hidden="true"
                >{{ view.mark }}</span
              >
              {{ view.title }}
            </template>
          </h1>
          <div class="flex min-h-9 flex-wrap items-center gap-x-4 gap-y-1">
            <p v-if="loaded" class="flex-1 text-meta whitespace-nowrap text-soft max-sm:w-full">
              {{ t('count.folders', folders.length)
              }}<template v-if="view"> · {{ t('count.items', total) }}</template>
            </p>
            <ArrangeFolder v-if="view && manages" :folder="view" />
          </div>
          <div v-if="!wide && manages && view" class="mt-1">
            <slot name="audience" :folder="view" :rows="rows" />
          </div>
          <ChosenBar
            v-if="choice.chosen.value.length > 0"
            class="mt-2 mb-3.5"
            :count="choice.chosen.value.length"
            :items="choice.chosen.value.every((row) => row.kind === 'placement')"
            :download="archiveAddress(place, choice.chosen.value)"
            :manages="manages"
            @hand-out="handOut(choice.chosen.value)"
            @move="put('move', choice.chosen.value)"
            @place="put('place', choice.chosen.value)"
            @remove="removeChosen"
            @none="choice.none()"
          />
          <div v-else class="mt-2 mb-3.5 flex flex-wrap items-center gap-2">
            <template v-if="mayAdd">
              <template v-if="id !== null">
                <AppButton tone="main" @click="picker?.click()">{{
                  t('library.add-files')
                }}</AppButton>
                <input
                  ref="picker"
                  type="file"
                  multiple
                  class="hidden"
                  tabindex="-1"
                  :aria-label="t('library.add-files')"
                  @change="picked"
                />
                <AppButton @click="folderPicker?.click()">{{ t('library.add-folder') }}</AppButton>
                <input
                  ref="folderPicker"
                  type="file"
                  webkitdirectory
                  class="hidden"
                  tabindex="-1"
                  :aria-label="t('library.add-folder')"
                  @change="picked"
                />
                <AppButton @click="adding = 'link'">{{ t('library.add-link') }}</AppButton>
                <AppButton @click="newPage">{{ t('library.new-page') }}</AppButton>
              </template>
              <AppButton
                v-if="id !== null || rows.length > 0"
                :tone="id === null ? 'main' : 'quiet'"
                @click="adding = 'folder'"
              >
                {{ t('library.new-folder') }}
              </AppButton>
            </template>
          </div>
          <NewFolder
            v-if="adding === 'folder'"
            :parent-id="id"
            :siblings="folders.map((row) => row.title)"
            @done="adding = null"
          />
          <AddLink v-if="adding === 'link' && view" :folder-id="view.id" @done="adding = null" />
        </div>
        <FirstSteps v-if="id === null" class="mr-6 mb-5" />
        <div v-if="view" class="pr-6"><slot name="arriving" :folder="view" /></div>
        <PageState v-if="!loaded || (id !== null && !view)" class="pr-6" />
        <LibraryList
          v-else-if="rows.length > 0"
          :key="`${id} ${view?.display}`"
          v-model:near-end="nearEnd"
          :class="{ '-ml-5 border-b border-line pl-5 sm:-ml-7 sm:pl-7': view?.display !== 'tiles' }"
          :rows="rows"
          :folder="view"
          :may-change="mayAdd"
          :manages="manages"
          :inside="inside"
          :choice="choice"
          @put="put"
          @hand-out="(row) => handOut([row])"
          @timing="(row) => emit('timing', { kind: row.kind, id: row.id }, row.title)"
          @why="(row) => emit('why', { kind: row.kind, id: row.id }, row.title)"
          @files="(given, into) => add(readDropped(given), into)"
        />
        <FirstFolders v-else-if="id === null && adding === null" @make="adding = 'folder'" />
        <div v-else-if="adding === null" class="mr-6 border-t border-line py-9">
          <p class="text-[17px] font-semibold">{{ t('library.empty') }}</p>
          <p class="mt-1 text-soft">{{ t('library.empty-text') }}</p>
        </div>
        <div
          v-if="view && mayAdd"
          class="sticky bottom-0 mt-auto -ml-5 bg-sheet pt-6 pr-6 pb-4 pl-5 max-md:hidden sm:-ml-7 sm:pl-7"
        >
          <p
            class="rounded-lg border-[1.5px] border-dashed px-4 py-3 text-[15px]"
            :class="
              dropping
                ? 'border-petrol bg-petrol-pale text-ink'
                : 'border-line bg-paper/50 text-soft'
            "
          >
            {{ t('library.drop') }} <slot v-if="manages" name="reach" :folder="view" />
          </p>
        </div>
      </template>
    </div>
    <slot v-if="wide && manages && view && !error" name="audience" :folder="view" :rows="rows" />
    <PutIn v-if="putting" :rows="putting.rows" :how="putting.how" @close="putting = null" />
  </div>
</template>
