<script setup lang="ts">
import { useVirtualizer } from '@tanstack/vue-virtual';
import { computed, nextTick, ref, useTemplateRef } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink } from 'vue-router';
import MomentField from '../../app/MomentField.vue';
import { useFormat } from '../../app/format.ts';
import PageState from '../../app/PageState.vue';
import { tabColour } from '../../ui/tabColour.ts';
import { cellOf, lookOf, openToAll, useBoard, type Cell } from './board.ts';
import SquareSheet from './SquareSheet.vue';

/** Every folder against every audience. Squares are walked with the arrow keys; each says what a click would do. */
const emit = defineEmits<{ handOut: [folder: Cell['folder']] }>();
const { t } = useI18n();
const { moment, day } = useFormat();
const at = ref<string | null>(null);
const onlyOpen = ref(false);
const board = useBoard(() => at.value);

const rows = computed(() => {
  const data = board.data.value;
  if (!data) return [];
  return data.folders
    .map((folder, index) => ({ folder, index }))
    .filter(({ folder }) => !onlyOpen.value || openToAll(data, folder));
});
const columns = computed(() => board.data.value?.audiences ?? []);

const scroller = useTemplateRef('scroller');
const ROW = 43;
const virtualizer = useVirtualizer(
  computed(() => ({
    count: rows.value.length,
    getScrollElement: () => scroller.value,
    estimateSize: () => ROW,
    overscan: 12,
    scrollPaddingStart: 70,
    getItemKey: (n: number) => rows.value[n]?.folder.id ?? n,
  })),
);
const drawn = computed(() =>
  virtualizer.value
    .getVirtualItems()
    .flatMap((item) => (rows.value[item.index] ? [{ ...item, row: rows.value[item.index]! }] : [])),
);
/** Where the focus stands: a row of those shown, and a column. */
const focus = ref({ row: 0, column: 0 });
const squareId = (row: number, column: number) => `square-${row}-${column}`;
async function go(row: number, column: number) {
  focus.value = {
    row: Math.max(0, Math.min(row, rows.value.length - 1)),
    column: Math.max(0, Math.min(column, columns.value.length - 1)),
  };
  virtualizer.value.scrollToIndex(focus.value.row);
  await nextTick();
  for (let tries = 0; tries < 20; tries += 1) {
    const square = document.getElementById(squareId(focus.value.row, focus.value.column));
    if (square) return square.focus();
    await new Promise((resolve) => requestAnimationFrame(resolve));
  }
}
function onKey(event: KeyboardEvent) {
  const { row, column } = focus.value;
  const page = 10;
  const steps: Record<string, [number, number]> = {
    ArrowUp: [row - 1, column],
    ArrowDown: [row + 1, column],
    ArrowLeft: [row, column - 1],
    ArrowRight: [row, column + 1],
    PageUp: [row - page, column],
    PageDown: [row + page, column],
    Home: event.ctrlKey ? [0, column] : [row, 0],
    End: event.ctrlKey ? [rows.value.length - 1, column] : [row, columns.value.length - 1],
  };
  const step = steps[event.key];
  if (!step || event.altKey) return;
  event.preventDefault();
  void go(...step);
}

/** The square whose consequence is shown. */
const open = ref<{ cell: Cell; row: number; column: number } | null>(null);
function show(row: number, column: number) {
  const found = rows.value[row];
  const cell = found && board.data.value ? cellOf(board.data.value, found.index, column) : null;
  focus.value = { row, column };
  open.value = cell ? { cell, row, column } : null;
}
async function close() {
  const at = open.value;
  open.value = null;
  await nextTick();
  if (at) document.getElementById(squareId(at.row, at.column))?.focus();
}

const name = (n: number) => columns.value[n]!.label || t(`tab.${columns.value[n]!.kind}`);
const colour = (n: number) => tabColour(columns.value[n]!);
const people = (n: number) => {
  const { kind, people: count } = columns.value[n]!;
  return kind === 'public' ? t('board.address') : String(count ?? 0);
};
function squareAt(index: number, column: number) {
  const cell = board.data.value && cellOf(board.data.value, index, column);
  if (!cell) return null;
  const look = lookOf(cell);
  const door = cell.audience.kind === 'public' || cell.audience.kind === 'school-door';
  const here = cell.square?.here;
  const texts = {
    here: here ? (door ? t('board.link') : t(`board.level.${here.level}`)) : '',
    above: '',
    later: cell.square?.from ? day(cell.square.from) : t('board.later'),
    held: t('board.held'),
    ended: t('board.ended'),
    none: '',
  };
  const when = cell.square?.from ? moment(cell.square.from) : '';
  return {
    look,
    text: texts[look],
    words: t(`board.words.${look}`, { folder: cell.folder.title, name: name(column), when }),
  };
}
</script>

