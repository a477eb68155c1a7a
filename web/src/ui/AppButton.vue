<script setup lang="ts">
/** A button: `main` for the one next step, `quiet` for others, `warn` for what takes something away. */
const {
  tone = 'quiet',
  disabled = false,
  submits = false,
} = defineProps<{
  tone?: 'main' | 'quiet' | 'warn';
  disabled?: boolean;
  /** Sends the form it stands in. */
  submits?: boolean;
}>();

const TONES = {
  main: 'border-action bg-action text-white hover:brightness-115',
  quiet: 'border-line bg-raised text-ink hover:border-petrol hover:text-petrol',
  warn: 'border-brick bg-brick text-white hover:brightness-110',
};
</script>

<template>
  <button
    :type="submits ? 'submit' : 'button'"
    class="inline-flex min-h-9 items-center justify-center gap-2 rounded-edge border px-3.5 py-1.5 text-[15px] font-semibold whitespace-nowrap transition-colors duration-100 disabled:cursor-not-allowed disabled:opacity-60 pointer-coarse:min-h-11"
    :class="TONES[tone]"
    :disabled="disabled"
  >
    <slot />
  </button>
</template>
