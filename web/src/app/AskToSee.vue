<script setup lang="ts">
import { ref } from 'vue';
import { useI18n } from 'vue-i18n';
import AppButton from '../ui/AppButton.vue';
import { useSubmit } from './submit.ts';

/** Asks whoever decides to be let in, with a few words. */
const { asked, ask } = defineProps<{
  /** Who decides, where that may be told. */
  name: string | null;
  asked: boolean;
  ask: (message: string) => Promise<void>;
}>();
const { t } = useI18n();
const message = ref('');
const done = ref(asked);
const { fault, tried } = useSubmit();

async function send() {
  await tried(async () => {
    await ask(message.value);
    done.value = true;
  });
}
</script>

<template>
  <p v-if="done" class="mt-8 text-[17px] font-semibold" role="status">{{ t('wall.asked') }}</p>
  <form v-else class="mt-8" @submit.prevent="send">
    <label class="block">
      <span class="font-semibold">{{
        name ? t('wall.ask', { name }) : t('wall.ask-teacher')
      }}</span>
      <textarea
        v-model="message"
        rows="3"
        maxlength="500"
        class="mt-1 block w-full rounded-edge border border-line bg-raised px-3 py-2"
        :placeholder="t('wall.ask-example')"
      />
    </label>
    <p role="alert" class="mt-2 font-medium text-brick-ink empty:hidden">{{ fault }}</p>
    <AppButton tone="main" submits class="mt-3">{{ t('wall.send') }}</AppButton>
  </form>
</template>