<template>
  <div class="flex min-h-0 flex-1 flex-col px-5 pt-5 sm:px-7">
    <div class="flex flex-wrap items-end gap-x-4 gap-y-2">
      <div class="flex-1 max-sm:basis-full">
        <h1 class="text-[27px]">{{ t('board.title') }}</h1>
        <p class="mt-0.5 text-meta text-soft" role="status">
          {{ at === null ? t('board.text') : t('board.text-at', { when: moment(at) }) }}
        </p>
      </div>
      <MomentField v-model="at" :label="t('board.as-of')" class="w-56" />
      <button
        v-if="at !== null"
        type="button"
        class="min-h-10 font-medium text-petrol underline underline-offset-2"
        @click="at = null"
      >
        {{ t('board.now') }}
      </button>
      <button
        type="button"
        class="min-h-10 rounded-edge border px-3.5 text-[15px] font-semibold"
        :class="
          onlyOpen
            ? 'border-brick bg-brick text-white'
            : 'border-line bg-raised hover:border-petrol hover:text-petrol'
        "
        :aria-pressed="onlyOpen"
        @click="onlyOpen = !onlyOpen"
      >
        {{ t('board.only-open') }}
      </button>
    </div>
    <PageState
      v-if="!board.data.value"
      :error="board.error.value"
      class="mt-4"
      @again="board.refetch()"
    />
    <p v-else-if="rows.length === 0" class="mt-6 border-t border-line py-8 text-soft">
      {{ t(onlyOpen ? 'board.none-open' : 'board.none') }}
    </p>
    <div
      v-else
      ref="scroller"
      class="relative mt-3 -mr-5 h-[calc(100dvh-218px)] min-h-0 flex-none overflow-auto max-sm:h-[calc(100dvh-346px)] sm:-mr-7"
      tabindex="-1"
    >
      <div
        role="grid"
        :aria-label="t('board.title')"
        :aria-rowcount="rows.length + 1"
        :aria-colcount="columns.length + 1"
        class="w-max min-w-full pr-5 sm:pr-7"
        :style="{ '--columns': columns.length }"
        @keydown="onKey"
      >
        <div role="row" aria-rowindex="1" class="line sticky top-0 z-20 items-end bg-sheet pb-1.5">
          <span role="columnheader" class="sticky left-0 z-10 self-stretch bg-sheet"
            ><span class="sr-only">{{ t('board.folder') }}</span></span
          >
          <span role="presentation" class="max-sm:hidden" />
          <span
            v-for="(audience, n) in columns"
            :key="`${audience.kind} ${audience.id}`"
            role="columnheader"
            class="mx-[3px] flex min-h-[50px] flex-col items-center justify-center overflow-hidden rounded-t-[7px] px-1 py-1.5 text-white"
            :style="{ background: colour(n) }"
          >
            <span
              class="w-full truncate text-center font-code text-[13px] font-semibold"
              :title="name(n)"
              >{{ name(n) }}</span
            >
            <span class="text-meta" :aria-hidden="audience.people !== null">{{ people(n) }}</span>
            <span v-if="audience.people !== null" class="sr-only">{{
              t('count.people', audience.people)
            }}</span>
          </span>
        </div>
        <div class="relative" :style="{ height: `${virtualizer.getTotalSize()}px` }">
          <div
            v-for="line in drawn"
            :key="line.row.folder.id"
            role="row"
            :aria-rowindex="line.index + 2"
            class="line absolute top-0 left-0 w-full items-center border-t border-line"
            :style="{ height: `${ROW}px`, transform: `translateY(${line.start}px)` }"
          >
            <span
              role="rowheader"
              class="title sticky left-0 z-10 flex h-full items-center bg-sheet pr-3 max-sm:pr-2"
              :style="{ '--depth': line.row.folder.depth }"
            >
              <RouterLink
                :to="{ name: 'folder', params: { folder: line.row.folder.id } }"
                class="hover:text-petrol hover:underline max-sm:line-clamp-2 max-sm:text-meta max-sm:leading-tight sm:truncate"
                :class="line.row.folder.depth === 0 ? 'font-semibold' : ''"
                :title="line.row.folder.title"
              >
                <span
                  v-if="line.row.folder.mark"
                  class="mr-1 font-mark font-normal"
                  aria-hidden="true"
                  >{{ line.row.folder.mark }}</span>{{ line.row.folder.title }}
              </RouterLink>
              <span
                v-if="line.row.folder.ownerName && line.row.folder.depth === 0"
                class="ml-2 truncate text-meta text-soft max-sm:hidden"
                >{{ line.row.folder.ownerName }}</span
              >
            </span>
            <span role="gridcell" class="text-meta text-soft max-sm:hidden">{{
              line.row.folder.held ? t('state.held') : t('count.items', line.row.folder.items)
            }}</span>
            <span v-for="(_, n) in columns" :key="n" role="gridcell" class="flex px-[3px]">
              <template v-for="square in [squareAt(line.row.index, n)]" :key="square?.look">
                <button
                  v-if="square"
                  :id="squareId(line.index, n)"
                  type="button"
                  class="square h-[30px] w-full overflow-hidden rounded-[4px] px-1 text-center text-[12px] whitespace-nowrap"
                  :class="`square-${square.look}`"
                  :style="{ '--tab': colour(n) }"
                  :tabindex="focus.row === line.index && focus.column === n ? 0 : -1"
                  aria-haspopup="dialog"
                  @click="show(line.index, n)"
                  @focus="focus = { row: line.index, column: n }"
                >
                  <span aria-hidden="true">{{ square.text }}</span>
                  <span class="sr-only">{{ square.words }}</span>
                </button>
              </template>
            </span>
          </div>
        </div>
      </div>
    </div>
    <ul
      v-if="rows.length > 0"
      class="flex flex-wrap gap-x-6 gap-y-1 border-t border-line py-3 text-meta text-soft"
      aria-hidden="true"
    >
      <li
        v-for="look in ['here', 'above', 'later', 'held'] as const"
        :key="look"
        class="flex items-center gap-2"
      >
        <span
          class="square inline-block h-[18px] w-[34px] rounded-[4px]"
          :class="`square-${look}`"
          style="--tab: var(--action)"
        />{{ t(`board.legend.${look}`) }}
      </li>
    </ul>
    <SquareSheet
      v-if="open && board.data.value"
      :board="board.data.value"
      :cell="open.cell"
      :anchor="squareId(open.row, open.column)"
      @close="close"
      @hand-out="(emit('handOut', open.cell.folder), (open = null))"
    />
  </div>
