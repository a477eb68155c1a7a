<script setup lang="ts">
import type { ThingCard as Card } from '@sammlung/contract';
import { useQueryCache } from '@pinia/colada';
import { ChevronDown, ChevronRight, SquareArrowOutUpRight } from 'lucide-vue-next';
import { computed, ref, useId } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink } from 'vue-router';
import KindMark from '../../ui/KindMark.vue';
import { noteOpened, useContents, usePlacement, useReadingPlace } from '../place.ts';
import PageState from '../PageState.vue';
import { howShown } from './howShown.ts';
import ItemContent from './ItemContent.vue';

/** A folder or an item as a card that opens where it is: an item shows what it holds, a folder the cards of what is in it. */
const { thing } = defineProps<{ thing: Card }>();
const { t } = useI18n();
const place = useReadingPlace();
const cache = useQueryCache();
const open = ref(false);
const inside = useId();

const isFolder = computed(() => thing.kind === 'folder');
const placement = usePlacement(place, () => (open.value && !isFolder.value ? thing.id : ''));
const contents = useContents(place, () => (open.value && isFolder.value ? thing.id : ''));
const cards = computed(() =>
  (contents.data.value?.pages ?? []).flatMap(({ folders, items }): Card[] => [
    ...folders.map((folder): Card => ({
      ...folder,
      kind: 'folder',
      itemKind: null,
      extension: '',
      url: null,
    })),
    ...items.map((item): Card => ({
      ...item,
      kind: 'placement',
      id: item.placementId,
      itemKind: item.kind,
      mark: null,
      colour: null,
    })),
  ]),
);
const error = computed(() => (isFolder.value ? contents.error.value : placement.error.value));
const again = () => (isFolder.value ? contents.refetch() : placement.refetch());
const whole = computed(() => (isFolder.value ? place.folder(thing.id) : place.item(thing.id)));
/** A PDF turns its pages in a window of its own. */
const tall = computed(() => placement.data.value && howShown(placement.data.value) === 'pdf');

function turn() {
  open.value = !open.value;
  if (open.value && !isFolder.value) void noteOpened(place, cache, { placementId: thing.id });
}
const HEAD = 'flex min-h-14 min-w-0 flex-1 items-center gap-3 px-3 py-2 text-start';
</script>

<template>
  <div
    class="thing-card border border-line bg-sheet font-text text-[16px] leading-snug"
    :data-thing="thing.id"
  >
    <div class="flex items-stretch">
      <a
        v-if="thing.itemKind === 'link'"
        :href="thing.url ?? ''"
        target="_blank"
        rel="noopener noreferrer"
        class="group no-underline!"
        :class="HEAD"
        @click="noteOpened(place, cache, { placementId: thing.id })"
      >
        <KindMark kind="link" />
        <span class="font-semibold wrap-anywhere text-ink group-hover:text-petrol">{{
          thing.title
        }}</span>
      </a>
      <template v-else>
        <button
          type="button"
          class="group"
          :class="HEAD"
          :aria-expanded="open"
          :aria-controls="open ? inside : undefined"
          @click="turn"
        >
          <component
            :is="open ? ChevronDown : ChevronRight"
            :size="18"
            class="shrink-0 text-soft"
            aria-hidden="true"
          />
          <KindMark
            :kind="thing.itemKind ?? 'folder'"
            :extension="thing.extension"
            :mark="thing.mark"
            :colour="thing.colour"
          />
          <span class="font-semibold wrap-anywhere group-hover:text-petrol">{{ thing.title }}</span>
        </button>
        <RouterLink
          :to="whole"
          class="grid w-11 shrink-0 place-items-center text-soft hover:text-petrol print:hidden"
          :aria-label="t('card.whole', { title: thing.title })"
          :title="t('card.whole', { title: thing.title })"
        >
          <SquareArrowOutUpRight :size="17" aria-hidden="true" />
        </RouterLink>
      </template>
    </div>
    <div v-if="open" :id="inside" class="border-t border-line bg-paper print:hidden">
      <PageState v-if="error" class="px-4" :error="error" @again="again" />
      <template v-else-if="isFolder">
        <div v-if="contents.data.value" class="space-y-2 p-3">
          <p v-if="cards.length === 0" class="text-soft">{{ t('reading.empty') }}</p>
          <ThingCard v-for="card in cards" :key="card.id" :thing="card" />
          <button
            v-if="contents.hasNextPage.value"
            type="button"
            class="min-h-11 font-semibold text-petrol"
            @click="contents.loadNextPage()"
          >
            {{ t('card.more') }}
          </button>
        </div>
        <PageState v-else class="px-4" />
      </template>
      <div
        v-else-if="placement.data.value"
        class="flex flex-col"
        :class="tall ? 'h-[75vh] min-h-80' : ''"
      >
        <ItemContent :item="placement.data.value" />
      </div>
      <PageState v-else class="px-4" />
    </div>
  </div>
</template>
