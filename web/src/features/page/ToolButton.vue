<script setup lang="ts">
import type { Component } from 'vue';

/** A sign to press among the tools; `pressed` where it tells whether something is on. */
defineProps<{
  sign: Component;
  label: string;
  pressed?: boolean | undefined;
  disabled?: boolean;
}>();
</script>

<template>
  <button
    type="button"
    class="grid size-9 place-items-center rounded-edge text-ink hover:bg-mark disabled:text-soft disabled:opacity-50 pointer-coarse:size-11"
    :class="{ 'bg-petrol-pale text-petrol!': pressed }"
    :aria-label="label"
    :title="label"
    :aria-pressed="pressed"
    :disabled="disabled"
  >
    <component :is="sign" :size="17" aria-hidden="true" />
  </button>
</template>
