<script setup lang="ts">
import type { AudienceRow, Change, CoverNote, Door, FolderView } from '@sammlung/contract';
import { SwitchDescription, SwitchGroup } from '@headlessui/vue';
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink } from 'vue-router';
import { now } from '../../app/clock.ts';
import { api } from '../../app/api.ts';
import { explain } from '../../app/problems.ts';
import { say } from '../../app/toast.ts';
import AppButton from '../../ui/AppButton.vue';
import IndexTab from '../../ui/IndexTab.vue';
import OnOffSwitch from '../../ui/OnOffSwitch.vue';
import PageState from '../../ui/PageState.vue';
import DoorAddress from './DoorAddress.vue';
import { AT_ONCE, useHandingOut, type Terms } from '../../app/handing.ts';
import { useAudience } from './audience.ts';
import NoteFields from './NoteFields.vue';
import TermsFields from './TermsFields.vue';
import { useFormat } from '../../app/format.ts';
import { useChanging } from '../../app/changing.ts';
import { foretold, useForetold } from '../../app/foretold.ts';
import { backwards } from '../../app/span.ts';
import { useSentences } from '../../app/sentence.ts';

/** Who sees the open folder. It is changed right here: at once where it can be undone, with a question where model.md wants one. */
const { folder } = defineProps<{ folder: FolderView }>();
const emit = defineEmits<{ handOut: []; timing: []; why: []; door: [door: Door] }>();
const { t } = useI18n();
const { moment } = useFormat();
const audience = useAudience(() => folder.id);
const { turn, changeTerms } = useHandingOut();
const { attempt, changed, consent } = useChanging();
const { sentence, would, warning } = useSentences();
const asking = ref<string | null>(null);
const pointed = ref<AudienceRow | null>(null);
const panel = useTemplateRef('panel');

const data = computed(() => audience.data.value);
/** In place of a number where none says it better. */
const headline = computed(() => {
  const rows = data.value?.rows ?? [];
  if (rows.some((row) => row.kind === 'public' && row.state === 'out'))
    return t('audience.everyone');
  if (data.value && data.value.students > 0) return '';
  if (rows.some((row) => row.state === 'out')) return '';
  return t(rows.some((row) => sees(row)) ? 'audience.later-only' : 'audience.only-you');
});
const key = (row: AudienceRow) => `${row.kind}-${row.id}`;
const sees = (row: AudienceRow) => row.here !== null || row.above.length > 0;
const name = (row: AudienceRow) => row.label || t(`tab.${row.kind}`);
const people = (row: AudienceRow) => {
  if (row.kind === 'public') return t('audience.with-address');
  if (row.kind === 'school-door') return t('audience.at-school');
  if (row.kind === 'staff') return t('audience.staff');
  return row.people === null
    ? name(row)
    : t(row.kind === 'class' ? 'count.students' : 'count.people', row.people);
};

/** What the switch under the pointer or the keyboard would do, in one sentence. */
const preview = computed(() => {
  const row = data.value?.rows.find((r) => pointed.value && key(r) === key(pointed.value));
  if (!row) return t('audience.point');
  if (row.above.length > 0 && !row.here)
    return t('audience.comes-from', { title: row.above.at(-1)?.title ?? t('audience.unseen') });
  return t(row.here ? 'audience.if-back' : 'audience.if-out', {
    name: name(row),
    sentence: sentence(row),
  });
});

/** Changes are made one after the other; a switch pressed while another is being changed waits its turn. */
let changing = Promise.resolve();
const inTurn = (step: () => Promise<void>) => (changing = changing.then(step));

function toggle(pressed: AudienceRow) {
  return inTurn(async () => {
    const row = data.value?.rows.find((r) => key(r) === key(pressed));
    if (!row) return;
    if (!row.change.asks || asking.value === key(row)) return change(row);
    const looked = await attempt(async () => {
      flags.value = row.here ? [] : await flagsOf(row);
      return true;
    });
    if (!looked) return;
    asking.value = key(row);
    await nextTick();
    panel.value?.querySelector<HTMLElement>('[data-answer]')?.focus();
  });
}

