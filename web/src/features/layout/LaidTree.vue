<script setup lang="ts">
import {
  FORBIDDEN_CHARACTERS,
  nameKey,
  type LaidFolder,
  type ExistingFolder,
} from '@sammlung/core';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';

/** Folders as they will be made, each with what is wrong with its name; what is there already is said. */
const { folders, lying } = defineProps<{
  folders: readonly LaidFolder[];
  lying: readonly ExistingFolder[];
}>();
const { t } = useI18n();
const rows = computed(() =>
  folders.map((folder) => ({
    folder,
    there: lying.find((x) => nameKey(x.title) === nameKey(folder.title)),
  })),
);
</script>

<template>
  <ul>
    <li v-for="({ folder, there }, n) in rows" :key="n" class="text-[15px] leading-snug">
      <p
        class="flex items-baseline gap-2 py-[3px]"
        :class="folder.faults.length > 0 ? 'text-brick-ink' : there ? 'text-soft' : ''"
      >
        <span
          class="h-2.5 w-3 shrink-0 self-center rounded-[2px]"
          :class="
            there ? 'border border-line' : folder.faults.length > 0 ? 'bg-brick' : 'bg-petrol'
          "
          aria-hidden="true"
        />
        <span>
          {{ folder.title || t('layout.no-name') }}
          <span v-if="folder.faults[0]" class="block text-meta font-medium">{{
            t(`problem.name.${folder.faults[0]}`, { characters: FORBIDDEN_CHARACTERS })
          }}</span>
          <span v-else-if="there" class="text-meta">· {{ t('layout.there') }}</span>
          <span v-else-if="folder.long" class="block text-meta text-saffron-ink">{{
            t('library.name-long')
          }}</span>
        </span>
      </p>
      <LaidTree
        v-if="folder.below.length > 0"
        :folders="folder.below"
        :lying="there?.below ?? []"
        class="ml-[5px] border-l border-line pl-3.5"
      />
    </li>
  </ul>
</template>
