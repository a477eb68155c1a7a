<script setup lang="ts">
import type { HandedFolder, MyClasses } from '@sammlung/contract';
import { computed, defineAsyncComponent } from 'vue';
import { useI18n } from 'vue-i18n';
import { useReadingPlace } from '../../app/place.ts';
import { RouterLink } from 'vue-router';

/** A card for each class with the folders handed out to it; one more for what came to this person alone. */
const { classes, wide = false } = defineProps<{ classes: MyClasses; wide?: boolean }>();
const FeedAddress = defineAsyncComponent(() => import('../../app/FeedAddress.vue'));
const { t } = useI18n();
const place = useReadingPlace();

const cards = computed(() => [
  ...classes.classes.map((c) => ({ ...c, title: c.course, about: c.teachers.join(', ') })),
  ...(classes.forMe.length > 0
    ? [
        {
          id: 'me',
          code: t('receive.me'),
          colour: 'clay',
          title: t('receive.for-me'),
          about: '',
          folders: classes.forMe,
        },
      ]
    : []),
]);
/** A handed out folder, then the folders in it, one step in. */
const lines = (folders: readonly HandedFolder[]) =>
  folders.flatMap((top) => [
    { ...top, inner: false },
    ...top.folders.map((folder) => ({ ...folder, inner: true })),
  ]);
const count = (folder: Pick<HandedFolder, 'items' | 'unopened'>) =>
  folder.unopened > 0 ? t('count.new', folder.unopened) : t('count.items', folder.items);
</script>

<template>
  <p v-if="cards.length === 0" class="mt-3 text-soft">{{ t('receive.no-class') }}</p>
  <ul :class="wide ? 'grid items-start gap-x-7 md:grid-cols-2' : ''">
    <li
      v-for="card in cards"
      :key="card.id"
      class="relative mt-9 rounded-tr-lg rounded-b-lg border border-line bg-raised px-4 pt-3 pb-2"
    >
      <span
        class="absolute -top-[22px] -left-px flex h-[22px] items-center rounded-t-[5px] px-2.5 font-code text-[12px] font-semibold text-white"
        :style="{ background: `var(--${card.colour})` }"
        >{{ card.code }}</span
      >
      <component :is="wide ? 'h2' : 'h3'" class="text-[18px]">
        <RouterLink
          v-if="card.id !== 'me' && place.classPage(card.id)"
          :to="place.classPage(card.id)!"
          class="underline decoration-line underline-offset-4 hover:text-petrol hover:decoration-petrol"
          >{{ card.title }}</RouterLink
        >
        <template v-else>{{ card.title }}</template>
      </component>
      <p v-if="wide" class="text-meta text-soft">{{ card.about }}</p>
      <ul class="mt-1.5">
        <li v-for="folder in lines(card.folders)" :key="folder.id">
          <RouterLink
            :to="place.folder(folder.id)"
            class="group flex min-h-9 items-center justify-between gap-3 py-1.5 pointer-coarse:min-h-11"
            :class="folder.inner ? 'pl-6' : 'border-t border-line font-semibold'"
          >
            <span class="group-hover:text-petrol">
              <span v-if="folder.mark" class="mr-1 font-mark font-normal" aria-hidden="true">{{
                folder.mark
              }}</span>
              {{ folder.title }}
            </span>
            <span
              class="text-meta whitespace-nowrap"
              :class="
                folder.unopened > 0 ? 'font-semibold text-saffron-ink' : 'font-normal text-soft'
              "
              >{{ count(folder) }}</span
            >
          </RouterLink>
        </li>
        <li
          v-if="card.folders.length === 0"
          class="border-t border-line py-1.5 text-meta text-soft"
        >
          {{ t('receive.nothing-handed') }}
        </li>
      </ul>
      <FeedAddress
        v-if="wide && place.notes && card.id !== 'me'"
        class="border-t border-line py-1.5"
        :class-id="card.id"
        :title="t('feed.title')"
        :text="t('feed.text')"
      />
    </li>
  </ul>
</template>
