<script setup lang="ts">
import type { Point } from '@sammlung/contract';
import type { VNode } from 'vue';
import { useI18n } from 'vue-i18n';
import type { Mark } from '../remark/remarks.ts';

/** Numbered points on pages, and the one that is being set, which moves by the arrow keys. `place` says where a point is drawn. */
const { marks, pending, place } = defineProps<{
  marks: readonly Mark[];
  pending: Point | null;
  /** The position of a point, for its style; null while its page is not there. */
  place: (point: Point) => { left: string; top: string } | null;
}>();
const emit = defineEmits<{ choose: [id: string]; move: [point: Point] }>();
const { t } = useI18n();
const STEP = 0.02;
function onKey(event: KeyboardEvent) {
  const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[
    event.key
  ];
  if (!by || !pending) return;
  event.preventDefault();
  event.stopPropagation();
  const within = (n: number) => Math.min(1, Math.max(0, n));
  const [x, y] = [pending.x + by[0]! * STEP, pending.y + by[1]! * STEP];
  emit('move', { ...pending, x: within(x), y: within(y) });
}
const MARK =
  'absolute z-10 grid size-6 -translate-x-1/2 -translate-y-1/2 place-items-center rounded-[4px] bg-brick text-[13px] font-semibold text-white shadow';
</script>

<template>
  <template v-for="mark in marks" :key="mark.id">
    <button
      v-if="place(mark.point)"
      type="button"
      :class="[MARK, 'hover:brightness-115']"
      :style="place(mark.point)!"
      :aria-label="t('remark.mark', { number: mark.number })"
      @click.stop="emit('choose', mark.id)"
    >
      {{ mark.number }}
    </button>
  </template>
  <button
    v-if="pending && place(pending)"
    type="button"
    :class="[MARK, 'outline-2 outline-offset-2 outline-saffron']"
    :style="place(pending)!"
    :aria-label="t('remark.new-mark')"
    @vue:mounted="({ el }: VNode) => (el as HTMLElement).focus({ preventScroll: true })"
    @click.stop
    @keydown="onKey"
  >
    {{ marks.length + 1 }}
  </button>
</template>
