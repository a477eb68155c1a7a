import { z } from 'zod';
import { Colour, Day, Id } from './common.ts';
import { type RouteMap } from './route.ts';

/** A lesson that a class has each week. */
export const Lesson = z.object({
  /** From 1 for Monday to 7 for Sunday. */
  weekday: z.number().int().min(1).max(7),
  period: z.number().int().min(1).max(20),
});
export type Lesson = z.infer<typeof Lesson>;

/** A term of the school, or days off, from one day to another (included). */
export const SchoolDay = z
  .object({
    kind: z.enum(['term', 'off']),
    title: z.string().trim().min(1).max(60),
    firstDay: Day,
    lastDay: Day,
  })
  .refine(({ firstDay, lastDay }) => firstDay <= lastDay, 'ends before it begins');
export type SchoolDay = z.infer<typeof SchoolDay>;

const Lessons = z.array(Lesson).max(100);
const SchoolDays = z.array(SchoolDay).max(300);

/** The week of a teacher, and the days on which there is no school. */
export const Timetable = z.object({
  classes: z.array(
    z.object({ id: Id, code: z.string(), colour: Colour, course: z.string(), lessons: Lessons }),
  ),
  days: SchoolDays,
});
export type Timetable = z.infer<typeof Timetable>;

/** A calendar as iCalendar (RFC 5545). */
const CalendarText = z.object({ text: z.string().max(1_000_000) });
export const CalendarLessons = z.object({
  classes: z.array(z.object({ id: Id, lessons: Lessons })),
  /** Events that name no class. */
  others: z.number().int(),
});
export type CalendarLessons = z.infer<typeof CalendarLessons>;

export const TIMETABLE_ROUTES = {
  'GET /api/timetable': {
    summary: 'The lessons of a teacher’s classes, and the days off.',
    reply: Timetable,
  },
  'PUT /api/classes/:class/lessons': {
    summary: 'Sets the lessons that a class has each week.',
    params: z.object({ class: Id }),
    body: z.object({ lessons: Lessons }),
  },
  'POST /api/timetable/calendar': {
    summary: 'Which lessons of a teacher’s classes a calendar has; nothing is changed.',
    body: CalendarText,
    largest: 2_000_000,
    reply: CalendarLessons,
    errors: ['no-calendar'],
  },
  'GET /api/school-days': {
    summary: 'The terms and days off of the school.',
    reply: z.object({ days: SchoolDays }),
  },
  'PUT /api/school-days': {
    summary: 'Sets the terms and days off of the school.',
    body: z.object({ days: SchoolDays }),
  },
  'POST /api/school-days/calendar': {
    summary: 'Which terms and days off a calendar has; nothing is changed.',
    body: CalendarText,
    largest: 2_000_000,
    reply: z.object({ days: SchoolDays }),
    errors: ['no-calendar'],
  },
} as const satisfies RouteMap;
