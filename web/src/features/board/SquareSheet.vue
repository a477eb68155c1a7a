<script setup lang="ts">
import type { Board } from '@sammlung/contract';
import { onClickOutside } from '@vueuse/core';
import { computed, nextTick, onMounted, ref, useTemplateRef, watch } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink } from 'vue-router';
import { useChanging } from '../../app/changing.ts';
import { useChangePreview } from '../../app/change-preview.ts';
import { useHandingOut } from '../../app/handing.ts';
import { say } from '../../app/shell/toast.ts';
import AppButton from '../../ui/AppButton.vue';
import PageState from '../../app/PageState.vue';
import { comesFrom, type Cell } from './board.ts';

/** What a click on a square would do, audience by audience; then does it. Beside the square, and gone with Escape. */
const { board, cell, anchor } = defineProps<{
  board: Board;
  cell: Cell;
  /** The id of the square. */
  anchor: string;
}>();
const emit = defineEmits<{ close: []; handOut: [] }>();
const { t } = useI18n();
const { attempt } = useChanging();
const { turn } = useHandingOut();
const sheet = useTemplateRef('sheet');

const name = computed(() => cell.audience.label || t(`tab.${cell.audience.kind}`));
const here = computed(() => cell.square?.here ?? null);
const above = computed(() => comesFrom(board, cell));
/** What comes from above is changed there. */
const fixed = computed(() => above.value !== null && here.value === null);
const thing = computed(() => ({ kind: 'folder' as const, id: cell.folder.id }));
const change = computed(() =>
  here.value
    ? { do: 'take-back' as const, handings: [here.value.id] }
    : {
        do: 'hand-out' as const,
        things: [thing.value],
        audiences: [{ kind: cell.audience.kind, id: cell.audience.id }],
        level: 'view' as const,
        from: null,
        until: null,
      },
);
const { query: consequence, lines } = useChangePreview(() => (fixed.value ? null : change.value));

async function go() {
  const done = await attempt(async () => {
    const undo = await turn(thing.value, cell.audience, here.value?.id ?? null);
    const key = here.value ? 'audience.taken' : 'audience.handed';
    say({ text: t(key, { title: cell.folder.title, name: name.value }), undo });
    return true;
  });
  if (done) emit('close');
}

// Below the square, or above it where there is no room; never beyond the edges of the window.
const place = ref({ left: '0px', top: '0px' });
const EDGE = 12;
async function lay() {
  const square = document.getElementById(anchor)?.getBoundingClientRect();
  const own = sheet.value?.getBoundingClientRect();
  if (!square || !own) return;
  const below = square.bottom + 8;
  const top = below + own.height > innerHeight - EDGE ? square.top - own.height - 8 : below;
  place.value = {
    left: `${Math.max(EDGE, Math.min(square.left, innerWidth - own.width - EDGE))}px`,
    top: `${Math.max(EDGE, top)}px`,
  };
}
onMounted(async () => {
  await lay();
  sheet.value?.querySelector<HTMLElement>('button, a')?.focus();
});
watch(lines, async () => {
  await nextTick();
  await lay();
});
onClickOutside(sheet, () => emit('close'), { ignore: [`#${CSS.escape(anchor)}`] });
/** The focus stays in the sheet while it is open. */
function onTab(event: KeyboardEvent) {
  const stops = [...(sheet.value?.querySelectorAll<HTMLElement>('button, a') ?? [])];
  const at = stops.indexOf(document.activeElement as HTMLElement);
  event.preventDefault();
  stops.at((at + (event.shiftKey ? -1 : 1)) % stops.length)?.focus();
}
</script>

<template>
  <div
    ref="sheet"
    role="dialog"
    :aria-label="cell.folder.title"
    class="fixed z-40 w-[23rem] max-w-[calc(100vw-24px)] rounded-lg border border-line bg-raised p-4.5 shadow-2xl"
    :style="place"
    @keydown.esc.stop="emit('close')"
    @keydown.tab="onTab"
  >
    <h2 class="text-[18px] leading-snug">
      {{
        t(fixed ? 'board.from-above' : here ? 'board.take-back-title' : 'board.hand-out-title', {
          title: cell.folder.title,
          name,
        })
      }}
    </h2>
    <template v-if="fixed && above">
      <p class="mt-2 text-[15px] text-soft">
        {{ t('board.from-above-text') }}
        <RouterLink
          :to="{ name: 'folder', params: { folder: above.id } }"
          class="font-medium text-petrol underline underline-offset-2"
          >{{ above.title }}</RouterLink
        >
      </p>
      <AppButton class="mt-3.5" @click="emit('close')">{{ t('common.close') }}</AppButton>
    </template>
    <template v-else>
      <PageState
        v-if="consequence.error.value"
        :error="consequence.error.value"
        @again="consequence.refetch()"
      />
      <ul v-else class="mt-1.5 min-h-12 text-[15px]" aria-live="polite">
        <li v-for="line in lines" :key="line.text" class="mt-1.5 flex gap-2.5">
          <b
            class="w-4 shrink-0 text-center font-code"
            :class="
              { gain: 'text-good', loss: 'text-brick-ink', flag: 'text-saffron-ink' }[line.tone]
            "
            aria-hidden="true"
            >{{ { gain: '+', loss: '−', flag: '!' }[line.tone] }}</b
          >
          <span>{{ line.text }}</span>
        </li>
        <li v-if="lines?.length === 0" class="mt-1.5 text-soft">
          {{ t('consequence.none') }}
        </li>
      </ul>
      <div class="mt-3.5 flex flex-wrap gap-2">
        <AppButton
          :tone="here || consequence.data.value?.asks ? 'warn' : 'main'"
          :disabled="!lines"
          @click="go"
        >
          {{ t(here ? 'audience.take-back' : 'audience.hand-out') }}
        </AppButton>
        <AppButton v-if="!here" @click="emit('handOut')">{{ t('board.more') }}</AppButton>
        <AppButton @click="emit('close')">{{ t('common.cancel') }}</AppButton>
      </div>
    </template>
  </div>
</template>
