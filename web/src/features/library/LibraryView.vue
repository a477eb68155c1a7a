<script setup lang="ts">
import type { FolderView } from '@sammlung/contract';
import { useDropZone, useIntersectionObserver } from '@vueuse/core';
import { computed, ref, useTemplateRef, watch } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink, useRoute } from 'vue-router';
import AppButton from '../../ui/AppButton.vue';
import CrumbLine from '../../ui/CrumbLine.vue';
import PageState from '../../ui/PageState.vue';
import { walkRows } from '../../ui/listKeys.ts';
import { useUploads } from '../../app/uploads.ts';
import { useContents, useFolder, useReadingPlace } from '../../app/place.ts';
import FolderTree from './FolderTree.vue';
import LibraryRow from './LibraryRow.vue';
import NewFolder from './NewFolder.vue';
import { useTopFolders } from './library.ts';

/**
 * The teacher's Library: the tree and the open folder. Who sees it stands `beside`, and in a sentence (`reach`) where
 * files are dropped.
 */
defineSlots<{
  beside(props: { folder: FolderView }): unknown;
  reach(props: { folder: FolderView }): unknown;
}>();
const { t } = useI18n();
const route = useRoute();
const place = useReadingPlace();
const uploads = useUploads();
const id = computed(() => (typeof route.params.folder === 'string' ? route.params.folder : null));

const folder = useFolder(place, () => id.value ?? '');
const contents = useContents(place, () => id.value ?? '');
const top = useTopFolders(() => id.value === null);
const view = computed(() => (id.value === null ? null : folder.data.value));
const mayAdd = computed(
  () => id.value === null || (view.value ? view.value.right !== 'view' : false),
);
const manages = computed(() => view.value?.right === 'own' || view.value?.right === 'manage');

const pages = computed(() => contents.data.value?.pages ?? []);
const folders = computed(() =>
  id.value === null ? (top.data.value?.folders ?? []) : (pages.value[0]?.folders ?? []),
);
const items = computed(() => (id.value === null ? [] : pages.value.flatMap((page) => page.items)));
const loaded = computed(() =>
  id.value === null ? top.data.value !== undefined : pages.value.length > 0,
);
const error = computed(() =>
  id.value === null ? top.error.value : (folder.error.value ?? contents.error.value),
);

const naming = ref(false);
watch(id, () => (naming.value = false));
const picker = useTemplateRef('picker');
const list = useTemplateRef('list');
const sheet = useTemplateRef('sheet');
const end = useTemplateRef('end');
useIntersectionObserver(end, ([entry]) => {
  if (entry?.isIntersecting && contents.hasNextPage.value) void contents.loadNextPage();
});

const { isOverDropZone } = useDropZone(sheet, {
  onDrop: (files) => files && add(files),
});
const dropping = computed(() => isOverDropZone.value && id.value !== null && mayAdd.value);

function add(files: readonly File[]) {
  if (view.value && mayAdd.value)
    uploads.add(files, { id: view.value.id, title: view.value.title });
}

function picked(event: Event) {
  const input = event.target as HTMLInputElement;
  add([...(input.files ?? [])]);
  input.value = '';
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
    :class="manages ? 'lg:grid-cols-[210px_1fr_300px] xl:grid-cols-[250px_1fr_330px]' : ''"
  >
    <div class="border-line bg-paper md:border-r"><FolderTree :current="id" /></div>
    <div ref="sheet" class="relative flex min-w-0 flex-col pt-5 pl-5 sm:pl-7">
      <div v-if="error" class="pr-6"><PageState :error="error" @again="again" /></div>
      <template v-else>
        <div class="pr-6">
          <CrumbLine v-if="view" :crumbs="view.crumbs.slice(0, -1)" :to="place.folder">
            <li>
              <RouterLink :to="{ name: 'library' }" class="hover:text-petrol hover:underline">
                {{ t('library.title') }}
              </RouterLink>
            </li>
          </CrumbLine>
          <h1 class="mt-0.5 text-[27px]">
            <template v-if="id === null">{{ t('library.title') }}</template>
            <template v-else-if="view">
              <span v-if="view.mark" class="mr-1 font-mark" aria-hidden="true">{{
                view.mark
              }}</span>
              {{ view.title }}
            </template>
          </h1>
          <p v-if="loaded" class="text-meta text-soft">
            {{ t('count.folders', folders.length)
            }}<template v-if="view">
              ·
              {{
                t(
                  items.length === 0 && contents.hasNextPage.value
                    ? 'common.loading'
                    : 'count.items',
                  items.length,
                )
              }}
              · {{ t(`order.${view.order}`) }}</template
            >
          </p>
          <div v-if="mayAdd" class="mt-3 mb-3.5 flex flex-wrap gap-2">
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
            </template>
            <AppButton :tone="id === null ? 'main' : 'quiet'" @click="naming = true">
              {{ t('library.new-folder') }}
            </AppButton>
          </div>
          <NewFolder v-if="naming" :parent-id="id" @done="naming = false" />
        </div>
        <PageState v-if="!loaded" class="pr-6" />
        <ul
          v-else-if="folders.length + items.length > 0"
          ref="list"
          class="border-b border-line"
          @keydown="list && walkRows(list, $event)"
        >
          <LibraryRow
            v-for="row in folders"
            :key="row.id"
            :folder="row"
            :may-change="manages || id === null"
            :beside="manages"
          />
          <LibraryRow
            v-for="row in items"
            :key="row.placementId"
            :item="row"
            :may-change="mayAdd"
            :beside="manages"
          />
        </ul>
        <div v-else-if="!naming" class="mr-6 border-t border-line py-9">
          <p class="text-[17px] font-semibold">
            {{ t(id === null ? 'library.none' : 'library.empty') }}
          </p>
          <p class="mt-1 text-soft">
            {{ t(id === null ? 'library.none-text' : 'library.empty-text') }}
          </p>
        </div>
        <div ref="end" class="h-px" />
        <div v-if="view && mayAdd" class="sticky bottom-0 mt-auto bg-sheet pt-6 pr-6 pb-4">
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
    <slot v-if="manages && view" name="beside" :folder="view" />
  </div>
</template>
