<script setup lang="ts">
import { useDropZone } from '@vueuse/core';
import { Camera } from 'lucide-vue-next';
import { computed, defineAsyncComponent, nextTick, ref, useTemplateRef, watch } from 'vue';
import { RouterLink, useRoute } from 'vue-router';
import { useI18n } from 'vue-i18n';
import { readDropped } from '../../app/uploads/dropped.ts';
import { TRAY } from '../../app/uploads/transfer.ts';
import { useUploads } from '../../app/uploads/uploads.ts';
import PageState from '../../app/PageState.vue';
import { useSentences } from '../../app/sentence.ts';
import { walkRows } from '../../ui/listKeys.ts';
import AppButton from '../../ui/AppButton.vue';
import TrayRow from './TrayRow.vue';
import { useTray } from './tray.ts';

/** The tray: files that wait to be put in place, with what is proposed for each, and one action for all. */
defineSlots<{ ways?(): unknown }>();
const { t } = useI18n();
const uploads = useUploads();
const { lines: toLines } = useSentences();
const { tray, rows, ready, preview, settled, wanted, decide, remove, putInPlace } = useTray();
const CurrentFolders = defineAsyncComponent(() => import('./CurrentFolders.vue'));
const RulesSheet = defineAsyncComponent(() => import('./RulesSheet.vue'));
const sheet = ref<'folders' | 'rules' | null>(null);

const data = computed(() => tray.data.value);
/** What the round would do, once it is known for what is on the screen now. */
const found = computed(() =>
  settled.value === wanted.value && ready.value.length > 0 ? preview.data.value : undefined,
);
const going = computed(() => new Set(found.value?.steps.map(({ fileId }) => fileId)).size);
const waiting = computed(() => rows.value.length - ready.value.length);
const sentence = computed(() =>
  found.value
    ? toLines(found.value.consequences)
        .map(({ text }) => text)
        .join(' ')
    : '',
);

const into = computed(() => ({ id: TRAY, title: t('tray.name') }));
const add = (files: readonly File[]) =>
  uploads.add(files.map((file) => ({ file, folder: into.value })));
const picker = useTemplateRef<HTMLInputElement>('picker');
function picked(event: Event) {
  const field = event.target as HTMLInputElement;
  if (field.files) add([...field.files]);
  field.value = '';
}
const zone = useTemplateRef<HTMLElement>('zone');
const { isOverDropZone } = useDropZone(zone, {
  onDrop: (_, event) => {
    const dropped = [...(event.dataTransfer?.items ?? [])];
    void readDropped(dropped).then(({ files }) => add(files.map(({ file }) => file)));
  },
});
const list = useTemplateRef<HTMLElement>('list');
const heading = useTemplateRef<HTMLElement>('heading');
/** Whoever comes by the key for the tray is at its first file. */
const route = useRoute();
watch(
  () => [route.hash, data.value !== undefined] as const,
  async ([hash, there]) => {
    if (hash !== '#tray' || !there) return;
    await nextTick();
    (list.value?.querySelector<HTMLElement>('[data-row]') ?? heading.value)?.focus();
  },
  { immediate: true },
);
/** What is changed by which key while a row has the focus. */
const FIELDS: Record<string, string> = { t: 'title', c: 'class', f: 'folder', g: 'goes-out' };
async function put() {
  if (found.value && going.value > 0 && (await putInPlace(found.value))) list.value?.focus();
}
function onKey(event: KeyboardEvent) {
  if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) return void put();
  const at = event.target as HTMLElement;
  if (at.dataset['row'] === undefined || !list.value) return;
  if (walkRows(list.value, event)) return;
  const field = FIELDS[event.key.toLowerCase()];
  if (!field || event.ctrlKey || event.metaKey || event.altKey) return;
  event.preventDefault();
  event.stopPropagation();
  at.querySelector<HTMLElement>(`[data-field="${field}"]`)?.focus();
}
/** Back from a field to its row. */
function onEscape(event: KeyboardEvent) {
  const at = event.target as HTMLElement;
  if (at.dataset['field'] === undefined) return;
  at.closest<HTMLElement>('[data-row]')?.focus();
}
</script>

