<script setup lang="ts">
import type { CoverNote } from '@sammlung/contract';
import { ref, watch } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import NoteFields from '../../app/NoteFields.vue';
import { say } from '../../app/shell/toast.ts';
import { useSubmit } from '../../app/submit.ts';
import AppButton from '../../ui/AppButton.vue';

/** A cover note to just those who have not opened a thing, or not in its newest version. */
const { placement, classId, to } = defineProps<{
  placement: string;
  classId: string | null;
  to: 'unopened' | 'not-newest';
}>();
const emit = defineEmits<{ close: [] }>();
const { t } = useI18n();
const note = ref<CoverNote | null>({ body: '', copyToSender: false });
watch(note, (now) => now || emit('close'));
const { busy, fault, tried } = useSubmit();
const send = () =>
  tried(async () => {
    const { people } = await api('POST /api/placements/:placement/reach/notes', {
      params: { placement },
      query: { class: classId ?? undefined },
      body: { ...note.value!, to },
    });
    say({ text: t('note.on-its-way', people) });
    emit('close');
  });
</script>

<template>
  <form class="rounded-edge border border-line bg-paper p-4" @submit.prevent="send">
    <NoteFields v-model="note" />
    <p v-if="fault" class="mt-2 text-brick-ink" role="alert">{{ fault }}</p>
    <AppButton class="mt-2" tone="main" type="submit" :disabled="busy">{{
      t('note.send')
    }}</AppButton>
  </form>
</template>
