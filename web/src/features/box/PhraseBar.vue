<script setup lang="ts">
import { useQuery } from '@pinia/colada';
import { useEventListener } from '@vueuse/core';
import { computed, ref, useTemplateRef } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import { say } from '../../app/shell/toast.ts';
import { useSubmit } from '../../app/submit.ts';
import type { IntoFolder } from '../../app/uploads/transfer.ts';
import { useUploads } from '../../app/uploads/uploads.ts';
import AppButton from '../../ui/AppButton.vue';
import ModalSheet from '../../ui/ModalSheet.vue';

/** What a teacher often writes, each by one key, and a file that is given back beside the student’s. */
const { place, writes } = defineProps<{
  place: IntoFolder;
  /** Whether there is something to write about. */
  writes: boolean;
}>();
const emit = defineEmits<{ write: [body: string]; copies: [] }>();
const { t } = useI18n();
const query = useQuery({ key: ['phrases'], query: () => api('GET /api/phrases') });
const phrases = computed(() => query.data.value?.phrases ?? []);
/** Those that have a key. */
const keyed = computed(() => (writes ? phrases.value.slice(0, 9) : []));
useEventListener('keydown', (event: KeyboardEvent) => {
  const target = event.target as HTMLElement;
  if (target.matches('input, textarea, select') || editing.value) return;
  if (event.ctrlKey || event.metaKey || event.altKey) return;
  const phrase = /^[1-9]$/u.test(event.key) ? keyed.value[Number(event.key) - 1] : undefined;
  if (!phrase) return;
  event.preventDefault();
  emit('write', phrase);
});

const editing = ref(false);
const text = ref('');
const { fault, busy, tried } = useSubmit();
function edit() {
  text.value = phrases.value.join('\n');
  editing.value = true;
}
async function save() {
  const lines = text.value
    .split('\n')
    .map((line) => line.trim())
    .filter(Boolean);
  const saved = await tried(async () => {
    await api('PUT /api/phrases', { body: { phrases: lines } });
    await query.refetch();
  });
  if (saved) editing.value = false;
}

const uploads = useUploads();
const picker = useTemplateRef('picker');
function picked(event: Event) {
  const input = event.target as HTMLInputElement;
  const files = [...(input.files ?? [])];
  input.value = '';
  if (files.length === 0) return;
  uploads.add(files.map((file) => ({ file, folder: place })));
  say({ text: t('going-through.giving-back', files.length) });
}
</script>

<template>
  <div
    class="sticky bottom-0 z-20 flex flex-wrap items-center gap-x-4 gap-y-1 bg-frame px-4 py-2.5 text-[15px] text-frame-ink max-md:static sm:px-10"
  >
    <p v-if="keyed.length > 0">{{ t('going-through.phrases') }}</p>
    <button
      v-for="(phrase, n) in keyed"
      :key="n"
      type="button"
      class="inline-flex min-h-9 max-w-full items-center gap-1.5 truncate hover:underline pointer-coarse:min-h-11"
      :title="phrase"
      @click="emit('write', phrase)"
    >
      <kbd class="font-text font-bold text-saffron" aria-hidden="true">{{ n + 1 }}</kbd>
      <span class="max-w-60 truncate">{{ phrase }}</span>
    </button>
    <button
      v-if="writes"
      type="button"
      class="inline-flex min-h-9 items-center underline underline-offset-2 hover:text-white pointer-coarse:min-h-11"
      @click="edit"
    >
      {{ t(phrases.length > 0 ? 'going-through.edit-phrases' : 'going-through.first-phrases') }}
    </button>
    <span class="ml-auto flex gap-2">
      <AppButton @click="emit('copies')">{{ t('taught-box.copies') }}</AppButton>
      <AppButton @click="picker?.click()">{{ t('going-through.give-back') }}</AppButton>
    </span>
    <input
      ref="picker"
      type="file"
      multiple
      class="hidden"
      tabindex="-1"
      aria-hidden="true"
      @change="picked"
    />
    <ModalSheet v-if="editing" :title="t('going-through.phrases-title')" @close="editing = false">
      <form class="mt-3" @submit.prevent="save">
        <label class="block text-meta text-soft" for="phrases">{{
          t('going-through.phrases-text')
        }}</label>
        <textarea
          id="phrases"
          v-model="text"
          rows="8"
          class="mt-1 w-full rounded-edge border border-line bg-raised px-3 py-2 text-[15px]"
        />
        <p role="alert" class="text-meta font-medium text-brick-ink empty:hidden">{{ fault }}</p>
        <div class="mt-3 flex gap-2">
          <AppButton tone="main" submits :disabled="busy">{{ t('common.save') }}</AppButton>
          <AppButton :disabled="busy" @click="editing = false">{{ t('common.cancel') }}</AppButton>
        </div>
      </form>
    </ModalSheet>
  </div>
</template>
