<script setup lang="ts">
import type { Keep } from '@sammlung/contract';
import { Bookmark } from 'lucide-vue-next';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import { useKeeping, useKept } from './keeping.ts';
import { useReadingPlace } from './place.ts';

/** Keeps what is on the screen at hand, and lets it go. */
const {
  thing,
  title,
  small = false,
} = defineProps<{
  thing: Keep;
  title: string;
  /** Only the icon, where there is little room. */
  small?: boolean;
}>();
const { t } = useI18n();
const place = useReadingPlace();
const kept = useKept();
const { keep, stopKeeping } = useKeeping();
const ID = { folder: 'folderId', placement: 'placementId', class: 'classId' } as const;
const all = computed(() => kept.data.value?.things ?? []);
const known = computed(() => all.value.find((one) => one[ID[thing.kind]] === thing.id));
const toggle = () =>
  known.value
    ? stopKeeping(
        known.value,
        all.value.map((one) => one.id),
      )
    : keep(
        {
          ...{ folderId: null, placementId: null, classId: null },
          ...{ [ID[thing.kind]]: thing.id, token: place.token ?? null },
        },
        title,
      );
const words = computed(() => t(known.value ? 'keep.let-go-what' : 'keep.keep-what', { title }));
</script>

<template>
  <button
    class="inline-flex min-h-9 items-center justify-center gap-2 rounded-edge border border-line bg-raised px-3 text-[15px] font-semibold hover:border-petrol hover:text-petrol pointer-coarse:min-h-11 pointer-coarse:min-w-11"
    :aria-pressed="known !== undefined"
    :aria-label="words"
    :title="words"
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
</template>
