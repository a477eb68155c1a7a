<script setup lang="ts">
import { useEventListener } from '@vueuse/core';
import { nextTick, ref, useTemplateRef, watch } from 'vue';
import { useI18n } from 'vue-i18n';
import PageState from '../PageState.vue';
import RemarkForm from './RemarkForm.vue';
import RemarkText from './RemarkText.vue';
import type { RemarksAbout } from './remarks.ts';

/** What is said about a sheet, in its margin: each remark with its answers, and room for another one. */
const { remarks, points = false } = defineProps<{
  remarks: RemarksAbout;
  /** Whether one can point at the sheet. */
  points?: boolean;
}>();
/** The remark that was chosen on the sheet. */
const chosen = defineModel<string>('chosen', { default: '' });
const { t } = useI18n();
const answering = ref('');
// Whoever has pointed at the sheet writes next: by typing, or with a finger where the words go.
const form = useTemplateRef('form');
watch(
  () => remarks.pending.value,
  (point, before) =>
    point && !before && matchMedia('(pointer: coarse)').matches && form.value?.focus(),
);
useEventListener('keydown', (event: KeyboardEvent) => {
  if (!remarks.pending.value || event.ctrlKey || event.metaKey || event.altKey) return;
  if ((event.target as HTMLElement).matches('input, textarea, select')) return;
  if (event.key === 'Escape') remarks.point(null);
  // Digits are phrases.
  if (event.key === 'Enter' || /^[^\d\s]$/u.test(event.key)) form.value?.focus();
  if (event.key === 'Enter') event.preventDefault();
});
watch(chosen, async (id) => {
  if (id === '') return;
  await nextTick();
  const row = document.getElementById(`remark-${id}`);
  row?.scrollIntoView({ block: 'nearest' });
  row?.focus({ preventScroll: true });
});
const NUMBER =
  'mr-2 inline-grid size-[21px] place-items-center rounded-[3px] bg-brick align-[1px] text-[12px] font-semibold text-white';
</script>

<template>
  <section aria-labelledby="remarks-heading">
    <h2 id="remarks-heading" class="text-[16px]">{{ t('remark.title') }}</h2>
    <PageState
      v-if="remarks.query.error.value"
      :error="remarks.query.error.value"
      @again="remarks.query.refetch()"
    />
    <ol v-if="remarks.threads.value.length > 0" class="mt-2 space-y-4">
      <li
        v-for="thread in remarks.threads.value"
        :id="`remark-${thread.id}`"
        :key="thread.id"
        tabindex="-1"
        class="rounded-edge outline-offset-4"
        @click="chosen = thread.id"
      >
        <RemarkText :remark="thread" :remarks="remarks">
          <span v-if="thread.number !== null" :class="NUMBER">{{ thread.number }}</span>
        </RemarkText>
        <ul
          v-if="thread.answers.length > 0"
          class="mt-1.5 ml-3 space-y-1.5 border-l-[3px] border-line pl-3"
        >
          <li v-for="answer in thread.answers" :key="answer.id">
            <RemarkText :remark="answer" :remarks="remarks" />
          </li>
        </ul>
        <RemarkForm
          v-if="answering === thread.id"
          class="mt-2 ml-3"
          begins
          :label="t('remark.answer')"
          :yes="t('remark.answer')"
          @write="(body) => (remarks.write(body, thread.id), (answering = ''))"
          @leave="answering = ''"
        />
        <button
          v-else
          type="button"
          class="min-h-8 text-meta font-semibold text-petrol hover:underline pointer-coarse:min-h-11"
          @click.stop="answering = thread.id"
        >
          {{ t('remark.answer') }}
        </button>
      </li>
    </ol>
    <div class="mt-3 border-t border-line pt-3">
      <p v-if="remarks.pending.value" class="mb-1 flex items-center text-meta">
        <span :class="NUMBER">{{ remarks.marks.value.length + 1 }}</span><span class="flex-1">{{
          t('remark.at-point', { page: remarks.pending.value.page })
        }}</span>
        <button
          type="button"
          class="min-h-8 font-semibold text-petrol hover:underline pointer-coarse:min-h-11"
          @click="remarks.point(null)"
        >
          {{ t('remark.no-point') }}
        </button>
      </p>
      <RemarkForm
        ref="form"
        :label="t(points ? 'remark.new-or-point' : 'remark.new')"
        :yes="t('remark.write')"
        @write="remarks.write($event)"
      />
    </div>
  </section>
</template>
