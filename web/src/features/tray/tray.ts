import type { RoundPreview, TrayAnswer } from '@sammlung/contract';
import { useQuery, useQueryCache } from '@pinia/colada';
import { refDebounced, useThrottleFn } from '@vueuse/core';
import { computed, shallowReactive } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import { address } from '../../app/api/addresses.ts';
import { useChanging } from '../../app/changing.ts';
import { useLive } from '../../app/live/live.ts';
import { say } from '../../app/shell/toast.ts';
import { useRound } from './round.ts';
import { toRoundRow, toRow } from './rows.ts';

/** So long a change of a row waits for the next one before its consequence is asked for, in milliseconds. */
const PAUSE = 150;
/** How often the tray is looked at while files come in, in milliseconds. */
const LOOK = 1000;

/** The tray on the screen: its rows, what putting them in place would mean, and doing it. */
export function useTray() {
  const { t } = useI18n();
  const cache = useQueryCache();
  const { attempt } = useChanging();
  const round = useRound();
  const tray = useQuery({ key: ['tray'], query: () => api('GET /api/tray'), staleTime: 0 });
  const refetch = () => cache.invalidateQueries({ key: ['tray'] });
  // Many files that arrive one after the other are looked at now and then, not each.
  const look = useThrottleFn(() => tray.refetch(), LOOK, true, true);
  useLive(() => address('GET /api/new/live'), { changed: look });

  /** What was decided here and may not have reached the server yet, by the ids of the files. */
  const answers = shallowReactive(new Map<string, TrayAnswer | null>());
  const rows = computed(() =>
    (tray.data.value?.files ?? []).map((file) => toRow(file, answers.get(file.id) ?? file.answer)),
  );
  const ready = computed(() => rows.value.filter(({ state }) => state === 'ready'));

  const wanted = computed(() => JSON.stringify(ready.value.map(toRoundRow)));
  const settled = refDebounced(wanted, PAUSE);
  const preview = useQuery({
    key: () => ['tray-preview', settled.value],
    query: (): Promise<RoundPreview> =>
      api('POST /api/tray/preview', { body: { rows: JSON.parse(settled.value) } }),
    enabled: () => settled.value !== '[]',
    staleTime: 0,
    gcTime: 0,
  });

  /** Decides something about a file: shown at once, and noted on the server. */
  async function decide(id: string, change: TrayAnswer | null) {
    const before = answers.get(id) ?? tray.data.value?.files.find((f) => f.id === id)?.answer;
    const answer = change && { ...before, ...change };
    answers.set(id, answer);
    await attempt(async () => {
      await api('PATCH /api/tray/:file', { params: { file: id }, body: { answer } });
      return true;
    });
  }

  const remove = (ids: readonly string[]) =>
    attempt(async () => {
      const body = { files: [...ids] };
      await api('POST /api/tray/remove', { body });
      await refetch();
      say({
        text: t('tray.removed', ids.length),
        undo: async () => {
          await api('POST /api/tray/restore', { body });
          await refetch();
        },
      });
      return true;
    });

  /** Puts all in place that is ready, after a question where one is wanted. */
  const putInPlace = (found: RoundPreview) =>
    attempt(() => round(ready.value.map(toRoundRow), found, t('tray.put-yes')));

  return { tray, rows, ready, preview, settled, wanted, decide, remove, putInPlace, refetch };
}
