<script setup lang="ts">
import type { EarlierEntry, EditedEntry, Frame, ThingCard } from '@sammlung/contract';
import { useEventListener, useLocalStorage } from '@vueuse/core';
import { computed, defineAsyncComponent, nextTick, ref, shallowRef } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink, useRoute, useRouter } from 'vue-router';
import { api } from '../../app/api/api.ts';
import { loadTexts } from '../../app/i18n.ts';
import TaughtBoxes from '../../app/box/TaughtBoxes.vue';
import PageState from '../../app/PageState.vue';
import { usePageTitle } from '../../app/shell/title.ts';
import AppButton from '../../ui/AppButton.vue';
import OnOffSwitch from '../../ui/OnOffSwitch.vue';
import RowMenu from '../../ui/RowMenu.vue';
import { heldAt, vCarry, vPlace, type Place } from './drag.ts';
import { behind, useEditedPage, type EntryDraft } from './entries.ts';
import ComingEntries from './ComingEntries.vue';
import CurrentFolder from './CurrentFolder.vue';
import EarlierEntries from './EarlierEntries.vue';
import EntryForm from './EntryForm.vue';
import EntryRow from './EntryRow.vue';
import EntryTiming from './EntryTiming.vue';
import HeadingForm from './HeadingForm.vue';
import PageHeading from './PageHeading.vue';
import RestList from './RestList.vue';
import WebsiteForm from './WebsiteForm.vue';
import { neighbourOf, stepKey } from './step.ts';

/** The page of a class as its teachers make it: drafts stand among what is shown, each with when and for whom. */
const { t } = useI18n();
const route = useRoute();
const router = useRouter();
const id = computed(() => String(route.params.class));
const { page, act, add, change, set, setEverywhere, remove, removeEverywhere, move } =
  useEditedPage(() => id.value);
const data = computed(() => page.data.value);
usePageTitle(() => data.value && t('entry.page-of', { code: data.value.code }));
const next = computed(() => neighbourOf(data.value?.classes ?? [], id.value, 1));
const to = (classId: string) => ({ name: 'class-page', params: { class: classId } });
useEventListener('keydown', (event: KeyboardEvent) => {
  const by = stepKey(event);
  const other = by && neighbourOf(data.value?.classes ?? [], id.value, by);
  if (other) void router.push(to(other.id));
});

type Part = { id: string; title: string; entries: EditedEntry[] };

/** What is open: a new entry or heading, or one that is changed or timed. */
const open = ref<{ what: 'entry' | 'heading' | 'timing' | 'website'; id: string } | null>(null);
const isOpen = (what: 'entry' | 'heading' | 'timing' | 'website', one = '') =>
  open.value?.what === what && open.value.id === one;
const close = () => (open.value = null);
const makingBox = ref(false);
/** An entry that is used again. */
const earlier = shallowRef<{ entry: EarlierEntry; to: Frame } | null>(null);
const finding = ref(false);
function begin(again: typeof earlier.value) {
  finding.value = false;
  earlier.value = again;
  open.value = { what: 'entry', id: '' };
}

const parts = computed(() => {
  if (!data.value) return [];
  const { entries, headings } = data.value;
  const under = (headingId: string | null) =>
    entries.filter((e) => !e.keepOnTop && e.headingId === headingId);
  return [
    { id: 'top', title: t('entry.shelf'), entries: entries.filter((e) => e.keepOnTop) },
    { id: 'loose', title: t('entry.loose'), entries: under(null) },
    ...headings.map(({ id: heading, title }) => ({ id: heading, title, entries: under(heading) })),
  ].filter((part) => part.entries.length > 0 || headingAt(part.id));
});
const headingAt = (headingId: string) =>
  data.value?.headings.find((h) => h.id === headingId) ?? null;

async function save(draft: EntryDraft, entry: EditedEntry | null) {
  if (!(await (entry ? change(entry, draft) : add(draft)))) return;
  close();
  if (draft.write) await router.push({ name: 'page', params: { placement: draft.write } });
}

