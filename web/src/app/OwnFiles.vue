<script setup lang="ts">
import UploadPanel from '../features/intake/UploadPanel.vue';
</script>

<template>
  <UploadPanel><template #reach /></UploadPanel>
</template>
