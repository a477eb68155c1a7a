<script setup lang="ts">
import { useResizeObserver } from '@vueuse/core';
import {
  ChevronDown,
  ChevronUp,
  MoveHorizontal,
  PanelLeft,
  Printer,
  Search,
  X,
  ZoomIn,
  ZoomOut,
} from 'lucide-vue-next';
import type { Point } from '@sammlung/contract';
import { AnnotationMode, type PDFDocumentProxy } from 'pdfjs-dist';
import {
  EventBus,
  FindState,
  LinkTarget,
  PDFFindController,
  PDFLinkService,
  PDFViewer,
} from 'pdfjs-dist/web/pdf_viewer.mjs';
import {
  computed,
  defineAsyncComponent,
  nextTick,
  onBeforeUnmount,
  onMounted,
  ref,
  shallowRef,
  useTemplateRef,
  watch,
} from 'vue';
import { useI18n } from 'vue-i18n';
import type { Mark } from '../remark/remarks.ts';
import PageList from './PageList.vue';
import { loadPdf } from './pdf.ts';
import './pdf.css';
import { printPages } from './printPages.ts';

/** A PDF to read: all pages below each other, with search, sizes, a list of pages, and printing. */
const {
  address,
  start = 1,
  marks = [],
  pointing = false,
} = defineProps<{
  address: string;
  /** The page to begin with. */
  start?: number;
  /** Points that are marked. */
  marks?: readonly Mark[];
  /** Whether one can point at a page: `pending` is the point. */
  pointing?: boolean;
}>();
const emit = defineEmits<{
  /** A part of it could not be had any more: there is another state of it. */
  lost: [];
  /** A mark was chosen. */
  choose: [id: string];
}>();
const PageMarks = defineAsyncComponent(() => import('./PageMarks.vue'));
const pending = defineModel<Point | null>('pending', { default: null });
const page = defineModel<number>('page', { default: 1 });
const { t } = useI18n();

const container = useTemplateRef('container');
const pdf = shallowRef<PDFDocumentProxy | null>(null);
const count = ref(0);
const fault = ref<'' | 'password' | 'broken'>('');
const listing = ref(false);
const loading = loadPdf(address);
const bus = new EventBus();
const links = new PDFLinkService({
  eventBus: bus,
  externalLinkTarget: LinkTarget.BLANK,
  externalLinkRel: 'noopener noreferrer nofollow',
});
const finder = new PDFFindController({ eventBus: bus, linkService: links });
let viewer: PDFViewer | null = null;

/** Our own words stand where pdf.js would put its own. */
const wordless = {
  getLanguage: () => 'en',
  getDirection: () => 'ltr',
  get: () => Promise.resolve(''),
  translate: () => Promise.resolve(),
  translateOnce: () => Promise.resolve(),
  destroy: () => Promise.resolve(),
  pause: () => undefined,
  resume: () => undefined,
};

onMounted(async () => {
  viewer = new PDFViewer({
    container: container.value!,
    eventBus: bus,
    linkService: links,
    findController: finder,
    annotationMode: AnnotationMode.ENABLE,
    removePageBorders: true,
    l10n: wordless as unknown as NonNullable<ConstructorParameters<typeof PDFViewer>[0]['l10n']>,
  });
  links.setViewer(viewer);
  bus.on('pagesinit', () => {
    fit();
    nameSections();
    measure();
    if (start > 1) viewer!.currentPageNumber = Math.min(start, count.value);
  });
  bus.on('pagechanging', ({ pageNumber }: { pageNumber: number }) => (page.value = pageNumber));
  bus.on('scalechanging', ({ scale: now }: { scale: number }) => {
    scale.value = now;
    void nextTick(measure);
  });
  bus.on('updatefindmatchescount', ({ matchesCount }: { matchesCount: Matches }) => {
    matches.value = matchesCount;
  });
  bus.on('updatefindcontrolstate', (reported: { state: number; matchesCount: Matches }) => {
    matches.value = reported.matchesCount;
    nothing.value = reported.state === FindState.NOT_FOUND;
  });
  try {
    const opened = await loading.promise;
    count.value = opened.numPages;
    pdf.value = opened;
    links.setDocument(opened);
    viewer.setDocument(opened);
    // A part that cannot be loaded any more shows as a page that cannot be drawn.
    bus.on('pagerendered', ({ error }: { error: unknown }) => error && emit('lost'));
  } catch (error) {
    if (loading.destroyed) return;
    const name = error instanceof Error ? error.name : '';
    if (name === 'PasswordException') fault.value = 'password';
    else if (name === 'ResponseException') emit('lost');
    else fault.value = 'broken';
  }
});

function nameSections() {
  for (const element of container.value?.querySelectorAll<HTMLElement>('.page') ?? []) {
    const number = Number(element.dataset.pageNumber);
    element.setAttribute('aria-label', t('viewer.page', { number, count: count.value }));
  }
}

