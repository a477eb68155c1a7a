<script setup lang="ts">
import type { PersonRow, Slips } from '@sammlung/contract';
import { computed, defineAsyncComponent, reactive, ref, watch } from 'vue';
import { useI18n } from 'vue-i18n';
import { useSession } from '../../app/session/session.ts';
import { useSubmit } from '../../app/submit.ts';
import AppButton from '../../ui/AppButton.vue';
import { FIELD } from '../../ui/field.ts';
import { usePersonChanges } from './people.ts';

/** What the office changes of a person, and how that person comes in. */
const { person, mails } = defineProps<{ person: PersonRow; mails: boolean }>();
const emit = defineEmits<{ close: []; gone: []; slips: [slips: Slips['slips']] }>();
const { t } = useI18n();
const session = useSession();
const { attempt, change, endSecondStep, letIn, invite, slipFor } = usePersonChanges();
const { fault, busy, tried } = useSubmit();
const HandOverSheet = defineAsyncComponent(() => import('./HandOverSheet.vue'));
const MergeSheet = defineAsyncComponent(() => import('./MergeSheet.vue'));
const EraseSheet = defineAsyncComponent(() => import('./EraseSheet.vue'));
/** The sheet that is open. */
const sheet = ref<'hand-over' | 'merge' | 'erase' | null>(null);
const facts = reactive({ name: '', email: '', kind: person.kind });
watch(
  () => person,
  ({ name, email, kind }) => Object.assign(facts, { name, email: email ?? '', kind }),
  { immediate: true },
);
const changed = computed(
  () =>
    facts.name.trim() !== person.name ||
    facts.email.trim() !== (person.email ?? '') ||
    facts.kind !== person.kind,
);

async function save() {
  const { name, email, kind } = facts;
  const saved = await tried(() =>
    change(person, {
      name: name.trim(),
      email: email.trim() || null,
      ...(kind !== person.kind && kind !== 'student' && { kind }),
    }),
  );
  if (saved) emit('close');
}
/** The person goes from the list that is shown, and the card with them. */
function admit(may: boolean) {
  emit('gone');
  return letIn(person, may);
}
const print = () => attempt(async () => emit('slips', await slipFor(person.id)));
</script>

<template>
  <div class="border-t border-line bg-paper/60 px-4 py-4">
    <form
      class="grid items-end gap-3 sm:grid-cols-[1fr_1fr_auto_auto]"
      @submit.prevent="save"
      @keydown.esc.stop="emit('close')"
    >
      <label class="block"
        ><span class="block text-meta text-soft">{{ t('people.name') }}</span
        ><input v-model="facts.name" maxlength="120" required :class="FIELD"
      /></label>
      <label class="block"
        ><span class="block text-meta text-soft">{{ t('people.email') }}</span
        ><input v-model="facts.email" type="email" maxlength="254" :class="FIELD"
      /></label>
      <label v-if="person.kind !== 'student'" class="block"
        ><span class="block text-meta text-soft">{{ t('people.kind') }}</span
        ><select v-model="facts.kind" :class="FIELD">
          <option value="teacher">{{ t('people.one.teacher') }}</option>
          <option value="office">{{ t('people.one.office') }}</option>
        </select></label
      >
      <AppButton tone="main" submits :disabled="busy || !changed">{{ t('common.save') }}</AppButton>
    </form>
    <p role="alert" class="mt-2 font-medium text-brick-ink empty:hidden">{{ fault }}</p>
    <div class="mt-4 flex flex-wrap items-center gap-2">
      <template v-if="person.access !== 'ended'">
        <AppButton
          v-if="mails && person.email && person.access !== 'ready'"
          :tone="person.access === 'none' ? 'main' : 'quiet'"
          @click="invite(person)"
          >{{ t('people.invite') }}</AppButton
        >
        <AppButton
          :tone="person.access === 'none' && !(mails && person.email) ? 'main' : 'quiet'"
          @click="print"
          >{{ t('people.slip') }}</AppButton
        >
        <AppButton
          v-if="person.id !== session.person?.id"
          class="text-brick-ink"
          @click="admit(false)"
          >{{ t('people.end') }}</AppButton
        >
      </template>
      <AppButton v-else @click="admit(true)">{{ t('people.let-in') }}</AppButton>
      <AppButton v-if="person.secondStep" @click="endSecondStep(person)">{{
        t('people.step-off')
      }}</AppButton>
      <AppButton v-if="person.kind === 'teacher'" @click="sheet = 'hand-over'">{{
        t('people.things')
      }}</AppButton>
      <AppButton v-if="person.access !== 'ended'" @click="sheet = 'merge'">{{
        t('merge.open')
      }}</AppButton>
      <AppButton v-else class="text-brick-ink" @click="sheet = 'erase'">{{
        t('erase.open')
      }}</AppButton>
      <p class="basis-full text-meta text-soft">{{ t(`people.about.${person.access}`) }}</p>
    </div>
    <HandOverSheet v-if="sheet === 'hand-over'" :person="person" @close="sheet = null" />
    <MergeSheet v-if="sheet === 'merge'" :person="person" @close="sheet = null" />
    <EraseSheet
      v-if="sheet === 'erase'"
      :person="person"
      @close="sheet = null"
      @gone="emit('gone')"
    />
  </div>
</template>
