<script setup lang="ts">
import AudiencePanel from '../features/audience/AudiencePanel.vue';
import AudienceReach from '../features/audience/AudienceReach.vue';
import LibraryView from '../features/library/LibraryView.vue';
</script>

<template>
  <LibraryView>
    <template #beside="{ folder }"><AudiencePanel :key="folder.id" :folder="folder" /></template>
    <template #reach="{ folder }"><AudienceReach :folder="folder.id" /></template>
  </LibraryView>
</template>
