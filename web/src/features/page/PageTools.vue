<script setup lang="ts">
import type { Editor } from '@tiptap/core';
import { Selection } from '@tiptap/pm/state';
import {
  Bold,
  Code,
  Highlighter,
  Image,
  Italic,
  Link,
  List,
  ListChecks,
  ListOrdered,
  Redo2,
  Strikethrough,
  Subscript,
  Superscript,
  Underline,
  Undo2,
} from 'lucide-vue-next';
import { useMediaQuery } from '@vueuse/core';
import { computed, nextTick, ref, useTemplateRef } from 'vue';
import { useI18n } from 'vue-i18n';
import RowMenu from '../../ui/RowMenu.vue';
import { focusText } from './editor.ts';
import ToolButton from './ToolButton.vue';

/** What can be done at the place where one writes. */
const { editor, state } = defineProps<{
  editor: Editor;
  /** Grows with each change of text or place, so that what is shown here follows. */
  state: number;
}>();
const emit = defineEmits<{ pictures: [files: File[]]; day: []; thing: []; begin: [] }>();
const { t } = useI18n();

function chain() {
  focusText(editor);
  return editor.chain();
}
/** Read anew with each change. */
const on = (name: string, attributes?: object) => state >= 0 && editor.isActive(name, attributes);

const KINDS = ['paragraph', 'heading-2', 'heading-3', 'heading-4', 'codeBlock'] as const;
const kind = computed({
  get: () =>
    KINDS.find((name) => {
      const [node, level] = name.split('-');
      return on(node!, level ? { level: Number(level) } : undefined);
    }) ?? 'paragraph',
  set(name) {
    const level = Number(name.split('-')[1]);
    if (name === 'codeBlock') chain().setCodeBlock().run();
    else if (level)
      chain()
        .setHeading({ level: level as 2 | 3 | 4 })
        .run();
    else chain().setParagraph().run();
  },
});

/** Rare ones are among what is inserted where there is no room. */
const RARE: ReadonlySet<string> = new Set(['underline', 'strike', 'code', 'below', 'above']);
const narrow = useMediaQuery('(max-width: 639px)');
const MARKS = [
  { name: 'bold', sign: Bold, run: () => chain().toggleBold().run() },
  { name: 'italic', sign: Italic, run: () => chain().toggleItalic().run() },
  { name: 'underline', sign: Underline, run: () => chain().toggleUnderline().run() },
  { name: 'strike', sign: Strikethrough, run: () => chain().toggleStrike().run() },
  { name: 'highlight', sign: Highlighter, run: () => chain().toggleHighlight().run() },
  { name: 'code', sign: Code, run: () => chain().toggleCode().run() },
  { name: 'below', sign: Subscript, run: () => chain().toggleMark('below').run() },
  { name: 'above', sign: Superscript, run: () => chain().toggleMark('above').run() },
] as const;
const LISTS = [
  { name: 'bulletList', sign: List, run: () => chain().toggleBulletList().run() },
  { name: 'orderedList', sign: ListOrdered, run: () => chain().toggleOrderedList().run() },
  { name: 'taskList', sign: ListChecks, run: () => chain().toggleTaskList().run() },
] as const;

const INSERTS = {
  thing: () => emit('thing'),
  table: () => chain().insertTable({ rows: 3, cols: 3, withHeaderRow: true }).run(),
  formula: () => chain().addFormula(false).run(),
  'formula-block': () => chain().addFormula(true).run(),
  blockquote: () => chain().toggleBlockquote().run(),
  aside: () => chain().toggleAside().run(),
  details: () => chain().addFolding().run(),
  rule: () => chain().setHorizontalRule().run(),
  begin: () => emit('begin'),
};
const inserts = () => [
  ...(narrow.value ? [{ name: 'day', text: t('page.day') }] : []),
  ...(narrow.value ? MARKS.filter(({ name }) => RARE.has(name)) : []).map(({ name }) => ({
    name: name as string,
    text: t(`page.marks.${name}`),
  })),
  ...(Object.keys(INSERTS) as (keyof typeof INSERTS)[]).map((name) => ({
    name: name as string,
    text: t(`page.insert.${name}`),
  })),
];
function act(name: string) {
  if (name === 'day') emit('day');
  else if (name in INSERTS) INSERTS[name as keyof typeof INSERTS]();
  else MARKS.find((mark) => mark.name === name)?.run();
}

