<script setup lang="ts">
import type { Account, NewSecondStep } from '@sammlung/contract';
import { useClipboard } from '@vueuse/core';
import { computed, nextTick, ref, useTemplateRef } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import { say } from '../../app/shell/toast.ts';
import { useSubmit } from '../../app/submit.ts';
import AppButton from '../../ui/AppButton.vue';
import { FIELD } from '../../ui/field.ts';
import { useRefresh } from './account.ts';
import OwnPassword from './OwnPassword.vue';

/** The second step of signing in: set up, turned off, and its recovery codes. */
defineProps<{ step: NonNullable<Account['secondStep']> }>();
const { t } = useI18n();
const refresh = useRefresh();
/** What the password is asked for. */
const wanted = ref<'on' | 'off' | 'codes' | null>(null);
const password = ref('');
const made = ref<NewSecondStep | null>(null);
/** Recovery codes that are shown this once. */
const codes = ref<readonly string[]>([]);
const code = ref('');
const { fault, busy, tried } = useSubmit();
const codeField = useTemplateRef('codeField');
const { copy, copied } = useClipboard({ legacy: true, copiedDuring: 4000 });
const picture = computed(
  () => made.value && `data:image/svg+xml;base64,${btoa(made.value.picture)}`,
);

/** Characters in groups, to be read and typed. */
const grouped = (text: string, by: number) =>
  text.replaceAll(new RegExp(`(.{${by}})(?!$)`, 'gu'), '$1 ');

function close() {
  wanted.value = made.value = null;
  codes.value = [];
  password.value = code.value = fault.value = '';
}
async function go() {
  const body = { password: password.value };
  const what = wanted.value;
  const went = await tried(async () => {
    if (what === 'on') {
      made.value = await api('POST /api/account/second-step', { body });
      codes.value = made.value.recoveryCodes;
    } else if (what === 'codes')
      codes.value = (await api('POST /api/account/recovery-codes', { body })).recoveryCodes;
    else await api('POST /api/account/second-step/off', { body });
  });
  password.value = '';
  if (!went) return;
  wanted.value = null;
  await refresh();
  if (what === 'off') say({ text: t('account.step-off-done') });
  await nextTick();
  codeField.value?.focus();
}
async function turnOn() {
  const went = await tried(() =>
    api('PUT /api/account/second-step', { body: { code: code.value } }),
  );
  if (!went) return codeField.value?.select();
  close();
  say({ text: t('account.step-done') });
  await refresh();
}
</script>

<template>
  <form v-if="wanted" class="max-w-md space-y-3" @submit.prevent="go">
    <OwnPassword v-model="password" />
    <p role="alert" class="font-medium text-brick-ink empty:hidden">{{ fault }}</p>
    <div class="flex gap-2">
      <AppButton tone="main" submits :disabled="busy">{{
        t(wanted === 'off' ? 'account.step-off' : 'account.step-next')
      }}</AppButton>
      <AppButton :disabled="busy" @click="close">{{ t('common.cancel') }}</AppButton>
    </div>
  </form>
  <div v-else-if="made || codes.length > 0" class="space-y-4">
    <div v-if="made && picture" class="flex flex-wrap gap-x-5 gap-y-2">
      <img
        :src="picture"
        :alt="t('account.step-picture')"
        class="size-40 rounded-edge border border-line bg-white"
      />
      <div class="min-w-52 flex-1">
        <p>{{ t('account.step-scan') }}</p>
        <p class="mt-2 font-code text-[15px] wrap-anywhere">
          {{ grouped(made.secret, 4) }}
        </p>
      </div>
    </div>
    <div>
      <p>
        {{ t('account.step-keep') }} <template v-if="!made">{{ t('account.codes-new') }}</template>
      </p>
      <ul class="mt-2 grid max-w-md grid-cols-2 gap-x-6 font-code text-[15px]">
        <li v-for="one in codes" :key="one">{{ grouped(one, 5) }}</li>
      </ul>
      <AppButton class="mt-2" @click="copy(codes.map((one) => grouped(one, 5)).join('\n'))">{{
        t(copied ? 'account.copied' : 'account.copy')
      }}</AppButton>
    </div>
    <form v-if="made" class="max-w-md" @submit.prevent="turnOn">
      <label class="block"
        ><span class="block text-meta text-soft">{{ t('account.step-code') }}</span
        ><input
          ref="codeField"
          v-model="code"
          inputmode="numeric"
          autocomplete="one-time-code"
          required
          minlength="6"
          maxlength="9"
          class="font-code"
          :class="FIELD"
      /></label>
      <p role="alert" class="mt-2 font-medium text-brick-ink empty:hidden">{{ fault }}</p>
      <div class="mt-3 flex gap-2">
        <AppButton tone="main" submits :disabled="busy">{{ t('account.step-turn-on') }}</AppButton>
        <AppButton :disabled="busy" @click="close">{{ t('common.cancel') }}</AppButton>
      </div>
    </form>
    <AppButton v-else @click="close">{{ t('common.close') }}</AppButton>
  </div>
  <div v-else-if="step.on" class="flex flex-wrap items-center gap-2">
    <p class="min-w-52 flex-1 font-semibold">{{ t('account.step-on', step.recoveryCodes) }}</p>
    <AppButton @click="wanted = 'codes'">{{ t('account.step-codes') }}</AppButton>
    <AppButton class="text-brick-ink" @click="wanted = 'off'">{{
      t('account.step-off')
    }}</AppButton>
  </div>
  <AppButton v-else @click="wanted = 'on'">{{ t('account.step-begin') }}</AppButton>
</template>
