<script setup lang="ts">
import type { FindKind, Hit } from '@sammlung/contract';
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/vue';
import { computed, useTemplateRef } from 'vue';
import { useI18n } from 'vue-i18n';
import { explain } from './api/problems.ts';
import { useFinding } from './finding.ts';
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
function take(hit: Hit | null) {
  if (!hit) return;
  typed.value = '';
  emit('pick', hit);
}
const { typed, words, found, hits, enter: awaitHits } = useFinding(() => ({ kind }), take);
const status = computed(() => {
  if (words.value === '') return '';
  if (found.error.value) return explain(t, found.error.value);
  return found.data.value ? t('find.count', hits.value.length) : t('common.loading');
});

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
  if (typed.value.trim() === '' || event.isComposing) return;
  if (url.value) event.stopPropagation();
  else awaitHits(event);
  // What is marked is taken by the list itself; nothing else is sent with the form around it.
  if (!url.value && hits.value.length > 0) return;
  event.preventDefault();
  if (url.value) takeAddress();
}
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
