<script setup lang="ts">
import type { Behind } from '@sammlung/contract';
import { useI18n } from 'vue-i18n';
import { RouterLink, useRoute } from 'vue-router';
import { useFormat } from '../../app/format.ts';

/** Says plainly why an address does not open, and what can be done. */
defineProps<{ wall: Behind & { state: 'wall' } }>();
const { t } = useI18n();
const { moment } = useFormat();
const route = useRoute();
</script>

<template>
  <div class="mx-auto w-full max-w-xl px-6 py-20">
    <div class="border-l-4 border-saffron pl-6">
      <h1 class="text-[28px]">{{ t(`wall.${wall.reason}.title`) }}</h1>
      <p class="mt-3 text-[17px]">
        {{
          t(`wall.${wall.reason}.text`, {
            school: wall.schoolName ?? '',
            when: wall.from ? moment(wall.from) : '',
          })
        }}
      </p>
      <RouterLink
        v-if="wall.reason === 'sign-in'"
        :to="{ name: 'sign-in', query: { to: route.fullPath } }"
        class="mt-6 inline-flex h-11 items-center rounded-edge bg-action px-5 font-semibold text-white hover:brightness-115"
      >
        {{ t('session.sign-in') }}
      </RouterLink>
    </div>
    <h2 class="mt-12 text-[18px]">{{ t('wall.help') }}</h2>
    <p class="mt-1 text-soft">{{ t('wall.help-text') }}</p>
  </div>
</template>
