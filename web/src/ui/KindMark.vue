<script setup lang="ts">
import { computed } from 'vue';

/** A small sheet with the kind of a file on it; a folder is a divider card in its colour, with its picture. */
const {
  extension = '',
  kind,
  mark = null,
  colour = null,
  large = false,
} = defineProps<{
  kind: 'file' | 'link' | 'page' | 'folder';
  extension?: string;
  mark?: string | null;
  colour?: string | null;
  large?: boolean;
}>();

const letters = computed(() => {
  if (kind === 'link') return 'WEB';
  if (kind === 'page') return 'TXT';
  return extension.slice(0, 4).toUpperCase();
});
</script>

<template>
  <span
    v-if="kind === 'folder'"
    class="folder relative grid shrink-0 place-items-center font-mark"
    :class="large ? 'h-9 w-10 text-lg' : 'h-6 w-7 text-[13px]'"
    :style="colour ? { '--card': `var(--${colour})` } : {}"
    aria-hidden="true"
    >{{ mark }}</span
  >
  <span
    v-else
    class="grid shrink-0 place-items-center rounded-[3px] bg-mark font-code font-bold text-mark-ink"
    :class="large ? 'h-12 w-10 border border-line text-[11px]' : 'h-7 w-[26px] text-[9px]'"
    aria-hidden="true"
    >{{ letters }}</span
  >
</template>

<style scoped>
.folder {
  --card: var(--petrol);
  isolation: isolate;
}
.folder::before {
  content: '';
  position: absolute;
  inset: 0;
  z-index: -1;
  background: color-mix(in oklab, var(--card), var(--sheet) 80%);
  border: 1px solid color-mix(in oklab, var(--card), transparent 60%);
  clip-path: polygon(0 16%, 50% 16%, 58% 0, 100% 0, 100% 100%, 0 100%);
  border-radius: 2px;
}
</style>
