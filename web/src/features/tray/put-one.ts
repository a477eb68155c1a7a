import { useI18n } from 'vue-i18n';
import { useQueryCache } from '@pinia/colada';
import { api } from '../../app/api/api.ts';
import { useChanging } from '../../app/changing.ts';
import { forClasses, toRoundRow, toRow } from './rows.ts';
import { useRound } from './round.ts';

/** Puts one file that has just come into the tray in place for a class: where its lessons go, now. */
export function usePutOne() {
  const { t } = useI18n();
  const cache = useQueryCache();
  const { attempt } = useChanging();
  const round = useRound();

  /** Resolves to whether it is in place; where something has to be said first it waits in the tray, with the class chosen. */
  return (fileId: string, classId: string): Promise<boolean> =>
    attempt(async () => {
      const tray = await api('GET /api/tray');
      const file = tray.files.find(({ id }) => id === fileId);
      if (!file) return false;
      const kind = file.answer?.kind ?? file.proposal.kind;
      const answer = { ...file.answer, to: forClasses([classId], [], tray, kind) };
      const row = toRow(file, answer);
      if (row.state === 'ready') {
        const rows = [toRoundRow(row)];
        const found = await api('POST /api/tray/preview', { body: { rows } });
        if (found.refused.length === 0 && (await round(rows, found, t('tray.put-yes'))))
          return true;
      }
      await api('PATCH /api/tray/:file', { params: { file: fileId }, body: { answer } });
      await cache.invalidateQueries({ key: ['tray'] });
      return false;
    });
}
