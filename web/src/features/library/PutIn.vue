<script setup lang="ts">
import { useQuery } from '@pinia/colada';
import { computed, ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import FolderChooser, { type Choosable } from '../../app/FolderChooser.vue';
import { useSentences } from '../../app/sentence.ts';
import AppButton from '../../ui/AppButton.vue';
import ModalSheet from '../../ui/ModalSheet.vue';
import { useLibraryChanges } from './changes.ts';
import type { Row } from './library.ts';

/** Moves rows to another folder, or puts their items into more folders; says before who gains or loses. */
const { rows, how } = defineProps<{ rows: readonly Row[]; how: 'move' | 'place' }>();
const emit = defineEmits<{ close: [] }>();
const { t } = useI18n();
const { describe } = useSentences();
const changes = useLibraryChanges();
const chosen = ref<Choosable[]>([]);

const title = computed(() =>
  t(
    how === 'move' ? 'library.move-title' : 'library.also-put-title',
    { title: rows[0]?.title },
    rows.length,
  ),
);
const folders = computed(() => rows.filter((row) => row.kind === 'folder').map((row) => row.id));
const change = computed(() =>
  how === 'move'
    ? {
        do: 'move' as const,
        things: rows.map(({ kind, id }) => ({ kind, id })),
        to: chosen.value[0]?.id ?? null,
      }
    : {
        do: 'place' as const,
        placements: rows.map((row) => row.id),
        to: chosen.value.flatMap((folder) => folder.id ?? []),
      },
);
const consequence = useQuery({
  key: () => ['consequence', JSON.stringify(change.value)],
  query: () => api('POST /api/consequences', { body: change.value }),
  enabled: () => chosen.value.length > 0,
  gcTime: 0,
});
const says = computed(() => {
  if (chosen.value.length === 0)
    return t(how === 'move' ? 'library.move-text' : 'library.also-put-text');
  const data = consequence.data.value;
  return data ? describe(data) || t('consequence.none') : '';
});

async function go() {
  const done =
    how === 'move'
      ? await changes.move(rows, chosen.value[0]!)
      : await changes.place(
          rows,
          chosen.value.flatMap(({ id, title: name }) => (id === null ? [] : [{ id, title: name }])),
        );
  if (done) emit('close');
}
</script>

<template>
  <ModalSheet :title="title" @close="emit('close')">
    <div class="mt-3">
      <FolderChooser
        v-model="chosen"
        :several="how === 'place'"
        :top="how === 'move' && folders.length === rows.length"
        :refused="folders"
      />
    </div>
    <p class="mt-3 min-h-[2.8em] text-soft" role="status">{{ says }}</p>
    <div class="mt-3 flex flex-wrap gap-2">
      <AppButton tone="main" :disabled="chosen.length === 0" @click="go">
        {{
          chosen.length === 1
            ? t(how === 'move' ? 'library.move-there' : 'library.put-there', {
                folder: chosen[0]!.title,
              })
            : t(how === 'move' ? 'library.move-yes' : 'library.put-yes')
        }}
      </AppButton>
      <AppButton @click="emit('close')">{{ t('common.cancel') }}</AppButton>
    </div>
  </ModalSheet>
</template>
