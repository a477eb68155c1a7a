<script setup lang="ts">
import type { FindKind, Found, Hit } from '@sammlung/contract';
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/vue';
import { useQuery } from '@pinia/colada';
import { refDebounced } from '@vueuse/core';
import { computed, ref, useTemplateRef, watch } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from './api/api.ts';
import { explain } from './api/problems.ts';
import HitLine from './HitLine.vue';

/** Finds folders and items that the person sees, as they type what one is called; Enter takes the one that is marked. */
const { kind = undefined, addresses = false } = defineProps<{
  label: string;
  /** Only things of this kind. */
  kind?: FindKind;
  /** Whether the address of something on the web can be given as well. */
  addresses?: boolean;
}>();
const emit = defineEmits<{ pick: [hit: Hit]; address: [url: string] }>();
const { t } = useI18n();
const input = useTemplateRef<{ $el: HTMLInputElement }>('input');
defineExpose({ focus: () => input.value?.$el.focus() });
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

function take(hit: Hit | null) {
  if (!hit) return;
  typed.value = '';
  emit('pick', hit);
}
/** Enter before the hits have come takes the first one when it comes. */
const behind = computed(() => typed.value.trim() !== words.value || found.isLoading.value);
const awaited = ref(false);
/** What is typed, where it is an address. */
const url = computed(() => {
  const given = typed.value.trim();
  return addresses && /^https?:\/\/\S+$/iu.test(given) && URL.canParse(given) ? given : null;
});
function takeAddress() {
  emit('address', url.value!);
  typed.value = '';
}
function enter(event: KeyboardEvent) {
  if (event.isComposing || typed.value.trim() === '') return;
  if (url.value) {
    event.preventDefault();
    event.stopPropagation();
    return takeAddress();
  }
  // What is marked is taken by the list itself.
  if (!behind.value && hits.value.length > 0) return;
  // Never the form around it.
  event.preventDefault();
  event.stopPropagation();
  awaited.value = behind.value;
}
watch(typed, () => (awaited.value = false));
watch(behind, (still) => {
  if (still || !awaited.value) return;
  awaited.value = false;
  take(hits.value[0] ?? null);
});
</script>

<template>
  <Combobox
    as="div"
    :model-value="null"
    nullable
    @update:model-value="take"
    @keydown.enter.capture="enter"
  >
    <ComboboxInput
      ref="input"
      class="h-11 w-full rounded-edge border border-line bg-raised px-3"
      :placeholder="t('find.placeholder')"
      :aria-label="label"
      :display-value="() => typed"
      autocomplete="off"
      @change="typed = $event.target.value"
    />
    <button
      v-if="url"
      type="button"
      class="min-h-9 text-[15px] font-semibold text-petrol hover:underline pointer-coarse:min-h-11"
      @click="takeAddress"
    >
      {{ t('find.add-address') }}
    </button>
    <p v-else role="status" class="pt-1.5 text-meta text-soft empty:hidden">{{ status }}</p>
    <ComboboxOptions static class="max-h-[42vh] overflow-y-auto">
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
</template>
