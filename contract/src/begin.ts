import { z } from 'zod';
import { Day, Instant } from './common.ts';
import { type RouteMap } from './route.ts';
import { SchoolName } from './school.ts';
import { Language } from './session.ts';

/** A time zone by its name in the IANA database. */
const TimeZone = z
  .string()
  .max(60)
  .refine((name) => {
    try {
      return new Intl.DateTimeFormat('en', { timeZone: name }).resolvedOptions().timeZone !== '';
    } catch {
      return false;
    }
  }, 'is no time zone');

const MONTH_MS = 31 * 24 * 60 * 60 * 1000;

/** A school year; it lasts three years at most. */
export const NewYear = z
  .object({ label: z.string().trim().min(1).max(20), firstDay: Day, lastDay: Day })
  .refine(({ firstDay, lastDay }) => firstDay < lastDay, 'ends before it begins')
  .refine(
    ({ firstDay, lastDay }) => Date.parse(lastDay) - Date.parse(firstDay) < 36 * MONTH_MS,
    'is too long',
  );

/** A school with what it needs at first: somebody in the office, and a year. */
export const Beginning = z.object({
  school: z.object({
    name: SchoolName,
    timeZone: TimeZone,
    language: Language,
  }),
  person: z.object({
    name: z.string().trim().min(1).max(120),
    email: z.email().max(254).toLowerCase(),
    password: z.string().max(256),
  }),
  year: NewYear,
});
export type Beginning = z.infer<typeof Beginning>;

const BeginParams = z.object({ begin: z.string().min(1).max(100) });

/** How a school begins where there is none: by a one-time address that only whoever runs the server is told. */
export const BEGIN_ROUTES = {
  'GET /api/begin/:begin': {
    summary: 'Until when a school can begin by this one-time address.',
    params: BeginParams,
    reply: z.object({ until: Instant }),
    errors: ['begin-over', 'too-many-tries'],
  },
  'POST /api/begin/:begin': {
    summary: 'Makes the school, its first office account and its first year.',
    params: BeginParams,
    body: Beginning,
    errors: ['begin-over', 'email-taken', 'password-short', 'too-many-tries'],
  },
} as const satisfies RouteMap;
