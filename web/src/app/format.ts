import type { Language } from '@sammlung/contract';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import { now } from './api/clock.ts';
import { useSession } from './session/session.ts';

/** Making a format takes far longer than using it; each is made once. */
const made = new Map<string, Intl.DateTimeFormat | Intl.NumberFormat>();
function once<T extends Intl.DateTimeFormat | Intl.NumberFormat, O>(
  Format: new (locale: string, options: O) => T,
  locale: string,
  options: O,
): T {
  const key = JSON.stringify([Format.name, locale, options]);
  const known = made.get(key) ?? new Format(locale, options);
  made.set(key, known);
  return known as T;
}

const DAY_MS = 24 * 60 * 60 * 1000;

/** Sizes, days and times in the words of the reader's language and the school's time zone. */
export function useFormat() {
  const { locale, t } = useI18n();
  const session = useSession();
  const zone = computed(() => session.person?.school.timeZone);
  const dates = (options: Intl.DateTimeFormatOptions, language = locale.value) =>
    once(Intl.DateTimeFormat, language === 'en' ? 'en-GB' : language, {
      timeZone: zone.value,
      ...options,
    });

  /** `640 KB`, `1.2 MB` */
  function size(bytes: number): string {
    if (bytes < 1000) return t('count.bytes', bytes);
    const step = Math.min(3, Math.floor(Math.log10(bytes) / 3));
    const value = bytes / 1000 ** step;
    const unit = ['KB', 'MB', 'GB'][step - 1];
    // Whole numbers below a thousand are written the same everywhere, and need no format to be made.
    const number =
      value < 10 && step > 1
        ? once(Intl.NumberFormat, locale.value, { maximumFractionDigits: 1 }).format(value)
        : String(Math.round(value));
    return `${number} ${unit}`;
  }

  /** `24 Nov`, with the year where it is another one */
  function day(iso: string): string {
    const date = new Date(iso);
    const sameYear = date.getFullYear() === new Date(now()).getFullYear();
    return dates({ day: 'numeric', month: 'short', ...(!sameYear && { year: 'numeric' }) }).format(
      date,
    );
  }

  const inWords = (date: Date, language?: Language | null) =>
    dates({ weekday: 'long', day: 'numeric', month: 'long' }, language ?? undefined).format(date);

  /** `2026-12-07`, and in words, `Monday 7 December`, in the language of the screens or another one; today, or another day. */
  function today(
    language?: Language | null,
    other?: string | null,
  ): { day: string; words: string } {
    const at = other ? new Date(`${other}T12:00:00Z`) : new Date(now());
    return { day: calendarDay(at), words: inWords(at, language) };
  }

  /** `Mon 7 Dec, 08:00` */
  function moment(iso: string): string {
    return dates({
      weekday: 'short',
      day: 'numeric',
      month: 'short',
      hour: '2-digit',
      minute: '2-digit',
    }).format(new Date(iso));
  }

  /** `08:00` */
  const time = (iso: string) => dates({ hour: '2-digit', minute: '2-digit' }).format(new Date(iso));

  /** The calendar day in the school's time zone, as `2026-11-24`. */
  function calendarDay(at: Date): string {
    return once(Intl.DateTimeFormat, 'sv-SE', { timeZone: zone.value }).format(at);
  }

  /** Today, yesterday, this week, or the date. */
  function dayHeading(iso: string): string {
    const days = Math.round(
      (Date.parse(calendarDay(new Date(now()))) - Date.parse(calendarDay(new Date(iso)))) / DAY_MS,
    );
    if (days <= 0) return t('time.today');
    if (days === 1) return t('time.yesterday');
    return inWords(new Date(iso));
  }

  /** `Friday` */
  const weekday = (iso: string) => dates({ weekday: 'long' }).format(new Date(iso));

  /** `Mon` or `Monday`, from 1 for Monday. */
  const weekdayName = (n: number, form: 'short' | 'long') =>
    once(Intl.DateTimeFormat, locale.value === 'en' ? 'en-GB' : locale.value, {
      ...{ weekday: form, timeZone: 'UTC' },
    }).format(new Date(Date.UTC(2026, 5, n)));

  return { size, day, weekday, weekdayName, moment, time, today, calendarDay, dayHeading };
}