// Points on pages. pdf.js draws its pages anew when it likes: marks are drawn over all of them, where the pages are.
interface PageBox {
  left: number;
  top: number;
  width: number;
  height: number;
}
const boxes = shallowRef<readonly PageBox[]>([]);
function measure() {
  const element = container.value;
  if (!element) return;
  const { left, top } = element.getBoundingClientRect();
  boxes.value = [...element.querySelectorAll('.page')].map((one) => {
    const box = one.getBoundingClientRect();
    return {
      left: box.left - left + element.scrollLeft,
      top: box.top - top + element.scrollTop,
      width: box.width,
      height: box.height,
    };
  });
}
function onPage({ page: number, x, y }: Point) {
  const box = boxes.value[number - 1];
  return box
    ? { left: `${box.left + x * box.width}px`, top: `${box.top + y * box.height}px` }
    : null;
}
function pointAt(event: MouseEvent) {
  const target = event.target as HTMLElement;
  const element = target.closest<HTMLElement>('.page');
  // Whoever selects words or follows a link points at nothing.
  if (!pointing || !element || target.closest('a') || !getSelection()?.isCollapsed) return;
  const box = element.getBoundingClientRect();
  pending.value = {
    page: Number(element.dataset.pageNumber),
    x: (event.clientX - box.left) / box.width,
    y: (event.clientY - box.top) / box.height,
  };
}

// How large. Fitted to the width, and on a wide screen not wider than is good to read, until somebody chooses.
const WIDEST = 900;
const scale = ref(1);
const fitted = ref(true);
const percent = computed(() => Math.round(scale.value * 100));
function fit() {
  const element = container.value;
  if (!viewer || !element || !pdf.value) return;
  fitted.value = true;
  viewer.currentScaleValue = 'page-width';
  const natural = viewer.getPageView(0)?.viewport;
  const room = Math.min(WIDEST, element.clientWidth - 24);
  if (natural) viewer.currentScale = (viewer.currentScale * room) / natural.width;
}
function resize(larger: boolean) {
  fitted.value = false;
  if (larger) viewer?.increaseScale();
  else viewer?.decreaseScale();
}
useResizeObserver(container, () => {
  if (fitted.value && viewer?.pagesCount) fit();
  measure();
});
function onWheel(event: WheelEvent) {
  if (!event.ctrlKey) return;
  event.preventDefault();
  resize(event.deltaY < 0);
}

// Search in the text.
interface Matches {
  current: number;
  total: number;
}
const searching = ref(false);
const words = ref('');
const matches = ref<Matches>({ current: 0, total: 0 });
const nothing = ref(false);
const field = useTemplateRef('field');
function find(type: '' | 'again', backwards = false) {
  bus.dispatch('find', {
    source: finder,
    type,
    query: words.value,
    caseSensitive: false,
    entireWord: false,
    highlightAll: true,
    findPrevious: backwards,
    matchDiacritics: false,
  });
}
watch(words, () => find(''));
async function search(open: boolean) {
  searching.value = open;
  if (!open) {
    words.value = '';
    bus.dispatch('findbarclose', { source: finder });
    container.value?.focus();
    return;
  }
  await nextTick();
  field.value?.select();
}
function onKey(event: KeyboardEvent) {
  if ((event.ctrlKey || event.metaKey) && event.key === 'f') {
    event.preventDefault();
    void search(true);
  }
}
onMounted(() => window.addEventListener('keydown', onKey));

function go(number: number) {
  if (viewer && number >= 1 && number <= count.value) viewer.currentPageNumber = number;
}
function typePage(event: Event) {
  const input = event.target as HTMLInputElement;
  go(Number(input.value));
  input.value = String(page.value);
}

/** Pages drawn for the printer so far; null while nothing is printed. */
const printing = ref<number | null>(null);
let giveUp = new AbortController();
async function print() {
  if (!pdf.value) return;
  giveUp = new AbortController();
  printing.value = 0;
  try {
    await printPages(pdf.value, (drawn) => (printing.value = drawn), giveUp.signal);
  } catch (error) {
    if (!giveUp.signal.aborted) throw error;
  } finally {
    printing.value = null;
  }
}

onBeforeUnmount(() => {
  window.removeEventListener('keydown', onKey);
  giveUp.abort();
  viewer?.cleanup();
  void loading.destroy();
});

const BUTTON =
  'grid size-9 shrink-0 place-items-center rounded-edge hover:bg-mark disabled:opacity-40 pointer-coarse:size-11';
</script>

