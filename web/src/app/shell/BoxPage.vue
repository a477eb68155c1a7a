<script setup lang="ts">
import { computed, defineAsyncComponent } from 'vue';
import { useRoute } from 'vue-router';
import ArrivingFiles from '../../features/intake/ArrivingFiles.vue';
import PlaceView from '../../features/box/PlaceView.vue';
import { useSession } from '../session/session.ts';

/** A hand-in box: to a student their place in it, to a teacher the places of all, one after the other. */
const GoingThrough = defineAsyncComponent(() => import('../../features/box/GoingThrough.vue'));
const OwnThing = defineAsyncComponent(() => import('../../features/box/OwnThing.vue'));
const route = useRoute();
const session = useSession();
const boxId = computed(() => String(route.params.box));
/** For a student the second part of the address is something in their place, for a teacher the place of a student. */
const placementId = computed(() => String(route.params.place ?? ''));
</script>

<template>
  <OwnThing
    v-if="session.person?.kind === 'student' && placementId"
    :key="placementId"
    :box-id="boxId"
    :placement-id="placementId"
  />
  <PlaceView v-else-if="session.person?.kind === 'student'" :key="boxId" :box-id="boxId">
    <template #arriving="{ folder }"><ArrivingFiles class="mt-4" :folder="folder" /></template>
  </PlaceView>
  <GoingThrough v-else :key="`through ${boxId}`" :box-id="boxId" />
</template>
