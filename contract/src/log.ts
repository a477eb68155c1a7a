import { z } from 'zod';
import { Colour, Day, Id, Instant } from './common.ts';
import { PersonKind } from './people.ts';
import type { RouteMap } from './route.ts';

/** What was done, of what changes who sees or may do what. */
export const LogAct = z.enum([
  ...(['handed-out', 'terms', 'taken-back', 'opened', 'door', 'closed', 'release'] as const),
  ...(['joined', 'days', 'left', 'teaches', 'teaches-no-more'] as const),
  ...(['added', 'role', 'deactivated', 'reactivated', 'address', 'password'] as const),
  ...(['second-step', 'second-step-off', 'year-closed', 'year-opened', 'sign-in'] as const),
  ...(['merged', 'erased', 'passkey', 'passkey-removed'] as const),
]);
export type LogAct = z.infer<typeof LogAct>;

const State = z
  .object({
    level: z.enum(['view', 'add', 'manage']),
    from: Instant.nullable(),
    until: Instant.nullable(),
    role: PersonKind,
  })
  .partial();

/** How something is from then on, as far as the change concerns it, and how it was. */
export const LogDetails = State.extend({
  held: z.boolean().optional(),
  /** A class has no time of its own any more. */
  general: z.boolean().optional(),
  /** Of a door: whether it has a password, and whether search engines may list it. */
  word: z.boolean().optional(),
  listed: z.boolean().optional(),
  was: State.optional(),
});
export type LogDetails = z.infer<typeof LogDetails>;

export const LogEntry = z.object({
  id: z.number().int(),
  at: Instant,
  /** Who did it; null where it was a command, or happened by itself. */
  by: z.string().nullable(),
  act: LogAct,
  /** The folder or item, or the year, as it was called then; `path`: where it is now, null when it is gone. */
  thing: z.object({ title: z.string(), path: z.string().nullable() }).nullable(),
  /** For whom it is, or whom it concerns; null where the words say it. */
  audience: z.enum(['person', 'class', 'course', 'staff', 'school', 'public', 'link']).nullable(),
  person: z.string().nullable(),
  class: z.object({ code: z.string(), colour: Colour }).nullable(),
  course: z.string().nullable(),
  details: LogDetails,
});
export type LogEntry = z.infer<typeof LogEntry>;

export const LOG_PAGE = 100;

/** The log of who changed what others see: for teachers of their own things and courses, for the office of lists, roles and years. */
export const LOG_ROUTES = {
  'GET /api/log': {
    summary: 'Who changed what others see, the newest first. Kept for a year.',
    query: z.object({
      /** Words in the name of the thing, the class or the course. */
      thing: z.string().max(200).optional(),
      /** Words in the name of whoever did it, or whom it concerns. */
      who: z.string().max(200).optional(),
      /** On this day at the school. */
      day: Day.optional(),
      /** Of this folder alone. */
      folder: Id.optional(),
      /** The last entry of the page before. */
      after: z.coerce.number().int().min(1).max(Number.MAX_SAFE_INTEGER).optional(),
    }),
    reply: z.object({
      entries: z.array(LogEntry),
      /** Where the next page begins; null on the last one. */
      next: z.number().int().nullable(),
    }),
  },
} satisfies RouteMap;
