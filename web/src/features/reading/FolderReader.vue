<script setup lang="ts">
import type { FolderView, ItemRow, ThingCard as Card } from '@sammlung/contract';
import { useQuery, useQueryCache } from '@pinia/colada';
import { useEventListener, useMediaQuery, useThrottleFn } from '@vueuse/core';
import { ChevronDown, ChevronUp, FilePlus, Printer, Rows3 } from 'lucide-vue-next';
import { computed, nextTick, ref, shallowReactive, useTemplateRef, watch } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink, useRoute, useRouter } from 'vue-router';
import { useAction } from '../../app/action.ts';
import { addressAt } from '../../app/api/addresses.ts';
import { api, apiAt, connected } from '../../app/api/api.ts';
import PageText from '../../app/content/PageText.vue';
import ThingCard from '../../app/content/ThingCard.vue';
import { useFormat } from '../../app/format.ts';
import { useLive } from '../../app/live/live.ts';
import PageState from '../../app/PageState.vue';
import { noteOpened, useReadingPlace } from '../../app/place.ts';
import CrumbLine from '../../ui/CrumbLine.vue';
import NearBlock from '../../ui/NearBlock.vue';

/** A folder as one reads a course reader: its contents, and the text, page after page. */
const { folder } = defineProps<{ folder: FolderView }>();
const emit = defineEmits<{
  /** To be shown as a list instead. */
  list: [];
}>();
const { t } = useI18n();
const { day } = useFormat();
const route = useRoute();
const router = useRouter();
const place = useReadingPlace();
const cache = useQueryCache();
const attempt = useAction();

const reader = useQuery({
  key: () => ['folder', place.base, folder.id, 'reader'],
  query: () => apiAt(place.base, 'GET /folders/:folder/reader', { params: { folder: folder.id } }),
});
const parts = computed(
  () => reader.data.value?.parts.filter((part) => part.items.length > 0 || part.depth > 0) ?? [],
);
const items = computed(() => parts.value.flatMap((part) => part.items));
const dateOf = (item: ItemRow) => day(item.lessonDate ?? item.changedAt);
const cardOf = (item: ItemRow): Card => ({
  ...item,
  ...{ kind: 'placement', id: item.placementId, itemKind: item.kind, mark: null, colour: null },
});

/** Beside the text there is room for the contents; else they are folded above it. */
const wide = useMediaQuery('(min-width: 1024px)');
const unfolded = ref(false);

// Where one reads: the last one that begins above the middle of the screen.
const flow = useTemplateRef('flow');
const here = ref('');
const sections = () => [...(flow.value?.querySelectorAll<HTMLElement>('[data-section]') ?? [])];
function look() {
  const above = sections().filter((one) => one.getBoundingClientRect().top < innerHeight * 0.4);
  here.value = (above.at(-1) ?? sections()[0])?.dataset.section ?? '';
}
useEventListener('scroll', useThrottleFn(look, 100, true), { passive: true });
watch([items, flow], () => void nextTick(look), { flush: 'post' });
/** What is before somebody's eyes they have opened. */
watch(here, (id) => {
  const item = items.value.find(({ placementId }) => placementId === id);
  if (place.takes.value && item?.kind === 'page' && !item.opened)
    void noteOpened(place, cache, item);
});

async function goTo(id: string) {
  // The router would go to the top.
  history.replaceState(history.state, '', `#${id}`);
  const section = sections().find((one) => one.dataset.section === id);
  unfolded.value = false;
  await nextTick();
  section?.scrollIntoView({ block: 'start' });
  section?.querySelector<HTMLElement>('h2')?.focus({ preventScroll: true });
}
/** Whoever comes with an address of a page in it lands there; anybody else on the topmost. */
const stop = watch([items, flow], async ([those]) => {
  if (those.length === 0 || !flow.value) return;
  stop();
  await nextTick();
  const id = route.hash.slice(1);
  if (those.some(({ placementId }) => placementId === id)) await goTo(id);
});

