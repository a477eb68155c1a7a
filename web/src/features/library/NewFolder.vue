<script setup lang="ts">
import { checkName, FORBIDDEN_SIGNS } from '@sammlung/core';
import { computed, onMounted, ref, useTemplateRef } from 'vue';
import { useI18n } from 'vue-i18n';
import { useRouter } from 'vue-router';
import { explain } from '../../app/problems.ts';
import { say } from '../../app/toast.ts';
import AppButton from '../../ui/AppButton.vue';
import { useLibraryChanges } from './library.ts';

/** One line to name a new folder, where it will stand. Enter makes it, Escape gives up. */
const { parentId } = defineProps<{ parentId: string | null }>();
const emit = defineEmits<{ done: [] }>();
const { t } = useI18n();
const router = useRouter();
const changes = useLibraryChanges();
const title = ref('');
const refused = ref('');
const field = useTemplateRef('field');
onMounted(() => field.value?.focus());

const check = computed(() => checkName(title.value.trim()));
const fault = computed(() => {
  const [first] = check.value.faults;
  return title.value !== '' && first
    ? t(`problem.name.${first}`, { signs: FORBIDDEN_SIGNS })
    : refused.value;
});
const hint = computed(() => (check.value.long ? t('library.name-long') : ''));

async function make() {
  if (check.value.faults.length > 0) return;
  refused.value = '';
  try {
    const made = await changes.makeFolder(parentId, title.value.trim());
    say({
      text: t('library.made', { title: title.value.trim() }),
      undo: () => changes.binFolder(made.id),
    });
    emit('done');
    await router.push({ name: 'folder', params: { folder: made.id } });
  } catch (error) {
    refused.value = explain(t, error);
  }
}
</script>

<template>
  <form
    class="mb-4 rounded-lg border border-line bg-paper/60 p-3"
    @submit.prevent="make"
    @keydown.esc="emit('done')"
  >
    <div class="flex flex-wrap items-center gap-2">
      <input
        ref="field"
        v-model="title"
        :aria-label="t('library.folder-name')"
        :placeholder="t('library.folder-name')"
        :aria-invalid="fault !== ''"
        aria-describedby="new-folder-fault"
        class="h-9 min-w-40 flex-1 rounded-edge border border-line bg-raised px-3"
        @input="refused = ''"
      />
      <AppButton tone="main" submits :disabled="check.faults.length > 0">{{
        t('library.make')
      }}</AppButton>
      <AppButton @click="emit('done')">{{ t('common.cancel') }}</AppButton>
    </div>
    <p
      id="new-folder-fault"
      role="alert"
      class="mt-1.5 text-meta font-medium text-brick-ink empty:hidden"
    >
      {{ fault }}
    </p>
    <p class="mt-1.5 text-meta text-soft empty:hidden">{{ hint }}</p>
  </form>
</template>
