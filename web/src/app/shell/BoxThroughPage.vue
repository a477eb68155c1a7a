<script setup lang="ts">
import { computed } from 'vue';
import { useRoute } from 'vue-router';
import GoingThrough from '../../features/box/GoingThrough.vue';

/** A hand-in box as a teacher has it: the places of all, one after the other. Without what only students need. */
const route = useRoute();
const boxId = computed(() => String(route.params.box));
</script>

<template>
  <GoingThrough :key="boxId" :box-id="boxId" />
</template>