const picker = useTemplateRef('picker');
function picked(event: Event) {
  const input = event.target as HTMLInputElement;
  emit('pictures', [...(input.files ?? [])]);
  input.value = '';
}

// A link: its address, typed here.
const linking = ref(false);
const typed = ref('');
const field = useTemplateRef('field');
async function openLink() {
  typed.value = editor.getAttributes('link').href ?? '';
  linking.value = true;
  await nextTick();
  field.value?.focus();
}
const href = computed(() => {
  const given = typed.value.trim();
  if (given === '') return '';
  const whole = /^(https?:|mailto:|tel:)/iu.test(given)
    ? given
    : given.includes('@')
      ? `mailto:${given}`
      : `https://${given}`;
  return URL.canParse(whole) ? whole : null;
});
function setLink() {
  if (href.value === null) return;
  linking.value = false;
  const at = chain().extendMarkRange('link');
  if (href.value === '') at.unsetLink().run();
  else if (editor.state.selection.empty && !on('link'))
    at.insertContent({
      type: 'text',
      text: typed.value.trim(),
      marks: [{ type: 'link', attrs: { href: href.value } }],
    }).run();
  else at.setLink({ href: href.value }).run();
}

// What the place where one writes is in has facts of its own.
const fact = (node: string, name: string) =>
  computed({
    get: () => (on(node) ? String(editor.getAttributes(node)[name] ?? '') : null),
    set: (value) => editor.commands.updateAttributes(node, { [name]: value }),
  });
const alt = fact('picture', 'alt');
const language = fact('codeBlock', 'language');
const formulas = [fact('formula', 'tex'), fact('formulaBlock', 'tex')];
/** Back to the text, behind what is chosen. */
function goOn() {
  const { tr, doc, selection } = editor.state;
  editor.view.dispatch(tr.setSelection(Selection.near(doc.resolve(selection.to))));
  focusText(editor);
}
const TABLE = [
  'addRowAfter',
  'addColumnAfter',
  'deleteRow',
  'deleteColumn',
  'deleteTable',
] as const;

const FIELD =
  'h-9 min-w-52 flex-1 rounded-edge border border-line bg-raised px-3 pointer-coarse:h-11';
</script>