const actions = (entry: EditedEntry) => () => {
  const { headings } = data.value!;
  return [
    ...(entry.mayChange ? [{ name: 'change', text: t('entry.menu.change') }] : []),
    { name: 'timing', text: t('entry.menu.timing') },
    entry.state === 'held'
      ? { name: 'show', text: t('entry.menu.show') }
      : { name: 'hold', text: t('entry.menu.hold') },
    { name: 'top', text: t(entry.keepOnTop ? 'entry.menu.off-top' : 'entry.menu.on-top') },
    { name: 'up', text: t('entry.menu.up'), keys: 'Alt ↑' },
    { name: 'down', text: t('entry.menu.down'), keys: 'Alt ↓' },
    ...headings
      .filter((heading) => heading.id !== entry.headingId)
      .map((heading) => ({
        name: `under ${heading.id}`,
        text: t('entry.menu.under', { title: heading.title }),
      })),
    { name: 'remove', text: t('entry.menu.remove') },
    ...(entry.alsoOn.length > 0
      ? [{ name: 'remove-all', text: t('entry.menu.remove-all', { n: entry.alsoOn.length + 1 }) }]
      : []),
  ];
};
const HELD = { held: true, from: null, until: null };
const NOW = { held: false, from: null, until: null };
function run(name: string, entry: EditedEntry) {
  const { title, release, keepOnTop } = entry;
  if (name === 'change') open.value = { what: 'entry', id: entry.appearanceId };
  if (name === 'timing') open.value = { what: 'timing', id: entry.appearanceId };
  if (name === 'show') void set(entry, { release: NOW }, { release }, t('entry.shown', { title }));
  if (name === 'hold') void set(entry, { release: HELD }, { release }, t('entry.held', { title }));
  if (name === 'top')
    void set(entry, { keepOnTop: !keepOnTop }, { keepOnTop }, t('entry.moved', { title }));
  if (name === 'up') void step(entry, -1);
  if (name === 'down') void step(entry, 1);
  if (name === 'remove') void remove(entry);
  if (name === 'remove-all') void removeEverywhere(entry);
  const under = headingAt(name.replace('under ', ''));
  if (under) void move(entry, under.id, null);
}
/** Where an entry can be dropped: beside another one, or under a heading with nothing under it. */
function placeOf(part: Part, entry: EditedEntry | null): Place {
  return {
    takes: 'entry',
    key: entry?.appearanceId ?? `under ${part.id}`,
    drop(dropped, side) {
      const moved = data.value!.entries.find((one) => one.appearanceId === dropped);
      // What is kept on top stays there, and nothing else gets there by being moved.
      if (!moved || moved.keepOnTop !== (part.id === 'top')) return;
      const before = entry && (side === 'before' ? entry.appearanceId : behind(data.value!, entry));
      const under = entry ? entry.headingId : (headingAt(part.id)?.id ?? null);
      if (before !== dropped) void move(moved, under, before);
    },
  };
}
/** What the class has without an entry gets one: it is open already, and its words can be written. */
const asEntry = (thing: ThingCard, headingId: string | null) =>
  add({
    ...{ title: thing.title, text: '', things: [thing] },
    on: [{ classId: id.value, headingId, keepOnTop: false, release: NOW, people: null }],
  });
/** One place up or down among those it stands with; the focus stays with it. */
async function step(entry: EditedEntry, by: 1 | -1) {
  const those = parts.value.find((part) => part.entries.includes(entry))?.entries ?? [];
  const at = those.indexOf(entry);
  const other = those[at + by];
  if (!other) return;
  const before = by < 0 ? other.appearanceId : behind(data.value!, other);
  // On the shelf those beside it may be of other headings.
  await move(entry, other.headingId, before);
  await nextTick();
  document.getElementById(`entry-${entry.appearanceId}`)?.focus();
}