/** What would be open to many and looks as if it should not. */
const flags = ref<string[]>([]);
async function flagsOf({ kind, id }: AudienceRow): Promise<string[]> {
  const change = {
    do: 'hand-out' as const,
    things: [thing.value],
    audiences: [{ kind, id }],
    ...AT_ONCE,
  };
  return (await foretold(change)).confidential.map(warning);
}
const thing = computed(() => ({ kind: 'folder' as const, id: folder.id }));

async function change(row: AudienceRow) {
  asking.value = null;
  const said = row.here
    ? 'audience.taken'
    : isDoor(row)
      ? `audience.opened-${row.kind}`
      : 'audience.handed';
  const closed = row.here && isDoor(row) ? 'audience.closed' : said;
  try {
    const undo = await turn(thing.value, row, row.here?.id ?? null);
    say({ text: t(closed, { title: folder.title, name: name(row) }), undo });
    await changed();
  } catch (error) {
    say({ text: explain(t, error), tone: 'bad' });
  }
}

const isDoor = (row: AudienceRow) => row.kind === 'public' || row.kind === 'school-door';

/** The folder as this audience has it on the screen; null where that is nobody in particular. */
function seenAs({ kind, id }: AudienceRow) {
  if (kind !== 'class' && kind !== 'person' && kind !== 'public') return null;
  const as = kind === 'public' ? 'visitor' : `${kind}.${id}`;
  return { name: 'see-as-folder', params: { as, folder: folder.id } };
}

/** The handing out whose dates and level are being changed. */
const editing = ref<{ row: AudienceRow; grant: string; terms: Terms } | null>(null);
function edit(row: AudienceRow) {
  if (!row.here) return;
  const { id: grant, level, from, until } = row.here;
  editing.value =
    editing.value?.grant === grant ? null : { row, grant, terms: { level, from, until } };
}
/** The same as a change; null while nothing is different, or cannot be. */
const termsChange = computed((): Change | null => {
  const { row, terms } = editing.value ?? {};
  const { level, from, until } = row?.here ?? {};
  const same = JSON.stringify(terms) === JSON.stringify({ level, from, until });
  if (!row || !terms || same || backwards(terms)) return null;
  return {
    do: 'hand-out',
    things: [thing.value],
    audiences: [{ kind: row.kind, id: row.id }],
    ...terms,
  };
});
const { sentence: termsSay } = useForetold(() => termsChange.value);
async function saveTerms(row: AudienceRow) {
  const asked = editing.value;
  const asChange = termsChange.value;
  if (!asked || !asChange) return;
  const done = await attempt(async () => {
    const told = await consent(asChange, t('common.save'));
    if (told === null) return false;
    const undo = await changeTerms(asked.grant, asked.terms);
    const saved = t('audience.terms.saved', { title: folder.title, name: name(row) });
    say({ text: [saved, told].filter(Boolean).join('. '), undo });
    return true;
  });
  if (done) editing.value = null;
}
/** A cover note that is sent after the handing out. */
const note = ref<CoverNote | null>(null);
watch(editing, () => (note.value = null));
const sendNote = ({ here }: AudienceRow) =>
  attempt(async () => {
    if (!here || !note.value) return false;
    const { people: count } = await api('POST /api/grants/:grant/notes', {
      params: { grant: here.id },
      body: note.value,
    });
    say({ text: t('note.on-its-way', count) });
    editing.value = null;
    return true;
  });
