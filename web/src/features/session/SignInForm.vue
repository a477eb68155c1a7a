<script setup lang="ts">
import type { NextStep } from '@sammlung/contract';
import { PASSWORD_LENGTH } from '@sammlung/core';
import { ref, useTemplateRef } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import { useSession } from '../../app/session/session.ts';
import { useSubmit } from '../../app/submit.ts';
import AppButton from '../../ui/AppButton.vue';
import ChosenPassword from './ChosenPassword.vue';
import CodeForm from './CodeForm.vue';

const emit = defineEmits<{ done: [] }>();
const { t } = useI18n();
const session = useSession();
const email = ref('');
const password = ref('');
const { fault, busy, tried } = useSubmit();
const passwordField = useTemplateRef('passwordField');

/** What comes before somebody is signed in: a password of their own, in place of the first one just given, or a code. */
const next = ref<NextStep | null>(null);
const chosen = ref('');

async function signIn() {
  const went = await tried(async () => {
    next.value = await session.signIn(email.value, password.value);
  });
  if (!went) passwordField.value?.select();
  else if (!next.value) emit('done');
}

async function choose(token: string) {
  const went = await tried(async () => {
    const body = { token, password: chosen.value };
    await api('POST /api/session/password', { body });
    next.value = await session.signIn(email.value, chosen.value);
  });
  if (went && !next.value) emit('done');
}
</script>

<template>
  <CodeForm v-if="next?.step === 'code'" @done="emit('done')" @again="next = null" />
  <form v-else-if="next" class="space-y-4" @submit.prevent="choose(next.token)">
    <div>
      <h3 class="text-[18px]">{{ t('password.title') }}</h3>
      <p class="text-soft">{{ t('password.first', { least: PASSWORD_LENGTH }) }}</p>
    </div>
    <input type="hidden" name="username" autocomplete="username" :value="email" />
    <ChosenPassword v-model="chosen" :fault="fault" />
    <AppButton tone="main" submits class="h-11 w-full" :disabled="busy">
      {{ t('password.save-and-in') }}
    </AppButton>
  </form>
  <form v-else class="space-y-4" @submit.prevent="signIn">
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
