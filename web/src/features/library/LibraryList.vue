<script setup lang="ts">
import type { FolderView, Thing } from '@sammlung/contract';
import { useElementBounding, useElementSize, useEventListener, useMediaQuery } from '@vueuse/core';
import { useWindowVirtualizer } from '@tanstack/vue-virtual';
import {
  computed,
  defineAsyncComponent,
  nextTick,
  ref,
  useTemplateRef,
  watch,
  type ComponentPublicInstance,
} from 'vue';
import { useI18n } from 'vue-i18n';
import { explain } from '../../app/problems.ts';
import { say } from '../../app/toast.ts';
import { useLibraryChanges } from './changes.ts';
import type { Choice } from './choice.ts';
import type { DropPlace } from './drag.ts';
import { useLasso } from './lasso.ts';
import type { Row } from './library.ts';
import LibraryRow from './LibraryRow.vue';
import LibraryTile from './LibraryTile.vue';
import type { RowAct } from './rowFacts.ts';
import { useTakenUp } from './takenUp.ts';

/** The rows of the open place, as lines or tiles; only those near the screen are drawn. */
const { rows, folder, mayChange, manages, choice } = defineProps<{
  rows: readonly Row[];
  /** Null at the top of the library. */
  folder: FolderView | null;
  mayChange: boolean;
  manages: boolean;
  choice: Choice;
}>();
const emit = defineEmits<{
  handOut: [row: Row];
  timing: [row: Row];
  why: [row: Row];
  put: [how: 'move' | 'place', rows: readonly Row[]];
  files: [items: readonly DataTransferItem[], into: { id: string; title: string }];
}>();
const { t } = useI18n();
const changes = useLibraryChanges();
const takenUp = useTakenUp();
const MarkPicker = defineAsyncComponent(() => import('./MarkPicker.vue'));
const AboutItem = defineAsyncComponent(() => import('./AboutItem.vue'));

/** Narrower than tailwind's `sm`. */
const narrow = useMediaQuery('(width < 40rem)');
const tiles = computed(() => folder?.display === 'tiles');
const byHand = computed(() => folder === null || folder.order === 'hand');
const here = computed(() => ({
  id: folder?.id ?? null,
  title: folder?.title ?? t('library.title'),
}));

// One line of the screen holds one row, or as many tiles as fit.
const list = useTemplateRef('list');
const { width } = useElementSize(list);
const { top } = useElementBounding(list);
const across = computed(() =>
  tiles.value ? Math.max(2, Math.floor((width.value + 12) / 188)) : 1,
);
const lines = computed(() => Math.ceil(rows.length / across.value));
const virtualizer = useWindowVirtualizer(
  computed(() => ({
    count: lines.value,
    estimateSize: () => (tiles.value ? 232 : 53),
    overscan: 8,
    scrollMargin: Math.round(top.value + window.scrollY),
    getItemKey: (n: number) => rows[n * across.value]?.id ?? n,
  })),
);
const drawn = computed(() =>
  virtualizer.value.getVirtualItems().map((line) => ({
    ...line,
    rows: rows
      .slice(line.index * across.value, (line.index + 1) * across.value)
      .map((row, n) => ({ row, at: line.index * across.value + n })),
  })),
);
const measure = (element: Element | ComponentPublicInstance | null) =>
  virtualizer.value.measureElement(element as Element | null);
const isCut = (row: Row) =>
  takenUp.taken?.cut === true && takenUp.taken.rows.some((x) => x.id === row.id);
/** Whether rows near the end are on the screen. */
const nearEnd = defineModel<boolean>('nearEnd', { default: false });
watch(
  () => (drawn.value.at(-1)?.index ?? 0) >= lines.value - 15,
  (near) => (nearEnd.value = near),
  { immediate: true },
);

// Choosing.
const lasso = useLasso(
  () => (mayChange ? (list.value?.closest('[data-sheet]') ?? null) : null),
  choice,
);
function choose(event: MouseEvent, row: Row) {
  if (event.shiftKey) choice.reach(row.id);
  else choice.toggle(row.id);
}

