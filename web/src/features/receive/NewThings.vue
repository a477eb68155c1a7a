<script setup lang="ts">
import type { CameNews, NewThings } from '@sammlung/contract';
import { useQuery, useQueryCache } from '@pinia/colada';
import { useMounted } from '@vueuse/core';
import { ChevronDown } from 'lucide-vue-next';
import { computed, defineAsyncComponent, nextTick, ref, useTemplateRef, watch } from 'vue';
import { useI18n } from 'vue-i18n';
import { address, addressAt } from '../../app/api/addresses.ts';
import { api, apiAt } from '../../app/api/api.ts';
import { useAction } from '../../app/action.ts';
import { useInitial } from '../../app/api/initial-state.ts';
import { useFormat } from '../../app/format.ts';
import { useLive } from '../../app/live/live.ts';
import { noteOpened, useReadingPlace } from '../../app/place.ts';
import { say } from '../../app/shell/toast.ts';
import AppButton from '../../ui/AppButton.vue';
import ItemLink from '../../ui/ItemLink.vue';
import PageState from '../../app/PageState.vue';
import SmallPicture from '../../app/SmallPicture.vue';
import { useKeepPlace } from '../../ui/keepPlace.ts';
import { walkRows } from '../../ui/listKeys.ts';
import { runsOf, STEP, withNews, type Run } from './came.ts';
import ClassCards from './ClassCards.vue';
import { useClasses } from './classes.ts';

const { t } = useI18n();
const { dayHeading, size } = useFormat();
const place = useReadingPlace();
const cache = useQueryCache();
const by = ref<string>();
const limit = ref(STEP);
const key = () => ['new', place.base, by.value ?? 'all', limit.value];
const sent = () => ({ query: { limit: limit.value, by: by.value } });
useInitial(cache, key(), addressAt(place.base, 'GET /new', sent()));
const came = useQuery({
  key,
  query: () => apiAt(place.base, 'GET /new', sent()),
  placeholderData: (before: NewThings | undefined) => before,
});
const classes = useClasses();
const JoinRequests = defineAsyncComponent(() => import('../../app/JoinRequests.vue'));
const OwnBoxes = defineAsyncComponent(() => import('../../app/box/OwnBoxes.vue'));
/** The server makes this page without what it would have to ask for besides. */
const mounted = useMounted();
const list = useTemplateRef('list');
const keepPlace = useKeepPlace(list);

useLive(() => (place.live ? address('GET /api/new/live') : null), {
  changed: () => keepPlace(() => Promise.all([came.refetch(), classes.refetch()])),
  counts: () => classes.refetch(),
  news: {
    came: (news: CameNews) =>
      keepPlace(() => {
        const shown = cache.getQueryData<NewThings>(key());
        if (shown) cache.setQueryData(key(), withNews(shown, news, by.value));
      }),
  },
});

const attempt = useAction();
const refresh = () => Promise.all([came.refetch(), classes.refetch()]);

const chooseDigest = (digest: boolean) =>
  attempt(async () => {
    await api('PUT /api/new/digest', { body: { digest } });
    say({ text: t(digest ? 'receive.digest-on' : 'receive.digest-off') });
    await came.refetch();
  });

const markAll = () =>
  attempt(async () => {
    const until = came.data.value?.things[0]?.cameAt;
    if (!until) return;
    const { count, at } = await api('PUT /api/new/marked', { body: { until, by: by.value } });
    say({
      text: t('receive.marked', count),
      undo: async () => {
        await api('DELETE /api/new/marked/:at', { params: { at } });
        await refresh();
      },
    });
    await refresh();
  });

/**
 * At first only what fills a screen is drawn, so that it shows soon; the rest with the next picture. Whoever comes back
 * to a place further down finds it there.
 */
const FIRST = 10;
const drawn = ref(!import.meta.env.SSR && history.state?.forward ? Infinity : FIRST);
watch(
  () => !import.meta.env.SSR && came.data.value !== undefined,
  (there) =>
    there && requestAnimationFrame(() => requestAnimationFrame(() => (drawn.value = Infinity))),
  { immediate: true },
);

