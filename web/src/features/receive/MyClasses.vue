<script setup lang="ts">
import { useI18n } from 'vue-i18n';
import { useLive } from '../../app/live/live.ts';
import { useReadingPlace } from '../../app/place.ts';
import PageState from '../../app/PageState.vue';
import ClassCards from './ClassCards.vue';
import { useClasses } from './classes.ts';
import { address } from '../../app/api/addresses.ts';

const { t } = useI18n();
const place = useReadingPlace();
const classes = useClasses();
useLive(() => (place.live ? address('GET /api/new/live') : null), {
  changed: () => classes.refetch(),
  counts: () => classes.refetch(),
});
</script>

<template>
  <div class="mx-auto w-full max-w-5xl px-5 py-7 sm:px-10">
    <h1 class="text-[28px]">{{ t('shell.classes') }}</h1>
    <ClassCards v-if="classes.data.value" :classes="classes.data.value" wide />
    <PageState v-else :error="classes.error.value" @again="classes.refetch()" />
  </div>
</template>
