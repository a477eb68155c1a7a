<script setup lang="ts">
import type { TrayClass } from '@sammlung/contract';
import { Listbox, ListboxButton, ListboxOption, ListboxOptions } from '@headlessui/vue';
import { ChevronDown } from 'lucide-vue-next';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';

/** For which classes a file is: one, several, or whoever sees the folder (null). */
const { classes, chosen } = defineProps<{
  classes: readonly TrayClass[];
  chosen: readonly (string | null)[];
  /** Whether somebody has to say. */
  asks: boolean;
  name: string;
}>();
const emit = defineEmits<{ choose: [chosen: (string | null)[]] }>();
const { t } = useI18n();
const NOBODY = 'folder';
const value = computed(() => chosen.map((id) => id ?? NOBODY));
const shown = computed(() => classes.filter(({ id }) => chosen.includes(id)));

/** The folder alone is for no class, and a class is not the folder alone. */
function choose(next: string[]) {
  const added = next.find((id) => !value.value.includes(id));
  if (added === NOBODY) return emit('choose', [null]);
  emit(
    'choose',
    next.filter((id) => id !== NOBODY),
  );
}
</script>

<template>
  <Listbox as="div" class="relative" multiple :model-value="value" @update:model-value="choose">
    <ListboxButton
      data-field="class"
      class="flex min-h-9 w-full flex-wrap items-center gap-1 rounded-edge border px-2 py-1 text-left text-[15px] pointer-coarse:min-h-11"
      :class="
        asks
          ? 'border-saffron bg-[color-mix(in_oklab,var(--saffron),var(--sheet)_82%)]'
          : 'border-line bg-raised hover:border-petrol'
      "
    >
      <span class="sr-only">{{ t('tray.classes-of', { title: name }) }}</span>
      <template v-for="(one, n) in shown" :key="one.id">
        <span v-if="n > 0" class="sr-only">, </span>
        <span
          class="inline-flex h-[22px] items-center rounded-[4px] px-2 font-code text-[12px] font-semibold text-white"
          :style="{ background: `var(--${one.colour})` }"
          >{{ one.code }}</span
        >
      </template>
      <span v-if="chosen.includes(null)" class="text-soft">{{ t('tray.folder-only') }}</span>
      <span v-else-if="shown.length === 0">{{ t('tray.which-class') }}</span>
      <ChevronDown :size="16" class="ml-auto shrink-0 text-soft" aria-hidden="true" />
    </ListboxButton>
    <ListboxOptions
      class="absolute top-full left-0 z-30 mt-1 max-h-72 w-60 overflow-y-auto rounded-lg border border-line bg-raised py-1.5 shadow-xl outline-none"
    >
      <ListboxOption
        v-for="one in classes"
        :key="one.id"
        v-slot="{ active, selected }"
        :value="one.id"
        as="template"
      >
        <li
          class="flex min-h-9 cursor-pointer items-center gap-2.5 px-3 text-[15px] pointer-coarse:min-h-11"
          :class="{ 'bg-petrol-pale': active }"
        >
          <span
            class="grid size-4 shrink-0 place-items-center rounded-[3px] border text-[11px] leading-none"
            :class="selected ? 'border-action bg-action text-white' : 'border-line'"
            aria-hidden="true"
            >{{ selected ? '✓' : '' }}</span
          >
          <span
            class="rounded-[4px] px-2 font-code text-[12px] font-semibold text-white"
            :style="{ background: `var(--${one.colour})` }"
            >{{ one.code }}</span
          >
          <span class="min-w-0 truncate text-meta text-soft">{{ one.course }}</span>
        </li>
      </ListboxOption>
      <ListboxOption v-slot="{ active, selected }" :value="NOBODY" as="template">
        <li
          class="flex min-h-9 cursor-pointer items-center gap-2.5 border-t border-line px-3 text-[15px] pointer-coarse:min-h-11"
          :class="{ 'bg-petrol-pale': active, 'font-semibold': selected }"
        >
          {{ t('tray.folder-only') }}
        </li>
      </ListboxOption>
    </ListboxOptions>
  </Listbox>
</template>
