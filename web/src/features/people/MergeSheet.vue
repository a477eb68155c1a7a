<script setup lang="ts">
import type { PersonRow } from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { computed, ref, useTemplateRef, watch } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import PageState from '../../app/PageState.vue';
import { useSession } from '../../app/session/session.ts';
import { useSubmit } from '../../app/submit.ts';
import AppButton from '../../ui/AppButton.vue';
import ModalSheet from '../../ui/ModalSheet.vue';
import { usePersonChanges } from './people.ts';
import PersonChooser from './PersonChooser.vue';

/** Finds another record of a person, and merges it into theirs once it is said what that does. */
const { person } = defineProps<{ person: PersonRow }>();
const emit = defineEmits<{ close: [] }>();
const { t } = useI18n();
const session = useSession();
const { merge } = usePersonChanges();
const { fault, busy, tried } = useSubmit();
const other = ref<PersonRow | null>(null);
const query = useQuery({
  key: () => ['merging', person.id, other.value?.id ?? ''],
  query: () =>
    api('GET /api/people/:person/merge', {
      params: { person: person.id },
      query: { other: other.value!.id },
    }),
  enabled: () => other.value !== null,
  staleTime: 0,
});
const says = computed(() => {
  const merging = query.data.value;
  if (!merging || !other.value) return [];
  const names = { name: person.name, other: other.value.name };
  const { classes, boxes, folders, items, signIn, password, listed } = merging;
  return [
    folders + items > 0 &&
      t('merge.things', {
        ...names,
        folders: t('hand-over.folders', folders),
        items: t('hand-over.items', items),
      }),
    classes.length > 0 && t('merge.classes', { classes: classes.join(', ') }),
    boxes > 0 && t('merge.boxes', boxes),
    signIn === null || password === 'none'
      ? t('merge.no-sign-in', names)
      : t(`merge.sign-in-${password}`, { ...names, signIn }),
    listed && t('merge.listed', names),
  ].filter((text) => text !== false);
});
/** Once it is said what happens, the keys are at the answer that changes nothing. */
const cancel = useTemplateRef<{ $el: HTMLButtonElement }>('cancel');
watch(cancel, (button) => button?.$el.focus());
/** Who is here twice mostly has one family name. */
const familyName = computed(() => person.name.split(' ').at(-1)!);

async function confirm() {
  const done = await tried(() => merge(person, other.value!));
  if (done) emit('close');
}
</script>

<template>
  <ModalSheet v-if="!other" :title="t('merge.title', { name: person.name })" @close="emit('close')">
    <p class="mt-2 mb-4 text-soft">{{ t('merge.text') }}</p>
    <PersonChooser
      :kind="person.kind"
      :except="[person.id, session.person?.id ?? '']"
      :label="t('merge.find')"
      :nobody="t('merge.nobody')"
      :starts="familyName"
      @choose="other = $event"
    />
    <AppButton class="mt-4" @click="emit('close')">{{ t('common.cancel') }}</AppButton>
  </ModalSheet>
  <ModalSheet
    v-else
    :title="t('merge.sure', { name: person.name, other: other.name })"
    @close="emit('close')"
  >
    <PageState v-if="!query.data.value" :error="query.error.value" @again="query.refetch()" />
    <template v-else>
      <p class="mt-3">{{ t('merge.gone', { name: person.name, other: other.name }) }}</p>
      <ul class="mt-2 list-disc space-y-1 pl-5">
        <li v-for="text in says" :key="text">{{ text }}</li>
      </ul>
      <p class="mt-3 font-semibold">{{ t('merge.for-good') }}</p>
      <p role="alert" class="mt-2 font-medium text-brick-ink empty:hidden">{{ fault }}</p>
      <div class="mt-5 flex flex-wrap gap-2">
        <AppButton tone="warn" :disabled="busy" @click="confirm">{{ t('merge.do') }}</AppButton>
        <AppButton @click="other = null">{{ t('merge.another') }}</AppButton>
        <AppButton ref="cancel" @click="emit('close')">{{ t('common.cancel') }}</AppButton>
      </div>
    </template>
  </ModalSheet>
</template>
