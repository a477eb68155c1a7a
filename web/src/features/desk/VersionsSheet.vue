<script setup lang="ts">
import type { ItemRow } from '@sammlung/contract';
import { useQuery, useQueryCache } from '@pinia/colada';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import { useFormat } from '../../app/format.ts';
import { useSubmit } from '../../app/submit.ts';
import AppButton from '../../ui/AppButton.vue';
import ModalSheet from '../../ui/ModalSheet.vue';
import PageState from '../../app/PageState.vue';
import { versionAddress } from '../../app/api/addresses.ts';

/** The states of one's own file, newest first; an earlier one can be looked at and brought back. */
const { row } = defineProps<{ row: ItemRow }>();
const emit = defineEmits<{ close: [] }>();
const { t } = useI18n();
const { moment, size } = useFormat();
const cache = useQueryCache();
const { fault, busy, tried } = useSubmit();
const versions = useQuery({
  key: () => ['versions', row.placementId],
  query: () =>
    api('GET /api/placements/:placement/versions', { params: { placement: row.placementId } }),
  staleTime: 0,
});
const bringBack = (versionId: string) =>
  tried(async () => {
    await api('POST /api/placements/:placement/versions', {
      params: { placement: row.placementId },
      body: { versionId },
    });
    await Promise.all([versions.refetch(), cache.invalidateQueries({ key: ['folder'] })]);
  });
</script>

<template>
  <ModalSheet :title="row.title" @close="emit('close')">
    <PageState
      v-if="!versions.data.value"
      :error="versions.error.value"
      @again="versions.refetch()"
    />
    <ul v-else class="mt-3">
      <li
        v-for="(version, n) in versions.data.value.versions"
        :key="version.id"
        class="flex flex-wrap items-center gap-x-3 border-t border-line py-2"
      >
        <span class="flex-1">
          <span class="font-semibold">{{ t('versions.number', { number: version.number }) }}</span>
          <span class="block text-meta text-soft"
            >{{ moment(version.createdAt) }} · {{ size(version.size) }}</span
          >
        </span>
        <a
          class="min-h-9 px-2 py-1.5 font-semibold text-petrol underline pointer-coarse:min-h-11"
          download
          :href="versionAddress(row.placementId, version.id, 'attachment')"
          >{{ t('desk.download') }}</a
        >
        <AppButton v-if="n > 0" :disabled="busy" @click="bringBack(version.id)">{{
          t('versions.bring-back')
        }}</AppButton>
      </li>
    </ul>
    <p role="alert" class="mt-2 text-meta font-medium text-brick-ink empty:hidden">{{ fault }}</p>
    <AppButton class="mt-4" @click="emit('close')">{{ t('common.close') }}</AppButton>
  </ModalSheet>
</template>
