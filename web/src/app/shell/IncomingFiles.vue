<script setup lang="ts">
import AudienceReach from '../../features/audience/AudienceReach.vue';
import UploadBar from '../../features/intake/UploadBar.vue';
</script>

<template>
  <UploadBar>
    <template #reach="{ folder }"><AudienceReach :folder="folder" now /></template>
  </UploadBar>
</template>
