<script setup lang="ts">
import type { FolderDisplay, FolderOrder, FolderView } from '@sammlung/contract';
import { BookOpen, LayoutGrid, List } from 'lucide-vue-next';
import { useI18n } from 'vue-i18n';
import { RouterLink } from 'vue-router';
import { explain } from '../../app/api/problems.ts';
import { say } from '../../app/shell/toast.ts';
import { useLibraryChanges } from './changes.ts';
import FolderYear from './FolderYear.vue';

/** How the folder is arranged, for everybody who sees it: its order, and whether as a list or as tiles. */
const { folder } = defineProps<{ folder: FolderView }>();
const { t } = useI18n();
const changes = useLibraryChanges();
const ORDERS: FolderOrder[] = ['hand', 'a_to_z', 'lesson_date', 'newest'];
const DISPLAYS = [
  { name: 'list', icon: List },
  { name: 'tiles', icon: LayoutGrid },
  { name: 'reader', icon: BookOpen },
] as const;

async function change(facts: { order: FolderOrder } | { display: FolderDisplay }, said: string) {
  const before = 'order' in facts ? { order: folder.order } : { display: folder.display };
  try {
    await changes.change({ kind: 'folder', id: folder.id }, facts, before, said);
  } catch (error) {
    say({ text: explain(t, error), tone: 'bad' });
  }
}
function order(event: Event) {
  const to = (event.target as HTMLSelectElement).value as FolderOrder;
  return change({ order: to }, t('library.now-ordered', { order: t(`order.${to}`) }));
}
</script>

<template>
  <div class="flex flex-wrap items-center gap-2">
    <RouterLink
      v-if="folder.display === 'reader'"
      :to="{ name: 'read', params: { folder: folder.id } }"
      class="inline-flex min-h-9 items-center px-1 text-[15px] font-semibold text-petrol hover:underline pointer-coarse:min-h-11"
      >{{ t('library.read') }}</RouterLink
    >
    <FolderYear v-if="folder.right === 'own'" :folder="folder.id" />
    <label class="flex items-center gap-1.5 text-meta text-soft">
      <span>{{ t('library.order') }}</span>
      <select
        :value="folder.order"
        class="h-9 rounded-edge border border-line bg-raised px-2 text-[15px] text-ink pointer-coarse:h-11"
        @change="order"
      >
        <option v-for="name in ORDERS" :key="name" :value="name">{{ t(`order.${name}`) }}</option>
      </select>
    </label>
    <div
      class="flex rounded-edge border border-line bg-raised"
      role="group"
      :aria-label="t('library.display')"
    >
      <button
        v-for="{ name, icon } in DISPLAYS"
        :key="name"
        type="button"
        class="grid size-[34px] place-items-center first:rounded-l-edge last:rounded-r-edge pointer-coarse:size-11"
        :class="
          folder.display === name ? 'bg-petrol-pale text-petrol' : 'text-soft hover:text-petrol'
        "
        :aria-pressed="folder.display === name"
        :title="t(`display.${name}`)"
        @click="
          change({ display: name }, t('library.now-shown', { display: t(`display.${name}`) }))
        "
      >
        <component :is="icon" :size="18" aria-hidden="true" />
        <span class="sr-only">{{ t(`display.${name}`) }}</span>
      </button>
    </div>
  </div>
</template>
