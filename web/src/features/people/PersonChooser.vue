<script setup lang="ts">
import type { PersonKind, PersonRow } from '@sammlung/contract';
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/vue';
import { refDebounced } from '@vueuse/core';
import { computed, onMounted, ref, useTemplateRef } from 'vue';
import { usePeople } from './people.ts';

/** Chooses one person of a kind: type a part of a name, or walk the list. */
const {
  kind,
  except,
  label,
  nobody,
  starts = '',
} = defineProps<{
  kind: PersonKind;
  /** Who cannot be chosen. */
  except: readonly string[];
  label: string;
  /** What is said where nobody is found. */
  nobody: string;
  /** What is looked for at first. */
  starts?: string;
}>();
const emit = defineEmits<{ choose: [person: PersonRow] }>();
const typed = ref(starts);
const words = refDebounced(typed, 120);
const query = usePeople(
  () => words.value.trim(),
  () => kind,
);
const found = computed(() =>
  (query.data.value?.pages.flatMap(({ people }) => people) ?? []).filter(
    ({ id }) => !except.includes(id),
  ),
);
const input = useTemplateRef<{ $el: HTMLInputElement }>('input');
onMounted(() => {
  input.value?.$el.focus();
  input.value?.$el.select();
});
const choose = (person: PersonRow | null) => person && emit('choose', person);
</script>

<template>
  <Combobox :model-value="null" nullable @update:model-value="choose">
    <ComboboxInput
      ref="input"
      class="h-11 w-full rounded-edge border border-line bg-raised px-3"
      :placeholder="label"
      :aria-label="label"
      :display-value="() => typed"
      @change="typed = $event.target.value"
    />
    <ComboboxOptions
      static
      class="mt-2 h-[30vh] overflow-y-auto rounded-edge border border-line bg-raised py-1"
    >
      <ComboboxOption
        v-for="person in found"
        :key="person.id"
        v-slot="{ active }"
        :value="person"
        as="template"
      >
        <li
          class="flex min-h-9 cursor-pointer flex-wrap items-baseline gap-x-2 px-3 py-1.5 pointer-coarse:min-h-11"
          :class="{ 'bg-petrol-pale': active }"
        >
          <span class="font-semibold">{{ person.name }}</span>
          <span class="text-meta text-soft">{{
            [person.email ?? person.signInName, ...person.belongs.map((one) => one.label)]
              .filter(Boolean)
              .join(' · ')
          }}</span>
        </li>
      </ComboboxOption>
      <li v-if="query.data.value && found.length === 0" class="px-3 py-2 text-soft">
        {{ nobody }}
      </li>
    </ComboboxOptions>
  </Combobox>
</template>
