<script setup lang="ts">
import type { SchoolFacts } from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { computed, ref, watch } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import { LANGUAGES } from '../../app/i18n.ts';
import PageState from '../../app/PageState.vue';
import { useSession } from '../../app/session/session.ts';
import { say } from '../../app/shell/toast.ts';
import { useSubmit } from '../../app/submit.ts';
import AppButton from '../../ui/AppButton.vue';
import { FIELD } from '../../ui/field.ts';

/** What the school is called, and in which language it writes, for the office. */
const { t } = useI18n();
const session = useSession();
const query = useQuery({ key: ['school'], query: () => api('GET /api/school'), staleTime: 0 });
const name = ref('');
/** Empty for the language of the server. */
const language = ref<keyof typeof LANGUAGES | ''>('');
const { fault, busy, tried } = useSubmit();

function show(facts: SchoolFacts) {
  name.value = facts.name;
  language.value = facts.language ?? '';
}
watch(query.data, (data) => data && show(data), { immediate: true });
const wanted = computed((): SchoolFacts => ({
  name: name.value.trim(),
  language: language.value || null,
}));
const same = computed(() => {
  const { name: known, language: spoken } = query.data.value ?? wanted.value;
  return known === wanted.value.name && spoken === wanted.value.language;
});

async function write(facts: SchoolFacts) {
  await api('PUT /api/school', { body: facts });
  if (session.person)
    session.person = {
      ...session.person,
      school: { ...session.person.school, name: facts.name },
    };
  await query.refetch();
}
const save = () =>
  tried(async () => {
    const before = query.data.value!;
    await write(wanted.value);
    say({
      text: t('school.changed'),
      undo: () => write({ name: before.name, language: before.language }),
    });
  });
</script>

<template>
  <div class="mx-auto w-full max-w-4xl px-5 py-7 sm:px-10">
    <h1 class="text-[28px]">{{ t('shell.school') }}</h1>
    <p class="mt-1 text-soft">{{ t('school.text') }}</p>
    <PageState v-if="!query.data.value" :error="query.error.value" @again="query.refetch()" />
    <form v-else class="mt-6 max-w-lg space-y-5" @submit.prevent="save">
      <label class="block"
        ><span class="font-semibold">{{ t('begin.name') }}</span
        ><input v-model="name" maxlength="100" required autocomplete="organization" :class="FIELD"
      /></label>
      <label class="block"
        ><span class="font-semibold">{{ t('begin.language') }}</span
        ><select v-model="language" :class="FIELD">
          <option value="">{{ t('school.server-language') }}</option>
          <option v-for="(one, code) in LANGUAGES" :key="code" :value="code">{{ one }}</option>
        </select></label
      >
      <div>
        <p class="font-semibold">{{ t('begin.zone') }}</p>
        <p>{{ query.data.value.timeZone }}</p>
        <p class="text-meta text-soft">{{ t('school.zone-text') }}</p>
      </div>
      <p role="alert" class="font-medium text-brick-ink empty:hidden">{{ fault }}</p>
      <AppButton tone="main" submits :disabled="busy || same || wanted.name === ''">{{
        t('common.save')
      }}</AppButton>
    </form>
  </div>
</template>
