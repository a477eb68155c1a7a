<script setup lang="ts">
import type { SameName } from '@sammlung/contract';
import { useEventListener, useNow } from '@vueuse/core';
import { ChevronDown, ChevronUp } from 'lucide-vue-next';
import { computed, onMounted, ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { useFormat } from '../../app/format.ts';
import { explain } from '../../app/problems.ts';
import { say } from '../../app/toast.ts';
import AppButton from '../../ui/AppButton.vue';
import { useUploads, type Transfer } from '../../app/uploads.ts';
import UploadLine from './UploadLine.vue';

/**
 * What is on its way in, per file and in total. Stays while moving about; when it is done it says what was added where,
 * and (in its slot) who can see it now.
 */
defineSlots<{ reach(props: { folder: string }): unknown }>();
const { t } = useI18n();
const { size } = useFormat();
const uploads = useUploads();
const small = ref(false);
const now = useNow({ interval: 1000 });
onMounted(() => uploads.goOn());

const by = (state: Transfer['state']) => uploads.transfers.filter((x) => x.state === state);
const done = computed(() => by('done').length);
const failed = computed(() => by('failed').length);
const stopped = computed(() => by('stopped').length);
const busy = computed(() => uploads.running.length > 0 || uploads.preparing);
const share = computed(() => (uploads.total === 0 ? 1 : uploads.sent / uploads.total));

const added = computed(() =>
  uploads.transfers.filter(
    (x) =>
      x.state === 'done' && x.result?.outcome !== 'skipped' && x.result?.outcome !== 'unchanged',
  ),
);
const folders = computed(() => {
  const found = new Map(added.value.map((x) => [x.folder.id, x.folder]));
  return [...found.values()];
});
const headline = computed(() => {
  if (uploads.preparing) return t('intake.preparing');
  const count = uploads.transfers.length;
  if (busy.value) return t('intake.running', { done: done.value, count });
  const where =
    folders.value.length > 3
      ? t('count.folders', folders.value.length)
      : folders.value.map((folder) => folder.title).join(', ');
  const parts = [
    ...(added.value.length > 0
      ? [t('intake.done', { files: t('count.files', added.value.length), folder: where })]
      : []),
    ...(done.value > added.value.length
      ? [t('intake.nothing-new', done.value - added.value.length)]
      : []),
    ...(failed.value > 0 ? [t('intake.failed', failed.value)] : []),
    ...(stopped.value > 0 ? [t('intake.stopped-some', stopped.value)] : []),
    ...(by('lost').length > 0 ? [t('intake.lost-some', by('lost').length)] : []),
  ];
  return parts.join(' ');
});

/** Seconds left, from how fast it went so far; null until that can be told. */
const left = computed(() => {
  const seconds = (now.value.getTime() - uploads.startedAt) / 1000;
  if (seconds < 3 || uploads.sent === 0) return null;
  return Math.ceil((uploads.total - uploads.sent) / (uploads.sent / seconds));
});
const timeLeft = computed(() => {
  if (left.value === null) return '';
  if (left.value < 60) return t('intake.seconds-left', { n: left.value });
  if (left.value < 3600) return t('intake.minutes-left', { n: Math.ceil(left.value / 60) });
  return t('intake.hours-left', { n: Math.ceil(left.value / 3600) });
});

/** So many lines are drawn; what went wrong or waits for the person comes first. */
const LINES = 100;
const shown = computed(() =>
  uploads.transfers.length <= LINES
    ? uploads.transfers
    : [
        ...uploads.transfers.filter((x) => URGENT.includes(x.state)),
        ...uploads.transfers.filter((x) => !URGENT.includes(x.state)),
      ].slice(0, LINES),
);
const URGENT: Transfer['state'][] = ['failed', 'lost', 'stopped', 'sending', 'placing'];

async function instead(which: readonly Transfer[], choice: Exclude<SameName, 'version'>) {
  for (const x of which)
    try {
      await uploads.instead(x, choice);
    } catch (error) {
      say({ text: `${x.name}: ${explain(t, error)}`, tone: 'bad' });
    }
}

useEventListener(window, 'beforeunload', (event) => {
  // Small files go on by themselves after a reload; nothing is asked for them.
  if (uploads.running.some((x) => x.size > 64 << 20)) event.preventDefault();
});
</script>

<template>
  <section
    v-if="uploads.transfers.length > 0 || uploads.preparing"
    class="fixed right-4 bottom-4 z-40 w-[min(420px,calc(100vw-2rem))] rounded-lg border border-line bg-raised shadow-xl"
    :aria-label="t('intake.title')"
  >
    <div class="flex items-start gap-2 px-4 pt-3 pb-2">
      <div class="flex-1">
        <p role="status" class="font-semibold">{{ headline }}</p>
        <p v-if="!busy && folders.length === 1" class="text-meta text-good">
          <slot name="reach" :folder="folders[0]!.id" />
        </p>
      </div>
      <AppButton v-if="uploads.running.length > 1" @click="uploads.stopAll()">{{
        t('intake.stop-all')
      }}</AppButton>
      <AppButton v-else-if="failed + stopped > 1" @click="uploads.againAll()">{{
        t('intake.again-all')
      }}</AppButton>
      <AppButton v-if="!busy" @click="uploads.clear()">{{ t('common.close') }}</AppButton>
      <button
        class="grid size-9 place-items-center rounded-edge text-soft hover:bg-mark hover:text-ink pointer-coarse:size-11"
        :aria-expanded="!small"
        :aria-label="t('intake.list')"
        @click="small = !small"
      >
        <component :is="small ? ChevronUp : ChevronDown" :size="18" aria-hidden="true" />
      </button>
    </div>
    <div v-if="busy" class="px-4 pb-2">
      <progress class="total h-1.5 w-full" :value="share" max="1" :aria-label="t('intake.total')" />
      <p class="flex justify-between text-meta text-soft">
        <span>{{
          t('intake.bytes', { sent: size(uploads.sent), total: size(uploads.total) })
        }}</span>
        <span>{{ timeLeft }}</span>
      </p>
    </div>
    <div
      v-if="!small && uploads.versions.length > 1"
      class="flex flex-wrap items-center gap-2 border-t border-line bg-paper/60 px-4 py-2 text-meta"
    >
      <span class="flex-1">{{ t('intake.versions', uploads.versions.length) }}</span>
      <AppButton @click="instead(uploads.versions, 'both')">{{ t('intake.both-all') }}</AppButton>
      <AppButton @click="instead(uploads.versions, 'skip')">{{ t('intake.skip-all') }}</AppButton>
    </div>
    <ul
      v-if="!small"
      class="max-h-64 overflow-y-auto border-t border-line"
      tabindex="0"
      :aria-label="t('intake.title')"
    >
      <UploadLine v-for="x in shown" :key="x.id" :transfer="x" @instead="instead([x], $event)" />
      <li
        v-if="uploads.transfers.length > shown.length"
        class="border-t border-line px-4 py-1.5 text-soft"
      >
        {{ t('intake.more', uploads.transfers.length - shown.length) }}
      </li>
    </ul>
  </section>
</template>

<style scoped>
/* Browsers have a colour of their own for it. */
.total {
  appearance: none;
  overflow: hidden;
  border-radius: 3px;
  background: var(--mark);
}
.total::-webkit-progress-bar {
  background: var(--mark);
}
.total::-webkit-progress-value {
  background: var(--action);
}
.total::-moz-progress-bar {
  background: var(--action);
}
</style>
