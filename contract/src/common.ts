import { z } from 'zod';

export const Id = z.uuid();
/** The form of an `Id` within a longer text. */
export const ID_PATTERN = '[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}';

const inOurTime = (iso: string) => iso >= '1900' && iso < '2200';
const NOT_IN_OUR_TIME = 'has to be between 1900 and 2199';
/** An instant as ISO 8601 in UTC. */
export const Instant = z.iso.datetime().refine(inOurTime, NOT_IN_OUR_TIME);
/** A day as ISO 8601. */
export const Day = z.iso.date().refine(inOurTime, NOT_IN_OUR_TIME);
export const Colour = z.enum(['leaf', 'plum', 'lake', 'bark', 'rose', 'slate', 'moss', 'clay']);
export const Right = z.enum(['view', 'add', 'manage', 'own']);

export type Colour = z.infer<typeof Colour>;
export type Right = z.infer<typeof Right>;

/** Problem details (RFC 9457). `code` is one of `ERRORS` in the server; `faults` names single fields. */
export const Problem = z.object({
  type: z.string(),
  title: z.string(),
  status: z.number().int(),
  code: z.string(),
  detail: z.string().optional(),
  faults: z.array(z.object({ field: z.string(), fault: z.string() })).optional(),
});
export type Problem = z.infer<typeof Problem>;

/** What somebody gets with a handing out; `add` and `manage` are for colleagues. */
export const Level = z.enum(['view', 'add', 'manage']);
export type Level = z.infer<typeof Level>;

/** When a folder or placement is seen: not while held, from `from` on, no longer at `until`. */
export const Release = z.object({
  held: z.boolean(),
  from: Instant.nullable(),
  until: Instant.nullable(),
});
export type Release = z.infer<typeof Release>;

/** How many things one change may concern. */
export const THINGS_AT_ONCE = 1000;

/** A folder, or an item where it lies. */
export const Thing = z.object({ kind: z.enum(['folder', 'placement']), id: Id });
export type Thing = z.infer<typeof Thing>;
export const Things = z.array(Thing).min(1).max(THINGS_AT_ONCE);

export const FolderParams = z.object({ folder: Id });
export const PlacementParams = z.object({ placement: Id });
export const GrantParams = z.object({ grant: Id });
export const TokenParams = z.object({ token: z.string().min(1).max(200) });
/**
 * Whom a teacher sees their things as: any member of a class, a person, or a visitor with every public address; and
 * when, in milliseconds since 1970.
 */
export const AsParams = z.object({
  as: z.string().regex(new RegExp(`^(?:(?:class|person)\\.${ID_PATTERN}|visitor)$`, 'u')),
  at: z.union([
    z.literal('now'),
    z.coerce
      .number()
      .int()
      .min(0)
      .max(Date.UTC(2200, 0) - 1),
  ]),
});

/** Whom an index tab stands for. `public` and `school-door` come from doors. */
export const TabKind = z.enum([
  'person',
  'class',
  'course',
  'staff',
  'school',
  'public',
  'school-door',
]);

/** One index tab: an audience and how the thing stands to it. */
export const Tab = z.object({
  kind: TabKind,
  id: Id,
  /** Class code, or name of person or course; empty for staff, school and public, which the screen words itself. */
  label: z.string(),
  colour: Colour.nullable(),
  state: z.enum(['out', 'later', 'held', 'ended']),
  /** When it goes out, with `later`. */
  from: Instant.nullable(),
});
export type Tab = z.infer<typeof Tab>;

/** When, and for whom, a text was written or is wanted. */
export const Frame = z.object({ firstDay: Day, lastDay: Day, classes: z.array(z.string()) });
export type Frame = z.infer<typeof Frame>;
/** Out of which frame a text comes, and in which it is used. */
export const StaleFrames = z.object({ from: Frame, to: Frame });
export type StaleFrames = z.infer<typeof StaleFrames>;
