import type { Box, OwnBox } from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { useI18n } from 'vue-i18n';
import { api } from '../api/api.ts';
import { useFormat } from '../format.ts';

export const BOXES_KEY = ['boxes'];

/** The boxes in which one has a place, and those of the classes that one teaches. */
export const useBoxes = () => useQuery({ key: BOXES_KEY, query: () => api('GET /api/boxes') });

/** The same of those that are closed, also by their year. */
export const useEndedBoxes = (wanted: () => boolean = () => true) =>
  useQuery({
    key: [...BOXES_KEY, 'ended'],
    query: () => api('GET /api/boxes', { query: { ended: 'true' } }),
    enabled: wanted,
  });

/** How long a box takes something, and how one’s work in it stands, in words. */
export function useBoxWords() {
  const { t } = useI18n();
  const { moment } = useFormat();
  const until = ({ state, endsAt }: Pick<Box, 'state' | 'endsAt'>) =>
    endsAt === null || state === 'closed'
      ? t(`box.state.${state}`)
      : t(`box.until.${state}`, { when: moment(endsAt) });
  const standing = ({ files, handedInAt, late, seenAt }: OwnBox) =>
    handedInAt === null
      ? t('box.nothing-yet')
      : [
          t('box.handed-in', { n: files, when: moment(handedInAt) }, files),
          late ? t('box.late') : '',
          seenAt === null ? '' : t('box.seen', { when: moment(seenAt) }),
        ]
          .filter(Boolean)
          .join(' · ');
  return { until, standing };
}
