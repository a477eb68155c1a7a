import type { AudienceRow, Consequences, Effect } from '@sammlung/contract';
import { useI18n } from 'vue-i18n';
import { useFormat } from './format.ts';

/** One line of what a change does. */
export interface Line {
  readonly tone: 'gain' | 'loss' | 'flag';
  readonly text: string;
}

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

  /** What a change does, audience by audience: who gains, who loses, and what looks as if it should not be seen. */
  function lines({ audiences, confidential }: Consequences): Line[] {
    return [
      ...audiences.flatMap((row): Line[] => {
        const { gains, gainsLater, loses, losesLater } = row.change;
        const label = row.label || t(`tab.${row.kind}`);
        const line = (key: string, tone: Line['tone'], effect: Effect & { from?: string }) => ({
          tone,
          text: t(`consequence.${key}`, {
            label,
            who: who(row, effect.people),
            what: what(effect),
            when: effect.from ? moment(effect.from) : '',
          }),
        });
        const both =
          gains && gainsLater && gains.people === gainsLater.people
            ? [
                {
                  tone: 'gain' as const,
                  text: t('consequence.gain-both', {
                    label,
                    who: who(row, gains.people),
                    what: what(gains),
                    more: what(gainsLater),
                    when: moment(gainsLater.from),
                  }),
                },
              ]
            : null;
        return [
          ...(both ?? [
            ...(gains ? [line('gain', 'gain', gains)] : []),
            ...(gainsLater ? [line('gain-later', 'gain', gainsLater)] : []),
          ]),
          ...(loses ? [line('lose', 'loss', loses)] : []),
          ...(losesLater && !loses ? [line('lose-later', 'loss', losesLater)] : []),
        ];
      }),
      ...confidential.map((found): Line => ({ tone: 'flag', text: warning(found) })),
    ];
  }

  /** The same as one text; empty when nobody gains or loses. */
  const describe = (consequences: Consequences) =>
    lines(consequences)
      .map((line) => line.text)
      .join(' ');

  /** Why something that is to be open to many looks as if it should not. */
  function warning({ title, word }: Consequences['confidential'][number]): string {
    return t('consequence.confidential', { title, word });
  }

  return { sentence, would, lines, describe, warning };
}
