import type { SchoolDay } from '@sammlung/contract';
import { dayAfter } from '@sammlung/core';
import { createEvents, type EventAttributes } from 'ics';
import { AppError } from '../../platform/errors.ts';
import { feedBehind } from '../../domain/feeds.ts';
import { schoolDaysOf } from '../../domain/timetable.ts';
import type { Services } from '../../services.ts';
import { scheduledChanges } from './queries.ts';

const DAY_MS = 24 * 60 * 60 * 1000;
/** A calendar shows what was, for a month, and what will be, for a year. */
const BEHIND_MS = 30 * DAY_MS;
const AHEAD_MS = 365 * DAY_MS;

/** What goes out and what ends in a teacher's library, with the terms and days off of the school, as iCalendar. Throws `not-found` for a closed address. */
export async function calendar(
  { db, now, address, post }: Pick<Services, 'db' | 'now' | 'address' | 'post'>,
  token: string,
): Promise<string> {
  const { feed, person } = await feedBehind(db, token);
  if (feed.classId !== null || person.kind === 'student') throw new AppError('not-found');
  const words = post.words(person.language).calendar;
  const t = now();
  const scheduled = await scheduledChanges(db, person.id, t - BEHIND_MS, t + AHEAD_MS);
  const days = await schoolDaysOf(db, person.schoolId);
  const { error, value } = createEvents(
    [
      ...days.map(wholeDays),
      ...scheduled.map(({ id, kind, title, place, label, what, at }): EventAttributes => ({
        uid: `${id}-${what}-${label ?? 'all'}@sammlung`.replaceAll(' ', '_'),
        title: `${label ? `${label}: ` : ''}${words[what](title)}`,
        ...(place && { description: place }),
        start: Date.parse(at),
        startInputType: 'utc',
        startOutputType: 'utc',
        duration: { minutes: 15 },
        url: `${address()}/${kind === 'folder' ? 'folder' : 'item'}/${id}`,
        productId: 'sammlung',
      })),
    ],
    { calName: 'Sammlung', productId: 'sammlung' },
  );
  if (error) throw error;
  return value!;
}

function wholeDays({ title, firstDay, lastDay }: SchoolDay): EventAttributes {
  const date = (day: string) => day.split('-').map(Number) as [number, number, number];
  return {
    ...{ uid: `${firstDay}-${lastDay}-${encodeURIComponent(title)}@sammlung`, title },
    ...{ start: date(firstDay), end: date(dayAfter(lastDay, 1)), productId: 'sammlung' },
  };
}
