<script setup lang="ts">
import { ref, useTemplateRef } from 'vue';
import { useI18n } from 'vue-i18n';
import { useSession } from '../../app/session.ts';
import { useTrying } from '../../app/trying.ts';
import AppButton from '../../ui/AppButton.vue';

const emit = defineEmits<{ done: [] }>();
const { t } = useI18n();
const session = useSession();
const email = ref('');
const password = ref('');
const { fault, busy, tried } = useTrying();
const passwordField = useTemplateRef('passwordField');

async function signIn() {
  if (await tried(() => session.signIn(email.value, password.value))) emit('done');
  else passwordField.value?.select();
}
</script>

<template>
  <form class="space-y-4" @submit.prevent="signIn">
    <label class="block">
      <span class="font-semibold">{{ t('session.email') }}</span>
      <input
        v-model="email"
        type="text"
        inputmode="email"
        autocapitalize="none"
        name="email"
        autocomplete="username"
        required
        class="mt-1 block h-11 w-full rounded-edge border border-line bg-raised px-3"
      />
    </label>
    <label class="block">
      <span class="font-semibold">{{ t('session.password') }}</span>
      <input
        ref="passwordField"
        v-model="password"
        type="password"
        name="password"
        autocomplete="current-password"
        required
        maxlength="256"
        class="mt-1 block h-11 w-full rounded-edge border border-line bg-raised px-3"
        :aria-invalid="fault !== ''"
        aria-describedby="sign-in-fault"
      />
    </label>
    <p id="sign-in-fault" role="alert" class="font-medium text-brick-ink empty:hidden">
      {{ fault }}
    </p>
    <AppButton tone="main" submits class="h-11 w-full" :disabled="busy">
      {{ t('session.sign-in') }}
    </AppButton>
  </form>
</template>
