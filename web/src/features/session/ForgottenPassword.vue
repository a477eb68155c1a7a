<script setup lang="ts">
import { ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import { useSubmit } from '../../app/submit.ts';
import AppButton from '../../ui/AppButton.vue';

/** Asks for a mail with a link by which a password can be set. */
const emit = defineEmits<{ back: [] }>();
const { t } = useI18n();
const email = ref('');
const { fault, tried } = useSubmit();
const asked = ref(false);

async function ask() {
  await tried(async () => {
    await api('POST /api/session/forgotten', { body: { email: email.value } });
    asked.value = true;
  });
}
</script>

<template>
  <form class="space-y-4" @submit.prevent="ask">
    <p v-if="asked" role="status">{{ t('password.sent', { email }) }}</p>
    <template v-else>
      <p class="text-soft">{{ t('password.ask-text') }}</p>
      <label class="block">
        <span class="font-semibold">{{ t('password.mail') }}</span>
        <input
          v-model="email"
          type="email"
          autocomplete="username"
          required
          class="mt-1 block h-11 w-full rounded-edge border border-line bg-raised px-3"
        />
      </label>
      <p role="alert" class="font-medium text-brick-ink empty:hidden">{{ fault }}</p>
      <AppButton tone="main" submits class="h-11 w-full">{{ t('password.ask') }}</AppButton>
    </template>
    <AppButton class="h-11 w-full" @click="emit('back')">{{ t('password.back') }}</AppButton>
  </form>
</template>
