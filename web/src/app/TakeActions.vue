<script setup lang="ts">
import type { Thing } from '@sammlung/contract';
import { useQueryCache } from '@pinia/colada';
import { Bookmark, CopyPlus } from 'lucide-vue-next';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import { api, apiAt } from './api/api.ts';
import { useKeeping, useKept } from './keeping.ts';
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
const kept = useKept();
const { keep, stopKeeping } = useKeeping();
const { busy, tried } = useSubmit();

const all = computed(() => kept.data.value?.things ?? []);
const known = computed(() =>
  all.value.find((one) => (thing.kind === 'folder' ? one.folderId : one.placementId) === thing.id),
);
const toggle = () =>
  known.value
    ? stopKeeping(
        known.value,
        all.value.map((one) => one.id),
      )
    : keep(
        {
          folderId: thing.kind === 'folder' ? thing.id : null,
          placementId: thing.kind === 'placement' ? thing.id : null,
          token: place.token ?? null,
        },
        title,
      );

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
  <button
    :class="LOOK"
    :aria-pressed="known !== undefined"
    :aria-label="t(known ? 'keep.let-go-what' : 'keep.keep-what', { title })"
    :title="t(known ? 'keep.let-go-what' : 'keep.keep-what', { title })"
    @click="toggle"
  >
    <Bookmark
      :size="17"
      aria-hidden="true"
      :class="known ? 'fill-saffron text-saffron-ink' : ''"
    /><span :class="small ? 'hidden' : 'max-sm:hidden'">{{
      t(known ? 'keep.kept' : 'keep.keep')
    }}</span>
  </button>
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
