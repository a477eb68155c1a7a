<script setup lang="ts">
import { useVirtualizer } from '@tanstack/vue-virtual';
import { computed, ref, useTemplateRef, watch } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink, useRouter } from 'vue-router';
import { branches, useTree, type Branch } from '../../app/tree.ts';
import { useLibraryChanges } from './changes.ts';
import { over, vInto, type DropPlace } from './drag.ts';

/** The library's folders: those that are handed out, and those that only the teacher sees. Things can be dropped on them. */
const { current } = defineProps<{ current: string | null }>();
const emit = defineEmits<{
  files: [items: readonly DataTransferItem[], into: { id: string; title: string }];
}>();
const { t } = useI18n();
const router = useRouter();
const tree = useTree();
const changes = useLibraryChanges();
const opened = ref(new Set<string>());
const element = useTemplateRef('element');

const folders = computed(() => tree.data.value?.folders ?? []);
const byId = computed(() => new Map(folders.value.map((f) => [f.id, f])));
const withChildren = computed(() => new Set(folders.value.map((f) => f.parentId)));
/** Headings and folders from top to bottom, as they stand on the screen. */
type Line = { readonly heading: string } | { readonly branch: Branch };
const lines = computed((): Line[] => {
  const all = branches(folders.value, (id) => opened.value.has(id));
  const groups: { name: string; rows: Branch[] }[] = [
    { name: 'handed-out', rows: [] },
    { name: 'only-mine', rows: [] },
  ];
  let group = groups[0]!;
  for (const branch of all) {
    if (branch.depth === 0) group = groups[branch.handedOut ? 0 : 1]!;
    group.rows.push(branch);
  }
  return groups
    .filter(({ rows }) => rows.length > 0)
    .flatMap(({ name, rows }) => [{ heading: name }, ...rows.map((branch) => ({ branch }))]);
});
const shown = computed(() =>
  lines.value.flatMap((line) => ('branch' in line ? [line.branch] : [])),
);
const focusable = computed(() =>
  shown.value.some((b) => b.id === current) ? current : (shown.value[0]?.id ?? null),
);

const list = useTemplateRef('list');
const virtualizer = useVirtualizer(
  computed(() => ({
    count: lines.value.length,
    getScrollElement: () => element.value,
    estimateSize: (n: number) => ('heading' in lines.value[n]! ? 42 : 32),
    overscan: 30,
    scrollMargin: list.value?.offsetTop ?? 0,
    getItemKey: (n: number) => {
      const line = lines.value[n]!;
      return 'heading' in line ? line.heading : line.branch.id;
    },
  })),
);
const drawn = computed(() =>
  virtualizer.value.getVirtualItems().map((item) => ({ ...item, line: lines.value[item.index]! })),
);

// The way down to the open folder is always unfolded.
watch(
  [() => current, byId],
  () => {
    for (let id = current; id; id = byId.value.get(id)?.parentId ?? null) opened.value.add(id);
  },
  { immediate: true },
);

/** Where the focus is going: keys that come faster than the tree is drawn start from there. */
let going: string | null = null;
async function focus(id: string | undefined) {
  if (id === undefined) return;
  going = id;
  await draw(id);
  if (going === id) going = null;
}
async function draw(id: string) {
  const at = lines.value.findIndex((line) => 'branch' in line && line.branch.id === id);
  if (at < 0) return;
  virtualizer.value.scrollToIndex(at);
  for (let tries = 0; tries < 20; tries += 1) {
    await new Promise((resolve) => requestAnimationFrame(resolve));
    const row = element.value?.querySelector<HTMLElement>(`[data-id="${id}"]`);
    if (!row) continue;
    row.focus();
    return;
  }
}

function onKey(event: KeyboardEvent) {
  const id = going ?? (document.activeElement as HTMLElement).dataset.id ?? '';
  const at = shown.value.findIndex((branch) => branch.id === id);
  const last = shown.value.length - 1;
  const acts: Record<string, () => unknown> = {
    ArrowDown: () => focus(shown.value[Math.min(at + 1, last)]?.id),
    ArrowUp: () => focus(shown.value[Math.max(at - 1, 0)]?.id),
    Home: () => focus(shown.value[0]?.id),
    End: () => focus(shown.value[last]?.id),
    ArrowRight: () =>
      opened.value.has(id) ? focus(shown.value[at + 1]?.id) : opened.value.add(id),
    ArrowLeft: () =>
      opened.value.has(id)
        ? opened.value.delete(id)
        : focus(byId.value.get(id)?.parentId ?? undefined),
    Enter: () => router.push({ name: 'folder', params: { folder: id } }),
  };
  const act = acts[event.key];
  if (at < 0 || !act) return;
  event.preventDefault();
  act();
}

function toggle(id: string) {
  if (!opened.value.delete(id)) opened.value.add(id);
}

