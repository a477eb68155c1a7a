<script setup lang="ts">
import { useQuery } from '@pinia/colada';
import { useMounted } from '@vueuse/core';
import {
  Bookmark,
  CalendarDays,
  CalendarRange,
  History,
  LibraryBig,
  NotebookPen,
  PanelsTopLeft,
  Presentation,
  Search,
  Sunrise,
  Table2,
  UsersRound,
} from 'lucide-vue-next';
import {
  computed,
  defineAsyncComponent,
  onBeforeUnmount,
  onMounted,
  ref,
  watch,
  type Component,
} from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink, RouterView, useRoute, useRouter } from 'vue-router';
import { api, asOf, connected } from '../api/api.ts';
import { useDevice } from '../device/device.ts';
import { useFormat } from '../format.ts';
import PersonMenu from './PersonMenu.vue';
import { useSession } from '../session/session.ts';

const { t } = useI18n();
const { moment } = useFormat();
const session = useSession();
const device = useDevice();
const route = useRoute();
const router = useRouter();
const teaching = computed(() => session.person !== null && session.person.kind !== 'student');
const IncomingFiles = defineAsyncComponent(() => import('./IncomingFiles.vue'));
const OwnFiles = defineAsyncComponent(() => import('./OwnFiles.vue'));
const TrayEdge = defineAsyncComponent(() => import('./TrayEdge.vue'));
const AskArea = defineAsyncComponent(() => import('./AskArea.vue'));

const KeysHelp = defineAsyncComponent(() => import('./KeysHelp.vue'));
const FindSheet = defineAsyncComponent(() => import('../../features/find/FindSheet.vue'));
const helping = ref(false);
const finding = ref(false);
function onKey(event: KeyboardEvent) {
  const typing = (event.target as HTMLElement).matches(
    'input, textarea, select, [contenteditable]',
  );
  if (typing || event.ctrlKey || event.metaKey || event.altKey) return;
  if (event.key === '?') helping.value = true;
  if (event.key === 't' && session.person?.kind === 'teacher')
    void router.push({ name: 'today', hash: '#tray' });
  if (event.key !== '/') return;
  event.preventDefault();
  finding.value = true;
}
onMounted(() => window.addEventListener('keydown', onKey));
onBeforeUnmount(() => window.removeEventListener('keydown', onKey));

/** What shows what has happened meanwhile comes after a page that the server made has been taken over as it stands. */
const mounted = useMounted();

/** How many wait for an answer. */
const today = useQuery({
  key: ['today'],
  query: () => api('GET /api/today'),
  enabled: () => mounted.value && session.person?.kind === 'teacher',
});
const asking = computed(() => today.data.value?.requests.length ?? 0);
/** Once somebody has been at their desk, files may be on their way to it, wherever they go. */
const filling = ref(false);
watch(
  () => String(route.name).startsWith('desk'),
  (at) => (filling.value ||= at),
  { immediate: true },
);

/** What marks the places on a phone. */
const SIGNS: Record<string, Component> = {
  today: CalendarDays,
  library: LibraryBig,
  'class-pages': PanelsTopLeft,
  'school-days': CalendarDays,
  people: UsersRound,
  years: CalendarRange,
  log: History,
  board: Table2,
  new: Sunrise,
  classes: Presentation,
  kept: Bookmark,
  desk: NotebookPen,
};
const roster = { name: 'classes', text: 'roster', active: ['classes', 'class', 'class-list'] };
/** On a phone the places are at the bottom, where there are several. */
const below = computed(() => places.value.length > 1);
const places = computed(() => {
  if (session.person?.kind === 'office')
    return [
      { name: 'people', text: 'people', active: ['people'] },
      roster,
      { name: 'years', text: 'years', active: ['years'] },
      { name: 'school-days', text: 'school-days', active: ['school-days'] },
      { name: 'log', text: 'log', active: ['log'] },
    ];
  if (teaching.value)
    return [
      { name: 'today', text: 'today', active: ['today'] },
      {
        name: 'library',
        text: 'library',
        active: [
          ...[
            'library',
            'folder',
            'read',
            'item',
            'page',
            'page-versions',
            'bin',
            'lay-out',
            'carry-over',
            'log',
            'space',
          ],
          ...['staff-room', 'doors'],
        ],
      },
      { name: 'class-pages', text: 'class-pages', active: ['class-pages', 'class-page', 'box'] },
      { name: 'board', text: 'board', active: ['board'] },
      roster,
    ];
  return [
    { name: 'new', text: 'new', active: ['new'] },
    {
      name: 'classes',
      text: 'classes',
      active: ['classes', 'class-page', 'folder', 'item', 'box'],
    },
    { name: 'kept', text: 'kept', active: ['kept'] },
    { name: 'desk', text: 'desk', active: ['desk', 'desk-folder', 'page', 'page-versions'] },
  ];
});
</script>