<template>
  <div class="flex min-h-0 flex-1 flex-col">
    <p v-if="fault" role="alert" class="mx-auto max-w-md px-6 py-20 text-center">
      {{ t(`viewer.${fault}`) }}
    </p>
    <template v-else>
      <div
        class="flex min-h-11 items-center gap-0.5 border-b border-line bg-sheet px-2 sm:px-6 print:hidden"
        role="toolbar"
        :aria-label="t('viewer.tools')"
      >
        <button
          v-if="count > 1"
          :class="[BUTTON, listing ? 'bg-mark' : '']"
          :aria-pressed="listing"
          :title="t('viewer.pages')"
          @click="listing = !listing"
        >
          <PanelLeft :size="18" aria-hidden="true" /><span class="sr-only">{{
            t('viewer.pages')
          }}</span>
        </button>
        <label class="mr-auto flex items-center gap-1.5 px-1 text-meta whitespace-nowrap text-soft">
          <span class="hidden sm:inline">{{ t('viewer.page-word') }}</span>
          <input
            class="h-8 w-12 rounded-edge border border-line bg-raised text-center font-code text-[13px] text-ink pointer-coarse:h-10"
            inputmode="numeric"
            :aria-label="t('viewer.page-word')"
            :value="page"
            :disabled="count < 2"
            @change="typePage"
          />
          <span>{{ t('viewer.of', { count: count || '…' }) }}</span>
        </label>
        <button :class="BUTTON" :title="t('viewer.smaller')" @click="resize(false)">
          <ZoomOut :size="18" aria-hidden="true" /><span class="sr-only">{{
            t('viewer.smaller')
          }}</span>
        </button>
        <span class="hidden w-12 text-center font-code text-[13px] sm:inline">{{ percent }} %</span>
        <button :class="BUTTON" :title="t('viewer.larger')" @click="resize(true)">
          <ZoomIn :size="18" aria-hidden="true" /><span class="sr-only">{{
            t('viewer.larger')
          }}</span>
        </button>
        <button :class="BUTTON" :aria-pressed="fitted" :title="t('viewer.fit')" @click="fit">
          <MoveHorizontal :size="18" aria-hidden="true" /><span class="sr-only">{{
            t('viewer.fit')
          }}</span>
        </button>
        <button
          :class="[BUTTON, searching ? 'bg-mark' : '']"
          :aria-pressed="searching"
          :title="t('viewer.search')"
          @click="search(!searching)"
        >
          <Search :size="18" aria-hidden="true" /><span class="sr-only">{{
            t('viewer.search')
          }}</span>
        </button>
        <button
          :class="[BUTTON, 'hidden sm:grid']"
          :disabled="!pdf || printing !== null"
          :title="t('viewer.print')"
          @click="print"
        >
          <Printer :size="18" aria-hidden="true" /><span class="sr-only">{{
            t('viewer.print')
          }}</span>
        </button>
      </div>
      <form
        v-if="searching"
        class="flex items-center gap-1 border-b border-line bg-sheet px-2 py-1 sm:px-6 print:hidden"
        role="search"
        @submit.prevent="find('again')"
        @keydown.esc.stop="search(false)"
      >
        <input
          ref="field"
          v-model="words"
          type="search"
          class="h-9 w-full max-w-80 rounded-edge border border-line bg-raised px-2.5 text-[15px] pointer-coarse:h-11"
          :placeholder="t('viewer.search-words')"
          :aria-label="t('viewer.search-words')"
        />
        <p class="min-w-24 px-1 text-meta text-soft" role="status">
          {{
            words === ''
              ? ''
              : nothing
                ? t('viewer.not-found')
                : t('viewer.matches', { current: matches.current, total: matches.total })
          }}
        </p>
        <button type="button" :class="BUTTON" @click="find('again', true)">
          <ChevronUp :size="18" aria-hidden="true" /><span class="sr-only">{{
            t('viewer.match-before')
          }}</span>
        </button>
        <button type="submit" :class="BUTTON">
          <ChevronDown :size="18" aria-hidden="true" /><span class="sr-only">{{
            t('viewer.match-after')
          }}</span>
        </button>
        <button type="button" :class="BUTTON" @click="search(false)">
          <X :size="18" aria-hidden="true" /><span class="sr-only">{{ t('common.close') }}</span>
        </button>
      </form>
      <p v-if="printing !== null" role="status" class="bg-sheet px-4 py-2 sm:px-8 print:hidden">
        {{ t('viewer.printing', { drawn: printing, count }) }}
        <button class="ml-3 font-semibold text-petrol underline" @click="giveUp.abort()">
          {{ t('common.cancel') }}
        </button>
      </p>
      <div class="flex min-h-0 flex-1 print:hidden">
        <PageList v-if="listing && pdf" :pdf="pdf" :page="page" :count="count" @go="go" />
        <div class="relative min-w-0 flex-1">
          <p v-if="!pdf" class="py-20 text-center text-soft">{{ t('common.loading') }}</p>
          <div
            ref="container"
            class="absolute inset-0 overflow-auto"
            tabindex="0"
            :aria-label="t('viewer.text')"
            role="region"
            :class="pointing ? 'cursor-crosshair' : ''"
            @wheel="onWheel"
            @click="pointAt"
          >
            <div class="pdfViewer" />
            <PageMarks
              v-if="marks.length > 0 || pending"
              :marks="marks"
              :pending="pending"
              :place="onPage"
              @choose="emit('choose', $event)"
              @move="pending = $event"
            />
          </div>
        </div>
      </div>
    </template>
  </div>
</template>
