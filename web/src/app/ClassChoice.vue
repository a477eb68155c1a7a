<script setup lang="ts">
import type { Colour } from '@sammlung/contract';

/** Which of the classes are meant: any number of them. */
defineProps<{
  label: string;
  classes: readonly { id: string; code: string; colour: Colour }[];
}>();
const chosen = defineModel<string[]>({ required: true });
</script>

<template>
  <fieldset>
    <legend class="text-meta text-soft">{{ label }}</legend>
    <div class="mt-1 flex flex-wrap gap-x-4">
      <label
        v-for="one in classes"
        :key="one.id"
        class="flex min-h-10 items-center gap-2 font-code text-[14px] font-semibold pointer-coarse:min-h-11"
      >
        <input v-model="chosen" type="checkbox" :value="one.id" class="size-5 accent-(--action)" />
        <span
          class="rounded-[4px] px-2 py-0.5 text-white"
          :style="{ background: `var(--${one.colour})` }"
          >{{ one.code }}</span
        >
      </label>
    </div>
  </fieldset>
</template>
