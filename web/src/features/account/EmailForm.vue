<script setup lang="ts">
import type { Account } from '@sammlung/contract';
import { ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { useAction } from '../../app/action.ts';
import { api } from '../../app/api/api.ts';
import { say } from '../../app/shell/toast.ts';
import { useSubmit } from '../../app/submit.ts';
import AppButton from '../../ui/AppButton.vue';
import { FIELD } from '../../ui/field.ts';
import { useRefresh } from './account.ts';
import OwnPassword from './OwnPassword.vue';

/** The address for mails, by which one signs in: another one counts once a link that goes there was opened. */
defineProps<{ account: Account }>();
const { t } = useI18n();
const refresh = useRefresh();
const open = ref(false);
const email = ref('');
const password = ref('');
const { fault, busy, tried } = useSubmit();
const attempt = useAction(refresh);

async function send() {
  const sent = await tried(() =>
    api('PUT /api/account/email', {
      body: { email: email.value.trim(), password: password.value },
    }),
  );
  password.value = '';
  if (!sent) return;
  say({ text: t('account.link-sent', { email: email.value.trim() }) });
  email.value = '';
  open.value = false;
  await refresh();
}
const giveUp = () => attempt(() => api('DELETE /api/account/email'));
</script>

<template>
  <div class="flex flex-wrap items-center gap-x-4 gap-y-2">
    <p class="min-w-0 flex-1 wrap-anywhere" :class="account.email ? 'font-semibold' : 'text-soft'">
      {{ account.email ?? t('account.no-email') }}
    </p>
    <AppButton v-if="account.mails && !open" @click="open = true">{{
      t('account.change')
    }}</AppButton>
  </div>
  <p v-if="account.signInName && !account.email" class="mt-1">
    {{ t('account.sign-in-name') }}: <span class="font-code">{{ account.signInName }}</span>
  </p>
  <p v-if="!account.mails" class="mt-1 text-meta text-soft">{{ t('account.no-mails') }}</p>
  <p
    v-if="account.newEmail"
    class="mt-2 flex flex-wrap items-center gap-x-4 gap-y-1 rounded-edge border border-saffron bg-raised px-3 py-1.5"
  >
    <span class="min-w-0 flex-1 wrap-anywhere">{{
      t('account.email-waits', { email: account.newEmail })
    }}</span>
    <button
      type="button"
      class="min-h-9 font-semibold text-petrol hover:underline pointer-coarse:min-h-11"
      @click="giveUp"
    >
      {{ t('account.email-give-up') }}
    </button>
  </p>
  <form v-if="open" class="mt-3 max-w-md space-y-3" @submit.prevent="send">
    <label class="block"
      ><span class="block text-meta text-soft">{{ t('account.new-email') }}</span
      ><input
        v-model="email"
        type="email"
        maxlength="254"
        required
        autocomplete="email"
        :class="FIELD"
    /></label>
    <OwnPassword v-model="password" />
    <p class="text-meta text-soft">{{ t('account.new-email-text') }}</p>
    <p role="alert" class="font-medium text-brick-ink empty:hidden">{{ fault }}</p>
    <div class="flex gap-2">
      <AppButton tone="main" submits :disabled="busy">{{ t('account.send-link') }}</AppButton>
      <AppButton :disabled="busy" @click="open = false">{{ t('common.cancel') }}</AppButton>
    </div>
  </form>
</template>
