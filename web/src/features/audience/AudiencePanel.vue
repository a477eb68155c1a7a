<script setup lang="ts">
import type { AudienceRow as Row, Door, FolderView } from '@sammlung/contract';
import { computed, nextTick, ref, useTemplateRef } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink } from 'vue-router';
import { useChanging } from '../../app/changing.ts';
import { now } from '../../app/api/clock.ts';
import { previewChange } from '../../app/change-preview.ts';
import { AT_ONCE, useHandingOut } from '../../app/handing.ts';
import { explain } from '../../app/api/problems.ts';
import { useSentences } from '../../app/sentence.ts';
import { say } from '../../app/shell/toast.ts';
import AppButton from '../../ui/AppButton.vue';
import PageState from '../../app/PageState.vue';
import { useAudience } from './audience.ts';
import AudienceRow from './AudienceRow.vue';
import { isDoor, keyOf, useAudienceWords } from './rows.ts';

/**
 * Who sees the open folder. It is changed right here: straight away where it can be undone, with a question where model.md
 * wants one. What is to be released next has its row here, too (`next`).
 */
const { folder } = defineProps<{ folder: FolderView }>();
const emit = defineEmits<{
  handOut: [];
  timing: [];
  why: [];
  door: [door: Door];
  box: [classIds: string[]];
}>();
defineSlots<{ title(): unknown; next(): unknown }>();
const { t } = useI18n();
const audience = useAudience(() => folder.id);
const { turn } = useHandingOut();
const { attempt, changed } = useChanging();
const { sentence, warning } = useSentences();
const { headline, nameOf, timingOf } = useAudienceWords();
const data = computed(() => audience.data.value);
const timing = computed(() => data.value && timingOf(data.value, new Date(now()).toISOString()));

/** The classes that have the folder now. */
const classesHere = computed(() =>
  (data.value?.rows ?? []).flatMap(({ kind, state, id }) =>
    kind === 'class' && state === 'out' ? id : [],
  ),
);

// By their keys: rows come anew with each look.
const asking = ref<string | null>(null);
const editing = ref<string | null>(null);
const pointed = ref<string | null>(null);
const rowBy = (key: string | null) => data.value?.rows.find((row) => keyOf(row) === key);

/** What the switch under the pointer or the keyboard would do, in one sentence. */
const preview = computed(() => {
  const row = rowBy(pointed.value);
  if (!row) return t('audience.point');
  if (row.above.length > 0 && !row.here)
    return t('audience.comes-from', { title: row.above.at(-1)?.title ?? t('audience.unseen') });
  return t(row.here ? 'audience.if-back' : 'audience.if-out', {
    name: nameOf(row),
    sentence: sentence(row),
  });
});

/** Changes are made one after the other; a switch pressed while another is being changed waits its turn. */
let changing = Promise.resolve();
const inTurn = (step: () => Promise<void>) => (changing = changing.then(step));
const panel = useTemplateRef('panel');

function toggle(key: string) {
  return inTurn(async () => {
    const row = rowBy(key);
    if (!row) return;
    if (!row.change.asks || asking.value === key) return change(row);
    const looked = await attempt(async () => {
      flags.value = row.here ? [] : await flagsOf(row);
      return true;
    });
    if (!looked) return;
    asking.value = key;
    await nextTick();
    panel.value?.querySelector<HTMLElement>('[data-answer]')?.focus();
  });
}

/** What would be open to many and looks as if it should not. */
const flags = ref<string[]>([]);
async function flagsOf({ kind, id }: Row): Promise<string[]> {
  const change = {
    do: 'hand-out' as const,
    things: [thing.value],
    audiences: [{ kind, id }],
    ...AT_ONCE,
  };
  return (await previewChange(change)).confidential.map(warning);
}
const thing = computed(() => ({ kind: 'folder' as const, id: folder.id }));

async function change(row: Row) {
  asking.value = null;
  const said = isDoor(row)
    ? row.here
      ? 'audience.closed'
      : `audience.opened-${row.kind}`
    : row.here
      ? 'audience.taken'
      : 'audience.handed';
  try {
    const undo = await turn(thing.value, row, row.here?.id ?? null);
    say({ text: t(said, { title: folder.title, name: nameOf(row) }), undo });
    await changed();
  } catch (error) {
    say({ text: explain(t, error), tone: 'bad' });
  }
}

/** The question was answered with yes. */
async function answer(row: Row) {
  await inTurn(() => change(row));
  await leave(row);
}
async function leave(row: Row) {
  asking.value = null;
  await nextTick();
  document.getElementById(`switch-${keyOf(row)}`)?.focus();
}
</script>

<template>
  <div ref="panel">
    <slot name="title" />
    <PageState v-if="!data" :error="audience.error.value" @again="audience.refetch()" />
    <template v-else>
      <p v-if="headline(data)" class="mt-1.5 mb-3 font-title text-[22px] font-semibold text-petrol">
        {{ headline(data) }}
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
      <p class="-mt-1 flex items-baseline justify-between gap-3 text-[15px]">
        <span>{{ timing }}</span>
        <button
          type="button"
          class="min-h-8 shrink-0 font-medium text-petrol underline underline-offset-2 pointer-coarse:min-h-11"
          @click="emit('timing')"
        >
          {{ t('timing.change') }}
        </button>
      </p>
      <slot name="next" />
      <ul
        class="mt-3 grid grid-cols-[minmax(74px,max-content)_1fr_auto] gap-x-1.5 border-b border-line"
      >
        <AudienceRow
          v-for="row in data.rows"
          :key="keyOf(row)"
          :folder="folder"
          :row="row"
          :asking="asking === keyOf(row)"
          :flags="flags"
          :editing="editing === keyOf(row)"
          @update:editing="editing = $event ? keyOf(row) : null"
          @mouseenter="pointed = keyOf(row)"
          @focusin="pointed = keyOf(row)"
          @toggle="toggle(keyOf(row))"
          @answer="answer(row)"
          @leave="leave(row)"
          @door="emit('door', $event)"
        />
      </ul>
      <div class="mt-3 flex gap-2">
        <AppButton class="flex-1" @click="emit('handOut')">{{ t('audience.to-others') }}</AppButton>
        <AppButton @click="emit('why')">{{ t('audience.why') }}</AppButton>
      </div>
      <p class="mt-2 flex flex-wrap gap-x-5">
        <RouterLink
          v-if="data.students > 0"
          :to="{ name: 'reach-folder', params: { folder: folder.id } }"
          class="inline-flex min-h-9 items-center font-medium text-petrol underline underline-offset-2 pointer-coarse:min-h-11"
          >{{ t('reach.link') }}</RouterLink
        >
        <button
          v-if="classesHere.length > 0"
          type="button"
          class="min-h-9 font-medium text-petrol underline underline-offset-2 pointer-coarse:min-h-11"
          @click="emit('box', classesHere)"
        >
          {{ t('taught-box.new') }}
        </button>
        <RouterLink
          v-if="folder.right === 'own'"
          :to="{ name: 'log', query: { folder: folder.id, title: folder.title } }"
          class="inline-flex min-h-9 items-center font-medium text-petrol underline underline-offset-2 pointer-coarse:min-h-11"
          >{{ t('log.link') }}</RouterLink
        >
      </p>
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
  </div>
</template>
