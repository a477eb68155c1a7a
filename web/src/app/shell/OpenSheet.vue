<script setup lang="ts">
import { useI18n } from 'vue-i18n';

/** A sheet for whoever has come by a link and has not signed in: the name of the application, and one matter below it. */
const { wide = false } = defineProps<{ wide?: boolean }>();
const { t } = useI18n();
</script>

<template>
  <main class="flex min-h-screen flex-col bg-frame" :class="wide ? 'pb-10' : ''">
    <p
      class="px-6 pt-10 pb-8 text-center font-title text-[34px] font-[650] text-white"
      :class="wide ? '' : 'sm:pt-16'"
    >
      {{ t('shell.name')
      }}<span class="ml-1.5 inline-block size-3.5 bg-saffron" aria-hidden="true" />
    </p>
    <div
      class="mx-auto w-full flex-1 bg-sheet px-6 sm:flex-none sm:px-12 md:rounded-lg"
      :class="wide ? 'max-w-3xl py-8' : 'max-w-md py-10'"
    >
      <slot />
    </div>
  </main>
</template>
