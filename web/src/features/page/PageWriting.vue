<script setup lang="ts">
import '../../ui/page-text.css';
import type { Change, Hit, Reference, RosterAudience } from '@sammlung/contract';
import { PICTURE_LIMIT, PICTURE_TYPES } from '@sammlung/core';
import { Editor } from '@tiptap/core';
import { useQueryCache } from '@pinia/colada';
import { useDebounceFn, useThrottleFn } from '@vueuse/core';
import {
  computed,
  nextTick,
  onBeforeUnmount,
  onMounted,
  ref,
  shallowRef,
  useTemplateRef,
  watch,
} from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink, useRoute } from 'vue-router';
import { useAction } from '../../app/action.ts';
import { api, ApiError, OfflineError } from '../../app/api/api.ts';
import { pictureAddress } from '../../app/api/addresses.ts';
import { explain } from '../../app/api/problems.ts';
import { previewChange } from '../../app/change-preview.ts';
import { useFormat } from '../../app/format.ts';
import { useHandingOut } from '../../app/handing.ts';
import PageState from '../../app/PageState.vue';
import { usePlacement, useReadingPlace } from '../../app/place.ts';
import { useSentences } from '../../app/sentence.ts';
import { useSession } from '../../app/session/session.ts';
import { usePageTitle } from '../../app/shell/title.ts';
import { say } from '../../app/shell/toast.ts';
import ThingPicker from '../../app/ThingPicker.vue';
import { changeThing } from '../../app/things.ts';
import CrumbLine from '../../ui/CrumbLine.vue';
import OnOffSwitch from '../../ui/OnOffSwitch.vue';
import { useDraft } from './draft.ts';
import { beginDay, focusText, foreignPictures, pageExtensions, writtenIn } from './editor.ts';
import PageTools from './PageTools.vue';
import { useReferences } from './references.ts';
import { markStale, staleIn } from './stale.ts';
import StaleDates from './StaleDates.vue';
import ShownMeanwhile from './ShownMeanwhile.vue';

/** Writing on a page. It saves itself; readers get it when it is shown. */
const { t } = useI18n();
const route = useRoute();
const place = useReadingPlace();
const session = useSession();
const cache = useQueryCache();
const { moment, today } = useFormat();
const { describe } = useSentences();
const id = String(route.params.placement);
const placement = usePlacement(place, () => id);

/** On one's own desk nobody else reads. */
const alone = session.person!.kind === 'student';

const editor = shallowRef<Editor>();
/** What is shown of the place where one writes follows when the keys leave time for it. */
const state = ref(0);
const follow = useThrottleFn(() => (state.value += 1), 120, true);
const draft = useDraft(id, session.person!.id, () => writtenIn(editor.value!));
const host = useTemplateRef('host');
const titleField = useTemplateRef('titleField');
watch(host, (element) => element && editor.value?.mount(element), { flush: 'post' });
const failed = shallowRef<unknown>();
/** What the first showing would mean, in a sentence. */
const means = ref('');

onMounted(async () => {
  try {
    const html = await draft.open();
    editor.value = new Editor({
      element: null,
      content: html,
      extensions: pageExtensions(
        (hash) => pictureAddress(place.base, id, hash),
        references.show(handOutReference),
        t('page.begin'),
      ),
      editorProps: {
        attributes: {
          class: 'page-text min-h-[55vh] outline-none',
          'aria-label': t('page.text'),
          role: 'textbox',
          'aria-multiline': 'true',
        },
        handleKeyDown(_view, event) {
          if (event.key !== 'Enter' || !(event.ctrlKey || event.metaKey)) return false;
          newDay();
          return true;
        },
        handlePaste: (_view, event) => takePictures(event.clipboardData),
        handleDrop: (_view, event) => takePictures(event.dataTransfer),
        transformPastedHTML(pasted) {
          const left = foreignPictures(pasted);
          if (left > 0) say({ text: t('page.pictures-left', left) });
          return pasted;
        },
      },
      onTransaction: () => void follow(),
      onUpdate() {
        draft.changed();
        lookSoon();
      },
    });
    draft.begin();
    void look();
    await nextTick();
    // Of a page that was carried over: it can be marked once it is there.
    const stale = draft.page.value?.stale;
    if (stale) markStale(editor.value, stale.from, stale.to);
    if (draft.base.value === 0 && html === '') titleField.value?.select();
    else focusText(editor.value, 1);
    if (draft.base.value === 0 && !alone) void tellMeaning();
  } catch (error) {
    failed.value = error;
  }
});
onBeforeUnmount(() => void draft.save().finally(() => editor.value?.destroy()));

