<script setup lang="ts">
import type { EditedEntry, Release } from '@sammlung/contract';
import { ref } from 'vue';
import { useI18n } from 'vue-i18n';
import ReleaseFields from '../../app/ReleaseFields.vue';
import { backwards } from '../../app/span.ts';
import AppButton from '../../ui/AppButton.vue';
import type { useEditedPage } from './entries.ts';

/** When an entry is on the page of a class. */
const { entry, set } = defineProps<{
  entry: EditedEntry;
  set: ReturnType<typeof useEditedPage>['set'];
}>();
const emit = defineEmits<{ close: [] }>();
const { t } = useI18n();
const release = ref<Release>(entry.release);
async function save() {
  const before = { release: entry.release };
  const text = t('entry.changed', { title: entry.title });
  if (await set(entry, { release: release.value }, before, text)) emit('close');
}
</script>

<template>
  <form
    class="border-t border-line bg-sheet px-6 py-4"
    @submit.prevent="save"
    @keydown.esc="emit('close')"
  >
    <ReleaseFields v-model="release" :label="t('entry.when')" />
    <div class="mt-3 flex gap-2">
      <AppButton tone="main" submits :disabled="backwards(release)">{{
        t('entry.save')
      }}</AppButton>
      <AppButton @click="emit('close')">{{ t('common.cancel') }}</AppButton>
    </div>
  </form>
</template>
