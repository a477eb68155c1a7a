<script setup lang="ts">
import { computed } from 'vue';

/** The words of an entry, with web addresses in them as links. */
const { text } = defineProps<{ text: string }>();
/** What ends a sentence is not of the address before it. */
const ADDRESS = /(https?:\/\/[^\s<>"]*[^\s<>".,;:!?)])/u;
const pieces = computed(() => text.split(ADDRESS));
</script>

<template>
  <p class="max-w-prose wrap-anywhere whitespace-pre-line">
    <template v-for="(piece, n) in pieces" :key="n">
      <a
        v-if="n % 2 === 1"
        :href="piece"
        target="_blank"
        rel="noopener noreferrer"
        class="text-petrol underline underline-offset-2"
        >{{ piece }}</a
      >
      <template v-else>{{ piece }}</template>
    </template>
  </p>
</template>
