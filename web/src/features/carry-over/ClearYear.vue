<script setup lang="ts">
import type { CarryYear, Thing } from '@sammlung/contract';
import { ref, watch } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import { useChanging } from '../../app/changing.ts';
import { say } from '../../app/shell/toast.ts';
import AppButton from '../../ui/AppButton.vue';
import { useCarryOvers } from './carry-over.ts';

/** Puts the folders of a year into the Bin, in one step. Those that others than its classes have are left, unless they are chosen. */
const { year } = defineProps<{ year: CarryYear }>();
const { t } = useI18n();
const { consent, withRefresh, attempt } = useChanging();
const { refreshYears } = useCarryOvers();
const chosen = ref<string[]>([]);
watch(
  () => year,
  ({ folders }) => (chosen.value = folders.filter(({ only }) => only).map(({ id }) => id)),
  { immediate: true },
);

function clear() {
  const things = chosen.value.map((id): Thing => ({ kind: 'folder', id }));
  const label = year.label;
  return attempt(async () => {
    const text = await consent({ do: 'remove', things }, t('library.remove-yes'));
    if (text === null) return false;
    await withRefresh(api('POST /api/bin', { body: { things } }));
    await refreshYears();
    say({
      text: `${t('carry-over.cleared', { n: things.length, label }, things.length)} ${text}`,
      undo: async () => {
        await withRefresh(api('POST /api/bin/restore', { body: { things } }));
        await refreshYears();
      },
    });
    return true;
  });
}
</script>

<template>
  <details class="border-y border-line py-3">
    <summary class="cursor-pointer font-title text-[19px] font-[620]">
      {{ t('carry-over.clear', { label: year.label }) }}
    </summary>
    <p class="mt-1 text-soft">{{ t('carry-over.clear-text') }}</p>
    <form class="mt-2 max-w-2xl" @submit.prevent="clear">
      <label
        v-for="folder in year.folders"
        :key="folder.id"
        class="flex min-h-9 cursor-pointer items-center gap-2.5 rounded-edge px-2 py-1 hover:bg-paper pointer-coarse:min-h-11"
      >
        <input
          v-model="chosen"
          type="checkbox"
          class="size-4 shrink-0 accent-(--action)"
          :value="folder.id"
        />
        <span class="flex-1"
          >{{ folder.mark }} {{ folder.title }}
          <span class="text-meta text-soft"
            >· {{ t('count.folders', folder.folders) }}, {{ t('count.things', folder.things)
            }}<template v-if="!folder.only"> · {{ t('carry-over.others-have') }}</template></span
          ></span
        >
      </label>
      <AppButton class="mt-3" submits :disabled="chosen.length === 0">{{
        t('carry-over.clear-yes', chosen.length)
      }}</AppButton>
    </form>
  </details>
</template>
