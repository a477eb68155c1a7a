<script setup lang="ts">
import type { EarlierEntry, Frame } from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { refDebounced } from '@vueuse/core';
import { computed, ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import PageState from '../../app/PageState.vue';
import ModalSheet from '../../ui/ModalSheet.vue';

/** Entries of other classes and years: one is taken to be used again. */
const { classId } = defineProps<{ classId: string }>();
const emit = defineEmits<{ take: [entry: EarlierEntry, to: Frame]; close: [] }>();
const { t } = useI18n();
const typed = ref('');
const words = refDebounced(
  computed(() => typed.value.trim()),
  150,
);
const found = useQuery({
  key: () => ['class-page', classId, 'earlier', words.value],
  query: () =>
    api('GET /api/class-pages/:class/earlier', {
      params: { class: classId },
      query: { words: words.value },
    }),
  placeholderData: (before) => before,
});
const entries = computed(() => found.data.value?.entries ?? []);
</script>

<template>
  <ModalSheet :title="t('entry.again.title')" @close="emit('close')">
    <input
      v-model="typed"
      :aria-label="t('entry.again.find')"
      :placeholder="t('entry.again.find')"
      class="mt-4 h-11 w-full rounded-edge border border-line bg-raised px-3"
    />
    <p v-if="found.data.value && entries.length === 0" role="status" class="mt-3 text-soft">
      {{ t('entry.again.none') }}
    </p>
    <PageState v-else-if="!found.data.value" :error="found.error.value" @again="found.refetch()" />
    <ul class="-mx-3 mt-2 max-h-[50vh] overflow-y-auto">
      <li v-for="entry in entries" :key="entry.entryId">
        <button
          type="button"
          class="flex min-h-12 w-full items-start gap-3 rounded-edge px-3 py-2 text-start hover:bg-petrol-pale"
          @click="emit('take', entry, found.data.value!.to)"
        >
          <span class="min-w-0 flex-1">
            <span class="block font-semibold wrap-anywhere">{{ entry.title }}</span>
            <span v-if="entry.text" class="line-clamp-2 text-meta text-soft">{{ entry.text }}</span>
          </span>
          <span class="shrink-0 text-end text-meta text-soft">
            <span
              class="rounded-[4px] px-2 py-0.5 font-code text-[12px] font-semibold text-white"
              :style="{ background: `var(--${entry.colour})` }"
              >{{ entry.code }}</span
            >
            <span class="mt-1 block">{{ entry.year }}</span>
          </span>
        </button>
      </li>
    </ul>
  </ModalSheet>
</template>
