<script setup lang="ts">
import type { BoardFolder } from '@sammlung/contract';
import { defineAsyncComponent, shallowRef } from 'vue';
import BoardView from '../../features/board/BoardView.vue';

/** Who sees what, and handing out with dates and to several from there. */
const HandOutSheet = defineAsyncComponent(() => import('../../features/audience/HandOutSheet.vue'));
const handing = shallowRef<BoardFolder | null>(null);
</script>

<template>
  <BoardView @hand-out="handing = $event" />
  <HandOutSheet
    v-if="handing"
    :things="[{ kind: 'folder', id: handing.id }]"
    :title="handing.title"
    @close="handing = null"
  />
</template>
