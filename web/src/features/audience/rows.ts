import type { AudienceRow, FolderAudience } from '@sammlung/contract';
import { useI18n } from 'vue-i18n';
import { useFormat } from '../../app/format.ts';

export const keyOf = (row: AudienceRow) => `${row.kind}-${row.id}`;
/** Whether an audience has the folder, now or at another time. */
export const hasIt = (row: AudienceRow) => row.here !== null || row.byEntry || row.above.length > 0;
export const isDoor = (row: AudienceRow) => row.kind === 'public' || row.kind === 'school-door';

/** The folder as this audience has it on the screen; null where that is nobody in particular. */
export function seenAs({ kind, id }: AudienceRow, folder: string) {
  if (kind !== 'class' && kind !== 'person' && kind !== 'public') return null;
  const as = kind === 'public' ? 'visitor' : `${kind}.${id}`;
  return { name: 'see-as-folder', params: { as, folder } };
}

/** What is said about the audiences of a folder. */
export function useAudienceWords() {
  const { t } = useI18n();
  const { moment } = useFormat();

  /** In place of a number of students where none says it better; else empty. */
  function headline({ rows, students }: FolderAudience): string {
    if (rows.some((row) => row.kind === 'public' && row.state === 'out'))
      return t('audience.everyone');
    if (students > 0 || rows.some((row) => row.state === 'out')) return '';
    return t(rows.some(hasIt) ? 'audience.later-only' : 'audience.only-you');
  }
  const nameOf = (row: AudienceRow) => row.label || t(`tab.${row.kind}`);
  function peopleOf(row: AudienceRow): string {
    if (row.kind === 'public') return t('audience.with-address');
    if (row.kind === 'school-door') return t('audience.at-school');
    if (row.kind === 'staff') return t('audience.staff');
    return row.people === null
      ? nameOf(row)
      : t(row.kind === 'class' ? 'count.students' : 'count.people', row.people);
  }
  /** From when until when a handing out is in force, and what it allows; empty where it is just that. */
  function termsOf({ here }: AudienceRow): string {
    if (!here) return '';
    return [
      here.level === 'view' ? '' : t(`audience.level.${here.level}`),
      here.from ? t('audience.terms.since', { when: moment(here.from) }) : '',
      here.until ? t('audience.terms.till', { when: moment(here.until) }) : '',
    ]
      .filter(Boolean)
      .join(', ');
  }
  /** When the folder itself is seen, at the instant `at`. Nothing is called out that nobody has. */
  function timingOf({ release, releaseClasses, closedBy, rows }: FolderAudience, at: string) {
    if (closedBy)
      return closedBy.title === null
        ? t('timing.closed-unseen')
        : t('timing.closed-by', { title: closedBy.title });
    const has = rows.some(hasIt);
    const words = release.held
      ? t('state.held')
      : release.from && release.from > at
        ? t('timing.goes-out', { when: moment(release.from) })
        : release.until
          ? t(release.until > at ? 'timing.ends' : 'timing.ended', { when: moment(release.until) })
          : t(has ? 'state.out' : 'timing.when-handed');
    return releaseClasses ? t('timing.and-classes', { words }, releaseClasses) : words;
  }
  return { headline, nameOf, peopleOf, termsOf, timingOf };
}
