<script setup lang="ts">
import type { AudienceRow, Change, CoverNote, FolderView } from '@sammlung/contract';
import { computed, ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import { useChanging } from '../../app/changing.ts';
import { useChangePreview } from '../../app/change-preview.ts';
import { useHandingOut, type Terms } from '../../app/handing.ts';
import { backwards } from '../../app/span.ts';
import { say } from '../../app/shell/toast.ts';
import AppButton from '../../ui/AppButton.vue';
import NoteFields from '../../app/NoteFields.vue';
import { useAudienceWords } from './rows.ts';
import TermsFields from './TermsFields.vue';

/** Dates and level of a handing out, and a cover note that is sent after it. */
const { folder, row, here } = defineProps<{
  folder: FolderView;
  row: AudienceRow;
  here: NonNullable<AudienceRow['here']>;
}>();
const emit = defineEmits<{ done: [] }>();
const { t } = useI18n();
const { nameOf } = useAudienceWords();
const { attempt, consent } = useChanging();
const { changeTerms } = useHandingOut();

const { level, from, until } = here;
const terms = ref<Terms>({ level, from, until });
/** The same as a change; null while nothing is different, or cannot be. */
const change = computed((): Change | null => {
  const { level: is, from: since, until: till } = here;
  const same =
    JSON.stringify(terms.value) === JSON.stringify({ level: is, from: since, until: till });
  if (same || backwards(terms.value)) return null;
  return {
    do: 'hand-out',
    things: [{ kind: 'folder', id: folder.id }],
    audiences: [{ kind: row.kind, id: row.id }],
    ...terms.value,
  };
});
const { sentence } = useChangePreview(() => change.value);
async function save() {
  const asked = change.value;
  if (!asked) return;
  const done = await attempt(async () => {
    const consequence = await consent(asked, t('common.save'));
    if (consequence === null) return false;
    const undo = await changeTerms(here.id, terms.value);
    const saved = t('audience.terms.saved', { title: folder.title, name: nameOf(row) });
    say({ text: [saved, consequence].filter(Boolean).join('. '), undo });
    return true;
  });
  if (done) emit('done');
}

const note = ref<CoverNote | null>(null);
const sendNote = () =>
  attempt(async () => {
    if (!note.value) return false;
    const { people } = await api('POST /api/grants/:grant/notes', {
      params: { grant: here.id },
      body: note.value,
    });
    say({ text: t('note.on-its-way', people) });
    emit('done');
    return true;
  });
</script>

<template>
  <form
    class="mt-2 mb-1 rounded-lg border border-line bg-raised p-3"
    @submit.prevent="save"
    @keydown.esc="emit('done')"
  >
    <TermsFields v-model="terms" :levels="row.kind === 'staff' || row.kind === 'person'" />
    <p v-if="change" class="mt-3 text-meta text-soft" role="status">
      {{ sentence === '' ? t('consequence.none') : sentence }}
    </p>
    <div class="mt-3 flex gap-2">
      <AppButton tone="main" submits :disabled="!change">{{ t('common.save') }}</AppButton>
      <AppButton @click="emit('done')">{{ t('common.cancel') }}</AppButton>
    </div>
    <template v-if="row.kind !== 'school'">
      <AppButton
        v-if="note === null"
        class="mt-3"
        @click="note = { body: '', copyToSender: true }"
        >{{ t('note.send-one') }}</AppButton
      >
      <template v-else>
        <NoteFields v-model="note" class="mt-3" />
        <AppButton v-if="note" class="mt-2" @click="sendNote">{{ t('note.send') }}</AppButton>
      </template>
    </template>
  </form>
</template>
