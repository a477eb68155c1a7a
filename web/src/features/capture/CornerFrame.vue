<script setup lang="ts">
import { isSheet, type Corners } from '@sammlung/core';
import { useElementSize } from '@vueuse/core';
import { computed, ref, shallowRef, useTemplateRef, watch } from 'vue';
import { useI18n } from 'vue-i18n';

/** A photograph with the corners of what its page shows, which can be moved by finger, mouse or arrow keys. */
const { address, corners } = defineProps<{ address: string; corners: Corners }>();
const emit = defineEmits<{ set: [corners: Corners] }>();
const { t } = useI18n();

const stage = useTemplateRef<HTMLElement>('stage');
const { width, height } = useElementSize(stage);
const picture = ref({ width: 4, height: 3 });
/** The photograph as large as there is room for it; handles at its edge need some. */
const size = computed(() => {
  const by = Math.min(
    (width.value - ROOM) / picture.value.width,
    (height.value - ROOM) / picture.value.height,
  );
  return { width: picture.value.width * by, height: picture.value.height * by };
});
const ROOM = 28;
function loaded(event: Event) {
  const { naturalWidth, naturalHeight } = event.target as HTMLImageElement;
  picture.value = { width: naturalWidth, height: naturalHeight };
}

/** As they are moved, before it is settled. */
const moved = shallowRef<Corners>(corners);
watch(
  () => corners,
  (now) => (moved.value = now),
);
const good = computed(() => isSheet(moved.value));
const outline = computed(() =>
  moved.value.map(({ x, y }) => `${x * size.value.width},${y * size.value.height}`).join(' '),
);
const part = (value: number) => Math.min(1, Math.max(0, value));
function move(n: number, x: number, y: number) {
  const next = [...moved.value];
  next[n] = { x: part(x), y: part(y) };
  moved.value = next as unknown as Corners;
}
const settle = () => {
  if (good.value) emit('set', moved.value);
  else moved.value = corners;
};

const frame = useTemplateRef<HTMLElement>('frame');
function drag(n: number, event: PointerEvent) {
  const handle = event.currentTarget as HTMLElement;
  if (!handle.hasPointerCapture(event.pointerId)) return;
  const { left, top, width: across, height: down } = frame.value!.getBoundingClientRect();
  move(n, (event.clientX - left) / across, (event.clientY - top) / down);
}
const STEPS: Record<string, readonly [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};
function press(n: number, event: KeyboardEvent) {
  const step = STEPS[event.key];
  if (!step) return;
  event.preventDefault();
  const by = event.shiftKey ? 0.002 : 0.01;
  const { x, y } = moved.value[n]!;
  move(n, x + step[0] * by, y + step[1] * by);
}
const NAMES = ['upper-left', 'upper-right', 'lower-right', 'lower-left'] as const;
</script>

<template>
  <div ref="stage" class="grid h-full w-full place-items-center overflow-hidden">
    <div
      ref="frame"
      class="relative touch-none"
      :style="{ width: `${size.width}px`, height: `${size.height}px` }"
    >
      <img :src="address" alt="" class="size-full select-none" draggable="false" @load="loaded" />
      <svg
        class="pointer-events-none absolute inset-0 size-full overflow-visible"
        aria-hidden="true"
      >
        <polygon
          :points="outline"
          class="fill-saffron/15"
          :class="good ? 'stroke-saffron' : 'stroke-brick'"
          stroke-width="3"
        />
      </svg>
      <button
        v-for="(corner, n) in moved"
        :key="n"
        type="button"
        class="absolute grid size-11 -translate-1/2 cursor-move place-items-center rounded-full"
        :style="{ left: `${corner.x * 100}%`, top: `${corner.y * 100}%` }"
        :aria-label="t(`capture.corner.${NAMES[n]}`)"
        @pointerdown="($event.currentTarget as HTMLElement).setPointerCapture($event.pointerId)"
        @pointermove="drag(n, $event)"
        @pointerup="settle"
        @pointercancel="settle"
        @keydown="press(n, $event)"
        @keyup="settle"
      >
        <span
          class="size-5 rounded-full border-[3px] bg-white"
          :class="good ? 'border-saffron' : 'border-brick'"
          aria-hidden="true"
        />
      </button>
    </div>
  </div>
</template>
