<script setup lang="ts">
import { onMounted, ref, useTemplateRef } from 'vue';
import { useI18n } from 'vue-i18n';
import { useSession } from '../../app/session/session.ts';
import { useSubmit } from '../../app/submit.ts';
import AppButton from '../../ui/AppButton.vue';

/** The second step of signing in: a code from an app, or a recovery code. */
const emit = defineEmits<{ done: []; again: [] }>();
const { t } = useI18n();
const session = useSession();
const code = ref('');
const { fault, busy, tried } = useSubmit();
const field = useTemplateRef('field');
onMounted(() => field.value?.focus());

async function give() {
  if (await tried(() => session.giveCode(code.value))) emit('done');
  else field.value?.select();
}
</script>

<template>
  <form class="space-y-4" @submit.prevent="give">
    <label class="block">
      <span class="font-semibold">{{ t('session.code') }}</span>
      <input
        ref="field"
        v-model="code"
        name="code"
        autocomplete="one-time-code"
        autocapitalize="none"
        spellcheck="false"
        required
        minlength="6"
        maxlength="40"
        class="mt-1 block h-11 w-full rounded-edge border border-line bg-raised px-3 font-code text-[19px]"
        :aria-invalid="fault !== ''"
        aria-describedby="code-text code-fault"
      />
    </label>
    <p id="code-text" class="text-soft">{{ t('session.code-text') }}</p>
    <p id="code-fault" role="alert" class="font-medium text-brick-ink empty:hidden">{{ fault }}</p>
    <AppButton tone="main" submits class="h-11 w-full" :disabled="busy">
      {{ t('session.sign-in') }}
    </AppButton>
    <button
      type="button"
      class="min-h-9 text-petrol underline underline-offset-2"
      @click="emit('again')"
    >
      {{ t('session.start-again') }}
    </button>
  </form>
</template>
