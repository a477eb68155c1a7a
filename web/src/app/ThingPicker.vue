<script setup lang="ts">
import type { FindKind, Found, Hit } from '@sammlung/contract';
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/vue';
import { useQuery } from '@pinia/colada';
import { refDebounced } from '@vueuse/core';
import { computed, ref } from 'vue';
import { useI18n } from 'vue-i18n';
import ModalSheet from '../ui/ModalSheet.vue';
import { api } from './api/api.ts';
import { explain } from './api/problems.ts';
import HitLine from './HitLine.vue';

/** Picks a folder or an item that the person sees, as they type what it is called; where nothing is typed, none is shown. */
const { kind = undefined } = defineProps<{
  title: string;
  /** Only things of this kind. */
  kind?: FindKind;
}>();
const emit = defineEmits<{ pick: [hit: Hit]; close: [] }>();
const { t } = useI18n();
const typed = ref('');
const words = refDebounced(
  computed(() => typed.value.trim()),
  120,
);
const found = useQuery({
  key: () => ['find', { words: words.value, kind }],
  query: () => api('GET /api/find', { query: { words: words.value, kind } }),
  enabled: () => words.value !== '',
  placeholderData: (before: Found | undefined) => before,
});
const hits = computed(() => (words.value === '' ? [] : (found.data.value?.hits ?? [])));
const status = computed(() => {
  if (words.value === '') return '';
  if (found.error.value) return explain(t, found.error.value);
  return found.data.value ? t('find.count', hits.value.length) : t('common.loading');
});
</script>

<template>
  <ModalSheet :title="title" @close="emit('close')">
    <Combobox
      as="div"
      class="mt-4"
      :model-value="null"
      nullable
      @update:model-value="(hit: Hit | null) => hit && emit('pick', hit)"
    >
      <ComboboxInput
        class="h-11 w-full rounded-edge border border-line bg-raised px-3"
        :placeholder="t('find.placeholder')"
        :aria-label="title"
        :display-value="() => typed"
        autocomplete="off"
        @change="typed = $event.target.value"
      />
      <p role="status" class="min-h-7 pt-1.5 text-meta text-soft">{{ status }}</p>
      <ComboboxOptions static class="-mx-3 max-h-[42vh] min-h-24 overflow-y-auto">
        <ComboboxOption
          v-for="hit in hits"
          :key="hit.id"
          v-slot="{ active }"
          :value="hit"
          as="template"
        >
          <li
            class="flex min-h-11 cursor-pointer items-center gap-3 rounded-edge px-3 py-2"
            :class="{ 'bg-petrol-pale': active }"
          >
            <HitLine :hit="hit" />
          </li>
        </ComboboxOption>
      </ComboboxOptions>
    </Combobox>
  </ModalSheet>
</template>
