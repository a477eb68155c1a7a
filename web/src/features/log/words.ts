import type { LogEntry } from '@sammlung/contract';
import { useI18n } from 'vue-i18n';
import { useFormat } from '../../app/format.ts';
import type { LogLine } from './lines.ts';

/** What is done to a class list. */
const LISTS: ReadonlySet<string> = new Set(['joined', 'days', 'left']);

/** Lines of the log in words. */
export function useLogWords() {
  const { t } = useI18n();
  const { day, moment } = useFormat();

  const spanOf = ({ from, until }: LogEntry['details'], say = moment) => [
    ...(from ? [t('log.from', { when: say(from) })] : []),
    ...(until ? [t('log.until', { when: say(until) })] : []),
  ];
  const audienceOf = ({ audience, person, class: klass, course }: LogEntry) =>
    person ?? klass?.code ?? course ?? (audience ? t(`tab.${audience}`) : '');

  /** When something is to be seen, as a release says it. */
  function timeOf({ held, general, from, until }: LogEntry['details']): string {
    if (general) return t('log.general');
    if (held) return t('log.held');
    const span = spanOf({ from, until });
    return span.length > 0 ? span.join(' ') : t('log.out');
  }

  /** `3 things handed out to SO1A` */
  function sentence({ first, all }: LogLine): string {
    const { act, thing, audience, person, class: klass, course, details } = first;
    const what =
      all.length > 1
        ? t('log.things', all.length)
        : (thing?.title ?? t('log.website', { code: klass?.code ?? '' }));
    const who = all.length > 1 ? t('log.people', all.length) : (person ?? '');
    const group = klass?.code ?? course ?? '';
    if (act === 'release') {
      const said = { what, time: timeOf(details), code: group };
      return t(audience === 'class' ? 'log.act.release-class' : 'log.act.release', said);
    }
    if (act === 'opened' || act === 'door' || act === 'closed')
      return t(`log.act.${act}-${audience === 'public' ? 'public' : 'link'}`, { what });
    if (act === 'sign-in' && person) return t('log.act.sign-in-person', { who });
    const role = details.role ? t(`log.role.${details.role}`) : '';
    return t(`log.act.${act}`, { what, who, group, role, to: audienceOf(first) });
  }

  /** What else there is to say: what may be done, from when until when, and how it was before. */
  function more({ first: { act, details } }: LogLine): string {
    if (act === 'release' || act === 'taken-back') return '';
    const { level, word, listed, was } = details;
    const now = [
      ...(level && level !== 'view' ? [t(`log.level.${level}`)] : []),
      // Lists have days, everything else has moments.
      ...spanOf(details, LISTS.has(act) ? day : moment),
      ...(word ? [t('log.word')] : []),
      ...(listed ? [t('log.listed')] : []),
    ];
    if (act !== 'terms' || !was) return now.join(' · ');
    const before = [...(was.level ? [t(`log.level.${was.level}`)] : []), ...spanOf(was)];
    return [...now, t('log.was', { how: before.join(' ') })].join(' · ');
  }
  return { sentence, more };
}
