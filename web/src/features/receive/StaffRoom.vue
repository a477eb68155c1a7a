<script setup lang="ts">
import { useQuery } from '@pinia/colada';
import { useI18n } from 'vue-i18n';
import { apiAt } from '../../app/api/api.ts';
import { useReadingPlace } from '../../app/place.ts';
import ItemLink from '../../ui/ItemLink.vue';
import KindMark from '../../ui/KindMark.vue';
import PageState from '../../app/PageState.vue';

/** The folders that colleagues share: to look at, to add to, or to manage. */
const { t } = useI18n();
const place = useReadingPlace();
const room = useQuery({
  key: () => ['staff-room', place.base],
  query: () => apiAt(place.base, 'GET /staff-room'),
  staleTime: 0,
});
</script>

<template>
  <div class="mx-auto w-full max-w-4xl px-5 py-7 sm:px-10">
    <h1 class="text-[28px]">{{ t('staff-room.title') }}</h1>
    <p class="mt-0.5 mb-4 text-soft">{{ t('staff-room.text') }}</p>
    <PageState v-if="!room.data.value" :error="room.error.value" @again="room.refetch()" />
    <p v-else-if="room.data.value.folders.length === 0" class="border-t border-line py-8 text-soft">
      {{ t('staff-room.none') }}
    </p>
    <ul v-else class="border-b border-line">
      <li v-for="folder in room.data.value.folders" :key="folder.id" class="border-t border-line">
        <ItemLink
          kind="folder"
          :to="place.folder(folder.id)"
          class="group flex min-h-16 items-center gap-4 py-2"
        >
          <KindMark kind="folder" :mark="folder.mark" large />
          <span class="flex-1">
            <span class="block text-[17px] font-semibold group-hover:text-petrol">{{
              folder.title
            }}</span>
            <span class="block text-meta text-soft"
              >{{ folder.ownerName }} · {{ t('count.items', folder.items) }}</span
            >
          </span>
          <span class="text-meta text-soft">{{ t(`staff-room.right.${folder.right}`) }}</span>
        </ItemLink>
      </li>
    </ul>
  </div>
</template>
