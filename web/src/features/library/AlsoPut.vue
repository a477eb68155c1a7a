<script setup lang="ts">
import type { ItemRow } from '@sammlung/contract';
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/vue';
import { computed, ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { explain } from '../../app/problems.ts';
import { say } from '../../app/toast.ts';
import ModalSheet from '../../ui/ModalSheet.vue';
import { branches, useLibraryChanges, useTree, type Branch } from './library.ts';

/** Chooses one more folder for an item: type a part of its name, or walk the list. */
const { item } = defineProps<{ item: ItemRow }>();
const emit = defineEmits<{ close: [] }>();
const { t } = useI18n();
const tree = useTree();
const changes = useLibraryChanges();
const typed = ref('');
const fault = ref('');

const found = computed(() => {
  const words = typed.value.toLowerCase().split(/\s+/u).filter(Boolean);
  return branches(tree.data.value?.folders ?? [], () => true).filter((branch) => {
    const name = [...branch.above, branch.title].join(' ').toLowerCase();
    return words.every((word) => name.includes(word));
  });
});

async function put(branch: Branch | null) {
  if (!branch) return;
  fault.value = '';
  try {
    const made = await changes.place(item.placementId, branch.id);
    say({
      text: t('library.put', { title: item.title, folder: branch.title }),
      undo: () => changes.remove(made.id),
    });
    emit('close');
  } catch (error) {
    fault.value = explain(t, error);
  }
}
</script>

<template>
  <ModalSheet :title="t('library.also-put-title', { title: item.title })" @close="emit('close')">
    <p class="mt-1 mb-4 text-soft">{{ t('library.also-put-text') }}</p>
    <Combobox :model-value="null" nullable @update:model-value="put">
      <ComboboxInput
        class="h-11 w-full rounded-edge border border-line bg-raised px-3"
        :placeholder="t('library.which-folder')"
        :aria-label="t('library.which-folder')"
        @change="typed = $event.target.value"
      />
      <ComboboxOptions
        static
        class="mt-2 max-h-[42vh] overflow-y-auto rounded-edge border border-line bg-raised py-1"
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
            :class="{ 'bg-petrol-pale': active }"
            :style="{ paddingLeft: `${12 + branch.depth * 18}px` }"
          >
            <span v-if="branch.mark" class="font-mark" aria-hidden="true">{{ branch.mark }}</span>{{
              branch.title
            }}
            <span v-if="branch.handedOut" class="ml-auto text-meta text-soft">{{
              t('library.handed-out')
            }}</span>
          </li>
        </ComboboxOption>
        <li v-if="found.length === 0" class="px-3 py-2 text-soft">{{ t('library.no-folder') }}</li>
      </ComboboxOptions>
    </Combobox>
    <p role="alert" class="mt-3 font-medium text-brick-ink empty:hidden">{{ fault }}</p>
  </ModalSheet>
</template>
