<script setup lang="ts">
import { checkPattern, fillPattern, nameKey } from '@sammlung/core';
import { useQuery } from '@pinia/colada';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import { useRouter } from 'vue-router';
import { api } from '../../app/api/api.ts';
import { explain } from '../../app/api/problems.ts';
import { say } from '../../app/shell/toast.ts';
import { useLibraryChanges } from './changes.ts';
import NameLine from '../../app/NameLine.vue';
import { useReturnFocus } from '../../ui/returnFocus.ts';

/**
 * A new folder, where it will stand. At the top of the library the teacher's naming pattern offers a name for each
 * class that has none yet.
 */
const { parentId, siblings } = defineProps<{
  parentId: string | null;
  siblings: readonly string[];
}>();
const emit = defineEmits<{ done: [] }>();
useReturnFocus();
const { t } = useI18n();
const router = useRouter();
const changes = useLibraryChanges();
const layout = useQuery({
  key: ['layout'],
  query: () => api('GET /api/layout'),
  enabled: () => parentId === null,
});

const offered = computed(() => {
  const start = layout.data.value;
  if (!start || checkPattern(start.settings.pattern).length > 0) return [];
  const taken = new Set(siblings.map(nameKey));
  return start.classes
    .map((c) => ({
      id: c.id,
      title: fillPattern(start.settings.pattern, {
        year: c.year,
        course: c.course,
        class: c.code,
        teacher: start.teacher,
        kind: start.settings.purpose,
        unit: 0,
      }),
    }))
    .filter(({ title }) => title !== '' && !taken.has(nameKey(title)))
    .slice(0, 8);
});

async function make(title: string) {
  const made = await changes.makeFolder(parentId, title);
  say({ text: t('library.made', { title }), undo: () => changes.binFolders([made.id]) });
  emit('done');
  await router.push({ name: 'folder', params: { folder: made.id } });
}

async function take(title: string) {
  try {
    await make(title);
  } catch (error) {
    say({ text: explain(t, error), tone: 'bad' });
  }
}
</script>

<template>
  <div class="mb-4 rounded-lg border border-line bg-paper/60 p-3">
    <NameLine
      :label="t('library.folder-name')"
      :yes="t('library.make')"
      :act="make"
      :siblings="siblings"
      @done="emit('done')"
    />
    <div v-if="offered.length > 0" class="mt-2.5 flex flex-wrap items-center gap-1.5">
      <span class="text-meta text-soft">{{ t('library.by-pattern') }}</span>
      <button
        v-for="offer in offered"
        :key="offer.id"
        type="button"
        class="min-h-8 rounded-edge border border-line bg-raised px-2.5 text-[14px] hover:border-petrol hover:text-petrol pointer-coarse:min-h-11"
        @click="take(offer.title)"
      >
        {{ offer.title }}
      </button>
    </div>
  </div>
</template>
