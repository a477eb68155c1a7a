<script setup lang="ts">
import { PASSWORD_LENGTH } from '@sammlung/core';
import { ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import { say } from '../../app/shell/toast.ts';
import { useSubmit } from '../../app/submit.ts';
import AppButton from '../../ui/AppButton.vue';
import { FIELD } from '../../ui/field.ts';
import { useRefresh } from './account.ts';
import OwnPassword from './OwnPassword.vue';

/** A new password, by the one before. */
const { t } = useI18n();
const refresh = useRefresh();
const open = ref(false);
const current = ref('');
const password = ref('');
const { fault, busy, tried } = useSubmit();

async function save() {
  const saved = await tried(() =>
    api('PUT /api/account/password', {
      body: { current: current.value, password: password.value },
    }),
  );
  if (!saved) return;
  current.value = password.value = '';
  open.value = false;
  say({ text: t('account.password-changed') });
  await refresh();
}
</script>

<template>
  <AppButton v-if="!open" @click="open = true">{{ t('account.change') }}</AppButton>
  <form v-else class="max-w-md space-y-3" @submit.prevent="save">
    <OwnPassword v-model="current" :label="t('account.current')" />
    <label class="block"
      ><span class="block text-meta text-soft">{{ t('password.new') }}</span
      ><input
        v-model="password"
        type="password"
        :minlength="PASSWORD_LENGTH"
        maxlength="256"
        required
        autocomplete="new-password"
        :class="FIELD"
    /></label>
    <p class="text-meta text-soft">{{ t('password.text', { least: PASSWORD_LENGTH }) }}</p>
    <p role="alert" class="font-medium text-brick-ink empty:hidden">{{ fault }}</p>
    <div class="flex gap-2">
      <AppButton tone="main" submits :disabled="busy">{{ t('common.save') }}</AppButton>
      <AppButton :disabled="busy" @click="open = false">{{ t('common.cancel') }}</AppButton>
    </div>
  </form>
</template>
