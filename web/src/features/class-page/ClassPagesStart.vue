<script setup lang="ts">
import { useQuery } from '@pinia/colada';
import { computed, watch } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink, useRouter } from 'vue-router';
import { api } from '../../app/api/api.ts';
import PageState from '../../app/PageState.vue';

/** Leads to the page of the first class; whoever teaches none is told where classes are made. */
const { t } = useI18n();
const router = useRouter();
const courses = useQuery({ key: ['courses'], query: () => api('GET /api/courses') });
const first = computed(
  () => courses.data.value?.courses.flatMap((course) => course.classes)[0] ?? null,
);
watch(
  first,
  (found) => found && void router.replace({ name: 'class-page', params: { class: found.id } }),
  { immediate: true },
);
</script>

<template>
  <div class="mx-auto w-full max-w-4xl px-5 py-7 sm:px-10">
    <template v-if="courses.data.value && !first">
      <h1 class="text-[28px]">{{ t('shell.class-pages') }}</h1>
      <p class="mt-3 text-soft">{{ t('entry.no-class') }}</p>
      <RouterLink
        :to="{ name: 'classes' }"
        class="mt-2 inline-flex min-h-11 items-center font-semibold text-petrol hover:underline"
        >{{ t('entry.to-classes') }}</RouterLink
      >
    </template>
    <PageState v-else :error="courses.error.value" @again="courses.refetch()" />
  </div>
</template>
