import { AsParams, TokenParams } from '@sammlung/contract';
import type { FastifyRequest } from 'fastify';
import { z } from 'zod';
import { viewerAs } from './see-as.ts';
import type { ShownDoor } from '@sammlung/core';
import { throughDoor } from '../doors.ts';
import type { Viewer } from './access-sql.ts';
import { viewerOf } from './viewer.ts';
import { signedIn } from '../../platform/sessions.ts';
import type { Services } from '../../services.ts';

/** Who reads in a scope. */
export interface Scoped {
  readonly viewer: Viewer;
  /** The door they came through. */
  readonly door?: ShownDoor;
}

/** A part of the API under which things are read: for oneself, through a door, or as somebody else. */
export interface Scope {
  readonly prefix: string;
  /** The parameters of the prefix; routes add theirs. */
  readonly params: z.ZodObject<Record<never, never>>;
  viewerIn(services: Services, request: FastifyRequest): Promise<Scoped>;
}

/** For people with a session. */
export const OWN: Scope = {
  prefix: '/api',
  params: z.object({}),
  viewerIn: async (services, request) => ({ viewer: viewerOf(signedIn(request), services.now()) }),
};

/** For whoever shows the token of a door. */
export const AT_DOOR: Scope = {
  prefix: '/api/open/:token',
  params: TokenParams,
  async viewerIn(services, request) {
    const { token } = TokenParams.parse(request.params);
    const { viewer, door } = await throughDoor(services, request, token);
    return { viewer, door };
  },
};

/** For a teacher who looks at their own things as somebody else, at some time. */
export const SEEN_AS: Scope = {
  prefix: '/api/as/:as/:at',
  params: AsParams,
  async viewerIn(services, request) {
    const { as, at } = AsParams.parse(request.params);
    const t = at === 'now' ? services.now() : at;
    return { viewer: await viewerAs(services.db, signedIn(request), as, t) };
  },
};

export const SCOPES: readonly Scope[] = [OWN, AT_DOOR, SEEN_AS];