// Printed as a whole: everything is drawn first.
const ready = shallowReactive(new Set<string>());
const printing = ref(false);
const pages = computed(() => items.value.filter(({ kind }) => kind === 'page'));
const missing = computed(
  () => pages.value.filter(({ placementId }) => !ready.has(placementId)).length,
);
watch([printing, missing], async ([now, left]) => {
  if (!now || left > 0) return;
  await nextTick();
  window.print();
  printing.value = false;
});

const newPage = () =>
  attempt(async () => {
    const { id } = await api('POST /api/pages', {
      body: { folderId: folder.id, title: t('reader.new-page') },
    });
    await router.push({ name: 'page', params: { placement: id } });
  });
const writes = computed(
  () => place.base === '/api' && connected.value && ['own', 'manage', 'add'].includes(folder.right),
);

useLive(
  () =>
    place.live
      ? addressAt(place.base, 'GET /folders/:folder/live', {
          params: { folder: folder.id },
          query: { below: 'true' },
        })
      : null,
  { changed: () => reader.refetch() },
);

const BUTTON =
  'inline-flex min-h-9 items-center gap-2 rounded-edge border border-line bg-raised px-3 text-[15px] font-semibold hover:border-petrol hover:text-petrol pointer-coarse:min-h-11';
</script>

