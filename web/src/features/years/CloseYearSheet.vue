<script setup lang="ts">
import type { YearRow } from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import PageState from '../../app/PageState.vue';
import AppButton from '../../ui/AppButton.vue';
import ModalSheet from '../../ui/ModalSheet.vue';

/** What closing a year takes from whom, before it is done. */
const { year } = defineProps<{ year: YearRow }>();
const emit = defineEmits<{ confirm: []; close: [] }>();
const { t } = useI18n();
const query = useQuery({
  key: () => ['years', 'closing', year.id],
  query: () => api('GET /api/years/:year/closing', { params: { year: year.id } }),
  staleTime: 0,
});
</script>

<template>
  <ModalSheet :title="t('years.close-title', { label: year.label })" @close="emit('close')">
    <PageState v-if="!query.data.value" :error="query.error.value" @again="query.refetch()" />
    <template v-else>
      <p class="mt-2">
        {{
          t('years.takes', {
            students: t('years.students', query.data.value.students),
            classes: t('years.classes', query.data.value.classes),
            things: t('years.things', query.data.value.things),
          })
        }}
      </p>
      <p v-if="query.data.value.boxes > 0" class="mt-2 font-semibold">
        {{ t('years.boxes', query.data.value.boxes) }}
      </p>
      <p class="mt-2 text-soft">{{ t('years.keeps') }}</p>
    </template>
    <div class="mt-5 flex gap-2">
      <AppButton tone="main" :disabled="!query.data.value" @click="emit('confirm')">{{
        t('years.close-confirm')
      }}</AppButton>
      <AppButton @click="emit('close')">{{ t('common.cancel') }}</AppButton>
    </div>
  </ModalSheet>
</template>
