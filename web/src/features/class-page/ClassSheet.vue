<script setup lang="ts">
import type { ClassPage, PageEntry } from '@sammlung/contract';
import { computed, ref } from 'vue';
import { useI18n } from 'vue-i18n';
import ThingCard from '../../app/content/ThingCard.vue';
import EntryLines from './EntryLines.vue';
import LinkedText from './LinkedText.vue';

/** The page of a class as those who belong to it see it: a shelf with what is kept on top, and a divider for each heading. */
const { page } = defineProps<{ page: Omit<ClassPage, 'classes'> }>();
const { t } = useI18n();

/** What stands on the shelf is opened below it, one at a time. */
const taken = ref<string | null>(null);
const onShelf = computed(() => page.top.find((entry) => entry.appearanceId === taken.value));

const REST = 'rest';
const parts = computed(() => {
  let number = 0;
  return [
    ...(page.loose.length > 0
      ? [{ id: 'loose', title: '', mark: null, colour: page.colour, entries: page.loose }]
      : []),
    ...page.headings.map((heading) => ({
      ...heading,
      title: page.numbered ? `${(number += 1)}  ${heading.title}` : heading.title,
      colour: heading.colour ?? page.colour,
    })),
    ...(page.rest.length > 0
      ? [{ id: REST, title: t('class-page.rest'), mark: null, colour: page.colour, entries: [] }]
      : []),
  ];
});
/** The parts that are open: the first one, and one by itself that has no title, to begin with. */
const turned = ref(new Map<string, boolean>());
const isOpen = (id: string, n: number) =>
  turned.value.get(id) ?? (n === 0 || id === 'loose' || parts.value.length <= 2);
const unopened = (entries: readonly PageEntry[]) =>
  entries.reduce((sum, { things }) => sum + things.reduce((n, thing) => n + thing.unopened, 0), 0);
const freshIn = (id: string, entries: readonly PageEntry[]) =>
  id === REST ? page.rest.reduce((n, thing) => n + thing.unopened, 0) : unopened(entries);
const about = (entry: PageEntry) => {
  const [thing] = entry.things;
  if (!thing) return t('class-page.note');
  return entry.things.length === 1
    ? t(`class-page.kinds.${thing.itemKind ?? 'folder'}`)
    : t('class-page.things', entry.things.length);
};
</script>

<template>
  <div>
    <div v-if="page.top.length > 0">
      <ul
        class="flex items-end gap-3 overflow-x-auto border-b-[6px] border-[color-mix(in_oklab,var(--line),var(--ink)_8%)] px-2.5 pt-2"
        :aria-label="t('class-page.shelf')"
      >
        <li v-for="(entry, n) in page.top" :key="entry.appearanceId" class="w-40 shrink-0">
          <button
            type="button"
            class="flex w-full flex-col rounded-t-[4px] border border-b-0 border-line px-3 pt-3 pb-2.5 text-start leading-snug hover:border-petrol"
            :class="[
              n % 3 === 1 ? 'min-h-18' : 'min-h-21',
              taken === entry.appearanceId ? 'bg-petrol-pale' : 'bg-raised',
            ]"
            :aria-expanded="taken === entry.appearanceId"
            @click="taken = taken === entry.appearanceId ? null : entry.appearanceId"
          >
            <span class="text-[15px] font-semibold wrap-anywhere">
              <span
                v-if="unopened([entry]) > 0"
                class="mr-1.5 inline-block size-[9px] bg-saffron"
                :title="t('receive.unopened')"
                ><span class="sr-only">{{ t('receive.unopened') }}</span></span
              >{{ entry.title }}</span
            >
            <span class="text-meta text-soft">{{ about(entry) }}</span>
          </button>
        </li>
      </ul>
      <div v-if="onShelf" class="border border-t-0 border-line bg-raised px-5 py-4 sm:px-7">
        <LinkedText v-if="onShelf.text" class="mb-3" :text="onShelf.text" />
        <div class="space-y-2">
          <ThingCard v-for="thing in onShelf.things" :key="thing.id" :thing="thing" />
        </div>
      </div>
    </div>
    <section v-for="(part, n) in parts" :key="part.id" class="mt-5">
      <h2
        v-if="part.title"
        class="flex"
        :style="{ paddingInlineStart: isOpen(part.id, n) ? '0' : `min(${n * 4}rem, 40%)` }"
      >
        <button
          type="button"
          class="flex min-h-11 items-center gap-2.5 rounded-t-lg border border-b-0 border-line bg-raised px-5 pt-2 pb-1.5 font-title text-[19px] font-semibold hover:text-petrol"
          :aria-expanded="isOpen(part.id, n)"
          @click="turned.set(part.id, !isOpen(part.id, n))"
        >
          <span
            class="h-5 w-1.5 rounded-full"
            :style="{ background: `var(--${part.colour})` }"
            aria-hidden="true"
          />
          <span v-if="part.mark" class="font-mark" aria-hidden="true">{{ part.mark }}</span>
          <span class="whitespace-pre-wrap" :class="{ 'text-soft': part.id === REST }">{{
            part.title
          }}</span>
          <span
            v-if="freshIn(part.id, part.entries) > 0"
            class="font-text text-meta font-semibold text-saffron-ink"
            >{{ t('count.new', freshIn(part.id, part.entries)) }}</span
          >
        </button>
      </h2>
      <h2 v-else class="sr-only">{{ t('class-page.loose') }}</h2>
      <div
        class="border border-line bg-raised"
        :class="
          isOpen(part.id, n)
            ? 'rounded-tr-lg rounded-b-lg shadow-sm'
            : 'h-2 rounded-t-lg border-b-0'
        "
      >
        <template v-if="isOpen(part.id, n)">
          <div v-if="part.id === REST" class="space-y-2 p-4 sm:p-6">
            <ThingCard v-for="thing in page.rest" :key="thing.id" :thing="thing" />
          </div>
          <EntryLines v-else :entries="part.entries" :colour="page.colour" />
        </template>
      </div>
    </section>
    <p v-if="parts.length === 0 && page.top.length === 0" class="mt-8 text-soft">
      {{ t('class-page.empty') }}
    </p>
  </div>
</template>
