<script setup lang="ts">
import { RouterLink, type RouteLocationRaw } from 'vue-router';

/** Where the row of an item leads: to the item in place, or for a web link to its address in a tab of its own. */
defineProps<{
  kind: 'file' | 'link' | 'page' | 'folder';
  url?: string | null;
  to: RouteLocationRaw;
}>();
</script>

<template>
  <a v-if="kind === 'link'" data-row :href="url ?? ''" target="_blank" rel="noopener noreferrer">
    <slot />
  </a>
  <RouterLink v-else data-row :to="to"><slot /></RouterLink>
</template>
