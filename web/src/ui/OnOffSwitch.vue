<script setup lang="ts">
import { Switch } from '@headlessui/vue';

/** Something that is on or off at once. */
defineProps<{ label: string }>();
const on = defineModel<boolean>({ required: true });
</script>

<template>
  <Switch
    v-model="on"
    class="relative h-5 w-9 shrink-0 rounded-full transition-colors duration-100 pointer-coarse:before:absolute pointer-coarse:before:-inset-3"
    :class="on ? 'bg-action' : 'bg-[#8d8674]'"
  >
    <span class="sr-only">{{ label }}</span>
    <span
      class="absolute top-0.5 left-0.5 size-4 rounded-full bg-white transition-transform duration-100"
      :class="{ 'translate-x-4': on }"
    />
  </Switch>
</template>
