import { z } from 'zod';
import type { RouteMap } from './route.ts';
import { Language } from './session.ts';

export const SchoolName = z.string().trim().min(1).max(100);

/** What a school is called, and in which language it writes to whoever has chosen none; null for the server’s own. */
export const SchoolFacts = z.object({ name: SchoolName, language: Language.nullable() });
export type SchoolFacts = z.infer<typeof SchoolFacts>;

/** The school itself, for the office. */
export const SCHOOL_ROUTES = {
  'GET /api/school': {
    summary: 'What the school is called, its language and its time zone.',
    reply: SchoolFacts.extend({ timeZone: z.string() }),
  },
  'PUT /api/school': {
    summary: 'Gives the school another name or language.',
    body: SchoolFacts,
  },
} as const satisfies RouteMap;
