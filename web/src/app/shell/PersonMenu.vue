<script setup lang="ts">
import { onClickOutside } from '@vueuse/core';
import { computed, ref, useTemplateRef } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink } from 'vue-router';
import LanguageChoice from './LanguageChoice.vue';
import { useAction } from '../action.ts';
import { useInstall } from './install.ts';
import { initialsOf } from '../session/initials.ts';
import { useSession } from '../session/session.ts';

const { t } = useI18n();
const session = useSession();
const open = ref(false);
const box = useTemplateRef('box');
const button = useTemplateRef('button');
const { question, install } = useInstall();
const ROW =
  'mt-3 w-full rounded-edge border border-line px-3 py-2 text-left font-semibold hover:bg-paper';
onClickOutside(box, () => (open.value = false));

const initials = computed(() => initialsOf(session.person?.name ?? ''));

function close() {
  open.value = false;
  button.value?.focus();
}

const attempt = useAction();
const signOut = () => attempt(session.signOut);
</script>

<template>
  <div v-if="session.person" ref="box" class="relative self-center" @keydown.esc.stop="close">
    <button
      ref="button"
      class="grid size-9 place-items-center rounded-full bg-[#d8e6e3] text-[13px] font-bold text-[#0b3b41]"
      :aria-expanded="open"
      @click="open = !open"
    >
      <span aria-hidden="true">{{ initials }}</span>
      <span class="sr-only">{{ t('shell.person', { name: session.person.name }) }}</span>
    </button>
    <div
      v-if="open"
      class="absolute right-0 z-40 mt-2 w-64 rounded-lg border border-line bg-raised p-4 text-ink shadow-xl"
    >
      <p class="font-semibold">{{ session.person.name }}</p>
      <p class="text-meta text-soft">{{ session.person.school.name }}</p>
      <LanguageChoice class="mt-3" />
      <button v-if="question" :class="ROW" @click="install">{{ t('device.install') }}</button>
      <RouterLink :to="{ name: 'account' }" class="block" :class="ROW" @click="open = false">{{
        t('shell.account')
      }}</RouterLink>
      <RouterLink
        v-if="session.person.kind !== 'office'"
        :to="{ name: 'programs' }"
        class="block"
        :class="ROW"
        @click="open = false"
        >{{ t('shell.programs') }}</RouterLink
      >
      <RouterLink
        v-if="session.person.kind === 'office'"
        :to="{ name: 'school' }"
        class="block"
        :class="ROW"
        @click="open = false"
        >{{ t('shell.school') }}</RouterLink
      >
      <RouterLink :to="{ name: 'recorded' }" class="block" :class="ROW" @click="open = false">{{
        t('shell.recorded')
      }}</RouterLink>
      <button :class="ROW" @click="signOut">
        {{ t('shell.sign-out') }}
      </button>
    </div>
  </div>
</template>
