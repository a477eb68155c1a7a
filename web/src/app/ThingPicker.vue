<script setup lang="ts">
import type { FindKind, Hit } from '@sammlung/contract';
import ModalSheet from '../ui/ModalSheet.vue';
import ThingField from './ThingField.vue';

/** Picks one folder or item that the person sees, over the page. */
defineProps<{
  title: string;
  /** Only things of this kind. */
  kind?: FindKind | undefined;
}>();
const emit = defineEmits<{ pick: [hit: Hit]; close: [] }>();
</script>

<template>
  <ModalSheet :title="title" @close="emit('close')">
    <div class="mt-4 min-h-40">
      <ThingField :label="title" :kind="kind" @pick="(hit) => emit('pick', hit)" />
    </div>
  </ModalSheet>
</template>