<template>
  <section
    id="tray"
    ref="zone"
    aria-labelledby="tray-heading"
    class="rounded-lg"
    :class="isOverDropZone ? 'outline-2 outline-offset-4 outline-petrol' : ''"
  >
    <div class="flex flex-wrap items-end gap-x-4 gap-y-2">
      <div class="min-w-56 flex-1">
        <h2 id="tray-heading" ref="heading" class="text-[22px]" tabindex="-1">
          {{ rows.length > 0 ? t('tray.heading', rows.length) : t('tray.empty-heading') }}
        </h2>
        <p class="text-soft" role="status">
          {{
            rows.length === 0
              ? t('tray.empty')
              : waiting === 0
                ? t('tray.all-known', rows.length)
                : t('tray.some-wait', waiting)
          }}
        </p>
      </div>
      <span class="flex flex-wrap items-center gap-x-4 gap-y-2">
        <span class="flex gap-2">
          <RouterLink
            :to="{ name: 'pictures' }"
            class="inline-flex min-h-9 items-center gap-2 rounded-edge border border-line bg-raised px-3.5 py-1.5 font-semibold hover:border-petrol hover:text-petrol pointer-coarse:min-h-11"
          >
            <Camera :size="18" aria-hidden="true" />{{ t('tray.photograph') }}
          </RouterLink>
          <AppButton @click="picker?.click()">{{ t('tray.add') }}</AppButton>
        </span>
        <button
          type="button"
          class="min-h-9 text-petrol underline underline-offset-2 pointer-coarse:min-h-11"
          @click="sheet = 'folders'"
        >
          {{ t('tray.current-folders') }}
        </button>
        <slot name="ways" />
        <button
          type="button"
          class="min-h-9 text-petrol underline underline-offset-2 pointer-coarse:min-h-11"
          @click="sheet = 'rules'"
        >
          {{ t('tray.rules.title') }}
        </button>
      </span>
      <input ref="picker" type="file" multiple class="hidden" @change="picked" />
    </div>
    <PageState v-if="!data" :error="tray.error.value" @again="tray.refetch()" />
    <p
      v-else-if="rows.length === 0"
      class="mt-3 rounded-lg border-2 border-dashed border-line px-5 py-5 text-soft"
    >
      {{ t('tray.drop') }}
    </p>
    <div v-else class="mt-3 rounded-lg border border-line bg-raised/60">
      <ol
        ref="list"
        tabindex="0"
        class="rounded-t-lg *:first:border-t-0"
        :aria-label="t('tray.name')"
        @keydown="onKey"
        @keydown.esc="onEscape"
        @focus="($event.target as HTMLElement).querySelector<HTMLElement>('[data-row]')?.focus()"
      >
        <TrayRow
          v-for="row in rows"
          :key="row.file.id"
          :row="row"
          :tray="data"
          :preview="found"
          @decide="decide(row.file.id, $event)"
          @remove="remove([row.file.id])"
        />
      </ol>
      <div
        class="sticky bottom-0 flex flex-wrap items-center gap-x-5 gap-y-2 rounded-b-lg border-t border-line bg-petrol-pale px-4 py-3 max-sm:bottom-14 max-sm:flex-nowrap max-sm:gap-x-3 max-sm:px-3 max-sm:py-2"
      >
        <AppButton
          tone="main"
          :disabled="going === 0"
          aria-keyshortcuts="Control+Enter"
          @click="put"
          >{{ t('tray.put', going) }}</AppButton
        >
        <p
          class="min-w-0 flex-1 text-[15px] max-sm:text-[13px] max-sm:leading-snug sm:min-w-52"
          role="status"
        >
          {{ ready.length === 0 ? t('tray.nothing-ready') : sentence }}
        </p>
      </div>
    </div>
    <template v-if="data">
      <CurrentFolders v-if="sheet === 'folders'" :classes="data.classes" @close="sheet = null" />
      <RulesSheet v-if="sheet === 'rules'" :rules="data.rules" @close="sheet = null" />
    </template>
  </section>
</template>
