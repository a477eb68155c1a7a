<script setup lang="ts">
import type { Door, Thing } from '@sammlung/contract';
import { defineAsyncComponent, ref } from 'vue';
import AudiencePanel from '../features/audience/AudiencePanel.vue';
import AudienceReach from '../features/audience/AudienceReach.vue';
import ReleaseNext from '../features/release/ReleaseNext.vue';
import LibraryView from '../features/library/LibraryView.vue';

/** The Library with what stands around it: who sees a folder, handing out, and when something is seen. */
const HandOutSheet = defineAsyncComponent(() => import('../features/audience/HandOutSheet.vue'));
const TimingSheet = defineAsyncComponent(() => import('../features/release/TimingSheet.vue'));
const handing = ref<{ things: readonly Thing[]; title: string } | null>(null);
const timing = ref<{ thing: Thing; title: string } | null>(null);
const WhySheet = defineAsyncComponent(() => import('../features/why/WhySheet.vue'));
const DoorSheet = defineAsyncComponent(() => import('../features/door/DoorSheet.vue'));
const asked = ref<{ thing: Thing; title: string } | null>(null);
const door = ref<{ door: Door; title: string } | null>(null);
const asThing = ({ id }: { id: string }): Thing => ({ kind: 'folder', id });
</script>

<template>
  <LibraryView
    @hand-out="(things, title) => (handing = { things, title })"
    @timing="(thing, title) => (timing = { thing, title })"
    @why="(thing, title) => (asked = { thing, title })"
  >
    <template #beside="{ folder }">
      <AudiencePanel
        :key="folder.id"
        :folder="folder"
        @hand-out="handing = { things: [asThing(folder)], title: folder.title }"
        @why="asked = { thing: asThing(folder), title: folder.title }"
        @door="door = { door: $event, title: folder.title }"
        @timing="timing = { thing: asThing(folder), title: folder.title }"
      />
    </template>
    <template #tools="{ rows }"><ReleaseNext :rows="rows" /></template>
    <template #reach="{ folder }"><AudienceReach :folder="folder.id" /></template>
  </LibraryView>
  <HandOutSheet v-if="handing" v-bind="handing" @close="handing = null" />
  <WhySheet v-if="asked" v-bind="asked" @close="asked = null" />
  <DoorSheet v-if="door" v-bind="door" @close="door = null" />
  <TimingSheet v-if="timing" v-bind="timing" @close="timing = null" />
</template>
