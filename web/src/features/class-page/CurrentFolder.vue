<script setup lang="ts">
import type { EditedPage } from '@sammlung/contract';
import { ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import FolderChooser, { type Choosable } from '../../app/FolderChooser.vue';
import AppButton from '../../ui/AppButton.vue';
import ModalSheet from '../../ui/ModalSheet.vue';
import type { useEditedPage } from './entries.ts';

/** Where today's things of the class go: set with one action, once it is proposed. */
const { page, act } = defineProps<{
  page: EditedPage;
  act: ReturnType<typeof useEditedPage>['act'];
}>();
const { t } = useI18n();
const choosing = ref(false);
const chosen = ref<Choosable[]>([]);

function set(folder: Choosable) {
  choosing.value = false;
  const put = (currentFolderId: string | null) =>
    api('PATCH /api/class-pages/:class', { params: { class: page.id }, body: { currentFolderId } });
  const before = page.currentFolder?.id ?? null;
  return act(t('entry.current.set', { title: folder.title }), async () => {
    await put(folder.id);
    return () => put(before);
  });
}
</script>

<template>
  <p class="flex flex-wrap items-center gap-x-3 gap-y-1 text-[15px]">
    <span class="text-soft">{{ t('entry.current.label') }}</span>
    <strong v-if="page.currentFolder">{{ page.currentFolder.title }}</strong>
    <AppButton v-else-if="page.proposedFolder" @click="set(page.proposedFolder)">{{
      t('entry.current.take', { title: page.proposedFolder.title })
    }}</AppButton>
    <button
      type="button"
      class="min-h-9 font-semibold text-petrol hover:underline pointer-coarse:min-h-11"
      @click="choosing = true"
    >
      {{ t(page.currentFolder ? 'entry.current.other' : 'entry.current.choose') }}
    </button>
    <ModalSheet v-if="choosing" :title="t('entry.current.title')" @close="choosing = false">
      <FolderChooser v-model="chosen" class="mt-4" @choose="set" />
    </ModalSheet>
  </p>
</template>
