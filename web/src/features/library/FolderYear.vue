<script setup lang="ts">
import { useQuery } from '@pinia/colada';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import { useAction } from '../../app/action.ts';
import { api } from '../../app/api/api.ts';
import { say } from '../../app/shell/toast.ts';

/** Of which year a folder of one’s own is: with that it is closed, carried over, and put away. */
const { folder } = defineProps<{ folder: string }>();
const { t } = useI18n();
const params = computed(() => ({ folder }));
const query = useQuery({
  key: () => ['folder', 'year', folder],
  query: () => api('GET /api/folders/:folder/year', { params: params.value }),
});
const attempt = useAction(() => query.refetch());
const year = computed(() => query.data.value?.year ?? null);
/** A year that is closed is said, and stays. */
const closed = computed(() => year.value?.closed ?? false);

const put = (yearId: string | null) =>
  api('PUT /api/folders/:folder/year', { params: params.value, body: { yearId } });
function choose(event: Event) {
  const before = year.value?.id ?? null;
  const yearId = (event.target as HTMLSelectElement).value || null;
  const label = query.data.value?.years.find(({ id }) => id === yearId)?.label;
  return attempt(async () => {
    await put(yearId);
    say({
      text: label ? t('library.year-set', { label }) : t('library.year-none-set'),
      undo: () => attempt(() => put(before)),
    });
  });
}
</script>

<template>
  <label v-if="query.data.value" class="flex items-center gap-1.5 text-meta text-soft">
    <span>{{ t('library.year') }}</span>
    <span v-if="closed" class="text-[15px] text-ink">{{
      t('library.year-closed', { label: year!.label })
    }}</span>
    <select
      v-else
      :value="year?.id ?? ''"
      class="h-9 rounded-edge border border-line bg-raised px-2 text-[15px] text-ink pointer-coarse:h-11"
      @change="choose"
    >
      <option value="">{{ t('library.year-none') }}</option>
      <option v-for="one in query.data.value.years" :key="one.id" :value="one.id">
        {{ one.label }}
      </option>
    </select>
  </label>
</template>
