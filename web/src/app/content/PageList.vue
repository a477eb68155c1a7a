<script setup lang="ts">
import type { PDFDocumentProxy } from 'pdfjs-dist';
import { nextTick, onBeforeUnmount, onMounted, useTemplateRef, watch } from 'vue';
import { useI18n } from 'vue-i18n';

/** All pages of a PDF in small; each is drawn when it comes near the screen. */
const { pdf, page, count } = defineProps<{ pdf: PDFDocumentProxy; page: number; count: number }>();
const emit = defineEmits<{ go: [page: number] }>();
const { t } = useI18n();
const WIDTH = 104;
const list = useTemplateRef('list');
const drawn = new Set<number>();
const coming = new IntersectionObserver(
  (entries) => {
    for (const { isIntersecting, target } of entries)
      if (isIntersecting) void draw(target as HTMLElement);
  },
  { rootMargin: '300px' },
);

async function draw(element: HTMLElement) {
  const number = Number(element.dataset.number);
  if (drawn.has(number)) return;
  drawn.add(number);
  const one = await pdf.getPage(number);
  const natural = one.getViewport({ scale: 1 });
  const ratio = Math.min(2, window.devicePixelRatio || 1);
  const viewport = one.getViewport({ scale: (WIDTH * ratio) / natural.width });
  const canvas = element.querySelector('canvas')!;
  canvas.width = Math.floor(viewport.width);
  canvas.height = Math.floor(viewport.height);
  await one.render({ canvas, viewport }).promise;
}

onMounted(() => {
  for (const element of list.value?.querySelectorAll('[data-number]') ?? [])
    coming.observe(element);
});
onBeforeUnmount(() => coming.disconnect());
watch(
  () => page,
  async () => {
    await nextTick();
    list.value?.querySelector('[aria-current]')?.scrollIntoView({ block: 'nearest' });
  },
  { immediate: true },
);
</script>

<template>
  <ol
    ref="list"
    class="flex w-[148px] shrink-0 flex-col items-center gap-3 overflow-y-auto border-r border-line bg-sheet py-3.5"
    :aria-label="t('viewer.pages')"
  >
    <li v-for="number in count" :key="number" :data-number="number">
      <button
        class="group flex flex-col items-center gap-0.5"
        :aria-current="number === page ? 'page' : undefined"
        @click="emit('go', number)"
      >
        <canvas
          class="block min-h-[120px] w-[104px] border-2 bg-white"
          :class="number === page ? 'border-petrol' : 'border-line group-hover:border-soft'"
        />
        <span class="font-code text-[13px]" :class="number === page ? 'font-bold' : 'text-soft'"
          ><span class="sr-only">{{ t('viewer.page-word') }} </span>{{ number }}</span
        >
      </button>
    </li>
  </ol>
</template>
