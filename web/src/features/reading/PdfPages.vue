<script setup lang="ts">
import { useElementSize } from '@vueuse/core';
import { getDocument, GlobalWorkerOptions, TextLayer, type PDFDocumentProxy } from 'pdfjs-dist';
import workerAddress from 'pdfjs-dist/build/pdf.worker.min.mjs?url';
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

GlobalWorkerOptions.workerPort ??= new Worker(workerAddress, { type: 'module' });

/** All pages of a PDF below each other; a page is drawn when it comes near the screen, its text can be selected. */
const { address } = defineProps<{ address: string }>();
const { t } = useI18n();
const frame = useTemplateRef('frame');
const { width } = useElementSize(frame);
const pages = ref<{ width: number; height: number }[]>([]);
const fault = ref<'' | 'password' | 'broken'>('');
const document = shallowRef<PDFDocumentProxy | null>(null);
const loading = getDocument({
  url: address,
  isEvalSupported: false,
  disableAutoFetch: true,
  rangeChunkSize: 1 << 18,
});
const pageWidth = computed(() => Math.min(900, Math.max(200, width.value - 32)));
const drawn = new Map<number, number>();
let watcher: IntersectionObserver | null = null;

onMounted(async () => {
  try {
    const opened = await loading.promise;
    const first = await opened.getPage(1);
    const { width: w, height: h } = first.getViewport({ scale: 1 });
    pages.value = Array.from({ length: opened.numPages }, () => ({ width: w, height: h }));
    document.value = opened;
  } catch (error) {
    const name = error instanceof Error ? error.name : '';
    if (name === 'PasswordException') fault.value = 'password';
    else if (loading.destroyed) return;
    else fault.value = 'broken';
  }
});

watch([document, pageWidth], async () => {
  if (!document.value) return;
  await nextTick();
  drawn.clear();
  watcher?.disconnect();
  watcher = new IntersectionObserver(
    (entries) => {
      for (const entry of entries)
        if (entry.isIntersecting)
          void draw(
            entry.target as HTMLElement,
            Number((entry.target as HTMLElement).dataset.page),
          );
    },
    { rootMargin: '600px' },
  );
  for (const element of frame.value?.querySelectorAll('[data-page]') ?? [])
    watcher.observe(element);
});

async function draw(element: HTMLElement, number: number) {
  const wide = pageWidth.value;
  if (drawn.get(number) === wide || !document.value) return;
  drawn.set(number, wide);
  const page = await document.value.getPage(number);
  const natural = page.getViewport({ scale: 1 });
  pages.value[number - 1] = { width: natural.width, height: natural.height };
  const viewport = page.getViewport({ scale: wide / natural.width });
  const canvas = element.querySelector('canvas')!;
  const ratio = Math.min(2, window.devicePixelRatio || 1);
  canvas.width = Math.floor(viewport.width * ratio);
  canvas.height = Math.floor(viewport.height * ratio);
  await page.render({ canvas, viewport, transform: [ratio, 0, 0, ratio, 0, 0] }).promise;
  const layer = element.querySelector<HTMLElement>('.text-layer')!;
  layer.replaceChildren();
  layer.style.setProperty('--total-scale-factor', String(viewport.scale));
  await new TextLayer({
    textContentSource: page.streamTextContent(),
    container: layer,
    viewport,
  }).render();
}

onBeforeUnmount(() => {
  watcher?.disconnect();
  void loading.destroy();
});
</script>

<template>
  <div ref="frame" class="w-full flex-1 py-5">
    <p v-if="fault" role="alert" class="mx-auto max-w-md px-6 py-20 text-center">
      {{ t(`viewer.${fault}`) }}
    </p>
    <p v-else-if="pages.length === 0" class="py-20 text-center text-soft">
      {{ t('common.loading') }}
    </p>
    <section
      v-for="(page, n) in pages"
      :key="n"
      :data-page="n + 1"
      class="relative mx-auto mb-5 bg-white shadow-md"
      :style="{ width: `${pageWidth}px`, height: `${(pageWidth * page.height) / page.width}px` }"
      :aria-label="t('viewer.page', { number: n + 1, count: pages.length })"
    >
      <canvas class="absolute inset-0 size-full" />
      <div class="text-layer" />
    </section>
  </div>
</template>

<style scoped>
.text-layer {
  position: absolute;
  inset: 0;
  overflow: clip;
  line-height: 1;
  text-align: initial;
  transform-origin: 0 0;
}
.text-layer :deep(span),
.text-layer :deep(br) {
  position: absolute;
  white-space: pre;
  color: transparent;
  transform-origin: 0 0;
  cursor: text;
  font-size: calc(var(--font-height, 10px) * var(--total-scale-factor, 1));
  transform: rotate(var(--rotate, 0deg)) scaleX(var(--scale-x, 1));
}
.text-layer :deep(::selection) {
  background: rgb(227 163 47 / 0.4);
}
</style>

<style>
/* pdf.js measures letters on a canvas of its own, at the end of the page. */
.hiddenCanvasElement {
  display: none;
}
</style>
