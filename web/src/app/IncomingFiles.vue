<script setup lang="ts">
import AudienceReach from '../features/audience/AudienceReach.vue';
import UploadPanel from '../features/intake/UploadPanel.vue';
</script>

<template>
  <UploadPanel>
    <template #reach="{ folder }"><AudienceReach :folder="folder" now /></template>
  </UploadPanel>
</template>
