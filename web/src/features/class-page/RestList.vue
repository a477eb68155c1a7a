<script setup lang="ts">
import type { EditedPage, ThingCard } from '@sammlung/contract';
import { useI18n } from 'vue-i18n';
import KindMark from '../../ui/KindMark.vue';
import RowMenu from '../../ui/RowMenu.vue';

/** What a class has without an entry, for those who make its page: it can get one, under a heading or under none. */
const { page } = defineProps<{ page: EditedPage }>();
const emit = defineEmits<{ entry: [thing: ThingCard, headingId: string | null] }>();
const { t } = useI18n();
const actions = () => [
  { name: '', text: t('entry.rest-loose') },
  ...page.headings.map((heading) => ({
    name: heading.id,
    text: t('entry.menu.under', { title: heading.title }),
  })),
];
</script>

<template>
  <section>
    <h2
      class="inline-flex rounded-t-lg border border-b-0 border-line bg-raised px-5 pt-2 pb-1.5 text-[19px] text-soft"
    >
      {{ t('class-page.rest') }}
    </h2>
    <ul class="rounded-tr-lg rounded-b-lg border border-line bg-raised px-6 py-3">
      <li v-for="thing in page.rest" :key="thing.id" class="flex min-h-12 items-center gap-3">
        <KindMark
          :kind="thing.itemKind ?? 'folder'"
          :extension="thing.extension"
          :mark="thing.mark"
          :colour="thing.colour"
        />
        <span class="flex-1 font-semibold wrap-anywhere">{{ thing.title }}</span>
        <RowMenu
          :label="t('entry.actions', { title: thing.title })"
          :actions="actions"
          @act="(heading) => emit('entry', thing, heading || null)"
        />
      </li>
    </ul>
  </section>
</template>
