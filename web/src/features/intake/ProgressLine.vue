<script setup lang="ts">
/** How far something is, as a line; `share` is 0 to 1. */
defineProps<{ share: number; label: string }>();
</script>

<template>
  <progress class="block h-[3px] w-full" :value="share" max="1" :aria-label="label" />
</template>

<style scoped>
/* Browsers have a colour of their own for it. */
progress {
  appearance: none;
  overflow: hidden;
  background: var(--mark);
}
progress::-webkit-progress-bar {
  background: var(--mark);
}
progress::-webkit-progress-value {
  background: var(--action);
}
progress::-moz-progress-bar {
  background: var(--action);
}
</style>
