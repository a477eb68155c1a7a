<script setup lang="ts">
import type { Colour } from '@sammlung/contract';
import { useId } from 'vue';
import { useI18n } from 'vue-i18n';

/** One of the eight colours of classes and courses. */
const colour = defineModel<Colour>({ required: true });
defineProps<{ label: string; colours: readonly Colour[] }>();
const { t } = useI18n();
const name = useId();
</script>

<template>
  <fieldset class="flex flex-wrap gap-1.5">
    <legend class="sr-only">{{ label }}</legend>
    <label
      v-for="one in colours"
      :key="one"
      class="grid size-8 cursor-pointer place-items-center rounded-edge has-focus-visible:outline-2 pointer-coarse:size-11"
      :class="colour === one ? 'ring-2 ring-petrol' : ''"
      :title="t(`colour.${one}`)"
    >
      <input v-model="colour" type="radio" class="sr-only" :name="name" :value="one" />
      <span
        class="size-6 rounded-[3px]"
        :style="{ background: `var(--${one})` }"
        aria-hidden="true"
      />
      <span class="sr-only">{{ t(`colour.${one}`) }}</span>
    </label>
  </fieldset>
</template>
