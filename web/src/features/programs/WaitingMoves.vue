<script setup lang="ts">
import type { WaitingMove } from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import { useChanging } from '../../app/changing.ts';
import { useFormat } from '../../app/format.ts';
import { say } from '../../app/shell/toast.ts';
import AppButton from '../../ui/AppButton.vue';

/** Moves that a program wanted and that would show something to more people: they wait for a decision. */
const { t } = useI18n();
const { moment } = useFormat();
const { consent, withRefresh, attempt } = useChanging();
const query = useQuery({
  key: ['waiting-moves'],
  query: () => api('GET /api/waiting-moves'),
  staleTime: 0,
});
const moves = computed(() => query.data.value?.moves ?? []);

const waitNoMore = async ({ id }: WaitingMove) => {
  await api('DELETE /api/waiting-moves/:waitingMove', { params: { waitingMove: id } });
  await query.refetch();
};
const make = (move: WaitingMove) =>
  attempt(async () => {
    const things = [{ kind: move.thing.kind, id: move.thing.id }];
    const to = move.to?.id ?? null;
    const text = await consent({ do: 'move', things, to }, t('tray.waiting.yes'));
    if (text === null) return false;
    const { from } = await withRefresh(
      api('POST /api/moves', { body: { things, to, before: null } }),
    );
    await waitNoMore(move);
    say({
      text: [t('tray.waiting.moved', { title: move.thing.title }), text].filter(Boolean).join('. '),
      undo: () => withRefresh(api('POST /api/moves/back', { body: { from } })),
    });
    return true;
  });
const leave = (move: WaitingMove) =>
  attempt(async () => {
    await waitNoMore(move);
    say({ text: t('tray.waiting.left', { title: move.thing.title }) });
    return true;
  });
</script>

<template>
  <section v-if="moves.length > 0" class="mt-8" aria-labelledby="waiting-heading">
    <h2 id="waiting-heading" class="text-[22px]">{{ t('tray.waiting.title') }}</h2>
    <p class="text-soft">{{ t('tray.waiting.text') }}</p>
    <ul class="mt-2 border-b border-line">
      <li
        v-for="move in moves"
        :key="move.id"
        class="flex flex-wrap items-center gap-x-4 gap-y-1 border-t border-line py-2"
      >
        <span class="min-w-56 flex-1">
          <b class="font-semibold wrap-anywhere">{{ move.thing.title }}</b>
          {{ t('tray.waiting.to', { folder: move.to?.title ?? t('shell.library') }) }}
          <span class="block text-meta text-soft">{{ moment(move.at) }}</span>
        </span>
        <span class="flex gap-2">
          <AppButton
            :aria-label="t('tray.waiting.move-of', { title: move.thing.title })"
            @click="make(move)"
            >{{ t('tray.waiting.move') }}</AppButton
          >
          <AppButton
            :aria-label="t('tray.waiting.leave-of', { title: move.thing.title })"
            @click="leave(move)"
            >{{ t('tray.waiting.leave') }}</AppButton
          >
        </span>
      </li>
    </ul>
  </section>
</template>
