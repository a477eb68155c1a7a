<script setup lang="ts">
import { computed, defineAsyncComponent } from 'vue';
import { useRoute } from 'vue-router';
import ArrivingFiles from '../../features/intake/ArrivingFiles.vue';
import PlaceView from '../../features/box/PlaceView.vue';

/** A hand-in box as a student has it: their place in it, or something there. */
const OwnThing = defineAsyncComponent(() => import('../../features/box/OwnThing.vue'));
const route = useRoute();
const boxId = computed(() => String(route.params.box));
const placementId = computed(() => String(route.params.place ?? ''));
</script>

<template>
  <OwnThing v-if="placementId" :key="placementId" :box-id="boxId" :placement-id="placementId" />
  <PlaceView v-else :key="boxId" :box-id="boxId">
    <template #arriving="{ folder }"><ArrivingFiles class="mt-4" :folder="folder" /></template>
  </PlaceView>
</template>
