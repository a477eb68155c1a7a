import type { CalendarEvent } from '@sammlung/core';
import ICAL from 'ical.js';
import { AppError } from '../../platform/errors.ts';

/** So many events of a calendar are read. */
const MOST = 5000;
const WEEKDAYS: Record<string, number> = { MO: 1, TU: 2, WE: 3, TH: 4, FR: 5, SA: 6, SU: 7 };

/** The events of a calendar (RFC 5545), as far as they matter here. Throws `no-calendar`. */
export function readCalendar(text: string): CalendarEvent[] {
  try {
    const calendar = new ICAL.Component(ICAL.parse(text) as unknown[]);
    return calendar.getAllSubcomponents('vevent').slice(0, MOST).flatMap(toEvent);
  } catch {
    // Whatever it says, the person can only choose another file.
    throw new AppError('no-calendar');
  }
}

function toEvent(component: ICAL.Component): CalendarEvent[] {
  const start = component.getFirstPropertyValue('dtstart');
  if (!(start instanceof ICAL.Time)) return [];
  const title = String(component.getFirstPropertyValue('summary') ?? '').slice(0, 200);
  const day = start.toString().slice(0, 10);
  if (start.isDate) {
    const end = component.getFirstPropertyValue('dtend');
    // The end of whole days is the day after the last one.
    const last = end instanceof ICAL.Time ? end.clone() : start.clone();
    if (end instanceof ICAL.Time) last.adjust(-1, 0, 0, 0);
    const lastDay = last.toString().slice(0, 10);
    return [
      {
        ...{ title, weekdays: [], until: null },
        begins: { day, lastDay: lastDay < day ? day : lastDay },
      },
    ];
  }
  const rule = component.getFirstPropertyValue('rrule');
  const { weekdays, until } =
    rule instanceof ICAL.Recur ? repeated(rule, start) : { weekdays: [], until: null };
  const begins =
    start.zone === ICAL.Timezone.utcTimezone
      ? { at: start.toJSDate().getTime() }
      : { wall: start.toString().slice(0, 16) };
  return [{ title, begins, weekdays, until }];
}

/** On which days of the week an event comes again. */
function repeated(rule: ICAL.Recur, start: ICAL.Time) {
  const until = rule.until ? rule.until.toString().slice(0, 10) : null;
  const by = (rule.parts['BYDAY'] as string[] | undefined) ?? [];
  const named = by.flatMap((one) => WEEKDAYS[one.slice(-2)] ?? []);
  const own = ((start.dayOfWeek() + 5) % 7) + 1;
  if (rule.freq === 'WEEKLY') return { weekdays: named.length > 0 ? named : [own], until };
  if (rule.freq === 'DAILY') return { weekdays: [1, 2, 3, 4, 5], until };
  return { weekdays: [], until: null };
}
