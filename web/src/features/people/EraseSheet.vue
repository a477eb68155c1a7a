<script setup lang="ts">
import type { PersonRow } from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { computed, useTemplateRef, watch } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import PageState from '../../app/PageState.vue';
import { useSubmit } from '../../app/submit.ts';
import AppButton from '../../ui/AppButton.vue';
import ModalSheet from '../../ui/ModalSheet.vue';
import { usePersonChanges } from './people.ts';

/** Erases somebody who cannot sign in any more, once it is said what goes and what stays with whom. */
const { person } = defineProps<{ person: PersonRow }>();
const emit = defineEmits<{ close: []; gone: [] }>();
const { t } = useI18n();
const { erase } = usePersonChanges();
const { fault, busy, tried } = useSubmit();
const query = useQuery({
  key: () => ['erasure', person.id],
  query: () => api('GET /api/people/:person/erasure', { params: { person: person.id } }),
  staleTime: 0,
});
const says = computed(() => {
  const erasure = query.data.value;
  if (!erasure) return [];
  const { folders, items, handedIn, stays, listed } = erasure;
  return [
    t(`erase.account-${person.kind === 'student' ? 'student' : 'staff'}`),
    folders + items > 0 &&
      t('erase.desk', {
        folders: t('hand-over.folders', folders),
        items: t('hand-over.items', items),
      }),
    handedIn > 0 && t('erase.handed-in', handedIn),
    ...stays.map(({ name, items: count }) => t('erase.stays', { name, n: count }, count)),
    listed && t('erase.listed'),
  ].filter((text) => text !== false);
});
/** Once it is said what happens, the keys are at the answer that changes nothing. */
const cancel = useTemplateRef<{ $el: HTMLButtonElement }>('cancel');
watch(cancel, (button) => button?.$el.focus());

async function confirm() {
  if (!(await tried(() => erase(person)))) return;
  emit('close');
  emit('gone');
}
</script>

<template>
  <ModalSheet :title="t('erase.title', { name: person.name })" @close="emit('close')">
    <PageState v-if="!query.data.value" :error="query.error.value" @again="query.refetch()" />
    <template v-else-if="query.data.value.first">
      <p class="mt-3">{{ t('erase.first', { name: person.name }) }}</p>
      <AppButton class="mt-5" @click="emit('close')">{{ t('common.cancel') }}</AppButton>
    </template>
    <template v-else>
      <ul class="mt-3 list-disc space-y-1 pl-5">
        <li v-for="text in says" :key="text">{{ text }}</li>
      </ul>
      <p class="mt-3 font-semibold">{{ t('erase.for-good') }}</p>
      <p role="alert" class="mt-2 font-medium text-brick-ink empty:hidden">{{ fault }}</p>
      <div class="mt-5 flex flex-wrap gap-2">
        <AppButton tone="warn" :disabled="busy" @click="confirm">{{ t('erase.do') }}</AppButton>
        <AppButton ref="cancel" @click="emit('close')">{{ t('common.cancel') }}</AppButton>
      </div>
    </template>
  </ModalSheet>
</template>