// What can be done with a row.
const renaming = ref<string | null>(null);
const marking = ref<Row | null>(null);
const about = ref<Row | null>(null);
function act(name: RowAct, row: Row) {
  const concerned = choice.with(row);
  if (name === 'rename') renaming.value = row.id;
  else if (name === 'mark') marking.value = row;
  else if (name === 'about') about.value = row;
  else if (name === 'remove') void removeRows(concerned, row);
  else if (name === 'hand-out') emit('handOut', row);
  else if (name === 'timing') emit('timing', row);
  else if (name === 'why') emit('why', row);
  else if (name === 'top') void keepOnTop(row);
  else emit('put', name, concerned);
}
async function removeRows(gone: readonly Row[], row: Row) {
  const at = rows.indexOf(row);
  if (await changes.remove(gone)) void focusRow(Math.min(at, rows.length - 1));
}
async function keepOnTop(row: Row) {
  const was = row.folder?.keepOnTop ?? row.item?.keepOnTop ?? false;
  await attempt(() =>
    changes.change(
      row,
      { keepOnTop: !was },
      { keepOnTop: was },
      t(was ? 'library.not-on-top' : 'library.now-on-top', { title: row.title }),
    ),
  );
  void follow(row);
}
async function attempt(run: () => Promise<unknown>) {
  try {
    await run();
  } catch (error) {
    say({ text: explain(t, error), tone: 'bad' });
  }
}
const rename = (row: Row) => (title: string) =>
  changes.change(
    row,
    { title },
    { title: row.title },
    t('library.renamed', { was: row.title, title }),
  );
async function mark(row: Row, facts: object) {
  marking.value = null;
  const { mark: sign = null, colour = null } = row.folder ?? {};
  await attempt(() =>
    changes.change(row, facts, { mark: sign, colour }, t('library.marked', { title: row.title })),
  );
}
function named(row: Row) {
  renaming.value = null;
  void follow(row);
}

// Dragging rows onto folders and between rows.
function place(row: Row, at: number): DropPlace | null {
  if (!mayChange) return null;
  const { id, title, kind } = row;
  const others = (dropped: readonly Row[]) => dropped.filter((x) => x.id !== id);
  return {
    key: id,
    between: byHand.value && manages,
    takes: (dropped, part) => {
      if (others(dropped).length < dropped.length && dropped.length === 1) return false;
      return part === 'into'
        ? kind === 'folder'
        : dropped.some((x) => x.kind === kind) && dropped.every((x) => inThisPlace(x));
    },
    rows: (dropped, part) => {
      if (part === 'into') void changes.move(others(dropped), { id, title });
      else void order(dropped, part === 'before' ? row : following(dropped, at));
    },
    files: kind === 'folder' ? (items) => emit('files', items, { id, title }) : undefined,
  };
}
/**
 * What a row is bound to, made once as long as it stays the same: a row is drawn anew only when it looks different, not
 * each time the list is scrolled.
 */
const bindings = new WeakMap<Row, { made: string; props: ReturnType<typeof bind> }>();
function boundTo(row: Row, at: number) {
  const made = [at, mayChange, manages, byHand.value].join();
  const known = bindings.get(row);
  if (known?.made === made) return known.props;
  const props = bind(row, at);
  bindings.set(row, { made, props });
  return props;
}
const bind = (row: Row, at: number) => ({
  rename: rename(row),
  dragging: () => choice.with(row),
  drop: place(row, at),
  onChoose: (event: MouseEvent) => choose(event, row),
  onAct: (name: RowAct) => act(name, row),
  onNamed: () => named(row),
});
const inThisPlace = (row: Row) => rows.some((x) => x.id === row.id);
/** The row after `at` that does not move along; null when there is none of this kind. */
function following(moved: readonly Row[], at: number): Row | null {
  const next = rows.slice(at + 1).find((x) => !moved.some((m) => m.id === x.id));
  return next?.kind === rows[at]?.kind ? (next ?? null) : null;
}
const order = (moved: readonly Row[], before: Thing | null) =>
  changes.move(
    moved.filter((row) => before === null || row.kind === before.kind),
    here.value,
    before,
    true,
  );

/** Moves the row one place up or down by hand. */
async function shift(at: number, step: 1 | -1) {
  const row = rows[at];
  const other = rows[at + step];
  if (!row || other?.kind !== row.kind || !byHand.value || !manages) return;
  const before = step < 0 ? other : following([row], at + 1);
  if (await order([row], before)) await follow(row);
}

// Keys.
async function focusRow(at: number) {
  if (at < 0 || at >= rows.length) return;
  virtualizer.value.scrollToIndex(Math.floor(at / across.value));
  for (let tries = 0; tries < 20; tries += 1) {
    await new Promise((resolve) => requestAnimationFrame(resolve));
    const row = list.value?.querySelector<HTMLElement>(`[data-at="${at}"] [data-row]`);
    if (!row) continue;
    row.focus();
    return;
  }
}
/** Keeps the focus on a row that gets another place or form, now and when the list has come anew. */
let followed: string | null = null;
async function follow({ id }: Row) {
  followed = id;
  await nextTick();
  await focusRow(rows.findIndex((row) => row.id === id));
}
watch(
  () => rows,
  async () => {
    const row = rows.find((x) => x.id === followed);
    followed = null;
    if (row) await focusRow(rows.indexOf(row));
  },
  { flush: 'post' },
);