<template>
  <div class="flex w-full flex-1 flex-col bg-sheet lg:flex-row">
    <div
      class="border-line bg-paper max-lg:sticky max-lg:top-0 max-lg:z-10 max-lg:border-b lg:w-[330px] lg:shrink-0 lg:border-r print:hidden"
    >
      <div
        class="max-h-screen overflow-y-auto px-5 pt-5 pb-3 sm:px-10 lg:sticky lg:top-0 lg:py-9 lg:pr-6"
      >
        <CrumbLine :crumbs="folder.crumbs.slice(0, -1)" :to="place.folder">
          <template v-if="place.home && place.takes.value" #default>
            <li>
              <RouterLink :to="place.home" class="hover:text-petrol hover:underline">
                {{ t(place.homeName) }}
              </RouterLink>
            </li>
          </template>
        </CrumbLine>
        <h1 class="font-title text-[19px] font-semibold text-soft">
          <span v-if="folder.mark" class="mr-1.5 font-mark" aria-hidden="true">{{
            folder.mark
          }}</span>{{ folder.title }}
        </h1>
        <button
          v-if="!wide"
          type="button"
          class="mt-2 flex min-h-11 items-center gap-2 font-semibold text-petrol"
          :aria-expanded="unfolded"
          @click="unfolded = !unfolded"
        >
          <component :is="unfolded ? ChevronUp : ChevronDown" :size="18" aria-hidden="true" />
          {{ t('reader.contents') }}
        </button>
        <template v-if="wide || unfolded">
          <nav :aria-label="t('reader.contents')" class="mt-3">
            <section
              v-for="part in parts"
              :key="part.folderId"
              class="mb-5"
              :style="{ marginInlineStart: `${Math.max(0, part.depth - 1) * 14}px` }"
            >
              <p v-if="part.depth > 0" class="font-title text-[18px] font-semibold">
                <span v-if="part.mark" class="mr-1.5 font-mark" aria-hidden="true">{{
                  part.mark
                }}</span>{{ part.title }}
              </p>
              <ol>
                <li v-for="item in part.items" :key="item.placementId" class="relative">
                  <span
                    v-if="here === item.placementId"
                    class="absolute top-3 -left-4 size-[9px] bg-saffron max-lg:hidden"
                    aria-hidden="true"
                  />
                  <a
                    :href="`#${item.placementId}`"
                    class="flex min-h-8 items-baseline gap-2 py-1 text-[15px] hover:text-petrol pointer-coarse:min-h-11 pointer-coarse:items-center"
                    :class="{ 'font-semibold': here === item.placementId }"
                    :aria-current="here === item.placementId ? 'location' : undefined"
                    @click.prevent="goTo(item.placementId)"
                  >
                    <span class="wrap-anywhere">{{ item.title }}</span>
                    <span
                      class="min-w-4 flex-1 border-b border-dotted border-soft/60"
                      aria-hidden="true"
                    />
                    <span class="shrink-0 text-meta text-soft">{{ dateOf(item) }}</span>
                  </a>
                </li>
              </ol>
            </section>
            <p v-if="reader.data.value?.cut" class="text-meta text-soft">{{ t('reader.cut') }}</p>
          </nav>
          <div class="mt-5 flex flex-wrap gap-2">
            <button v-if="writes" type="button" :class="BUTTON" @click="newPage">
              <FilePlus :size="17" aria-hidden="true" />{{ t('reader.new-page') }}
            </button>
            <button
              v-if="items.length > 0"
              type="button"
              :class="BUTTON"
              :disabled="printing"
              @click="printing = true"
            >
              <Printer :size="17" aria-hidden="true" />{{
                printing
                  ? t('reader.drawing', { n: pages.length - missing, of: pages.length })
                  : t('reader.print')
              }}
            </button>
            <button type="button" :class="BUTTON" @click="emit('list')">
              <Rows3 :size="17" aria-hidden="true" />{{ t('reading.as-list') }}
            </button>
          </div>
        </template>
      </div>
    </div>
    <div ref="flow" class="min-w-0 flex-1 px-5 py-8 sm:px-10 lg:px-20 lg:py-11 print:p-0">
      <PageState v-if="reader.error.value" :error="reader.error.value" @again="reader.refetch()" />
      <PageState v-else-if="!reader.data.value" />
      <p v-else-if="items.length === 0" class="text-soft">{{ t('reading.empty') }}</p>
      <p class="mx-auto mb-8 hidden max-w-2xl font-title text-[28px] font-semibold print:block">
        {{ folder.title }}
      </p>
      <template v-for="(part, n) in parts" :key="part.folderId">
        <p
          v-if="part.depth > 0 && part.items.length > 0"
          class="mx-auto mb-6 max-w-2xl border-b border-line pb-1 font-title text-[19px] font-semibold text-soft"
          :class="{ 'mt-14': n > 0 }"
        >
          <span v-if="part.mark" class="mr-1.5 font-mark" aria-hidden="true">{{
            part.mark
          }}</span>{{ part.title }}
        </p>
        <section
          v-for="item in part.items"
          :key="item.placementId"
          :data-section="item.placementId"
          :aria-labelledby="`title-${item.placementId}`"
          class="mx-auto mb-12 max-w-2xl scroll-mt-28 lg:scroll-mt-6"
        >
          <h2
            v-if="item.kind === 'page'"
            :id="`title-${item.placementId}`"
            tabindex="-1"
            class="flex flex-wrap items-baseline gap-x-4 font-title text-[32px] font-semibold outline-offset-4"
          >
            <span
              v-if="place.takes.value && !item.opened"
              class="size-[9px] self-center bg-saffron print:hidden"
              :title="t('receive.unopened')"
              ><span class="sr-only">{{ t('receive.unopened') }}</span></span
            ><span class="wrap-anywhere">{{ item.title }}</span>
            <RouterLink
              v-if="writes && folder.right !== 'add'"
              :to="{ name: 'page', params: { placement: item.placementId } }"
              class="font-text text-[15px] font-semibold text-petrol hover:underline print:hidden"
              >{{ t('reader.write') }}</RouterLink
            >
          </h2>
          <h2 v-else :id="`title-${item.placementId}`" tabindex="-1" class="sr-only">
            {{ item.title }}
          </h2>
          <p v-if="item.kind === 'page'" class="mt-0.5 mb-5 text-meta text-soft">
            {{ dateOf(item) }}
          </p>
          <NearBlock v-if="item.kind === 'page'" :estimate="500" :always="printing">
            <PageText
              :placement-id="item.placementId"
              :state="`${item.version} ${item.changedAt}`"
              in-flow
              @ready="ready.add(item.placementId)"
            />
          </NearBlock>
          <ThingCard v-else :thing="cardOf(item)" />
        </section>
      </template>
    </div>
  </div>
</template>
