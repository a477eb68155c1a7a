import { z } from 'zod';
import { GrantParams, Id, Instant } from './common.ts';
import { type RouteMap } from './route.ts';

/** The message that goes with a handing out. */
export const CoverNote = z.object({
  body: z.string().trim().max(4000),
  copyToSender: z.boolean().default(false),
});
export type CoverNote = z.infer<typeof CoverNote>;

export const NoteParams = z.object({ note: Id });
export const Noted = z.object({ people: z.number().int() });
export type Noted = z.infer<typeof Noted>;

/** A cover note that the viewer has sent, and what has become of its mails. */
export const SentNote = z.object({
  id: Id,
  title: z.string(),
  audience: z.string(),
  /** Whether it went to just those who had not opened it. */
  reminder: z.boolean(),
  body: z.string(),
  sentAt: Instant,
  sent: z.number().int(),
  waiting: z.number().int(),
  /** Whom it did not reach, with what the mail server said; without a name where the school does not tell who has opened what. */
  failed: z.array(z.object({ name: z.string(), fault: z.string() })),
  /** What the mail server said last to mails that are being tried again. */
  trying: z.string().nullable(),
});
export type SentNote = z.infer<typeof SentNote>;
export const SentNotes = z.object({ notes: z.array(SentNote) });
export type SentNotes = z.infer<typeof SentNotes>;

/** Cover notes. */
export const NOTE_ROUTES = {
  'GET /api/notes': {
    summary: 'The cover notes one has sent.',
    reply: SentNotes,
  },
  'POST /api/grants/:grant/notes': {
    summary: 'Sends a cover note with a handing out.',
    params: GrantParams,
    body: CoverNote,
    reply: Noted,
    status: 201,
  },
  'POST /api/notes/:note/again': {
    summary: 'Sends a cover note again to those whom it did not reach.',
    params: NoteParams,
  },
} as const satisfies RouteMap;
