<script setup lang="ts">
import type { Thing } from '@sammlung/contract';
import { useQueryCache } from '@pinia/colada';
import { CopyPlus } from 'lucide-vue-next';
import { useI18n } from 'vue-i18n';
import { api, apiAt } from './api/api.ts';
import KeepButton from './KeepButton.vue';
import { useReadingPlace } from './place.ts';
import { explain } from './api/problems.ts';
import { say } from './shell/toast.ts';
import { useSubmit } from './submit.ts';

/** Keeps what is on the screen at hand, and takes copies of it or of what was chosen in it. */
const {
  thing,
  title,
  things = undefined,
  small = false,
} = defineProps<{
  thing: Thing;
  /** Of an item, the item: it is kept wherever it lies. */
  title: string;
  /** What was chosen to be copied instead of the thing itself. */
  things?: readonly Thing[] | undefined;
  /** Only icons, where there is little room. */
  small?: boolean;
}>();
const { t } = useI18n();
const place = useReadingPlace();
const cache = useQueryCache();
const { busy, tried } = useSubmit();

const copy = () =>
  tried(async () => {
    try {
      const copied = await apiAt(place.base, 'POST /copies', {
        body: { things: things ?? [thing], to: null },
      });
      const refresh = () =>
        Promise.all([['folder'], ['desk']].map((key) => cache.invalidateQueries({ key })));
      void refresh();
      say({
        text: t('keep.copied', copied.count),
        undo: () => api('POST /api/bin', { body: { things: copied.things } }).then(refresh),
      });
    } catch (error) {
      say({ text: explain(t, error), tone: 'bad' });
    }
  });

const LOOK =
  'inline-flex min-h-9 items-center justify-center gap-2 rounded-edge border border-line bg-raised px-3 text-[15px] font-semibold hover:border-petrol hover:text-petrol disabled:opacity-60 pointer-coarse:min-h-11 pointer-coarse:min-w-11';
</script>

<template>
  <KeepButton :thing="thing" :title="title" :small="small" />
  <button
    :class="LOOK"
    :disabled="busy || things?.length === 0"
    :aria-label="t('keep.copy')"
    @click="copy"
  >
    <CopyPlus :size="17" aria-hidden="true" /><span :class="small ? 'hidden' : 'max-sm:hidden'">{{
      t('keep.copy')
    }}</span>
  </button>
</template>
