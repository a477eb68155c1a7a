import type { AudienceRow, Consequences, Effect } from '@sammlung/contract';
import { useI18n } from 'vue-i18n';
import { useFormat } from './format.ts';

/** Says in words what a change does, from the figures that core has computed. */
export function useSentences() {
  const { t } = useI18n();
  const { moment } = useFormat();

  const who = (row: Pick<AudienceRow, 'kind'>, people: number | null) => {
    if (row.kind === 'public') return t('audience.anyone');
    if (row.kind === 'class' || row.kind === 'course') return t('count.students', people ?? 0);
    return row.kind === 'staff'
      ? t('count.colleagues', people ?? 0)
      : t('count.people', people ?? 0);
  };
  const what = ({ items, folders }: Effect) =>
    items > 0 ? t('count.items', items) : t('count.folders', folders);

  /** The whole sentence: who will see or no longer see how much, now and later. */
  function sentence(row: AudienceRow): string {
    const { gains, loses, gainsLater, losesLater } = row.change;
    if (row.people === 0 && row.kind === 'class') return t('audience.nobody');
    const parts: string[] = [];
    if (gains)
      parts.push(
        gains.items > 0
          ? t('audience.gain', { who: who(row, gains.people), what: what(gains) })
          : t('audience.gain-empty', { who: who(row, gains.people) }),
      );
    if (gainsLater)
      parts.push(
        t(gains ? 'audience.gain-later' : 'audience.gain-only-later', {
          who: who(row, gainsLater.people),
          what: what(gainsLater),
          when: moment(gainsLater.from),
        }),
      );
    if (loses) parts.push(t('audience.lose', { who: who(row, loses.people), what: what(loses) }));
    else if (losesLater)
      parts.push(
        t('audience.lose-later', { who: who(row, losesLater.people), what: what(losesLater) }),
      );
    return parts.length > 0 ? parts.join(' ') : t('audience.no-change');
  }

  /** The short form that always stands below an audience that does not see the folder. */
  function would({ change, ...row }: AudienceRow): string {
    if (row.people === 0 && row.kind === 'class') return t('audience.nobody');
    const effect = change.gains ?? change.gainsLater;
    if (!effect) return t('audience.nothing-new');
    return effect.items > 0
      ? t('audience.would', { what: what(effect) })
      : t('audience.would-empty');
  }

  /** What a change to what lies where does, audience by audience; empty when nobody gains or loses. */
  function told({ audiences }: Consequences): string {
    return audiences
      .flatMap((row) => {
        const { gains, gainsLater, loses, losesLater } = row.change;
        const gain = gains ?? gainsLater;
        const loss = loses ?? losesLater;
        const label = row.label || t(`tab.${row.kind}`);
        const say = (key: string, effect: Effect & { from?: string }) =>
          t(`consequence.${key}`, {
            label,
            who: who(row, effect.people),
            what: what(effect),
            when: effect.from ? moment(effect.from) : '',
          });
        return [
          ...(gain ? [say(gains ? 'gain' : 'gain-later', gain)] : []),
          ...(loss ? [say(loses ? 'lose' : 'lose-later', loss)] : []),
        ];
      })
      .join(' ');
  }

  return { sentence, would, told };
}
