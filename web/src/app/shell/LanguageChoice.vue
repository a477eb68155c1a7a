<script setup lang="ts">
import type { Language } from '@sammlung/contract';
import { useI18n } from 'vue-i18n';
import { useAction } from '../action.ts';
import { LANGUAGES } from '../i18n.ts';
import { useSession } from '../session/session.ts';

/** The languages, each by its own name. */
const { t, locale } = useI18n();
const session = useSession();

const attempt = useAction();
const choose = (language: Language) => attempt(() => session.choose(language));
</script>

<template>
  <div class="flex gap-1" role="group" :aria-label="t('shell.language')">
    <button
      v-for="(name, language) in LANGUAGES"
      :key="language"
      type="button"
      :lang="language"
      class="min-h-9 rounded-edge border px-3 text-[15px] font-semibold pointer-coarse:min-h-11"
      :class="locale === language ? 'border-petrol bg-petrol-pale text-petrol' : 'border-line'"
      :aria-pressed="locale === language"
      @click="choose(language)"
    >
      {{ name }}
    </button>
  </div>
</template>