/** A folder takes what does not lie above it. */
function place(id: string | null, title: string): DropPlace {
  const above = new Set<string>();
  for (let up = id; up; up = byId.value.get(up)?.parentId ?? null) above.add(up);
  return {
    key: `tree ${id}`,
    takes: (rows) =>
      rows.length > 0 &&
      rows.every((row) => !above.has(row.id) && (id !== null || row.kind === 'folder')),
    rows: (rows) => void changes.move(rows, { id, title }),
    files: id === null ? undefined : (items) => emit('files', items, { id, title }),
  };
}
const held = (id: string | null) => over.value?.key === `tree ${id}`;
</script>

<template>
  <nav
    ref="element"
    :aria-label="t('library.folders')"
    class="sticky top-0 flex max-h-[45vh] flex-1 flex-col overflow-y-auto px-3 py-5 md:h-screen md:max-h-screen"
    @keydown="onKey"
  >
    <RouterLink
      v-into="place(null, t('library.title'))"
      :to="{ name: 'library' }"
      class="mb-2 block rounded-edge px-2 py-1.5 font-title text-[17px] font-semibold hover:text-petrol"
      :class="{
        'text-petrol': current === null,
        'shadow-[inset_0_0_0_2px_var(--petrol)]': held(null),
      }"
    >
      {{ t('library.title') }}
    </RouterLink>
    <div
      ref="list"
      class="relative shrink-0"
      :style="{ height: `${virtualizer.getTotalSize()}px` }"
    >
      <ul role="tree" :aria-label="t('library.folders')">
        <template v-for="item in drawn" :key="String(item.key)">
          <li
            v-if="'heading' in item.line"
            role="presentation"
            class="absolute inset-x-0 top-0 flex items-end px-2 pb-1 text-[13px] font-bold text-soft"
            :style="{
              height: `${item.size}px`,
              transform: `translateY(${item.start - virtualizer.options.scrollMargin}px)`,
            }"
          >
            {{ t(`library.${item.line.heading}`) }}
          </li>
          <li
            v-else
            v-into="place(item.line.branch.id, item.line.branch.title)"
            role="treeitem"
            :data-id="item.line.branch.id"
            :aria-level="item.line.branch.depth + 1"
            :aria-expanded="
              withChildren.has(item.line.branch.id) ? opened.has(item.line.branch.id) : undefined
            "
            :aria-current="item.line.branch.id === current ? 'page' : undefined"
            :aria-selected="item.line.branch.id === current"
            :tabindex="item.line.branch.id === focusable ? 0 : -1"
            class="absolute inset-x-0 top-0 flex cursor-pointer items-center gap-1.5 rounded-edge pr-2 text-[15px] hover:text-petrol"
            :class="{
              'bg-raised font-[650] shadow-[inset_3px_0_0_var(--petrol)]':
                item.line.branch.id === current && !held(item.line.branch.id),
              'bg-petrol-pale shadow-[inset_0_0_0_2px_var(--petrol)]': held(item.line.branch.id),
            }"
            :style="{
              height: `${item.size}px`,
              transform: `translateY(${item.start - virtualizer.options.scrollMargin}px)`,
              paddingLeft: `${6 + Math.min(item.line.branch.depth, 9) * 16}px`,
            }"
            @click="router.push({ name: 'folder', params: { folder: item.line.branch.id } })"
          >
            <span
              class="grid size-4 shrink-0 place-items-center text-[10px] text-soft"
              aria-hidden="true"
              @click.stop="toggle(item.line.branch.id)"
              >{{
                withChildren.has(item.line.branch.id)
                  ? opened.has(item.line.branch.id)
                    ? '▾'
                    : '▸'
                  : ''
              }}</span
            >
            <span
              v-if="item.line.branch.depth === 0"
              class="h-3.5 w-2.5 shrink-0 rounded-[2px]"
              :style="{
                background: item.line.branch.colour
                  ? `var(--${item.line.branch.colour})`
                  : 'var(--line)',
              }"
              aria-hidden="true"
            />
            <span class="truncate" :title="item.line.branch.title">{{
              item.line.branch.title
            }}</span>
          </li>
        </template>
      </ul>
    </div>
    <ul class="mt-6 border-t border-line pt-3">
      <li
        v-for="name in ['staff-room', 'lay-out', 'carry-over', 'doors', 'log', 'space', 'bin']"
        :key="name"
      >
        <RouterLink
          :to="{ name }"
          class="flex min-h-8 items-center rounded-edge px-2 text-[15px] hover:text-petrol pointer-coarse:min-h-11"
          active-class="font-[650] text-petrol"
          >{{ t(`shell.${name}`) }}</RouterLink
        >
      </li>
      <li>
        <RouterLink
          :to="{ name: 'see-as', params: { as: 'visitor' } }"
          class="flex min-h-8 items-center rounded-edge px-2 text-[15px] hover:text-petrol pointer-coarse:min-h-11"
          >{{ t('see-as.title') }}</RouterLink
        >
      </li>
    </ul>
  </nav>
</template>