/** Who will see the page once it is shown for the first time. */
async function tellMeaning() {
  const release = { held: false, from: null, until: null };
  const things = [{ kind: 'placement' as const, id }];
  const change: Change = { do: 'release', things, rules: [{ classId: null, release }] };
  // Whoever may only add is not told.
  const found = await previewChange(change).catch((error) => {
    if (error instanceof ApiError || error instanceof OfflineError) return null;
    throw error;
  });
  if (found) means.value = describe(found);
}

// Things of the library.
const references = useReferences(id);
/** What is being picked: a thing to refer to, or a page to begin from. */
const picking = ref<'thing' | 'page' | null>(null);
async function look(all = false) {
  try {
    await references.look(editor.value!, all);
  } catch (error) {
    // The cards stay without their names until there is a connection again.
    if (!(error instanceof OfflineError)) throw error;
  }
}
const lookSoon = useDebounceFn(() => attempt(look), 300);
function addReference({ kind, id: thing }: Hit) {
  picking.value = null;
  focusText(editor.value!);
  editor.value!.chain().addReference({ kind, id: thing }).scrollIntoView().run();
}
/** The text of another page, at the place where one writes; what looks out of date in it is marked. */
const beginFrom = ({ id: from }: Hit) =>
  attempt(async () => {
    picking.value = null;
    const begun = await api('POST /api/placements/:placement/begin', {
      params: { placement: id },
      body: { from },
    });
    focusText(editor.value!);
    editor.value!.commands.insertContent(begun.html);
    markStale(editor.value!, begun.from, begun.to);
    const found = staleIn(editor.value!).length;
    if (found === 0) say({ text: t('page.begin-from.nothing-stale') });
  });
const handing = useHandingOut();
const handOutReference = ({ kind, id: thing, title: name, unseenBy }: Reference) =>
  attempt(async () => {
    const audiences = unseenBy as RosterAudience[];
    const { undo } = await handing.handOut([{ kind, id: thing }], audiences);
    await look(true);
    const to = unseenBy.map((audience) => audience.label || t(`tab.${audience.kind}`)).join(', ');
    say({
      text: t('page.reference.handed', { title: name, to }),
      undo: undo && (() => undo().then(() => look(true))),
    });
  });

// Pictures.
function takePictures(data: DataTransfer | null): boolean {
  const files = [...(data?.files ?? [])].filter((file) => file.type.startsWith('image/'));
  // An office program brings along a picture of the text it copies.
  if (files.length === 0 || data?.getData('text/plain')) return false;
  void addPictures(files);
  return true;
}
async function addPictures(files: readonly File[]) {
  for (const file of files)
    try {
      const unfit = !PICTURE_TYPES.includes(file.type)
        ? t('problem.no-picture')
        : file.size > PICTURE_LIMIT && t('page.picture-too-large');
      if (unfit) {
        say({ text: `${file.name}: ${unfit}`, tone: 'bad' });
        continue;
      }
      const [{ hash }, { width, height }] = await Promise.all([
        api('POST /api/placements/:placement/pictures', {
          params: { placement: id },
          body: file,
        }),
        measured(file),
      ]);
      editor.value?.chain().focus().addPicture({ hash, width, height }).run();
    } catch (error) {
      say({ text: `${file.name}: ${explain(t, error)}`, tone: 'bad' });
    }
}
/** Throws `no-picture` for what the browser cannot show. */
async function measured(file: File) {
  const bitmap = await createImageBitmap(file).catch(() => {
    throw new ApiError({ code: 'no-picture', status: 422 });
  });
  const { width, height } = bitmap;
  bitmap.close();
  return { width, height };
}

/** The day of the last lesson, as far as a timetable tells, else today at the school; at the top of the page. */
function newDay() {
  const { day, words } = today(draft.page.value?.language, draft.page.value?.lessonDay);
  beginDay(editor.value!, day, words);
}

// The title.
const title = ref<string>();
const titleNow = computed(
  () => title.value ?? placement.data.value?.title ?? draft.page.value?.title ?? '',
);
const titleFault = ref('');
async function rename() {
  const wanted = title.value?.trim();
  const before = placement.data.value?.title;
  if (wanted === undefined || wanted === before) return;
  titleFault.value = '';
  try {
    await changeThing({ kind: 'placement', id }, { title: wanted });
    await placement.refetch();
    title.value = undefined;
  } catch (error) {
    titleFault.value = explain(t, error);
  }
}
usePageTitle(() => titleNow.value);

