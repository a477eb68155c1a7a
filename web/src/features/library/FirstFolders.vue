<script setup lang="ts">
import { useI18n } from 'vue-i18n';
import { RouterLink } from 'vue-router';
import AppButton from '../../ui/AppButton.vue';

/** A library with nothing in it yet: the two ways to begin. */
const emit = defineEmits<{ make: [] }>();
const { t } = useI18n();
</script>

<template>
  <div class="border-t border-line py-8 pr-6">
    <p class="text-[17px] font-semibold">{{ t('library.none') }}</p>
    <div class="mt-4 grid max-w-3xl gap-4 sm:grid-cols-2">
      <section class="flex flex-col items-start rounded-edge border border-line bg-raised p-5">
        <h2 class="text-[19px]">{{ t('library.one-folder') }}</h2>
        <p class="mt-1 mb-4 flex-1 text-soft">{{ t('library.none-text') }}</p>
        <AppButton tone="main" @click="emit('make')">{{ t('library.new-folder') }}</AppButton>
      </section>
      <section class="flex flex-col items-start rounded-edge border border-line bg-raised p-5">
        <h2 class="text-[19px]">{{ t('library.several-folders') }}</h2>
        <p class="mt-1 mb-4 flex-1 text-soft">{{ t('library.several-text') }}</p>
        <RouterLink
          :to="{ name: 'lay-out' }"
          class="inline-flex min-h-9 items-center rounded-edge border border-line bg-raised px-3.5 py-1.5 text-[15px] font-semibold hover:border-petrol hover:text-petrol pointer-coarse:min-h-11"
          >{{ t('library.lay-out') }}</RouterLink
        >
      </section>
    </div>
  </div>
</template>
