<script setup lang="ts">
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import { useQuery } from '@pinia/colada';
import { RouterLink, useRoute } from 'vue-router';
import NewThings from '../../features/receive/NewThings.vue';
import StaffRoom from '../../features/receive/StaffRoom.vue';
import { api } from '../api/api.ts';
import { useSeenAs } from '../choosing.ts';
import { useReadingPlace } from '../place.ts';

/** Where somebody whom the teacher sees things as would begin. */
const { t } = useI18n();
const route = useRoute();
const place = useReadingPlace();
const as = computed(() => String(route.params.as));
const visitor = computed(() => as.value === 'visitor');
const known = useSeenAs(() => as.value);
const doors = useQuery({
  key: ['doors'],
  query: () => api('GET /api/doors'),
  enabled: () => visitor.value,
  staleTime: 0,
});
const open = computed(() =>
  (doors.data.value?.doors ?? []).filter((door) => door.kind === 'public'),
);
</script>

<template>
  <div v-if="visitor" class="mx-auto w-full max-w-4xl px-5 py-7 sm:px-10">
    <h1 class="text-[28px]">{{ t('see-as.public') }}</h1>
    <p class="mt-0.5 mb-4 text-soft">{{ t('see-as.public-text') }}</p>
    <ul class="border-b border-line">
      <li v-for="door in open" :key="door.id" class="border-t border-line">
        <RouterLink
          :to="door.folderId ? place.folder(door.folderId) : place.item(door.placementId ?? '')"
          class="flex min-h-14 items-center text-[17px] font-semibold hover:text-petrol"
          >{{ door.title }}</RouterLink
        >
      </li>
    </ul>
    <p v-if="doors.data.value && open.length === 0" class="py-6 text-soft">
      {{ t('see-as.public-none') }}
    </p>
  </div>
  <StaffRoom v-else-if="known.data.value?.staff" />
  <NewThings v-else />
</template>
