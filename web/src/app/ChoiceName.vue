<script setup lang="ts">
import type { AudienceChoice } from '@sammlung/contract';
import IndexTab from './IndexTab.vue';

/** An audience that can be chosen: its tab, or its name, and what it is. */
defineProps<{ choice: AudienceChoice; about: string }>();
</script>

<template>
  <IndexTab
    v-if="choice.kind !== 'person' && choice.kind !== 'course'"
    :tab="{ ...choice, state: 'out', from: null }"
    plain
  />
  <span v-else class="font-medium">{{ choice.label }}</span>
  <span class="text-meta text-soft">{{ about }}</span>
</template>
