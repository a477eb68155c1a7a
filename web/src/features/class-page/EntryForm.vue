<script setup lang="ts">
import { staleDates, withProposals } from '@sammlung/core';
import type {
  EarlierEntry,
  EntryStep,
  Frame,
  EditedEntry,
  EditedPage,
  Hit,
  ThingCard,
} from '@sammlung/contract';
import { X } from 'lucide-vue-next';
import { computed, onMounted, ref, shallowRef, useTemplateRef, watch } from 'vue';
import { useI18n } from 'vue-i18n';
import { usePreview } from '../../app/change-preview.ts';
import { useAction } from '../../app/action.ts';
import { api } from '../../app/api/api.ts';
import { backwards } from '../../app/span.ts';
import ThingField from '../../app/ThingField.vue';
import AppButton from '../../ui/AppButton.vue';
import KindMark from '../../ui/KindMark.vue';
import { useArriving } from './arriving.ts';
import { explain } from '../../app/api/problems.ts';
import { previewEntry, type EntryDraft, type EntryPlaces as Places } from './entries.ts';
import EntryPlaces from './EntryPlaces.vue';

/** What an entry says and has; for a new one, also on which pages it is to be, under which heading, when, and for whom. */
const {
  page,
  entry = null,
  earlier = null,
} = defineProps<{
  page: EditedPage;
  entry?: EditedEntry | null;
  /** What is used again: it begins as a draft, with what looks out of date in it. */
  earlier?: { entry: EarlierEntry; to: Frame } | null;
}>();
const emit = defineEmits<{ save: [draft: EntryDraft]; close: [] }>();
const { t } = useI18n();
const begun = entry ?? earlier?.entry;
const title = ref(begun?.title ?? '');
const text = ref(begun?.text ?? '');
const things = ref<ThingCard[]>([...(begun?.things ?? [])]);
const places = ref<Places>({
  classIds: [page.id],
  headingId: page.headings[0]?.id ?? null,
  keepOnTop: false,
  release: { held: earlier !== null, from: null, until: null },
  people: null,
});
const release = computed(() => places.value.release);

const first = useTemplateRef('first');
const thingField = useTemplateRef('thingField');
/** A new entry begins with what it has: that gives it its title. */
onMounted(() => (begun ? first.value : thingField.value)?.focus());

function add(hit: ThingCard | Hit) {
  if (!things.value.some(({ id }) => id === hit.id)) things.value.push(hit);
  // A thing by itself needs no other words.
  if (title.value.trim() === '') title.value = hit.title;
}
// Files from the desktop and links go into the current folder of the class.
const picker = useTemplateRef('picker');
const arriving = useArriving((thing) => add(thing));
/** Files that were chosen or dropped before the class had a current folder. */
const held = shallowRef<readonly File[]>([]);
const addFiles = (files: readonly File[]) => (held.value = [...held.value, ...files]);
watch([held, () => page.currentFolder], ([files, folder]) => {
  if (!folder || files.length === 0) return;
  held.value = [];
  arriving.add(files, folder);
});
function picked(event: Event) {
  const input = event.target as HTMLInputElement;
  addFiles([...(input.files ?? [])]);
  input.value = '';
}
const dropped = (event: DragEvent) => addFiles([...(event.dataTransfer?.files ?? [])]);
const attempt = useAction();
const addLink = (url: string) =>
  attempt(async () => {
    const made = await api('POST /api/links', { body: { folderId: page.currentFolder!.id, url } });
    add({
      ...{ kind: 'placement', id: made.id, title: made.title, itemKind: 'link', url },
      ...{ extension: '', mark: null, colour: null },
    });
  });
/** A page that was made for this entry: it is written once the entry is there. */
const written = ref<string | null>(null);
const newPage = () =>
  attempt(async () => {
    const made = await api('POST /api/pages', {
      body: {
        folderId: page.currentFolder!.id,
        title: title.value.trim() || t('entry.new-page'),
      },
    });
    written.value = made.id;
    add({
      ...{ kind: 'placement', id: made.id, title: made.title, itemKind: 'page', url: null },
      ...{ extension: '', mark: null, colour: null },
    });
  });
const on = computed(() => {
  const { classIds, headingId, keepOnTop, people } = places.value;
  const under = keepOnTop ? null : headingId;
  return classIds.map((classId) => ({
    ...{ classId, headingId: under, keepOnTop, release: release.value, people },
  }));
});
/** Whether it is for some members, and for none of them yet. */
const nobody = computed(() => places.value.people?.length === 0);
/** What it would hand out or take back, before it is done; why it cannot be, where that is so. */
const step = computed((): EntryStep | null => {
  const all = things.value.map(({ kind, id }) => ({ kind, id }));
  if (entry) return { do: 'things', entry: entry.entryId, things: all };
  const asked = all.length > 0 && on.value.length > 0 && !release.value.held && !nobody.value;
  return asked && !backwards(release.value) ? { do: 'make', things: all, on: on.value } : null;
});
const { query: preview, sentence } = usePreview(() => step.value, previewEntry);
const fault = computed(() =>
  step.value !== null && preview.error.value ? explain(t, preview.error.value) : '',
);
const says = computed(() =>
  !entry && release.value.held ? t('entry.draft-says') : (sentence.value ?? ''),
);
/** What looks out of date in what is used again, in the title and in the text. */
const stale = computed(() =>
  earlier
    ? [title, text].flatMap((field) =>
        staleDates(field.value, earlier.entry.from, earlier.to).map((one) => ({ field, one })),
      )
    : [],
);
function accept(those: typeof stale.value) {
  for (const field of [title, text])
    field.value = withProposals(
      field.value,
      those.filter((each) => each.field === field).map(({ one }) => one),
    );
}
const ready = computed(
  () =>
    title.value.trim() !== '' &&
    on.value.length > 0 &&
    arriving.busy.value === 0 &&
    held.value.length === 0 &&
    !nobody.value &&
    !backwards(release.value),
);
function save() {
  if (!ready.value) return;
  emit('save', {
    ...{ title: title.value.trim(), text: text.value.trim(), things: things.value },
    on: on.value,
    write: things.value.some(({ id }) => id === written.value) ? written.value : null,
  });
}
const OFFER =
  'min-h-9 font-semibold text-petrol hover:underline disabled:text-soft disabled:no-underline pointer-coarse:min-h-11';
