<script setup lang="ts">
import { useEventListener } from '@vueuse/core';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import { useFormat } from '../../app/format.ts';
import { explain } from '../../app/problems.ts';
import AppButton from '../../ui/AppButton.vue';
import { useUploads, type Transfer } from '../../app/uploads.ts';

/** What is on its way in, per file and in total. Stays while moving about; speaks up when it is done. */
const { t } = useI18n();
const { size } = useFormat();
const uploads = useUploads();

const done = computed(() => uploads.transfers.filter((x) => x.state === 'done').length);
const failed = computed(() => uploads.transfers.filter((x) => x.state === 'failed').length);
const share = computed(() => (uploads.total === 0 ? 1 : uploads.sent / uploads.total));
const percent = (part: number) => `${Math.floor(part * 100)} %`;
const headline = computed(() => {
  const count = uploads.transfers.length;
  if (uploads.running.length > 0) return t('intake.running', { done: done.value, count });
  const titles = [...new Set(uploads.transfers.map((x) => x.folder.title))].join(', ');
  const told = t('intake.done', { files: t('count.files', done.value), folder: titles });
  return failed.value > 0 ? `${told} ${t('intake.failed', failed.value)}` : told;
});

function words(x: Transfer): string {
  if (x.state === 'failed') return explain(t, x.error);
  if (x.state === 'sending') return percent(x.file.size === 0 ? 0 : x.sent / x.file.size);
  if (x.state !== 'done' || !x.result) return t(`intake.${x.state}`);
  const { outcome, version, renamed, name } = x.result;
  const said = t(`intake.outcome.${outcome}`, { number: version });
  return renamed ? `${said}. ${t('intake.renamed', { name })}` : said;
}

useEventListener(window, 'beforeunload', (event) => {
  if (uploads.running.length > 0) event.preventDefault();
});
</script>

<template>
  <section
    v-if="uploads.transfers.length > 0"
    class="fixed right-4 bottom-4 z-40 w-[min(400px,calc(100vw-2rem))] rounded-lg border border-line bg-raised shadow-xl"
    :aria-label="t('intake.title')"
  >
    <div class="flex items-center gap-3 px-4 pt-3 pb-2">
      <p role="status" class="flex-1 font-semibold">{{ headline }}</p>
      <AppButton v-if="uploads.running.length === 0" @click="uploads.clear()">{{
        t('common.close')
      }}</AppButton>
    </div>
    <div v-if="uploads.running.length > 0" class="px-4 pb-2">
      <progress class="total h-1.5 w-full" :value="share" max="1" :aria-label="t('intake.total')" />
      <p class="text-meta text-soft">
        {{ t('intake.bytes', { sent: size(uploads.sent), total: size(uploads.total) }) }}
      </p>
    </div>
    <ul
      class="max-h-60 overflow-y-auto border-t border-line"
      tabindex="0"
      :aria-label="t('intake.title')"
    >
      <li
        v-for="x in uploads.transfers"
        :key="x.id"
        class="grid grid-cols-[1fr_auto] items-center gap-x-3 px-4 py-1.5 not-first:border-t not-first:border-line"
      >
        <span class="truncate" :title="x.file.name">{{ x.file.name }}</span>
        <AppButton v-if="x.state === 'waiting' || x.state === 'sending'" @click="uploads.stop(x)">
          {{ t('intake.stop') }}
        </AppButton>
        <AppButton
          v-else-if="x.state === 'failed' || x.state === 'stopped'"
          @click="uploads.again(x)"
        >
          {{ t('intake.again') }}
        </AppButton>
        <span v-else class="text-good" aria-hidden="true">{{ x.state === 'done' ? '✓' : '' }}</span>
        <span
          class="col-span-2 text-meta"
          :class="x.state === 'failed' ? 'font-medium text-brick-ink' : 'text-soft'"
          :role="x.state === 'failed' ? 'alert' : undefined"
          >{{ words(x) }}</span
        >
      </li>
    </ul>
  </section>
</template>

<style scoped>
.total {
  accent-color: var(--action);
}
</style>