/** Brings an entry on the screen, with the focus on it. */
function goTo({ appearanceId }: EditedEntry) {
  const row = document.getElementById(`entry-${appearanceId}`);
  row?.scrollIntoView({ block: 'center' });
  row?.focus({ preventScroll: true });
}

const numbered = computed({
  get: () => data.value?.numbered ?? false,
  set: (on) =>
    void act(t(on ? 'entry.numbered-on' : 'entry.numbered-off'), async () => {
      const params = { class: id.value };
      await api('PATCH /api/class-pages/:class', { params, body: { numbered: on } });
      return () => api('PATCH /api/class-pages/:class', { params, body: { numbered: !on } });
    }),
});
/** On a wide screen the page can be looked at beside, as the class sees it. */
const beside = useLocalStorage('class-page-beside', false);
const ClassBeside = defineAsyncComponent(async () => {
  await loadTexts('viewer');
  return import('./ClassBeside.vue');
});
</script>

<template>
  <div class="w-full flex-1 bg-paper">
    <div
      class="mx-auto w-full px-5 py-7 sm:px-10"
      :class="beside ? 'max-w-5xl xl:grid xl:max-w-[120rem] xl:grid-cols-2 xl:gap-10' : 'max-w-5xl'"
    >
      <div class="min-w-0">
        <PageState v-if="!data" :error="page.error.value" @again="page.refetch()" />
        <template v-else>
          <div class="flex flex-wrap items-center gap-x-4 gap-y-2">
            <span
              class="inline-flex h-9 items-center rounded-[5px] px-3.5 font-code text-[18px] font-semibold text-white"
              :style="{ background: `var(--${data.colour})` }"
              >{{ data.code }}</span
            >
            <h1 class="min-w-48 flex-1 text-[28px]">{{ data.course }}</h1>
            <RouterLink
              :to="{ name: 'reach-class', params: { class: id } }"
              class="inline-flex min-h-9 items-center font-semibold text-petrol hover:underline pointer-coarse:min-h-11"
              >{{ t('reach.link-class') }}</RouterLink
            >
            <RouterLink
              :to="{ name: 'see-as-class-page', params: { as: `class.${id}`, class: id } }"
              class="inline-flex min-h-9 items-center font-semibold text-petrol hover:underline pointer-coarse:min-h-11"
              >{{ t('entry.see-as', { code: data.code }) }}</RouterLink
            >
            <RouterLink
              v-if="next"
              :to="to(next.id)"
              :title="t('class-page.step')"
              class="inline-flex min-h-9 items-center rounded-edge border border-line bg-raised px-3.5 text-[15px] font-semibold hover:border-petrol hover:text-petrol pointer-coarse:min-h-11"
              >{{ t('class-page.next', { code: next.code }) }}</RouterLink
            >
          </div>
          <CurrentFolder class="mt-2" :page="data" :act="act" />
          <div class="mt-5 flex flex-wrap items-center gap-2">
            <AppButton tone="main" @click="begin(null)">{{ t('entry.new') }}</AppButton>
            <AppButton @click="open = { what: 'heading', id: '' }">{{
              t('entry.heading.new')
            }}</AppButton>
            <AppButton @click="makingBox = true">{{ t('taught-box.new') }}</AppButton>
            <AppButton @click="finding = true">{{ t('entry.again.do') }}</AppButton>
            <AppButton @click="open = { what: 'website', id: '' }">{{
              t('website.open')
            }}</AppButton>
            <span class="flex flex-1 flex-wrap justify-end gap-x-6">
              <span class="flex min-h-9 items-center gap-2 text-[15px] max-xl:hidden">
                <OnOffSwitch v-model="beside" :label="t('entry.beside', { code: data.code })" />
                <span aria-hidden="true" @click="beside = !beside">{{
                  t('entry.beside', { code: data.code })
                }}</span>
              </span>
              <span
                v-if="data.headings.length > 0"
                class="flex min-h-9 items-center gap-2 text-[15px]"
              >
                <OnOffSwitch v-model="numbered" :label="t('entry.numbered')" />
                <span aria-hidden="true" @click="numbered = !numbered">{{
                  t('entry.numbered')
                }}</span>
              </span>
            </span>
          </div>
          <ComingEntries :entries="data.entries" @go="goTo" />
          <EntryForm
            v-if="isOpen('entry')"
            :key="`${id} ${earlier?.entry.entryId}`"
            class="mt-4"
            :page="data"
            :earlier="earlier"
            @save="(draft) => save(draft, null)"
            @close="close"
          />
          <WebsiteForm
            v-if="isOpen('website')"
            :key="`website ${id}`"
            class="mt-4"
            :page="data"
            :act="act"
            @close="close"
          />
          <EarlierEntries
            v-if="finding"
            :class-id="id"
            @take="(entry, frame) => begin({ entry, to: frame })"
            @close="finding = false"
          />
          <HeadingForm
            v-if="isOpen('heading')"
            class="mt-4"
            :page="data"
            :act="act"
            @close="close"
          />
          <TaughtBoxes v-model:making="makingBox" class="mt-6" :class-id="id" />
          <section v-for="part in parts" :key="part.id" class="mt-7">
            <HeadingForm
              v-if="isOpen('heading', part.id)"
              :page="data"
              :heading="headingAt(part.id)!"
              :act="act"
              @close="close"
            />
            <PageHeading
              v-else
              :id="part.id"
              :title="part.title"
              :page="data"
              :act="act"
              @change="open = { what: 'heading', id: part.id }"
            />
            <ul class="rounded-tr-lg rounded-b-lg border border-line bg-raised">
              <li
                v-if="part.entries.length === 0"
                v-place="placeOf(part, null)"
                class="px-6 py-4 text-soft"
                :class="heldAt(`under ${part.id}`)"
              >
                {{ t('entry.empty-heading') }}
              </li>
              <li
                v-for="(entry, n) in part.entries"
                :id="`entry-${entry.appearanceId}`"
                :key="entry.appearanceId"
                v-carry="{ kind: 'entry', id: entry.appearanceId }"
                v-place="placeOf(part, entry)"
                tabindex="-1"
                :class="[
                  { 'border-t border-dotted border-line': n > 0 },
                  heldAt(entry.appearanceId),
                ]"
                @keydown.alt.up.prevent="step(entry, -1)"
                @keydown.alt.down.prevent="step(entry, 1)"
              >
                <EntryForm
                  v-if="isOpen('entry', entry.appearanceId)"
                  :page="data"
                  :entry="entry"
                  @save="(draft) => save(draft, entry)"
                  @close="close"
                />
                <EntryRow v-else :entry="entry" :page="data">
                  <RowMenu
                    :label="t('entry.actions', { title: entry.title })"
                    :actions="actions(entry)"
                    @act="(name) => run(name, entry)"
                  />
                </EntryRow>
                <EntryTiming
                  v-if="isOpen('timing', entry.appearanceId)"
                  :entry="entry"
                  :set="set"
                  :set-everywhere="setEverywhere"
                  @close="close"
                />
              </li>
            </ul>
          </section>
          <RestList v-if="data.rest.length > 0" class="mt-7" :page="data" @entry="asEntry" />
          <p v-if="parts.length === 0 && !open" class="mt-8 max-w-prose text-soft">
            {{ t('entry.nothing-yet', { code: data.code }) }}
          </p>
        </template>
      </div>
      <aside
        v-if="beside && data"
        class="max-xl:hidden"
        :aria-label="t('entry.beside', { code: data.code })"
      >
        <ClassBeside
          :key="id"
          :page="data"
          class="sticky top-6 max-h-[calc(100vh-3rem)] overflow-y-auto border-l-2 border-dashed border-line pl-6"
        />
      </aside>
    </div>
  </div>
</template>