// Showing.
const showing = ref(false);
const attempt = useAction(() => (showing.value = false));
async function show() {
  if (showing.value) return;
  showing.value = true;
  await attempt(async () => {
    if (!(await draft.show())) return;
    afterShowing();
    say({ text: t(alone ? 'page.alone.done' : 'page.shown', { title: titleNow.value }) });
  });
}
function afterShowing() {
  means.value = '';
  for (const key of ['folder', 'placement', 'page', 'tree'])
    void cache.invalidateQueries({ key: [key] });
}
const whileWriting = computed({
  get: () => draft.whileWriting.value,
  set: (on) =>
    void attempt(async () => {
      if ((await draft.showWhileWriting(on)) && on) afterShowing();
    }),
});

/** The later one decides: both texts are there, and nothing is lost. */
const settle = (how: 'mine' | 'both' | 'theirs') =>
  attempt(async () => {
    const { commands } = editor.value!;
    const mine = writtenIn(editor.value!);
    const theirs = draft.other.value!.html;
    if (how === 'theirs') {
      commands.setContent(await draft.takeOther(), { emitUpdate: false });
      say({
        text: t('page.dropped'),
        undo: async () => void editor.value?.commands.setContent(mine),
      });
      return;
    }
    if (how === 'both') commands.setContent(`${theirs}<hr>${mine}`, { emitUpdate: false });
    draft.goOn();
  });

const saidOfReaders = computed(() =>
  alone || (draft.saving.value === 'shown' && draft.base.value > 0)
    ? ''
    : draft.base.value === 0
      ? means.value || t('page.nobody-yet')
      : t('page.readers', { n: draft.shownNow.value }),
);
const saidOfSaving = computed(() => {
  switch (draft.saving.value) {
    case 'shown':
      return draft.base.value === 0 ? '' : t(alone ? 'page.alone.shown' : 'page.state.shown');
    case 'saved':
      return t(alone ? 'page.alone.saved' : 'page.state.saved', {
        at: moment(draft.savedAt.value!),
      });
    case 'refused':
      return explain(t, draft.problem.value);
    default:
      return t(`page.state.${draft.saving.value}`);
  }
});
const bad = computed(() =>
  ['kept-here', 'meanwhile', 'too-long', 'refused'].includes(draft.saving.value),
);
const mayShow = computed(
  () => !['shown', 'too-long', 'meanwhile'].includes(draft.saving.value) && !showing.value,
);
/** Nothing has ever been written on it. */
const blank = computed(
  () => state.value >= 0 && draft.base.value === 0 && editor.value?.isEmpty === true,
);
const others = computed(() => draft.page.value?.others ?? []);
</script>