const FIELD = 'w-full rounded-edge border border-line bg-raised px-3';
</script>

<template>
  <form
    class="border border-line bg-raised px-5 py-5 shadow-md sm:px-7"
    :aria-label="t(entry ? 'entry.change' : 'entry.new')"
    @submit.prevent="save"
    @keydown.esc="emit('close')"
    @dragover.prevent
    @drop.prevent="dropped"
  >
    <ThingField
      ref="thingField"
      :label="t('entry.add-thing')"
      :addresses="page.currentFolder !== null"
      @pick="add"
      @address="addLink"
    />
    <div class="mt-1 flex flex-wrap items-center gap-x-4 text-[15px]">
      <button
        type="button"
        :class="OFFER"
        :disabled="page.currentFolder === null"
        @click="picker?.click()"
      >
        {{ t('entry.files') }}
      </button>
      <button
        type="button"
        :class="OFFER"
        :disabled="page.currentFolder === null || written !== null"
        @click="newPage"
      >
        {{ t('entry.new-page') }}
      </button>
      <input
        ref="picker"
        type="file"
        multiple
        class="hidden"
        tabindex="-1"
        :aria-label="t('entry.files')"
        @change="picked"
      />
      <span class="text-soft">{{
        page.currentFolder
          ? t('entry.files-go', { title: page.currentFolder.title })
          : t('entry.files-need')
      }}</span>
      <span v-if="held.length > 0" role="status">{{ t('entry.files-held', held.length) }}</span>
      <span v-if="arriving.busy.value > 0" role="status">{{
        t('entry.arriving', arriving.busy.value)
      }}</span>
    </div>
    <ul v-if="things.length > 0" class="mt-3 space-y-1">
      <li
        v-for="thing in things"
        :key="thing.id"
        class="flex min-h-11 items-center gap-3 border border-line bg-sheet px-3"
      >
        <KindMark
          :kind="thing.itemKind ?? 'folder'"
          :extension="thing.extension"
          :mark="thing.mark"
          :colour="thing.colour"
        />
        <span class="flex-1 font-semibold wrap-anywhere">{{ thing.title }}</span>
        <button
          type="button"
          class="grid size-9 place-items-center text-soft hover:text-brick-ink pointer-coarse:size-11"
          :aria-label="t('entry.remove-thing', { title: thing.title })"
          @click="things = things.filter(({ id }) => id !== thing.id)"
        >
          <X :size="17" aria-hidden="true" />
        </button>
      </li>
    </ul>
    <input
      ref="first"
      v-model="title"
      maxlength="120"
      :aria-label="t('entry.title')"
      :placeholder="t('entry.title')"
      class="mt-4"
      :class="[FIELD, 'h-11 font-title text-[19px] font-semibold']"
    />
    <textarea
      v-model="text"
      maxlength="5000"
      rows="2"
      :aria-label="t('entry.text')"
      :placeholder="t('entry.text')"
      :class="[FIELD, 'mt-2 py-2']"
    />
    <div
      v-if="stale.length > 0"
      role="group"
      :aria-label="t('entry.again.stale')"
      class="mt-2 flex flex-wrap items-center gap-x-4 gap-y-1 text-[15px]"
    >
      <span class="flex items-center gap-2">
        <span class="inline-block size-[9px] bg-saffron" aria-hidden="true" />{{
          t('entry.again.stale')
        }}
      </span>
      <button
        v-for="(each, n) in stale.filter(({ one }) => one.proposed !== null)"
        :key="n"
        type="button"
        class="min-h-9 hover:underline pointer-coarse:min-h-11"
        @click="accept([each])"
      >
        <s class="text-soft">{{ each.one.text }}</s> <span aria-hidden="true">→</span>
        <strong class="text-petrol">{{ each.one.proposed }}</strong>
      </button>
      <button
        v-if="stale.length > 1"
        type="button"
        class="min-h-9 font-semibold text-petrol hover:underline pointer-coarse:min-h-11"
        @click="accept(stale)"
      >
        {{ t('entry.again.all') }}
      </button>
    </div>
    <EntryPlaces v-if="!entry" v-model="places" :page="page" />
    <div class="mt-5 flex flex-wrap items-center gap-3">
      <AppButton tone="main" submits :disabled="!ready">{{
        t(entry ? 'entry.save' : release.held ? 'entry.keep-draft' : 'entry.put')
      }}</AppButton>
      <AppButton @click="emit('close')">{{ t('common.cancel') }}</AppButton>
      <p v-if="fault" role="alert" class="min-w-40 flex-1 text-[15px] text-brick-ink">
        {{ fault }}
      </p>
      <p v-else role="status" class="min-w-40 flex-1 text-[15px]">{{ says }}</p>
    </div>
  </form>
</template>
