<script setup lang="ts">
import type { Door, FolderView, Thing } from '@sammlung/contract';
import { useQueryCache } from '@pinia/colada';
import { useMediaQuery } from '@vueuse/core';
import { defineAsyncComponent, ref } from 'vue';
import { useI18n } from 'vue-i18n';
import AudienceLine from '../../features/audience/AudienceLine.vue';
import AudiencePanel from '../../features/audience/AudiencePanel.vue';
import AudienceReach from '../../features/audience/AudienceReach.vue';
import ArrivingFiles from '../../features/intake/ArrivingFiles.vue';
import LibraryView from '../../features/library/LibraryView.vue';
import LessonsHere from '../../features/tray/LessonsHere.vue';
import ReleaseNext from '../../features/release/ReleaseNext.vue';
import ModalSheet from '../../ui/ModalSheet.vue';
import { BOXES_KEY } from '../box/boxes.ts';

/**
 * The Library with what belongs around it: who sees a folder (beside it, or where there is no room in a line that opens the
 * same panel), handing out, and when something is seen.
 */
const HandOutSheet = defineAsyncComponent(() => import('../../features/audience/HandOutSheet.vue'));
const TimingSheet = defineAsyncComponent(() => import('../../features/release/TimingSheet.vue'));
const WhySheet = defineAsyncComponent(() => import('../../features/why/WhySheet.vue'));
const BoxForm = defineAsyncComponent(() => import('../box/BoxForm.vue'));
const DoorSheet = defineAsyncComponent(() => import('../door/DoorSheet.vue'));
const { t } = useI18n();
/** Whether there is room beside the list; tailwind's `lg`. */
const wide = useMediaQuery('(width >= 64rem)');

/** What is open over the page; one at a time. */
type Over =
  | { sheet: 'audience' }
  | { sheet: 'hand-out'; things: readonly Thing[]; title: string }
  | { sheet: 'timing' | 'why'; thing: Thing; title: string }
  | { sheet: 'door'; door: Door; title: string }
  | { sheet: 'box'; classIds: string[]; title: string };
const cache = useQueryCache();
const boxesChanged = () => cache.invalidateQueries({ key: BOXES_KEY });
const over = ref<Over | null>(null);
const close = () => (over.value = null);
const asThing = ({ id }: { id: string }): Thing => ({ kind: 'folder', id });
const panelOf = (folder: FolderView) => ({
  folder,
  onHandOut: () =>
    (over.value = { sheet: 'hand-out', things: [asThing(folder)], title: folder.title }),
  onWhy: () => (over.value = { sheet: 'why', thing: asThing(folder), title: folder.title }),
  onDoor: (door: Door) => (over.value = { sheet: 'door', door, title: folder.title }),
  onBox: (classIds: string[]) => (over.value = { sheet: 'box', classIds, title: folder.title }),
  onTiming: () => (over.value = { sheet: 'timing', thing: asThing(folder), title: folder.title }),
});
</script>

<template>
  <LibraryView
    :wide="wide"
    @hand-out="(things, title) => (over = { sheet: 'hand-out', things, title })"
    @timing="(thing, title) => (over = { sheet: 'timing', thing, title })"
    @why="(thing, title) => (over = { sheet: 'why', thing, title })"
  >
    <template #audience="{ folder, rows }">
      <aside
        v-if="wide"
        class="border-l border-line bg-[color-mix(in_oklab,var(--paper),var(--sheet)_55%)] px-5 py-5 md:px-6"
        aria-labelledby="audience-title"
      >
        <AudiencePanel :key="folder.id" v-bind="panelOf(folder)">
          <template #title>
            <h2 id="audience-title" class="text-[18px]">{{ t('audience.title') }}</h2>
          </template>
          <template #next><ReleaseNext :rows="rows" /></template>
        </AudiencePanel>
        <LessonsHere :key="folder.id" :folder="folder" />
      </aside>
      <template v-else>
        <AudienceLine :folder="folder" @open="over = { sheet: 'audience' }" />
        <ModalSheet v-if="over?.sheet === 'audience'" :title="t('audience.title')" @close="close">
          <AudiencePanel :key="folder.id" v-bind="panelOf(folder)">
            <template #next><ReleaseNext :rows="rows" /></template>
          </AudiencePanel>
          <LessonsHere :key="folder.id" :folder="folder" />
        </ModalSheet>
      </template>
    </template>
    <template #reach="{ folder }"><AudienceReach :folder="folder.id" /></template>
    <template #arriving="{ folder }"><ArrivingFiles :folder="folder.id" /></template>
  </LibraryView>
  <HandOutSheet
    v-if="over?.sheet === 'hand-out'"
    :things="over.things"
    :title="over.title"
    @close="close"
  />
  <WhySheet v-if="over?.sheet === 'why'" :thing="over.thing" :title="over.title" @close="close" />
  <DoorSheet v-if="over?.sheet === 'door'" :door="over.door" :title="over.title" @close="close" />
  <ModalSheet v-if="over?.sheet === 'box'" :title="t('taught-box.new')" @close="close">
    <BoxForm :classes="over.classIds" :name="over.title" bare @done="boxesChanged" @close="close" />
  </ModalSheet>
  <TimingSheet
    v-if="over?.sheet === 'timing'"
    :thing="over.thing"
    :title="over.title"
    @close="close"
  />
</template>