const focused = () => {
  const line = document.activeElement?.closest<HTMLElement>('[data-at]');
  return line && list.value?.contains(line) ? Number(line.dataset.at) : -1;
};
function onKey(event: KeyboardEvent) {
  const at = focused();
  const row = rows[at];
  if (!row || !(document.activeElement as HTMLElement).matches('[data-row]')) return;
  const command = event.ctrlKey || event.metaKey;
  const stop = () => event.preventDefault();
  const steps: Record<string, number> = {
    ArrowDown: at + across.value,
    ArrowUp: at - across.value,
    ...(tiles.value && { ArrowRight: at + 1, ArrowLeft: at - 1 }),
    Home: 0,
    End: rows.length - 1,
  };
  const next = steps[event.key];
  if (next !== undefined && !command) {
    stop();
    if (event.altKey) {
      if (event.key === 'ArrowUp' || event.key === 'ArrowDown')
        void shift(at, event.key === 'ArrowUp' ? -1 : 1);
      return;
    }
    const to = Math.min(Math.max(next, 0), rows.length - 1);
    if (event.shiftKey && mayChange) {
      if (!choice.ids.value.has(row.id)) choice.toggle(row.id);
      choice.reach(rows[to]!.id);
    }
    void focusRow(to);
    return;
  }
  if (!mayChange || event.altKey) return;
  const keys: Record<string, () => void> = command
    ? { a: choice.all, x: () => takenUp.take(choice.with(row), true) }
    : {
        ' ': () => choice.toggle(row.id),
        F2: () => act('rename', row),
        Delete: () => act('remove', row),
        m: () => act('move', row),
        Escape: choice.none,
      };
  const does = keys[event.key];
  if (!does || (event.key === 'Escape' && choice.ids.value.size === 0)) return;
  stop();
  event.stopPropagation();
  does();
}
/** Copying takes rows up, to be put elsewhere too; the clipboard gets their names. */
useEventListener(document, 'copy', (event: ClipboardEvent) => {
  const row = rows[focused()];
  if (!row || !mayChange || !document.getSelection()?.isCollapsed) return;
  const taken = choice.with(row);
  takenUp.take(taken, false);
  event.clipboardData?.setData('text/plain', taken.map((x) => x.title).join('\n'));
  event.preventDefault();
});
</script>

<template>
  <div class="relative">
    <div
      ref="list"
      class="relative"
      :style="{ height: `${virtualizer.getTotalSize()}px` }"
      @keydown="onKey"
    >
      <div role="list">
        <template v-for="line in drawn" :key="String(line.key)">
          <div
            :ref="measure"
            :data-index="line.index"
            role="presentation"
            class="absolute inset-x-0"
            :class="tiles ? 'grid gap-3 pr-6 pb-3' : ''"
            :style="{
              top: `${line.start - virtualizer.options.scrollMargin}px`,
              gridTemplateColumns: tiles ? `repeat(${across}, minmax(0, 1fr))` : undefined,
            }"
          >
            <component
              :is="tiles ? LibraryTile : LibraryRow"
              v-for="{ row, at } in line.rows"
              :key="row.id"
              :data-at="at"
              :data-id="row.id"
              :row="row"
              :may-change="mayChange"
              :manages="manages"
              :beside="manages && folder !== null"
              :narrow="narrow"
              :chosen="choice.ids.value.has(row.id)"
              :choosing="choice.ids.value.size > 0"
              :cut="isCut(row)"
              :renaming="renaming === row.id"
              v-bind="boundTo(row, at)"
            />
          </div>
        </template>
      </div>
      <div
        v-if="lasso"
        class="pointer-events-none fixed z-30 border-[1.5px] border-petrol bg-petrol/10"
        :style="lasso"
        aria-hidden="true"
      />
    </div>
    <MarkPicker
      v-if="marking"
      :title="marking.title"
      :mark="marking.folder?.mark ?? null"
      :colour="marking.folder?.colour ?? null"
      @choose="mark(marking, $event)"
      @close="marking = null"
    />
    <AboutItem v-if="about" :placement="about.id" @close="about = null" />
  </div>
</template>
