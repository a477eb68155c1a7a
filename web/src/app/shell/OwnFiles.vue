<script setup lang="ts">
import UploadBar from '../../features/intake/UploadBar.vue';
</script>

<template>
  <UploadBar><template #reach /></UploadBar>
</template>