/** In words from when until when a handing out is in force, and what it allows. */
function termsOf({ here }: AudienceRow): string {
  if (!here) return '';
  return [
    here.level === 'view' ? '' : t(`audience.level.${here.level}`),
    here.from ? t('audience.terms.since', { when: moment(here.from) }) : '',
    here.until ? t('audience.terms.till', { when: moment(here.until) }) : '',
  ]
    .filter(Boolean)
    .join(', ');
}
/** In words when the folder itself is seen. */
const timing = computed(() => {
  const { release, releaseClasses, closedBy } = data.value ?? {};
  if (!release) return '';
  if (closedBy)
    return closedBy.title === null
      ? t('timing.closed-unseen')
      : t('timing.closed-by', { title: closedBy.title });
  const at = new Date(now()).toISOString();
  const words = release.held
    ? t('state.held')
    : release.from && release.from > at
      ? t('timing.goes-out', { when: moment(release.from) })
      : release.until
        ? t(release.until > at ? 'timing.ends' : 'timing.ended', { when: moment(release.until) })
        : t('state.out');
  return releaseClasses ? t('timing.and-classes', { words }, releaseClasses) : words;
});

/** The question was answered with yes. */
async function answer(row: AudienceRow) {
  await inTurn(() => change(row));
  await leave(row);
}

async function leave(row: AudienceRow) {
  asking.value = null;
  await nextTick();
  document.getElementById(`switch-${key(row)}`)?.focus();
}
</script>

