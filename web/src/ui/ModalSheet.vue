<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue';
import { useReturnFocus } from './returnFocus.ts';

/** A sheet over the page with one matter on it. `close` is asked for by Escape or a click beside it. */
defineProps<{ title: string }>();
const emit = defineEmits<{ close: [] }>();
useReturnFocus();
</script>

<template>
  <Dialog open class="relative z-50" @close="emit('close')">
    <div class="fixed inset-0 bg-[#0b1718]/55" aria-hidden="true" />
    <div class="fixed inset-0 flex items-start justify-center overflow-y-auto p-4 pt-[12vh]">
      <DialogPanel
        class="w-full max-w-lg rounded-lg border border-line bg-sheet p-7 text-ink shadow-2xl"
      >
        <DialogTitle as="h2" class="text-[22px]">{{ title }}</DialogTitle>
        <slot />
      </DialogPanel>
    </div>
  </Dialog>
</template>
