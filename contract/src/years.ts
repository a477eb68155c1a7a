import { z } from 'zod';
import { Colour, Day, Id, Instant } from './common.ts';
import type { RouteMap } from './route.ts';

/** A school year, with what there is in it. */
export const YearRow = z.object({
  id: Id,
  label: z.string(),
  firstDay: Day,
  lastDay: Day,
  /** Since when it is closed; null while it is open. */
  closedAt: Instant.nullable(),
  classes: z.number().int(),
  students: z.number().int(),
});
export type YearRow = z.infer<typeof YearRow>;

/** What the courses and classes of a year would be in the one after it. */
export const YearProposal = z.object({
  label: z.string(),
  firstDay: Day,
  lastDay: Day,
  courses: z.array(
    z.object({
      id: Id,
      title: z.string(),
      colour: Colour,
      teachers: z.array(z.string()),
      classes: z.array(z.object({ id: Id, code: z.string(), colour: Colour })),
    }),
  ),
});
export type YearProposal = z.infer<typeof YearProposal>;

const Label = z.string().trim().min(1).max(40);

export const YearToMake = z.object({
  label: Label,
  firstDay: Day,
  lastDay: Day,
  /** Courses as they were in another year, with their teachers, and those of their classes that there are again. */
  courses: z
    .array(
      z.object({
        from: Id,
        classes: z.array(z.object({ from: Id, code: z.string().trim().min(1).max(12) })).max(200),
      }),
    )
    .max(2000),
});

/** What closing a year would do now. */
export const YearClosing = z.object({
  classes: z.number().int(),
  /** Who belongs to them. */
  students: z.number().int(),
  /** Folders and single things that these classes have now. */
  things: z.number().int(),
  /** Hand-in boxes that still take something. */
  boxes: z.number().int(),
});
export type YearClosing = z.infer<typeof YearClosing>;

const YearParams = z.object({ year: Id });

/** The years of a school, for the office. */
export const YEARS_ROUTES = {
  'GET /api/years': {
    summary: 'The years of the school, the newest first.',
    reply: z.object({ years: z.array(YearRow) }),
  },
  'GET /api/years/:year/next': {
    summary: 'What is proposed for the year after this one.',
    params: YearParams,
    reply: YearProposal,
  },
  'POST /api/years': {
    summary:
      'Makes a year, with courses and classes as they were in another one. Nobody is in them yet, and nothing is handed out.',
    body: YearToMake,
    status: 201,
    reply: z.object({ id: Id }),
    errors: ['year-taken', 'code-taken', 'ends-before-start'],
  },
  'PATCH /api/years/:year': {
    summary: 'Changes what a year is called, or its days.',
    params: YearParams,
    body: z.object({ label: Label, firstDay: Day, lastDay: Day }),
    errors: ['year-taken', 'ends-before-start'],
  },
  'GET /api/years/:year/closing': {
    summary: 'What closing the year would take from whom.',
    params: YearParams,
    reply: YearClosing,
  },
  'PUT /api/years/:year/closed': {
    summary:
      'Closes a year: what its classes have is theirs no more. Students keep their copies and what they handed in, teachers go on reading.',
    params: YearParams,
  },
  'DELETE /api/years/:year/closed': {
    summary: 'Opens a year again, as it was.',
    params: YearParams,
  },
} as const satisfies RouteMap;
