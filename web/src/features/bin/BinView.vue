<script setup lang="ts">
import type { BinnedThing } from '@sammlung/contract';
import { useQuery, useQueryCache } from '@pinia/colada';
import { ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink } from 'vue-router';
import { now } from '../../app/api/clock.ts';
import { api, ApiError } from '../../app/api/api.ts';
import { ask } from '../../app/shell/ask.ts';
import FolderChooser, { type Choosable } from '../../app/FolderChooser.vue';
import { useFormat } from '../../app/format.ts';
import { explain } from '../../app/api/problems.ts';
import { say } from '../../app/shell/toast.ts';
import AppButton from '../../ui/AppButton.vue';
import KindMark from '../../ui/KindMark.vue';
import ModalSheet from '../../ui/ModalSheet.vue';
import PageState from '../../app/PageState.vue';

/** What was removed, for 30 days: back to where it was, or away for good. */
const { t } = useI18n();
const { size, day } = useFormat();
const cache = useQueryCache();
const bin = useQuery({ key: ['bin'], query: () => api('GET /api/bin') });
/** A thing whose place is gone, while it is asked where it shall lie. */
const homeless = ref<BinnedThing | null>(null);
const chosen = ref<Choosable[]>([]);

const bare = ({ kind, id }: BinnedThing) => ({ kind, id });
const refresh = () => {
  for (const key of [['bin'], ['tree'], ['folder'], ['audience'], ['placement'], ['space']])
    void cache.invalidateQueries({ key });
};
const daysLeft = ({ leavesAt }: BinnedThing) =>
  Math.max(0, Math.ceil((Date.parse(leavesAt) - now()) / 86_400_000));

async function restore(thing: BinnedThing, to?: string | null) {
  try {
    const { renamed } = await api('POST /api/bin/restore', {
      body: {
        things: [bare(thing)],
        ...(to !== undefined && { to }),
      },
    });
    homeless.value = null;
    say({
      text: renamed[0]
        ? t('bin.restored-as', { title: thing.title, name: renamed[0] })
        : t('bin.restored', { title: thing.title }),
      undo: async () => {
        await api('POST /api/bin', { body: { things: [bare(thing)] } });
        refresh();
      },
    });
  } catch (error) {
    if (error instanceof ApiError && error.problem.code === 'place-gone') {
      chosen.value = [];
      homeless.value = thing;
    } else say({ text: explain(t, error), tone: 'bad' });
  } finally {
    refresh();
  }
}

async function deleteForGood(things: readonly BinnedThing[] | null) {
  const title = things?.[0]?.title ?? '';
  const yes = await ask({
    title: things ? t('bin.delete-title', { title }) : t('bin.empty-title'),
    text: t('bin.delete-text'),
    yes: t(things ? 'bin.delete' : 'bin.empty'),
  });
  if (!yes) return;
  try {
    await api('POST /api/bin/empty', { body: things ? { things: things.map(bare) } : {} });
    say({ text: things ? t('bin.deleted', { title }) : t('bin.emptied') });
  } catch (error) {
    say({ text: explain(t, error), tone: 'bad' });
  } finally {
    refresh();
  }
}
</script>

<template>
  <div class="mx-auto w-full max-w-4xl px-5 py-7 sm:px-10">
    <p class="text-[15px] text-soft">
      <RouterLink :to="{ name: 'library' }" class="hover:text-petrol hover:underline">{{
        t('library.title')
      }}</RouterLink>
    </p>
    <div class="mb-5 flex flex-wrap items-end gap-3">
      <div class="flex-1">
        <h1 class="text-[28px]">{{ t('shell.bin') }}</h1>
        <p class="text-soft">{{ t('bin.text') }}</p>
      </div>
      <AppButton v-if="bin.data.value?.things.length" @click="deleteForGood(null)">{{
        t('bin.empty')
      }}</AppButton>
    </div>
    <PageState v-if="!bin.data.value" :error="bin.error.value" @again="bin.refetch()" />
    <p v-else-if="bin.data.value.things.length === 0" class="border-t border-line py-10 text-soft">
      {{ t('bin.none') }}
    </p>
    <ul v-else class="border-b border-line">
      <li
        v-for="thing in bin.data.value.things"
        :key="thing.id"
        class="flex min-h-16 flex-wrap items-center gap-x-4 gap-y-1 border-t border-line py-2"
      >
        <KindMark
          :kind="thing.itemKind ?? 'folder'"
          :extension="thing.extension"
          :mark="thing.mark"
          large
        />
        <div class="min-w-52 flex-1">
          <p class="text-[17px] font-semibold">{{ thing.title }}</p>
          <p class="text-meta text-soft">
            {{
              [
                t('bin.was-in', { place: thing.where.join(' › ') || t('library.title') }),
                thing.kind === 'folder' ? t('count.items', thing.items) : '',
                thing.size === null ? '' : size(thing.size),
                t('bin.removed', { day: day(thing.binnedAt) }),
              ]
                .filter(Boolean)
                .join(' · ')
            }}
            · <span class="text-saffron-ink">{{ t('bin.leaves', daysLeft(thing)) }}</span>
          </p>
        </div>
        <AppButton @click="restore(thing)">{{
          t(thing.placeGone ? 'bin.restore-where' : 'bin.restore')
        }}</AppButton>
        <AppButton @click="deleteForGood([thing])">{{ t('bin.delete') }}</AppButton>
      </li>
    </ul>
    <ModalSheet
      v-if="homeless"
      :title="t('bin.where-title', { title: homeless.title })"
      @close="homeless = null"
    >
      <p class="mt-1 mb-4 text-soft">{{ t('bin.where-text') }}</p>
      <FolderChooser v-model="chosen" :top="homeless.kind === 'folder'" />
      <div class="mt-5 flex gap-2">
        <AppButton
          tone="main"
          :disabled="chosen.length === 0"
          @click="restore(homeless, chosen[0]!.id)"
        >
          {{ t('bin.restore') }}
        </AppButton>
        <AppButton @click="homeless = null">{{ t('common.cancel') }}</AppButton>
      </div>
    </ModalSheet>
  </div>
</template>
