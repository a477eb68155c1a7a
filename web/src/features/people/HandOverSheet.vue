<script setup lang="ts">
import type { PersonRow } from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import PageState from '../../app/PageState.vue';
import AppButton from '../../ui/AppButton.vue';
import ModalSheet from '../../ui/ModalSheet.vue';
import { usePersonChanges } from './people.ts';
import PersonChooser from './PersonChooser.vue';

/** Gives what a teacher has to a colleague: who that is, and how much it is. */
const { person } = defineProps<{ person: PersonRow }>();
const emit = defineEmits<{ close: [] }>();
const { t } = useI18n();
const { handOver } = usePersonChanges();
const query = useQuery({
  key: () => ['people', 'things', person.id],
  query: () => api('GET /api/people/:person/things', { params: { person: person.id } }),
  staleTime: 0,
});
const much = computed(() => {
  const things = query.data.value;
  if (!things) return '';
  const { folders, items, courses } = things;
  if (folders + items + courses.length === 0) return '';
  return t('hand-over.what', {
    name: person.name,
    folders: t('hand-over.folders', folders),
    items: t('hand-over.items', items),
    courses: t('hand-over.courses', courses.length),
  });
});
async function choose(to: PersonRow) {
  emit('close');
  await handOver(person, to);
}
</script>

<template>
  <ModalSheet :title="t('hand-over.title', { name: person.name })" @close="emit('close')">
    <PageState v-if="!query.data.value" :error="query.error.value" @again="query.refetch()" />
    <template v-else-if="much">
      <p class="mt-2 mb-4">{{ much }}</p>
      <PersonChooser
        kind="teacher"
        :except="[person.id]"
        :label="t('hand-over.find')"
        :nobody="t('hand-over.nobody')"
        @choose="choose"
      />
    </template>
    <p v-else class="mt-2">{{ t('hand-over.nothing', { name: person.name }) }}</p>
    <AppButton class="mt-4" @click="emit('close')">{{ t('common.cancel') }}</AppButton>
  </ModalSheet>
</template>