type Thing = NewThings['things'][number];
const unfolded = ref(new Set<string>());
/** Shows the rest of a run; the focus goes to the first of it. */
async function unfold(run: Run, event: Event) {
  const rows = () => [...list.value!.querySelectorAll<HTMLElement>('[data-row]')];
  const at = rows().indexOf(event.currentTarget as HTMLElement);
  unfolded.value.add(run.from);
  await nextTick();
  rows()[at]?.focus();
}
const days = computed(() => {
  const groups = new Map<string, Thing[]>();
  for (const thing of came.data.value?.things ?? []) {
    const heading = dayHeading(thing.cameAt);
    groups.set(heading, [...(groups.get(heading) ?? []), thing]);
  }
  let left = drawn.value;
  return [...groups].flatMap(([day, things]) => {
    const runs = runsOf(things, unfolded.value).flatMap((run) => {
      const shown = run.things.slice(0, left);
      left -= shown.length;
      return shown.length > 0 ? [{ ...run, things: shown }] : [];
    });
    return runs.length > 0 ? [{ day, runs }] : [];
  });
});

/** The ways on which things came, to look at one of them alone; with a single one there is nothing to choose. */
const ways = computed(() => {
  const data = came.data.value;
  if (!data) return [];
  const me = { id: 'me', code: t('receive.me'), colour: 'clay', unopened: data.forMe };
  const all = [...data.classes, ...(data.forMe > 0 || by.value === 'me' ? [me] : [])];
  return all.length > 1 ? all : [];
});
const unopened = computed(() =>
  by.value === undefined
    ? (came.data.value?.unopened ?? 0)
    : (ways.value.find((way) => way.id === by.value)?.unopened ?? 0),
);
const choose = (way: string | undefined) => ((by.value = way), (limit.value = STEP));

const about = (thing: Thing) =>
  [
    thing.folder?.title,
    thing.kind === 'file' ? thing.extension.toUpperCase() : t(`kind.${thing.kind}`),
    thing.size === null ? '' : size(thing.size),
  ]
    .filter(Boolean)
    .join(' · ');
</script>

