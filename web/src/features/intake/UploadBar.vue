<script setup lang="ts">
import { useEventListener, useNow, useTimeoutFn } from '@vueuse/core';
import { ChevronDown, ChevronUp } from 'lucide-vue-next';
import { computed, onMounted, ref, watch } from 'vue';
import { useI18n } from 'vue-i18n';
import { useFormat } from '../../app/format.ts';
import AppButton from '../../ui/AppButton.vue';
import { useUploads } from '../../app/uploads/uploads.ts';
import { TRAY, type Transfer } from '../../app/uploads/transfer.ts';
import ProgressLine from './ProgressLine.vue';
import { useInstead } from './instead.ts';
import { useUploadWords } from './words.ts';
import UploadLine from './UploadLine.vue';

/**
 * How far whatever is on its way in has come: a line under the places that stays while moving about, and unfolds. When
 * all have arrived it says what was added where and (in its slot) who can see it now, and goes away by itself.
 */
defineSlots<{ reach(props: { folder: string }): unknown }>();
const { t } = useI18n();
const { size } = useFormat();
const uploads = useUploads();
const instead = useInstead();
const { busy, folders, headline, unsettled } = useUploadWords();
const open = ref(false);
onMounted(() => uploads.goOn());

/** How long the last sentence stays, in milliseconds; longer where there is more in it than that files were added. */
const [BRIEF, LONG] = [8000, 20_000];
const shown = computed(() => uploads.transfers.length > 0 || uploads.preparing);
const held = ref(false);
const ends = computed(() => shown.value && !busy.value && unsettled.value === 0);
const plain = computed(() => uploads.transfers.every((x) => x.result?.outcome === 'new'));
const { start, stop } = useTimeoutFn(
  () => void uploads.clear(),
  () => (plain.value ? BRIEF : LONG),
  { immediate: false },
);
watch(
  () => ends.value && !held.value && !open.value,
  (leaving) => (leaving ? start() : stop()),
);
watch(shown, (still) => still || ((open.value = false), (held.value = false)));

const share = computed(() => (uploads.total === 0 ? 1 : uploads.sent / uploads.total));
const again = computed(() =>
  uploads.transfers.filter((x) => x.state === 'failed' || x.state === 'stopped'),
);

/** Seconds left, from how fast it went so far; null until that can be told. */
const now = useNow({ interval: 1000 });
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
const URGENT: Transfer['state'][] = ['failed', 'lost', 'stopped', 'sending', 'placing'];
const lines = computed(() =>
  uploads.transfers.length <= LINES
    ? uploads.transfers
    : [
        ...uploads.transfers.filter((x) => URGENT.includes(x.state)),
        ...uploads.transfers.filter((x) => !URGENT.includes(x.state)),
      ].slice(0, LINES),
);

useEventListener(window, 'beforeunload', (event) => {
  // Small files go on by themselves after a reload; nothing is asked for them.
  if (uploads.running.some((x) => x.size > 64 << 20)) event.preventDefault();
});
</script>

<template>
  <section
    v-if="shown"
    class="relative border-b border-line bg-paper print:hidden"
    :aria-label="t('intake.title')"
    @pointerenter="held = true"
    @pointerleave="held = false"
    @focusin="held = true"
    @focusout="held = false"
  >
    <ProgressLine
      v-if="busy"
      class="absolute inset-x-0 top-0"
      :share="share"
      :label="t('intake.total')"
    />
    <div class="flex min-h-12 flex-wrap items-center gap-x-3 gap-y-1 px-5 py-1 sm:px-7">
      <p role="status" class="min-w-48 flex-1 text-[15px]">
        <span class="font-semibold">{{ headline }}</span>
        <span
          v-if="ends && folders.length === 1 && folders[0]!.id !== TRAY"
          class="ml-1.5 text-good"
        >
          <slot name="reach" :folder="folders[0]!.id" />
        </span>
      </p>
      <span v-if="busy && !uploads.preparing" class="text-meta text-soft">
        {{ t('intake.bytes', { sent: size(uploads.sent), total: size(uploads.total) })
        }}<template v-if="timeLeft"> · {{ timeLeft }}</template>
      </span>
      <template v-if="uploads.versions.length > 1">
        <AppButton @click="instead(uploads.versions, 'both')">{{ t('intake.both-all') }}</AppButton>
        <AppButton @click="instead(uploads.versions, 'skip')">{{ t('intake.skip-all') }}</AppButton>
      </template>
      <AppButton v-if="uploads.running.length > 1" @click="uploads.stopAll()">{{
        t('intake.stop-all')
      }}</AppButton>
      <AppButton v-else-if="again.length > 1" @click="uploads.againAll()">{{
        t('intake.again-all')
      }}</AppButton>
      <AppButton v-if="!busy" @click="uploads.clear()">{{ t('common.close') }}</AppButton>
      <button
        class="grid size-9 place-items-center rounded-edge text-soft hover:bg-mark hover:text-ink pointer-coarse:size-11"
        :aria-expanded="open"
        :aria-label="t('intake.list')"
        @click="open = !open"
      >
        <component :is="open ? ChevronUp : ChevronDown" :size="18" aria-hidden="true" />
      </button>
    </div>
    <ul
      v-if="open"
      class="max-h-[50vh] overflow-y-auto border-t border-line bg-sheet px-5 sm:px-7"
      tabindex="0"
      :aria-label="t('intake.list')"
    >
      <UploadLine v-for="x in lines" :key="x.id" :transfer="x" />
      <li
        v-if="uploads.transfers.length > lines.length"
        class="border-t border-line py-2 text-soft"
      >
        {{ t('intake.more', uploads.transfers.length - lines.length) }}
      </li>
    </ul>
  </section>
</template>
