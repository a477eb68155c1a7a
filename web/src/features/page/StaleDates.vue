<script setup lang="ts">
import type { Editor } from '@tiptap/core';
import { computed, ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { focusText } from './editor.ts';
import { acceptStale, leaveStale, showStale, staleIn } from './stale.ts';

/** What looks out of date on the page, one after the other or all at once. */
const { editor, state } = defineProps<{
  editor: Editor;
  /** Grows with each change of the text. */
  state: number;
}>();
const { t } = useI18n();
/** What is shown follows the text after a moment; whatever is done asks anew where it is. */
const done = ref(0);
const marked = computed(() => (state + done.value >= 0 ? staleIn(editor) : []));
const proposed = computed(() => marked.value.filter(({ stale }) => stale.proposed !== null));
const at = ref(0);
const one = computed(() => marked.value[Math.min(at.value, marked.value.length - 1)]);

/** Goes to the one that is so many further on, if there is any. */
function step(by: number) {
  const those = staleIn(editor);
  at.value = those.length === 0 ? 0 : (at.value + by + those.length) % those.length;
  const there = those[at.value];
  if (there) showStale(editor, there);
  // Nothing is left to do here.
  else focusText(editor);
  done.value += 1;
}
function settle(how: typeof acceptStale, which: 'one' | 'proposed' | 'all') {
  const those = staleIn(editor).filter(
    ({ stale }, n) =>
      which === 'all' || (which === 'one' ? n === at.value : stale.proposed !== null),
  );
  how(editor, those);
  step(0);
}
const BUTTON = 'min-h-9 font-semibold text-petrol hover:underline pointer-coarse:min-h-11';
</script>

<template>
  <div
    v-if="one"
    role="group"
    :aria-label="t('page.stale.title')"
    class="flex flex-wrap items-center gap-x-5 gap-y-1 border-b border-line bg-sheet px-4 py-1.5 text-[15px] sm:px-8"
  >
    <p role="status" class="flex items-center gap-2.5">
      <span class="inline-block size-[9px] bg-saffron" aria-hidden="true" />
      {{ t('page.stale.count', marked.length) }}
    </p>
    <p class="flex min-w-0 flex-wrap items-center gap-x-2">
      <s class="text-soft">{{ one.stale.text }}</s>
      <template v-if="one.stale.proposed !== null">
        <span aria-hidden="true">→</span>
        <strong>{{ one.stale.proposed }}</strong>
      </template>
    </p>
    <span class="flex flex-wrap gap-x-5">
      <button
        v-if="one.stale.proposed !== null"
        type="button"
        :class="BUTTON"
        @click="settle(acceptStale, 'one')"
      >
        {{ t('page.stale.accept') }}
      </button>
      <button type="button" :class="BUTTON" @click="settle(leaveStale, 'one')">
        {{ t('page.stale.leave') }}
      </button>
      <template v-if="marked.length > 1">
        <button type="button" :class="BUTTON" @click="step(-1)">
          {{ t('page.stale.previous') }}
        </button>
        <button type="button" :class="BUTTON" @click="step(1)">{{ t('page.stale.next') }}</button>
      </template>
    </span>
    <span class="flex-1" />
    <button
      v-if="proposed.length > 1"
      type="button"
      :class="BUTTON"
      @click="settle(acceptStale, 'proposed')"
    >
      {{ t('page.stale.accept-all', proposed.length) }}
    </button>
    <button
      v-if="marked.length > 1"
      type="button"
      :class="BUTTON"
      @click="settle(leaveStale, 'all')"
    >
      {{ t('page.stale.leave-all') }}
    </button>
  </div>
</template>
