<script setup lang="ts">
import type { Asking, Visitor } from '@sammlung/contract';
import { ref } from 'vue';
import { useI18n } from 'vue-i18n';
import AppButton from '../../ui/AppButton.vue';
import { language } from '../i18n.ts';
import { useSubmit } from '../submit.ts';

/** Asks whoever decides to be let in, with a few words; visitors say who they are, and where the answer is to go. */
const { asking, ask } = defineProps<{
  /** Who decides, where that may be told. */
  name: string | null;
  asking: Asking;
  ask: (message: string, visitor?: Visitor) => Promise<void>;
}>();
const { t } = useI18n();
const message = ref('');
const done = ref(asking === 'asked');
const own = ref({ name: '', email: '' });
const { fault, tried } = useSubmit();

async function send() {
  await tried(async () => {
    if (asking === 'visitor') await ask(message.value, { ...own.value, language: language() });
    else await ask(message.value);
    done.value = true;
  });
}
</script>

<template>
  <p v-if="done" class="mt-8 text-[17px] font-semibold" role="status">
    {{ t(asking === 'visitor' ? 'wall.visitor-asked' : 'wall.asked') }}
  </p>
  <form v-else class="mt-8" @submit.prevent="send">
    <template v-if="asking === 'visitor'">
      <h2 class="text-[18px]">{{ t('wall.visitor-title') }}</h2>
      <div class="mt-3 mb-3 grid gap-3 sm:grid-cols-2">
        <label class="block">
          <span class="font-semibold">{{ t('wall.visitor-name') }}</span>
          <input
            v-model="own.name"
            required
            maxlength="80"
            autocomplete="name"
            class="mt-1 block h-11 w-full rounded-edge border border-line bg-raised px-3"
          />
        </label>
        <label class="block">
          <span class="font-semibold">{{ t('wall.visitor-email') }}</span>
          <input
            v-model="own.email"
            type="email"
            required
            maxlength="200"
            autocomplete="email"
            class="mt-1 block h-11 w-full rounded-edge border border-line bg-raised px-3"
          />
        </label>
      </div>
    </template>
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
