import { z } from 'zod';
import { Id, Instant, PlacementParams } from './common.ts';
import type { RouteMap } from './route.ts';

export const RemarkParams = z.object({ remark: Id });

/** A point on a page (from 1) of a PDF, or on a picture (page 1): parts of its width from the left and of its height from the top. */
const Point = z.object({
  page: z.number().int().min(1).max(100_000),
  x: z.number().min(0).max(1),
  y: z.number().min(0).max(1),
});
export type Point = z.infer<typeof Point>;

const Body = z.string().trim().min(1).max(5000);

/** What somebody has written about a thing in a place of a hand-in box: text, nothing else. */
export const Remark = z.object({
  id: Id,
  replyTo: Id.nullable(),
  point: Point.nullable(),
  body: z.string(),
  by: z.object({ id: Id, name: z.string() }),
  at: Instant,
  edited: z.boolean(),
  /** Which version of the thing it is about. */
  version: z.number().int().nullable(),
  /** Whether the reader has not read it yet. */
  fresh: z.boolean(),
});
export type Remark = z.infer<typeof Remark>;

export const Remarks = z.object({ remarks: z.array(Remark) });
export type Remarks = z.infer<typeof Remarks>;

export const NewRemark = z.object({
  body: Body,
  point: Point.nullable().default(null),
  replyTo: Id.nullable().default(null),
});
export const MadeRemark = z.object({ id: Id });
export const RemarkChange = z.object({ body: Body });

/** What somebody often writes. */
export const Phrases = z.object({ phrases: z.array(z.string().trim().min(1).max(500)).max(20) });
export type Phrases = z.infer<typeof Phrases>;

/** Remarks about what is handed in, between the student and those who teach the class. */
export const REMARK_ROUTES = {
  'GET /api/placements/:placement/remarks': {
    summary: 'The remarks about a thing in a place of a hand-in box.',
    params: PlacementParams,
    reply: Remarks,
  },
  'POST /api/placements/:placement/remarks': {
    summary: 'Writes a remark about a thing in a place of a hand-in box, or answers one.',
    params: PlacementParams,
    body: NewRemark,
    reply: MadeRemark,
    status: 201,
    errors: ['too-many'],
  },
  'PUT /api/placements/:placement/remarks/read': {
    summary: 'Says that one has read the remarks about a thing.',
    params: PlacementParams,
  },
  'PATCH /api/remarks/:remark': {
    summary: 'Changes a remark of one’s own.',
    params: RemarkParams,
    body: RemarkChange,
  },
  'DELETE /api/remarks/:remark': {
    summary: 'Removes a remark of one’s own.',
    params: RemarkParams,
  },
  'POST /api/remarks/:remark/back': {
    summary: 'Undoes the removal of a remark.',
    params: RemarkParams,
  },
  'GET /api/phrases': { summary: 'What a teacher often writes.', reply: Phrases },
  'PUT /api/phrases': { summary: 'Sets what a teacher often writes.', body: Phrases },
} as const satisfies RouteMap;
