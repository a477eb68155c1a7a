<script setup lang="ts">
import type { FolderView, TreeFolder } from '@sammlung/contract';
import { useEventListener, useMediaQuery } from '@vueuse/core';
import { computed, defineAsyncComponent, ref, useTemplateRef, watch } from 'vue';
import { useI18n } from 'vue-i18n';
import { useRouter } from 'vue-router';
import { explain } from '../../app/api/problems.ts';
import { say } from '../../app/shell/toast.ts';
import { readAsPage } from './asPage.ts';
import { useLibraryChanges } from './changes.ts';
import type { Choice } from './choice.ts';
import { useLasso } from './lasso.ts';
import type { Row } from './library.ts';
import LibraryRow from './LibraryRow.vue';
import LibraryTile from './LibraryTile.vue';
import { useListLines } from './listLines.ts';
import type { RowAct } from './rowFacts.ts';
import { useRowFocus } from './rowFocus.ts';
import { useRowKeys } from './rowKeys.ts';
import { useRowOrder } from './rowOrder.ts';
import { useTakenUp } from './takenUp.ts';

/** The rows of the open place, as lines or tiles; only those near the screen are drawn. */
const { rows, folder, mayChange, manages, inside, choice } = defineProps<{
  rows: readonly Row[];
  /** Null at the top of the library. */
  folder: FolderView | null;
  mayChange: boolean;
  manages: boolean;
  /** The folders in each of the rows, where they are shown with them. */
  inside?: ReadonlyMap<string | null, readonly TreeFolder[]>;
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
const router = useRouter();
/** How many folders a row shows of those in it. */
const FIRST_INSIDE = 8;
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

const list = useTemplateRef('list');
const {
  across,
  virtualizer,
  drawn,
  measure,
  nearEnd: atEnd,
} = useListLines(
  list,
  () => rows,
  () => tiles.value,
);
const { focusRow, follow, focused } = useRowFocus(
  list,
  () => rows,
  (at) => virtualizer.value.scrollToIndex(Math.floor(at / across.value)),
);
const isCut = (row: Row) =>
  takenUp.taken?.cut === true && takenUp.taken.rows.some((x) => x.id === row.id);
/** Whether rows near the end are on the screen. */
const nearEnd = defineModel<boolean>('nearEnd', { default: false });
watch(atEnd, (near) => (nearEnd.value = near), { immediate: true });

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
  else if (name === 'write') void write(row.id);
  else if (name === 'to-page') void toPage(row);
  else if (name === 'remove') void removeRows(concerned, row);
  else if (name === 'hand-out') emit('handOut', row);
  else if (name === 'timing') emit('timing', row);
  else if (name === 'why') emit('why', row);
  else if (name === 'reach') void router.push(reachOf(row));
  else if (name === 'top') void keepOnTop(row);
  else emit('put', name, concerned);
}
const reachOf = ({ kind, id }: Row) =>
  kind === 'folder'
    ? { name: 'reach-folder', params: { folder: id } }
    : { name: 'reach-item', params: { placement: id } };
const write = (placement: string) => router.push({ name: 'page', params: { placement } });
const toPage = ({ id, title, item }: Row) =>
  changes.attempt(async () => {
    const html = await readAsPage(id, item!.mediaType!);
    const made = await changes.makePage(folder!.id, { title, html });
    await write(made.id);
    return true;
  });
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

const { dropPlace, shift } = useRowOrder(
  {
    rows: () => rows,
    here: () => here.value,
    mayChange: () => mayChange,
    sortable: () => byHand.value && manages,
    files: (items, into) => emit('files', items, into),
  },
  changes,
);
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
  drop: dropPlace(row, at),
  onChoose: (event: MouseEvent) => choose(event, row),
  onAct: (name: RowAct) => act(name, row),
  onNamed: () => named(row),
});
const onKey = useRowKeys({
  rows: () => rows,
  across: () => across.value,
  mayChange: () => mayChange,
  choice,
  focused,
  focusRow,
  async shift(at, step) {
    const row = rows[at];
    if (row && (await shift(at, step))) await follow(row);
  },
  act,
  cut: (row) => takenUp.take(choice.with(row), true),
});
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
              :inside="inside?.get(row.id)?.slice(0, FIRST_INSIDE)"
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
