<script setup lang="ts">
import { useI18n } from 'vue-i18n';
import { RouterLink } from 'vue-router';

const { t } = useI18n();
</script>

<template>
  <div class="mx-auto max-w-lg px-6 py-24 text-center">
    <h1 class="text-2xl">{{ t('nothing.title') }}</h1>
    <p class="mt-3 text-soft">{{ t('nothing.text') }}</p>
    <RouterLink
      to="/"
      class="mt-6 inline-block font-semibold text-petrol underline underline-offset-4"
    >
      {{ t('nothing.home') }}
    </RouterLink>
  </div>
</template>
