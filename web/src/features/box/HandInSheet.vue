<script setup lang="ts">
import type { Thing } from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { computed, ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import { useContents, useFolder, useReadingPlace } from '../../app/place.ts';
import PageState from '../../app/PageState.vue';
import { say } from '../../app/shell/toast.ts';
import { useSubmit } from '../../app/submit.ts';
import AppButton from '../../ui/AppButton.vue';
import KindMark from '../../ui/KindMark.vue';
import ModalSheet from '../../ui/ModalSheet.vue';

/** Hands in from the desk: things are chosen, and moved or copied into the place of a box. */
const { placeId, title } = defineProps<{ placeId: string; title: string }>();
const emit = defineEmits<{ close: []; done: [] }>();
const { t } = useI18n();
const place = useReadingPlace();
const desk = useQuery({ key: ['desk'], query: () => api('POST /api/desk'), staleTime: 0 });
const top = computed(() => desk.data.value?.folderId ?? '');
const here = ref('');
const id = computed(() => here.value || top.value);
const folder = useFolder(place, () => id.value);
const contents = useContents(place, () => id.value);
const rows = computed(() =>
  (contents.data.value?.pages ?? []).flatMap(({ folders, items }) => [
    ...folders.map((row) => ({ kind: 'folder' as const, id: row.id, title: row.title, row: null })),
    ...items.map((row) => ({
      ...{ kind: 'placement' as const, id: row.placementId, title: row.title, row },
    })),
  ]),
);
const chosen = ref<Thing[]>([]);
const isChosen = (id_: string) => chosen.value.some((thing) => thing.id === id_);
function choose({ kind, id: thing }: Thing) {
  chosen.value = isChosen(thing)
    ? chosen.value.filter((one) => one.id !== thing)
    : [...chosen.value, { kind, id: thing }];
}
const above = computed(() => folder.data.value?.crumbs.at(-2)?.id ?? null);
const { fault, busy, tried } = useSubmit();

async function handIn(how: 'move' | 'copy') {
  const things = chosen.value;
  const done = await tried(async () => {
    const undo = await (how === 'move' ? move(things) : copy(things));
    emit('done');
    say({
      text: t('box.now-in', { title, n: things.length }, things.length),
      undo: async () => {
        await undo();
        emit('done');
      },
    });
  });
  if (done) emit('close');
}
async function move(things: Thing[]) {
  const { from } = await api('POST /api/moves', { body: { things, to: placeId, before: null } });
  return () => api('POST /api/moves/back', { body: { from } });
}
async function copy(things: Thing[]) {
  const made = await api('POST /api/copies', { body: { things, to: placeId } });
  return () => api('POST /api/bin', { body: { things: made.things } });
}
</script>

<template>
  <ModalSheet :title="t('box.from-desk-title', { title })" @close="emit('close')">
    <p class="mt-1 flex min-h-9 items-center text-meta text-soft">
      <button
        v-if="above"
        type="button"
        class="min-h-9 font-semibold text-petrol hover:underline pointer-coarse:min-h-11"
        @click="here = above"
      >
        {{ t('box.way-up') }}
      </button>
      <template v-else>{{ t('shell.desk') }}</template>
    </p>
    <PageState
      v-if="!contents.data.value"
      :error="desk.error.value ?? contents.error.value"
      @again="contents.refetch()"
    />
    <p v-else-if="rows.length === 0" class="border-y border-line py-4 text-soft">
      {{ t('box.desk-empty') }}
    </p>
    <ul v-else class="max-h-[45vh] overflow-y-auto border-y border-line">
      <li
        v-for="row in rows"
        :key="row.id"
        class="flex items-center gap-3 border-t border-line first:border-t-0"
      >
        <label class="flex min-h-11 min-w-0 flex-1 items-center gap-3">
          <input
            type="checkbox"
            class="size-5 shrink-0 accent-(--action)"
            :checked="isChosen(row.id)"
            @change="choose(row)"
          />
          <KindMark :kind="row.row?.kind ?? 'folder'" :extension="row.row?.extension ?? ''" />
          <span class="min-w-0 wrap-anywhere">{{ row.title }}</span>
        </label>
        <button
          v-if="row.kind === 'folder'"
          type="button"
          class="min-h-11 px-2 font-semibold text-petrol hover:underline"
          :aria-label="t('box.open-folder', { title: row.title })"
          @click="here = row.id"
        >
          {{ t('box.open') }}
        </button>
      </li>
    </ul>
    <p role="alert" class="mt-2 text-meta font-medium text-brick-ink empty:hidden">{{ fault }}</p>
    <div class="mt-4 flex flex-wrap gap-2">
      <AppButton tone="main" :disabled="busy || chosen.length === 0" @click="handIn('move')">{{
        t('box.hand-in')
      }}</AppButton>
      <AppButton :disabled="busy || chosen.length === 0" @click="handIn('copy')">{{
        t('box.hand-in-copy')
      }}</AppButton>
      <AppButton :disabled="busy" @click="emit('close')">{{ t('common.cancel') }}</AppButton>
    </div>
  </ModalSheet>
</template>
