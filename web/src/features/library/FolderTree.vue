<script setup lang="ts">
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink, useRouter } from 'vue-router';
import { branches, useTree, type Branch } from './library.ts';

/** The library's folders: those that are handed out, and those that only the teacher sees. */
const { current } = defineProps<{ current: string | null }>();
const { t } = useI18n();
const router = useRouter();
const tree = useTree();
const opened = ref(new Set<string>());
const element = useTemplateRef('element');

const folders = computed(() => tree.data.value?.folders ?? []);
const parents = computed(() => new Map(folders.value.map((f) => [f.id, f.parentId])));
const withChildren = computed(() => new Set(folders.value.map((f) => f.parentId)));
const all = computed(() => branches(folders.value, (id) => opened.value.has(id)));
const groups = computed(() => {
  const topOf = (branch: Branch) => {
    let id = branch.id;
    for (let up = parents.value.get(id); up; up = parents.value.get(id)) id = up;
    return folders.value.find((f) => f.id === id);
  };
  return [
    { name: 'handed-out', rows: all.value.filter((b) => topOf(b)?.handedOut) },
    { name: 'only-mine', rows: all.value.filter((b) => !topOf(b)?.handedOut) },
  ].filter((group) => group.rows.length > 0);
});
const focusable = computed(() =>
  all.value.some((b) => b.id === current) ? current : (groups.value[0]?.rows[0]?.id ?? null),
);

// The way down to the open folder is always unfolded.
watch(
  [() => current, parents],
  () => {
    for (let id = current; id; id = parents.value.get(id) ?? null) opened.value.add(id);
  },
  { immediate: true },
);

async function onKey(event: KeyboardEvent) {
  const rows = [...(element.value?.querySelectorAll<HTMLElement>('[role=treeitem]') ?? [])];
  const at = rows.indexOf(document.activeElement as HTMLElement);
  const id = rows[at]?.dataset.id ?? '';
  const focus = (n: number) => rows[Math.min(Math.max(n, 0), rows.length - 1)]?.focus();
  const acts: Record<string, () => void> = {
    ArrowDown: () => focus(at + 1),
    ArrowUp: () => focus(at - 1),
    Home: () => focus(0),
    End: () => focus(rows.length - 1),
    ArrowRight: () => (opened.value.has(id) ? focus(at + 1) : opened.value.add(id)),
    ArrowLeft: () => {
      if (opened.value.has(id)) opened.value.delete(id);
      else focus(rows.findIndex((row) => row.dataset.id === parents.value.get(id)));
    },
    Enter: () => void router.push({ name: 'folder', params: { folder: id } }),
  };
  const act = acts[event.key];
  if (at < 0 || !act) return;
  event.preventDefault();
  act();
  await nextTick();
}

function toggle(id: string) {
  if (!opened.value.delete(id)) opened.value.add(id);
}
</script>

<template>
  <nav ref="element" :aria-label="t('library.folders')" class="px-3 py-5" @keydown="onKey">
    <RouterLink
      :to="{ name: 'library' }"
      class="mb-2 block rounded-edge px-2 py-1.5 font-title text-[17px] font-semibold hover:text-petrol"
      :class="{ 'text-petrol': current === null }"
    >
      {{ t('library.title') }}
    </RouterLink>
    <div v-for="group in groups" :key="group.name">
      <h2
        :id="`tree-${group.name}`"
        class="mt-4 mb-1 px-2 font-text text-[13px] font-bold tracking-normal text-soft"
      >
        {{ t(`library.${group.name}`) }}
      </h2>
      <ul role="tree" :aria-labelledby="`tree-${group.name}`">
        <li
          v-for="row in group.rows"
          :key="row.id"
          role="treeitem"
          :data-id="row.id"
          :aria-level="row.depth + 1"
          :aria-expanded="withChildren.has(row.id) ? opened.has(row.id) : undefined"
          :aria-current="row.id === current ? 'page' : undefined"
          :aria-selected="row.id === current"
          :tabindex="row.id === focusable ? 0 : -1"
          class="flex min-h-8 cursor-pointer items-center gap-1.5 rounded-edge py-1 pr-2 text-[15px] hover:text-petrol pointer-coarse:min-h-11"
          :class="
            row.id === current ? 'bg-raised font-[650] shadow-[inset_3px_0_0_var(--petrol)]' : ''
          "
          :style="{ paddingLeft: `${6 + row.depth * 18}px` }"
          @click="router.push({ name: 'folder', params: { folder: row.id } })"
        >
          <span
            class="grid size-4 shrink-0 place-items-center text-[10px] text-soft"
            aria-hidden="true"
            @click.stop="toggle(row.id)"
            >{{ withChildren.has(row.id) ? (opened.has(row.id) ? '▾' : '▸') : '' }}</span
          >
          <span
            v-if="row.depth === 0"
            class="h-3.5 w-2.5 shrink-0 rounded-[2px]"
            :style="{ background: row.colour ? `var(--${row.colour})` : 'var(--line)' }"
            aria-hidden="true"
          />
          <span class="truncate">{{ row.title }}</span>
        </li>
      </ul>
    </div>
  </nav>
</template>