<template>
  <div class="flex w-full flex-1 flex-col bg-paper">
    <div v-if="failed" class="mx-auto w-full max-w-4xl px-5 py-7">
      <PageState :error="failed" />
    </div>
    <PageState v-else-if="!editor" class="mx-auto w-full max-w-4xl px-5" />
    <template v-else>
      <h1 class="sr-only">{{ t('page.writing', { title: titleNow }) }}</h1>
      <div class="sticky top-0 z-20">
        <PageTools
          :editor="editor"
          :state="state"
          @pictures="addPictures"
          @day="newDay"
          @thing="picking = 'thing'"
          @begin="picking = 'page'"
        />
        <StaleDates :editor="editor" :state="state" />
      </div>
      <ThingPicker
        v-if="picking"
        :title="t(picking === 'page' ? 'page.begin-from.pick' : 'page.reference.pick')"
        :kind="picking === 'page' ? 'page' : undefined"
        @pick="(hit) => (picking === 'page' ? beginFrom(hit) : addReference(hit))"
        @close="picking = null"
      />
      <div class="mx-auto w-full max-w-4xl flex-1 px-3 py-5 sm:px-6 sm:py-8">
        <div v-if="placement.data.value" class="mb-3 px-2">
          <CrumbLine :crumbs="placement.data.value.crumbs" :to="place.folder" />
        </div>
        <p
          v-if="draft.newer.value && !draft.other.value"
          role="status"
          class="mb-3 flex flex-wrap items-center gap-x-3 border-l-4 border-saffron bg-sheet px-4 py-2.5"
        >
          {{ t('page.newer') }}
          <button
            type="button"
            class="min-h-9 font-semibold text-petrol underline"
            @click="attempt(draft.meet)"
          >
            {{ t('page.newer-look') }}
          </button>
        </p>
        <p v-for="other in others" :key="other.name" class="mb-3 px-2 text-meta text-soft">
          {{ t('page.other', { name: other.name, at: moment(other.savedAt) }) }}
        </p>
        <ShownMeanwhile
          v-if="draft.other.value"
          class="mb-5"
          v-bind="draft.other.value"
          :placement-id="id"
          @settle="settle"
        />
        <div class="border border-line bg-sheet px-5 py-6 shadow-sm sm:px-14 sm:py-11">
          <input
            ref="titleField"
            :value="titleNow"
            :aria-label="t('page.title')"
            :aria-invalid="titleFault !== ''"
            maxlength="120"
            class="w-full bg-transparent font-title text-[31px] font-semibold outline-offset-4"
            @input="title = ($event.target as HTMLInputElement).value"
            @change="rename"
            @keydown.enter.prevent="focusText(editor, 1)"
          />
          <p role="alert" class="text-meta font-medium text-brick-ink empty:hidden">
            {{ titleFault }}
          </p>
          <div ref="host" class="mt-5" />
          <p v-if="blank" class="mt-6 border-t border-line pt-4 text-[15px] text-soft">
            {{ t('page.begin-from.or') }}
            <button
              type="button"
              class="min-h-9 font-semibold text-petrol underline pointer-coarse:min-h-11"
              @click="picking = 'page'"
            >
              {{ t('page.begin-from.do') }}
            </button>
          </p>
        </div>
      </div>
      <div
        class="sticky bottom-0 z-20 flex flex-wrap items-center gap-x-5 gap-y-2 bg-frame px-4 py-3 text-frame-ink sm:px-8"
      >
        <p
          role="status"
          class="min-w-40 flex-1 text-[15px]"
          :class="{ 'font-semibold text-white': bad }"
        >
          {{ saidOfSaving || t('page.state.empty') }}
        </p>
        <p v-if="saidOfReaders" class="text-meta max-sm:w-full">{{ saidOfReaders }}</p>
        <span
          v-if="!alone"
          class="flex min-h-9 items-center gap-2 text-[15px] pointer-coarse:min-h-11"
        >
          <OnOffSwitch v-model="whileWriting" :label="t('page.while-writing')" />
          <span aria-hidden="true" @click="whileWriting = !whileWriting">{{
            t('page.while-writing')
          }}</span>
        </span>
        <RouterLink
          :to="place.item(id)"
          class="inline-flex min-h-9 items-center text-[15px] font-semibold underline-offset-2 hover:underline pointer-coarse:min-h-11"
          >{{ t('page.read') }}</RouterLink
        >
        <button
          v-if="!whileWriting || mayShow"
          type="button"
          class="inline-flex min-h-9 items-center rounded-edge bg-saffron px-4 text-[15px] font-semibold text-[#1f2a2e] disabled:opacity-50 pointer-coarse:min-h-11"
          :disabled="!mayShow"
          @click="show"
        >
          {{ t(alone ? 'page.alone.show' : 'page.show') }}
        </button>
      </div>
    </template>
  </div>
</template>

<style>
.page-text .stale {
  background: color-mix(in srgb, var(--saffron) 30%, var(--sheet));
  box-shadow: 0 2px 0 var(--saffron);
}
.page-text .is-editor-empty:first-child::before {
  float: left;
  height: 0;
  color: var(--soft);
  content: attr(data-placeholder);
  pointer-events: none;
}
.page-text.ProseMirror li[data-checked]::before {
  content: none;
}
.page-text.ProseMirror li[data-checked] {
  display: flex;
  gap: 0.5em;
  margin-inline-start: -1.4em;
}
.ProseMirror li[data-checked] input {
  width: 24px;
  height: 24px;
  margin: 1px 0;
  accent-color: var(--petrol);
}
.page-text.ProseMirror li[data-checked] > div {
  flex: 1;
  margin-top: 0;
}
.page-text.ProseMirror {
  overflow-x: auto;
}
.ProseMirror .ProseMirror-selectednode {
  outline: 3px solid var(--petrol);
  outline-offset: -3px;
}
.ProseMirror .selectedCell {
  background: var(--petrol-pale);
}
.ProseMirror .folding {
  border-block: 1px solid var(--line);
  padding: 0.35em 0 0.35em 1.2em;
}
.ProseMirror .folding-title {
  position: relative;
  font-family: var(--font-text);
  font-size: 16px;
  font-weight: 600;
}
.ProseMirror .folding-title::before {
  position: absolute;
  left: -1.2em;
  content: '▾';
}
.ProseMirror-gapcursor::after {
  display: block;
  width: 20px;
  border-top: 1px solid var(--ink);
  content: '';
}
</style>