<template>
  <div
    class="border-b border-line bg-sheet"
    role="group"
    :aria-label="t('page.tools')"
    @keydown.esc="focusText(editor)"
  >
    <div class="flex flex-wrap items-center gap-x-1 gap-y-1 px-4 py-1.5 sm:px-8">
      <select
        v-model="kind"
        :aria-label="t('page.kind')"
        class="mr-1 h-9 rounded-edge border border-line bg-raised px-2 text-[15px] pointer-coarse:h-11"
      >
        <option v-for="name in KINDS" :key="name" :value="name">
          {{ t(`page.kinds.${name}`) }}
        </option>
      </select>
      <ToolButton
        v-for="mark in MARKS.filter(({ name }) => !narrow || !RARE.has(name))"
        :key="mark.name"
        :sign="mark.sign"
        :label="t(`page.marks.${mark.name}`)"
        :pressed="on(mark.name)"
        @click="mark.run"
      />
      <ToolButton
        :sign="Link"
        :label="t('page.marks.link')"
        :pressed="on('link')"
        @click="openLink"
      />
      <span class="mx-1 h-6 w-px bg-line max-sm:hidden" aria-hidden="true" />
      <ToolButton
        v-for="list in LISTS"
        :key="list.name"
        :sign="list.sign"
        :label="t(`page.lists.${list.name}`)"
        :pressed="on(list.name)"
        @click="list.run"
      />
      <span class="mx-1 h-6 w-px bg-line max-sm:hidden" aria-hidden="true" />
      <ToolButton :sign="Image" :label="t('page.insert.picture')" @click="picker?.click()" />
      <input
        ref="picker"
        type="file"
        accept="image/*"
        multiple
        class="hidden"
        tabindex="-1"
        :aria-label="t('page.insert.picture')"
        @change="picked"
      />
      <!-- At the right edge where the screen is narrow: its list opens to the left. -->
      <RowMenu
        class="max-sm:order-last"
        :label="t('page.insert.more')"
        :actions="inserts"
        @act="act"
      />
      <button
        v-if="!narrow"
        type="button"
        class="ml-1 h-9 rounded-edge px-2.5 text-[15px] font-semibold text-petrol hover:bg-mark pointer-coarse:h-11"
        :title="t('page.day-keys')"
        @click="emit('day')"
      >
        {{ t('page.day') }}
      </button>
      <span class="flex-1" />
      <ToolButton
        :sign="Undo2"
        :label="t('page.undo')"
        :disabled="state < 0 || !editor.can().undo()"
        @click="chain().undo().run()"
      />
      <ToolButton
        :sign="Redo2"
        :label="t('page.redo')"
        :disabled="state < 0 || !editor.can().redo()"
        @click="chain().redo().run()"
      />
    </div>
    <form
      v-if="linking"
      class="flex flex-wrap gap-2 border-t border-line px-4 py-2 sm:px-8"
      @submit.prevent="setLink"
    >
      <input
        ref="field"
        v-model="typed"
        inputmode="url"
        :class="FIELD"
        :aria-label="t('page.link-address')"
        :placeholder="t('page.link-address')"
        @keydown.esc.stop="linking = false"
      />
      <button class="px-2 font-semibold text-petrol" :disabled="href === null">
        {{ t(href === '' ? 'page.link-none' : 'page.link-set') }}
      </button>
      <button type="button" class="px-2 text-soft" @click="linking = false">
        {{ t('common.cancel') }}
      </button>
    </form>
    <label
      v-else-if="alt !== null"
      class="flex flex-wrap items-center gap-3 border-t border-line px-4 py-2 text-meta sm:px-8"
    >
      {{ t('page.alt') }}
      <input v-model="alt" :class="FIELD" maxlength="400" :placeholder="t('page.alt-example')" />
    </label>
    <template v-for="(tex, n) in formulas" v-else :key="n">
      <label
        v-if="tex.value !== null"
        class="flex flex-wrap items-center gap-3 border-t border-line px-4 py-2 text-meta sm:px-8"
      >
        {{ t('page.tex') }}
        <input
          v-model="tex.value"
          :class="[FIELD, 'font-code']"
          maxlength="4000"
          placeholder="\frac{a}{b} = c^2"
          @keydown.enter.prevent="goOn"
        />
      </label>
    </template>
    <label
      v-if="language !== null"
      class="flex flex-wrap items-center gap-3 border-t border-line px-4 py-2 text-meta sm:px-8"
    >
      {{ t('page.code-language') }}
      <input
        v-model="language"
        :class="[FIELD, 'max-w-60 font-code']"
        maxlength="30"
        placeholder="python"
      />
    </label>
    <div
      v-if="on('table')"
      class="flex flex-wrap gap-x-4 gap-y-1 border-t border-line px-4 py-1.5 text-meta sm:px-8"
    >
      <button
        v-for="name in TABLE"
        :key="name"
        type="button"
        class="min-h-9 font-medium text-petrol hover:underline pointer-coarse:min-h-11"
        @click="chain()[name]().run()"
      >
        {{ t(`page.table.${name}`) }}
      </button>
    </div>
  </div>
</template>
