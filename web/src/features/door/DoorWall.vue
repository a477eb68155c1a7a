<script setup lang="ts">
import type { DoorState, Visitor } from '@sammlung/contract';
import { computed, ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink, useRoute } from 'vue-router';
import { api } from '../../app/api/api.ts';
import AskToSee from '../../app/shell/AskToSee.vue';
import { useSubmit } from '../../app/submit.ts';
import AppButton from '../../ui/AppButton.vue';
import { useFormat } from '../../app/format.ts';

/** Says plainly why an address does not open, and what can be done. */
const { wall, token } = defineProps<{ wall: DoorState & { state: 'wall' }; token: string }>();
const emit = defineEmits<{ opened: [] }>();
const { t } = useI18n();
/** What the wall may tell. */
const facts = computed(() => ({
  school: wall.schoolName ?? '',
  when: wall.from ? moment(wall.from) : '',
}));

const word = ref('');
const { fault, tried } = useSubmit();
async function say() {
  await tried(async () => {
    await api('POST /api/open/:token/word', { params: { token }, body: { word: word.value } });
    emit('opened');
  });
}
const ask = async (message: string, visitor?: Visitor) => {
  const body = { message, ...(visitor && { visitor }) };
  await api('POST /api/open/:token/requests', { params: { token }, body });
};
const { moment } = useFormat();
const route = useRoute();
</script>

<template>
  <div class="mx-auto w-full max-w-xl px-6 py-20">
    <div class="border-l-4 border-saffron pl-6">
      <h1 class="text-[28px]">{{ t(`wall.${wall.reason}.title`, facts) }}</h1>
      <p class="mt-3 text-[17px]">{{ t(`wall.${wall.reason}.text`, facts) }}</p>
      <RouterLink
        v-if="wall.reason === 'sign-in'"
        :to="{ name: 'sign-in', query: { to: route.fullPath } }"
        class="mt-6 inline-flex h-11 items-center rounded-edge bg-action px-5 font-semibold text-white hover:brightness-115"
      >
        {{ t('session.sign-in') }}
      </RouterLink>
    </div>
    <form
      v-if="wall.reason === 'word'"
      class="mt-8 flex flex-wrap items-end gap-3"
      @submit.prevent="say"
    >
      <label class="block flex-1">
        <span class="font-semibold">{{ t('wall.the-word') }}</span>
        <input
          v-model="word"
          required
          maxlength="100"
          autocomplete="off"
          autocapitalize="none"
          class="mt-1 block h-11 w-full rounded-edge border border-line bg-raised px-3"
          :aria-invalid="fault !== ''"
        />
      </label>
      <AppButton tone="main" submits class="h-11">{{ t('wall.say') }}</AppButton>
      <p role="alert" class="w-full font-medium text-brick-ink empty:hidden">{{ fault }}</p>
    </form>
    <AskToSee
      v-if="wall.ask !== null && wall.reason !== 'word'"
      :name="null"
      :asking="wall.ask"
      :ask="ask"
    />
    <template v-else>
      <h2 class="mt-12 text-[18px]">{{ t('wall.help') }}</h2>
      <p class="mt-1 text-soft">{{ t('wall.help-text') }}</p>
    </template>
  </div>
</template>
