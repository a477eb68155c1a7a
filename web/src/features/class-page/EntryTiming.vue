<script setup lang="ts">
import type { EditedEntry, Release } from '@sammlung/contract';
import { ref } from 'vue';
import { useI18n } from 'vue-i18n';
import ReleaseFields from '../../app/ReleaseFields.vue';
import { backwards } from '../../app/span.ts';
import AppButton from '../../ui/AppButton.vue';
import type { useEditedPage } from './entries.ts';

/** When an entry is on the page of a class. */
type Edited = ReturnType<typeof useEditedPage>;
const { entry, set, setEverywhere } = defineProps<{
  entry: EditedEntry;
  set: Edited['set'];
  setEverywhere: Edited['setEverywhere'];
}>();
const emit = defineEmits<{ close: [] }>();
const { t } = useI18n();
const release = ref<Release>(entry.release);
const everywhere = ref(false);
async function save() {
  const text = t('entry.changed', { title: entry.title });
  const before = { release: entry.release };
  const done = everywhere.value
    ? await setEverywhere(entry, release.value, text)
    : await set(entry, { release: release.value }, before, text);
  if (done) emit('close');
}
</script>

<template>
  <form
    class="border-t border-line bg-sheet px-6 py-4"
    @submit.prevent="save"
    @keydown.esc="emit('close')"
  >
    <ReleaseFields v-model="release" :label="t('entry.when')" />
    <label
      v-if="entry.alsoOn.length > 0"
      class="mt-3 flex min-h-10 items-center gap-2 text-[15px] pointer-coarse:min-h-11"
    >
      <input v-model="everywhere" type="checkbox" class="size-5 accent-(--action)" />{{
        t('entry.also', { codes: entry.alsoOn.map(({ code }) => code).join(', ') })
      }}
    </label>
    <div class="mt-3 flex gap-2">
      <AppButton tone="main" submits :disabled="backwards(release)">{{
        t('entry.save')
      }}</AppButton>
      <AppButton @click="emit('close')">{{ t('common.cancel') }}</AppButton>
    </div>
  </form>
</template>
