<script setup lang="ts">
import { ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink, useRoute } from 'vue-router';
import { api } from '../../app/api/api.ts';
import OpenSheet from '../../app/shell/OpenSheet.vue';
import { useSubmit } from '../../app/submit.ts';
import AppButton from '../../ui/AppButton.vue';

/** Confirms an address by the link of its mail. By a click: programs that read mails open links too. */
const { t } = useI18n();
const route = useRoute();
const { fault, busy, tried } = useSubmit();
const done = ref(false);
const confirm = () =>
  tried(async () => {
    const body = { token: String(route.params.token) };
    await api('POST /api/account/email/confirmed', { body });
    done.value = true;
  });
</script>

<template>
  <OpenSheet>
    <template v-if="done">
      <h1 class="text-[22px]" role="status">{{ t('confirm.done') }}</h1>
      <RouterLink
        to="/"
        class="mt-5 inline-flex h-11 items-center rounded-edge bg-action px-5 font-semibold text-white hover:brightness-115"
        >{{ t('confirm.on') }}</RouterLink
      >
    </template>
    <form v-else @submit.prevent="confirm">
      <h1 class="mb-1 text-[22px]">{{ t('confirm.title') }}</h1>
      <p class="mb-5 text-soft">{{ t('confirm.text') }}</p>
      <p role="alert" class="mb-4 font-medium text-brick-ink empty:hidden">{{ fault }}</p>
      <AppButton tone="main" submits class="h-11 w-full" :disabled="busy">{{
        t('confirm.confirm')
      }}</AppButton>
    </form>
  </OpenSheet>
</template>