<template>
  <div class="grid flex-1 lg:grid-cols-[1fr_392px]">
    <div class="px-5 py-6 sm:px-10">
      <JoinRequests v-if="mounted && place.notes && came.data.value?.joinRequests" class="mb-8" />
      <template v-if="came.data.value">
        <div class="flex min-h-11 flex-wrap items-center gap-x-4 gap-y-2">
          <h1 class="flex-1 text-[28px]" aria-live="polite">
            {{ t('receive.title', came.data.value.unopened) }}
          </h1>
          <AppButton v-if="place.notes && unopened > 0" @click="markAll">
            {{ t('receive.mark-all') }}
          </AppButton>
        </div>
        <div
          v-if="ways.length > 0"
          class="mt-3 flex flex-wrap gap-1.5"
          role="group"
          :aria-label="t('receive.by-class')"
        >
          <button
            class="min-h-9 rounded-edge border px-3 text-[15px] font-semibold pointer-coarse:min-h-11"
            :class="
              by === undefined
                ? 'border-ink bg-ink text-sheet'
                : 'border-line bg-raised hover:border-petrol'
            "
            :aria-pressed="by === undefined"
            @click="choose(undefined)"
          >
            {{ t('receive.all') }}
          </button>
          <button
            v-for="way in ways"
            :key="way.id"
            class="inline-flex min-h-9 items-center gap-2 rounded-edge border-2 bg-raised px-2.5 font-code text-[13px] font-semibold pointer-coarse:min-h-11"
            :class="by === way.id ? 'text-white' : ''"
            :style="{
              borderColor: `var(--${way.colour})`,
              ...(by === way.id && { background: `var(--${way.colour})` }),
            }"
            :aria-pressed="by === way.id"
            @click="choose(way.id)"
          >
            {{ way.code
            }}<span v-if="way.unopened > 0" class="font-text font-bold"
              >{{ way.unopened }}<span class="sr-only"> {{ t('receive.unopened') }}</span></span
            >
          </button>
        </div>
        <OwnBoxes
          v-if="mounted && place.notes && by === undefined && came.data.value.boxes > 0"
          class="mt-4"
        />
        <p v-if="days.length === 0" class="mt-6 max-w-md text-soft">
          {{ t(by === undefined ? 'receive.empty' : 'receive.empty-class') }}
        </p>
        <div ref="list" @keydown="list && walkRows(list, $event)">
          <section v-for="{ day, runs } in days" :key="day">
            <h2 class="mt-5 mb-1 text-[15px] text-soft">{{ day }}</h2>
            <ul v-for="run in runs" :key="run.key">
              <li
                v-for="thing in run.things"
                :key="thing.placementId"
                class="-ml-5 border-t border-line sm:-ml-10"
              >
                <ItemLink
                  :kind="thing.kind"
                  :url="thing.url"
                  :to="place.item(thing.placementId)"
                  class="group flex min-h-16 items-center gap-3.5 py-1.5 hover:bg-paper/60"
                  @click="thing.kind === 'link' && noteOpened(place, cache, thing)"
                >
                  <span class="flex w-[66px] shrink-0 flex-col gap-1 self-stretch py-1">
                    <span
                      v-for="c in thing.classes.length > 0
                        ? thing.classes
                        : [{ id: '', code: t('receive.me'), colour: 'clay' }]"
                      :key="c.id"
                      class="grid min-h-6 flex-1 place-items-center rounded-r-[4px] px-1 font-code text-[12px] font-semibold text-white"
                      :style="{ background: `var(--${c.colour})` }"
                      >{{ c.code }}</span
                    >
                  </span>
                  <SmallPicture :item="thing" line />
                  <span class="min-w-0 flex-1 pr-2">
                    <span
                      class="block text-[16px] wrap-anywhere group-hover:text-petrol"
                      :class="thing.opened ? 'font-medium' : 'font-[650]'"
                    >
                      <span v-if="!thing.opened" class="mr-2 inline-block size-[9px] bg-saffron"
                        ><span class="sr-only">{{ t('receive.unopened') }}</span></span
                      >{{ thing.title }}
                    </span>
                    <span class="block text-meta text-soft"
                      >{{ about(thing)
                      }}<span
                        v-if="(thing.version ?? 1) > 1"
                        class="font-semibold text-saffron-ink"
                      >
                        · {{ t('item.new-version', { number: thing.version }) }}</span
                      ></span
                    >
                  </span>
                </ItemLink>
              </li>
              <li v-if="run.folded > 0" class="-ml-5 border-t border-line sm:-ml-10">
                <button
                  data-row
                  class="flex min-h-12 w-full items-center gap-3 pl-[80px] text-left font-semibold text-petrol hover:bg-paper/60"
                  @click="unfold(run, $event)"
                >
                  <ChevronDown :size="18" aria-hidden="true" />
                  {{ t('receive.folded', { n: run.folded, folder: run.things[0]!.folder!.title }) }}
                </button>
              </li>
            </ul>
          </section>
        </div>
        <AppButton
          v-if="came.data.value.more && limit < 1000"
          class="mt-5"
          @click="limit = Math.min(1000, limit + STEP)"
        >
          {{ t('receive.older') }}
        </AppButton>
      </template>
      <PageState v-else :error="came.error.value" @again="came.refetch()" />
      <label
        v-if="place.notes && typeof came.data.value?.digest === 'boolean'"
        class="mt-8 flex min-h-11 items-center gap-2.5 text-meta text-soft"
      >
        <input
          type="checkbox"
          class="size-5 accent-(--action)"
          :checked="came.data.value.digest"
          @change="chooseDigest(($event.target as HTMLInputElement).checked)"
        />
        {{ t('receive.digest') }}
      </label>
    </div>
    <aside
      class="border-line bg-paper px-5 py-6 sm:px-7 lg:border-l"
      :aria-label="t('shell.classes')"
    >
      <h2 class="text-[19px]">{{ t('shell.classes') }}</h2>
      <ClassCards v-if="classes.data.value" :classes="classes.data.value" />
      <PageState v-else :error="classes.error.value" @again="classes.refetch()" />
    </aside>
  </div>
</template>
