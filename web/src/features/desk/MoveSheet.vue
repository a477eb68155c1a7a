<script setup lang="ts">
import type { Thing } from '@sammlung/contract';
import { ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import FolderChooser, { type Choosable } from '../../app/FolderChooser.vue';
import { say } from '../../app/shell/toast.ts';
import { useSubmit } from '../../app/submit.ts';
import AppButton from '../../ui/AppButton.vue';
import ModalSheet from '../../ui/ModalSheet.vue';

/** Moves a thing of the desk to another folder of it. */
const { thing, title } = defineProps<{ thing: Thing; title: string }>();
const emit = defineEmits<{ close: []; moved: [] }>();
const { t } = useI18n();
const chosen = ref<Choosable[]>([]);
const { fault, busy, tried } = useSubmit();

async function move() {
  const [to] = chosen.value;
  if (!to) return;
  const moved = await tried(async () => {
    const { from } = await api('POST /api/moves', {
      body: {
        things: [thing],
        to: to.id,
        before: null,
      },
    });
    emit('moved');
    say({
      text: t('desk.moved', { title, folder: to.title }),
      undo: async () => {
        await api('POST /api/moves/back', { body: { from } });
        emit('moved');
      },
    });
  });
  if (moved) emit('close');
}
</script>

<template>
  <ModalSheet :title="t('desk.move-title', { title })" @close="emit('close')">
    <div class="mt-4">
      <FolderChooser
        v-model="chosen"
        :refused="thing.kind === 'folder' ? [thing.id] : []"
        @choose="move"
      />
    </div>
    <p role="alert" class="mt-2 text-meta font-medium text-brick-ink empty:hidden">{{ fault }}</p>
    <AppButton class="mt-4" :disabled="busy" @click="emit('close')">{{
      t('common.cancel')
    }}</AppButton>
  </ModalSheet>
</template>
