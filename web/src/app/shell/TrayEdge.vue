<script setup lang="ts">
import { useEventListener } from '@vueuse/core';
import { Inbox } from 'lucide-vue-next';
import { ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { useRoute } from 'vue-router';
import { readDropped } from '../uploads/dropped.ts';
import { TRAY } from '../uploads/transfer.ts';
import { useUploads } from '../uploads/uploads.ts';

/** While files are dragged over the window, its upper edge is the tray, wherever somebody is: nothing else can be dropped there. */
const { t } = useI18n();
const route = useRoute();
const uploads = useUploads();
const dragging = ref(false);
const over = ref(false);
let quiet: ReturnType<typeof setTimeout> | undefined;
/** A drag that has left the window is heard of no more. Milliseconds. */
const GONE = 400;

function end() {
  clearTimeout(quiet);
  dragging.value = over.value = false;
}
useEventListener(
  window,
  'dragover',
  (event) => {
    if (!event.dataTransfer?.types.includes('Files') || route.name === 'today') return;
    dragging.value = true;
    clearTimeout(quiet);
    quiet = setTimeout(end, GONE);
  },
  { capture: true },
);
useEventListener(window, 'drop', end, { capture: true });

function drop(event: DragEvent) {
  const dropped = [...(event.dataTransfer?.items ?? [])];
  const folder = { id: TRAY, title: t('tray.name') };
  void readDropped(dropped).then(({ files }) =>
    uploads.add(files.map(({ file }) => ({ file, folder }))),
  );
}
</script>

<template>
  <div
    v-if="dragging"
    class="fixed inset-x-0 top-0 z-40 flex h-16 items-center justify-center gap-3 border-b-2 border-dashed text-[17px] font-semibold"
    :class="
      over ? 'border-saffron bg-action text-white' : 'border-petrol bg-petrol-pale text-petrol'
    "
    @dragenter.prevent="over = true"
    @dragover.prevent.stop="over = true"
    @dragleave="over = false"
    @drop.prevent.stop="drop"
  >
    <Inbox :size="22" aria-hidden="true" />{{ t('tray.edge') }}
  </div>
</template>
