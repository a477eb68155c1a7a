<script setup lang="ts">
import { onBeforeUnmount, onMounted, ref, useTemplateRef } from 'vue';

/** A part of a long list: drawn while it is near the screen, or has the focus, and else so much empty room. */
const { estimate = undefined, always = false } = defineProps<{
  /** How high it will be, in pixels: then it is drawn only once it is near the screen. */
  estimate?: number;
  /** Drawn wherever it is. */
  always?: boolean;
}>();
const near = ref(estimate === undefined);
const height = ref(estimate ?? 0);
const box = useTemplateRef('box');

onMounted(() => {
  const watching = new IntersectionObserver(
    (entries) => {
      const { boundingClientRect, isIntersecting, target } = entries.at(-1)!;
      if (near.value) height.value = boundingClientRect.height;
      near.value = isIntersecting || target.contains(document.activeElement);
    },
    { rootMargin: '1500px' },
  );
  watching.observe(box.value!);
  onBeforeUnmount(() => watching.disconnect());
});
</script>

<template>
  <div ref="box" :style="near || always ? {} : { height: `${height}px` }">
    <slot v-if="near || always" />
  </div>
</template>
