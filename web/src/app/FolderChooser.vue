<script setup lang="ts">
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/vue';
import { computed, nextTick, ref, useTemplateRef } from 'vue';
import { useI18n } from 'vue-i18n';
import { namedBranches, useTree, type Branch } from './tree.ts';

/** Chooses one folder of the library, or several: type a part of a name, or walk the list. */
const {
  several = false,
  top = false,
  refused = [],
} = defineProps<{
  several?: boolean;
  /** Whether the top of the library can be chosen, too. */
  top?: boolean;
  /** Folders that cannot be chosen, nor what lies in them. */
  refused?: readonly string[];
}>();
const chosen = defineModel<Choosable[]>({ required: true });
/** A single folder was chosen with Enter or a click. */
const emit = defineEmits<{ choose: [folder: Choosable] }>();
export interface Choosable {
  readonly id: string | null;
  readonly title: string;
}
const { t } = useI18n();
const tree = useTree();
const typed = ref('');

const open = computed(() => {
  const folders = tree.data.value?.folders ?? [];
  const gone = new Set(refused);
  // Parents come before what lies in them.
  for (const folder of folders)
    if (folder.parentId !== null && gone.has(folder.parentId)) gone.add(folder.id);
  return folders.filter((folder) => !gone.has(folder.id));
});
const TOP: Branch = {
  id: '',
  parentId: null,
  title: '',
  mark: null,
  colour: null,
  handedOut: false,
  depth: 0,
  above: [],
};
const found = computed(() => {
  const named = namedBranches(open.value, typed.value);
  return (top && typed.value === '' ? [TOP, ...named] : named).slice(0, 300);
});
const titleOf = (branch: Branch) => (branch.id === '' ? t('library.top') : branch.title);
const has = (branch: Branch) => chosen.value.some((folder) => (folder.id ?? '') === branch.id);

const input = useTemplateRef<{ $el: HTMLInputElement }>('input');
function choose(branch: Branch | null) {
  if (!branch) return;
  const folder = { id: branch.id === '' ? null : branch.id, title: titleOf(branch) };
  if (!several) {
    chosen.value = [folder];
    emit('choose', folder);
  } else if (has(branch)) chosen.value = chosen.value.filter((x) => x.id !== folder.id);
  else chosen.value = [...chosen.value, folder];
  // What is typed next is the name of another one.
  void nextTick(() => input.value?.$el.select());
}
</script>

<template>
  <Combobox :model-value="null" nullable @update:model-value="choose">
    <ComboboxInput
      ref="input"
      class="h-11 w-full rounded-edge border border-line bg-raised px-3"
      :placeholder="t('library.which-folder')"
      :aria-label="t('library.which-folder')"
      :display-value="() => typed"
      @change="typed = $event.target.value"
    />
    <ComboboxOptions
      static
      class="mt-2 h-[38vh] overflow-y-auto rounded-edge border border-line bg-raised py-1"
    >
      <ComboboxOption
        v-for="branch in found"
        :key="branch.id"
        v-slot="{ active }"
        :value="branch"
        as="template"
      >
        <li
          class="flex min-h-9 cursor-pointer items-center gap-2 px-3 pointer-coarse:min-h-11"
          :class="{ 'bg-petrol-pale': active, 'font-semibold text-petrol': has(branch) }"
          :aria-selected="has(branch)"
          :style="typed === '' ? { paddingLeft: `${12 + branch.depth * 18}px` } : {}"
        >
          <span
            v-if="several"
            class="grid size-4 shrink-0 place-items-center rounded-[3px] border text-[11px] leading-none"
            :class="has(branch) ? 'border-action bg-action text-white' : 'border-line'"
            aria-hidden="true"
            >{{ has(branch) ? '✓' : '' }}</span
          >
          <span class="shrink-0" :class="{ italic: branch.id === '' }">{{ titleOf(branch) }}</span>
          <span
            v-if="typed !== '' && branch.above.length > 0"
            class="min-w-0 truncate text-meta text-soft"
          >
            {{ t('library.lies-in', { path: branch.above.join(' › ') }) }}
          </span>
        </li>
      </ComboboxOption>
      <li v-if="found.length === 0" class="px-3 py-2 text-soft">{{ t('library.no-folder') }}</li>
    </ComboboxOptions>
  </Combobox>
</template>
