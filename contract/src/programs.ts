import { z } from 'zod';
import { Id, Instant } from './common.ts';
import { type RouteMap } from './route.ts';

/** A password for programs, by its name: the password itself is told once. */
export const Token = z.object({
  id: Id,
  name: z.string(),
  /** Whether programs may change things with it. */
  writes: z.boolean(),
  createdAt: Instant,
  /** When it was last used, to the hour; null for never. */
  usedAt: Instant.nullable(),
});
export type Token = z.infer<typeof Token>;

export const Tokens = z.object({
  tokens: z.array(Token),
  /** Where programs find the folders. */
  address: z.string(),
  /** The name by which programs sign in. */
  signInName: z.string(),
});
export type Tokens = z.infer<typeof Tokens>;

export const NewToken = z.object({
  name: z.string().trim().min(1).max(60),
  writes: z.boolean().default(false),
});

const TokenParams = z.object({ programToken: Id });

/** A move that a program wanted, and that waits for a decision. */
export const WaitingMove = z.object({
  id: Id,
  thing: z.object({ kind: z.enum(['folder', 'placement']), id: Id, title: z.string() }),
  /** Null for the top of the library. */
  to: z.object({ id: Id, title: z.string() }).nullable(),
  at: Instant,
});
export type WaitingMove = z.infer<typeof WaitingMove>;

/** Passwords for programs, and what programs have left to be decided. */
export const PROGRAMS_ROUTES = {
  'GET /api/tokens': {
    summary: 'One’s passwords for programs, and where programs find the folders.',
    reply: Tokens,
  },
  'POST /api/tokens': {
    summary: 'Makes a password for programs, which is told this once.',
    body: NewToken,
    reply: Token.extend({ password: z.string() }),
    errors: ['too-many-tokens'],
  },
  'DELETE /api/tokens/:programToken': {
    summary: 'Revokes a password for programs.',
    params: TokenParams,
  },
  'POST /api/tokens/:programToken/restore': {
    summary: 'Brings a password for programs back that was revoked a moment ago.',
    params: TokenParams,
    errors: ['too-many-tokens'],
  },
  'GET /api/waiting-moves': {
    summary: 'Moves that programs wanted, and that wait for one’s decision.',
    reply: z.object({ moves: z.array(WaitingMove) }),
  },
  'DELETE /api/waiting-moves/:waitingMove': {
    summary: 'Lets a move wait no more: it has been made, or will not be.',
    params: z.object({ waitingMove: Id }),
  },
} as const satisfies RouteMap;