</template>

<style scoped>
/* A grid as wide as its widest column wants to be takes the largest width it may: so the first one says one width. */
.line {
  display: grid;
  grid-template-columns: 24rem 6.5rem repeat(var(--columns), minmax(5.25rem, 1fr));
}
.title {
  padding-left: calc(var(--depth) * 22px);
}
@media (width < 64rem) {
  .line {
    grid-template-columns: 16rem 6.5rem repeat(var(--columns), minmax(5.25rem, 1fr));
  }
}
@media (width < 40rem) {
  .line {
    grid-template-columns: 8.75rem repeat(var(--columns), minmax(4.5rem, 1fr));
  }
  .title {
    padding-left: calc(var(--depth) * 8px);
  }
}
.square {
  --tab-ink: color-mix(in oklab, var(--tab), white var(--lift));
}
.square-here {
  background: var(--tab);
  color: white;
  font-weight: 650;
}
.square-above {
  background: color-mix(in oklab, var(--tab-ink), var(--sheet) 70%);
}
.square-later {
  border: 1.5px dashed var(--tab-ink);
  color: var(--tab-ink);
}
.square-held,
.square-ended {
  color: var(--mark-ink);
  background: repeating-linear-gradient(
    135deg,
    var(--mark) 0 5px,
    color-mix(in oklab, var(--mark), var(--sheet) 60%) 5px 10px
  );
}
.square-none {
  background: color-mix(in oklab, var(--paper), var(--sheet) 25%);
}
button.square:hover {
  outline: 2.5px solid var(--saffron);
  outline-offset: 1px;
}
</style>