<template>
  <div class="flex min-h-screen flex-col [--head:4rem]">
    <a
      href="#main"
      class="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-sheet focus:px-4 focus:py-2"
    >
      {{ t('shell.skip') }}
    </a>
    <header class="flex h-16 items-end gap-1 bg-frame px-3 text-frame-ink sm:px-6 print:hidden">
      <RouterLink
        to="/"
        class="mr-1 flex items-center pb-3.5 font-title text-[19px] font-[650] text-white sm:mr-2 sm:text-[22px] lg:mr-7"
      >
        {{ t('shell.name')
        }}<span class="mt-2 ml-1 inline-block size-2.5 bg-saffron" aria-hidden="true" />
      </RouterLink>
      <nav :aria-label="t('shell.places')" class="flex gap-1" :class="below ? 'max-sm:hidden' : ''">
        <RouterLink
          v-for="place in places"
          :key="place.name"
          :to="{ name: place.name }"
          class="rounded-t-lg px-2.5 pt-2.5 pb-3 font-medium whitespace-nowrap hover:text-white lg:px-4.5"
          :class="{
            'bg-sheet font-[650]! text-ink! hover:text-ink': place.active.includes(
              String(route.name),
            ),
          }"
          :aria-current="place.active.includes(String(route.name)) ? 'page' : undefined"
        >
          {{ t(`shell.${place.text}`)
          }}<span
            v-if="place.name === 'today' && asking > 0"
            class="ml-1.5 rounded-full bg-saffron px-2 py-0.5 text-[13px] font-bold text-[#2b2002]"
            ><span aria-hidden="true">{{ asking }}</span
            ><span class="sr-only"> {{ t('shell.asking', asking) }}</span></span
          >
        </RouterLink>
      </nav>
      <span class="flex-1" />
      <button
        class="mr-2 mb-2.5 flex h-10 items-center gap-2 rounded-edge px-3 hover:bg-white/10 hover:text-white sm:border sm:border-frame-line lg:min-w-32"
        :aria-label="t('find.title')"
        aria-keyshortcuts="/"
        @click="finding = true"
      >
        <Search :size="18" aria-hidden="true" />
        <span class="hidden flex-1 text-left lg:inline">{{ t('find.title') }}</span>
        <kbd class="hidden font-code text-[13px] lg:inline" aria-hidden="true">/</kbd>
      </button>
      <PersonMenu />
    </header>
    <p
      v-if="device.on && !connected"
      role="status"
      class="bg-saffron px-5 py-1.5 text-[15px] font-semibold text-[#2b2002] sm:px-10 print:hidden"
    >
      <template v-if="asOf">{{ t('device.off', { when: moment(asOf) }) }}</template>
      <span v-else class="mr-2">{{ t('device.away') }}</span>
      <RouterLink
        v-if="!teaching && !asOf && route.name !== 'kept'"
        :to="{ name: 'kept' }"
        class="underline"
        >{{ t('shell.kept') }}</RouterLink
      >
    </p>
    <template v-if="mounted">
      <IncomingFiles v-if="teaching" />
      <OwnFiles v-else-if="filling" />
    </template>
    <main id="main" class="flex flex-1 flex-col bg-sheet">
      <RouterView />
    </main>
    <nav
      v-if="below && route.name !== 'item' && route.name !== 'page'"
      :aria-label="t('shell.places')"
      class="sticky bottom-0 z-20 flex border-t border-line bg-frame px-1 pb-[env(safe-area-inset-bottom)] sm:hidden print:hidden"
    >
      <RouterLink
        v-for="place in places"
        :key="place.name"
        :to="{ name: place.name }"
        class="flex min-h-14 flex-auto flex-col items-center justify-center gap-0.5 rounded-b-lg px-1 pb-1 text-[13px] font-medium whitespace-nowrap text-frame-ink"
        :class="{ 'bg-sheet font-[650]! text-ink!': place.active.includes(String(route.name)) }"
        :aria-current="place.active.includes(String(route.name)) ? 'page' : undefined"
      >
        <component :is="SIGNS[place.name]" :size="19" aria-hidden="true" />
        <span
          >{{ t(`shell.${place.text}`)
          }}<span v-if="place.name === 'today' && asking > 0">
            <span aria-hidden="true" class="font-bold text-saffron">{{ asking }}</span><span
              class="sr-only"
              >{{ t('shell.asking', asking) }}</span
            ></span
          ></span
        >
      </RouterLink>
    </nav>
    <TrayEdge v-if="mounted && session.person?.kind === 'teacher'" />
    <AskArea v-if="mounted && teaching" />
    <FindSheet v-if="finding" @close="finding = false" />
    <KeysHelp v-if="helping" :teaching="teaching" @close="helping = false" />
  </div>
</template>
