<script setup lang="ts">
import DeskView from '../../features/desk/DeskView.vue';
import ArrivingFiles from '../../features/intake/ArrivingFiles.vue';

/** The desk with the files that are on their way to it. */
</script>

<template>
  <DeskView>
    <template #arriving="{ folder }"><ArrivingFiles class="mt-4" :folder="folder" /></template>
  </DeskView>
</template>
