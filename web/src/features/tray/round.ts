import type { RoundDone, RoundPreview, RoundRow } from '@sammlung/contract';
import { useQueryCache } from '@pinia/colada';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import { useChanging } from '../../app/changing.ts';
import { say } from '../../app/shell/toast.ts';

/** Puts files in place, after a question where one is wanted; it can be taken back as a whole. */
export function useRound() {
  const { t } = useI18n();
  const cache = useQueryCache();
  const { changed, agree } = useChanging();
  const refetch = () =>
    Promise.all(['tray', 'rounds'].map((key) => cache.invalidateQueries({ key: [key] })));

  /** `found`: what it would do. Resolves to false when it is better not done. */
  return async (rows: readonly RoundRow[], found: RoundPreview, yes: string): Promise<boolean> => {
    const text = await agree(found.consequences, yes);
    if (text === null) return false;
    let done: RoundDone;
    try {
      done = await api('POST /api/tray/rounds', { body: { rows: [...rows] } });
    } finally {
      // Another window may have been faster: what is in the tray is shown as it is.
      await refetch();
    }
    void changed();
    say({
      text: [t('tray.in-place', done.files), text].filter(Boolean).join('. '),
      undo: async () => {
        await api('POST /api/tray/rounds/:round/back', { params: { round: done.roundId } });
        await refetch();
        void changed();
      },
    });
    return true;
  };
}
