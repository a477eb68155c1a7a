<script setup lang="ts">
import { PASSWORD_LENGTH, proposedYear } from '@sammlung/core';
import { useQuery } from '@pinia/colada';
import { computed, reactive } from 'vue';
import { useI18n } from 'vue-i18n';
import { useRoute, useRouter } from 'vue-router';
import { api } from '../../app/api/api.ts';
import { language, LANGUAGES } from '../../app/i18n.ts';
import PageState from '../../app/PageState.vue';
import { useSession } from '../../app/session/session.ts';
import OpenSheet from '../../app/shell/OpenSheet.vue';
import { useSubmit } from '../../app/submit.ts';
import AppButton from '../../ui/AppButton.vue';

/** Where a school begins, by the one-time address that the server has printed. */
const { t } = useI18n();
const route = useRoute();
const router = useRouter();
const session = useSession();
const params = { begin: String(route.params.token) };
const offer = useQuery({
  key: ['begin', params.begin],
  query: () => api('GET /api/begin/:begin', { params }),
});
const zones = Intl.supportedValuesOf('timeZone');
const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
const school = reactive({ name: '', timeZone: zone, language: language() });
const person = reactive({ name: '', email: '', password: '' });
const year = reactive({ ...proposedYear(new Date().toISOString().slice(0, 10)) });
const { fault, busy, tried } = useSubmit();
const daysWrong = computed(
  () => year.firstDay !== '' && year.lastDay !== '' && year.lastDay <= year.firstDay,
);

async function speak() {
  await session.choose(school.language);
}

async function begin() {
  const begun = await tried(async () => {
    await api('POST /api/begin/:begin', {
      params,
      body: { school: { ...school }, person: { ...person }, year: { ...year } },
    });
    await session.signIn(person.email, person.password);
  });
  if (begun) await router.replace('/');
}
const field =
  'mt-1 block h-11 w-full rounded-edge border border-line bg-raised px-3 aria-invalid:border-brick';
</script>

<template>
  <OpenSheet wide>
    <PageState v-if="!offer.data.value" :error="offer.error.value" @again="offer.refetch()" />
    <form v-else @submit.prevent="begin">
      <h1 class="text-[26px]">{{ t('begin.title') }}</h1>
      <p class="mt-1 text-soft">{{ t('begin.text') }}</p>

      <fieldset class="mt-6 border-t border-line pt-4">
        <legend class="float-left w-full font-title text-[19px] font-[650]">
          {{ t('begin.school') }}
        </legend>
        <div class="clear-both grid gap-4 pt-2 sm:grid-cols-2">
          <label class="block sm:col-span-2">
            <span class="font-semibold">{{ t('begin.name') }}</span>
            <input
              v-model="school.name"
              maxlength="100"
              required
              autofocus
              autocomplete="organization"
              :class="field"
            />
          </label>
          <label class="block">
            <span class="font-semibold">{{ t('begin.zone') }}</span>
            <select v-model="school.timeZone" :class="field">
              <option v-if="!zones.includes(zone)" :value="zone">{{ zone }}</option>
              <option v-for="one in zones" :key="one" :value="one">{{ one }}</option>
            </select>
          </label>
          <label class="block">
            <span class="font-semibold">{{ t('begin.language') }}</span>
            <select v-model="school.language" :class="field" @change="speak">
              <option v-for="(name, code) in LANGUAGES" :key="code" :value="code">
                {{ name }}
              </option>
            </select>
          </label>
        </div>
      </fieldset>

      <fieldset class="mt-7 border-t border-line pt-4">
        <legend class="float-left w-full font-title text-[19px] font-[650]">
          {{ t('begin.you') }}
        </legend>
        <p class="clear-both text-meta text-soft">{{ t('begin.you-text') }}</p>
        <div class="grid gap-4 pt-2 sm:grid-cols-2">
          <label class="block sm:col-span-2">
            <span class="font-semibold">{{ t('begin.your-name') }}</span>
            <input
              v-model="person.name"
              maxlength="120"
              required
              autocomplete="name"
              :class="field"
            />
          </label>
          <label class="block">
            <span class="font-semibold">{{ t('begin.email') }}</span>
            <input
              v-model="person.email"
              type="email"
              maxlength="254"
              required
              autocomplete="username"
              :class="field"
            />
          </label>
          <label class="block">
            <span class="font-semibold">{{ t('begin.password') }}</span>
            <input
              v-model="person.password"
              type="password"
              :minlength="PASSWORD_LENGTH"
              maxlength="256"
              required
              autocomplete="new-password"
              aria-describedby="begin-password"
              :class="field"
            />
            <span id="begin-password" class="mt-1 block text-meta text-soft">{{
              t('begin.password-text', { least: PASSWORD_LENGTH })
            }}</span>
          </label>
        </div>
      </fieldset>

      <fieldset class="mt-7 border-t border-line pt-4">
        <legend class="float-left w-full font-title text-[19px] font-[650]">
          {{ t('begin.year') }}
        </legend>
        <div class="clear-both grid gap-4 pt-2 sm:grid-cols-3">
          <label class="block">
            <span class="font-semibold">{{ t('begin.year-label') }}</span>
            <input v-model="year.label" maxlength="20" required :class="field" />
          </label>
          <label class="block">
            <span class="font-semibold">{{ t('begin.first-day') }}</span>
            <input
              v-model="year.firstDay"
              type="date"
              min="1990-01-01"
              max="2199-12-31"
              required
              :class="field"
            />
          </label>
          <label class="block">
            <span class="font-semibold">{{ t('begin.last-day') }}</span>
            <input
              v-model="year.lastDay"
              type="date"
              min="1990-01-01"
              max="2199-12-31"
              required
              :aria-invalid="daysWrong"
              aria-describedby="begin-days"
              :class="field"
            />
          </label>
        </div>
        <p id="begin-days" role="alert" class="mt-1 font-medium text-brick-ink empty:hidden">
          {{ daysWrong ? t('begin.days-wrong') : '' }}
        </p>
        <p class="mt-2 text-meta text-soft">{{ t('begin.year-text') }}</p>
      </fieldset>

      <p role="alert" class="mt-5 font-medium text-brick-ink empty:hidden">{{ fault }}</p>
      <AppButton tone="main" submits class="mt-5 h-11 px-6" :disabled="busy || daysWrong">{{
        t('begin.begin')
      }}</AppButton>
    </form>
  </OpenSheet>
</template>
