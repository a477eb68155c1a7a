<script setup lang="ts">
import { PASSWORD_LENGTH } from '@sammlung/core';
import { ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink, useRoute } from 'vue-router';
import { api } from '../../app/api/api.ts';
import OpenSheet from '../../app/shell/OpenSheet.vue';
import { useSubmit } from '../../app/submit.ts';
import AppButton from '../../ui/AppButton.vue';
import ChosenPassword from './ChosenPassword.vue';

/** Sets a password by the link of a mail. */
const { t } = useI18n();
const route = useRoute();
const password = ref('');
const { fault, tried } = useSubmit();
const done = ref(false);

async function save() {
  await tried(async () => {
    await api('POST /api/session/password', {
      body: {
        token: String(route.params.token),
        password: password.value,
      },
    });
    done.value = true;
  });
}
</script>

<template>
  <OpenSheet>
    <template v-if="done">
      <h1 class="text-[22px]" role="status">{{ t('password.done') }}</h1>
      <RouterLink
        :to="{ name: 'sign-in', query: route.query.to ? { to: route.query.to } : {} }"
        class="mt-5 inline-flex h-11 items-center rounded-edge bg-action px-5 font-semibold text-white hover:brightness-115"
        >{{ t('session.sign-in') }}</RouterLink
      >
    </template>
    <form v-else @submit.prevent="save">
      <h1 class="mb-1 text-[22px]">{{ t('password.title') }}</h1>
      <p class="mb-5 text-soft">{{ t('password.text', { least: PASSWORD_LENGTH }) }}</p>
      <ChosenPassword v-model="password" :fault="fault" />
      <AppButton tone="main" submits class="mt-4 h-11 w-full">{{ t('common.save') }}</AppButton>
    </form>
  </OpenSheet>
</template>