<template>
  <aside
    ref="panel"
    class="border-line bg-[color-mix(in_oklab,var(--paper),var(--sheet)_55%)] px-5 py-5 max-lg:col-span-2 max-lg:border-t md:px-6 lg:border-l"
    aria-labelledby="audience-title"
  >
    <h2 id="audience-title" class="text-[18px]">{{ t('audience.title') }}</h2>
    <PageState v-if="!data" :error="audience.error.value" @again="audience.refetch()" />
    <template v-else>
      <p v-if="headline" class="mt-1.5 mb-3 font-title text-[22px] font-semibold text-petrol">
        {{ headline }}
      </p>
      <p v-else class="mt-1 mb-3 flex items-baseline gap-2 text-soft">
        <b class="font-title text-[34px] leading-tight font-semibold text-petrol">{{
          data.students
        }}</b>
        {{
          t('audience.students-in', {
            students: t('count.students-word', data.students),
            classes: t('count.classes', data.classes),
          })
        }}
      </p>
      <p class="-mt-1 mb-3 flex items-baseline justify-between gap-3 text-[15px]">
        <span>{{ timing }}</span>
        <button
          type="button"
          class="min-h-8 shrink-0 font-medium text-petrol underline underline-offset-2 pointer-coarse:min-h-11"
          @click="emit('timing')"
        >
          {{ t('timing.change') }}
        </button>
      </p>
      <ul class="border-b border-line">
        <SwitchGroup
          v-for="row in data.rows"
          :key="key(row)"
          as="li"
          class="border-t border-line py-2"
          @mouseenter="pointed = row"
          @focusin="pointed = row"
        >
          <div
            class="grid min-h-10 grid-cols-[minmax(74px,max-content)_1fr_auto] items-center gap-x-1.5"
          >
            <RouterLink
              v-if="seenAs(row)"
              :to="seenAs(row)!"
              class="justify-self-start hover:brightness-110"
              :title="t('audience.see-as', { name: name(row) })"
            >
              <IndexTab :tab="row" /><span class="sr-only">{{
                t('audience.see-as', { name: name(row) })
              }}</span>
            </RouterLink>
            <IndexTab v-else :tab="row" class="justify-self-start" />
            <div class="leading-snug">
              <p class="text-[15px]">{{ people(row) }}</p>
              <p class="text-meta text-soft">
                <template v-if="row.above.length > 0">
                  {{ t('audience.from') }}
                  <template v-for="crumb in row.above.slice(-1)" :key="crumb.id ?? ''">
                    <RouterLink
                      v-if="crumb.id"
                      :to="{ name: 'folder', params: { folder: crumb.id } }"
                      class="underline underline-offset-2 hover:text-petrol"
                      >{{ crumb.title }}</RouterLink
                    >
                    <template v-else>{{ t('audience.unseen') }}</template>
                  </template>
                </template>
                <template v-else-if="row.here && isDoor(row)">{{ t('audience.here') }}</template>
                <button
                  v-else-if="row.here"
                  type="button"
                  class="underline underline-offset-2 hover:text-petrol pointer-coarse:min-h-11"
                  :aria-expanded="editing?.grant === row.here.id"
                  @click="edit(row)"
                >
                  {{ termsOf(row) || t('audience.here') }}
                </button>
                <template v-else>{{ would(row) }}</template>
              </p>
            </div>
            <OnOffSwitch
              v-if="row.above.length === 0 || row.here"
              :id="`switch-${key(row)}`"
              :model-value="sees(row)"
              :label="t('audience.switch', { name: name(row) })"
              @update:model-value="toggle(row)"
            />
          </div>
          <SwitchDescription class="sr-only">{{ sentence(row) }}</SwitchDescription>
          <div
            v-if="asking === key(row)"
            class="mt-2 mb-1 rounded-lg border-l-4 border-brick bg-brick-pale px-3.5 py-3"
            @keydown.esc="leave(row)"
          >
            <p>{{ sentence(row) }}</p>
            <p v-for="flag in flags" :key="flag" class="mt-1.5 font-medium">{{ flag }}</p>
            <div class="mt-2.5 flex flex-wrap gap-2">
              <AppButton tone="warn" data-answer @click="answer(row)">
                {{ t(row.here ? 'audience.take-back' : `audience.open-${row.kind}`) }}
              </AppButton>
              <AppButton @click="leave(row)">{{ t('common.cancel') }}</AppButton>
            </div>
          </div>
          <form
            v-if="editing && editing.grant === row.here?.id"
            class="mt-2 mb-1 rounded-lg border border-line bg-raised p-3"
            @submit.prevent="saveTerms(row)"
            @keydown.esc="editing = null"
          >
            <TermsFields
              v-model="editing.terms"
              :levels="row.kind === 'staff' || row.kind === 'person'"
            />
            <p v-if="termsChange" class="mt-3 text-meta text-soft" role="status">
              {{ termsSay === '' ? t('consequence.none') : termsSay }}
            </p>
            <div class="mt-3 flex gap-2">
              <AppButton tone="main" submits :disabled="!termsChange">{{
                t('common.save')
              }}</AppButton>
              <AppButton @click="editing = null">{{ t('common.cancel') }}</AppButton>
            </div>
            <template v-if="row.kind !== 'school'">
              <AppButton
                v-if="note === null"
                class="mt-3"
                @click="note = { body: '', copyToSender: true }"
                >{{ t('note.send-one') }}</AppButton
              >
              <template v-else>
                <NoteFields v-model="note" class="mt-3" />
                <AppButton v-if="note" class="mt-2" @click="sendNote(row)">{{
                  t('note.send')
                }}</AppButton>
              </template>
            </template>
          </form>
          <DoorAddress
            v-if="row.here?.door"
            :address="row.here.door.shortAddress ?? row.here.door.address"
            @more="row.here?.door && emit('door', row.here.door)"
          />
        </SwitchGroup>
      </ul>
      <div class="mt-3 flex gap-2">
        <AppButton class="flex-1" @click="emit('handOut')">{{ t('audience.to-others') }}</AppButton>
        <AppButton @click="emit('why')">{{ t('audience.why') }}</AppButton>
      </div>
      <p v-if="asking === null" class="mt-3 min-h-[4.3em] text-meta text-soft" aria-hidden="true">
        {{ preview }}
      </p>
      <div v-if="data.publicElsewhere.length > 0" class="mt-4 rounded-lg bg-brick-pale px-3.5 py-3">
        <p class="font-semibold">
          {{ t('audience.public-elsewhere', data.publicElsewhere.length) }}
        </p>
        <p v-for="found in data.publicElsewhere" :key="found.placementId" class="mt-1">
          {{ t('audience.through', { title: found.title }) }}
          <RouterLink
            v-if="found.folder.id"
            :to="{ name: 'folder', params: { folder: found.folder.id } }"
            class="font-medium underline underline-offset-2"
            >{{ found.folder.title }}</RouterLink
          >
          <template v-else>{{ t('audience.unseen-elsewhere') }}</template>.
        </p>
      </div>
    </template>
  </aside>
</template>
