import {
  AsParams,
  DOOR_PATH,
  keyUnder,
  OWN_PATH,
  SEEN_AS_PATH,
  TokenParams,
  under,
  type RouteMap,
  type ScopePath,
} from '@sammlung/contract';
import type { FastifyReply, FastifyRequest } from 'fastify';
import type { App } from '../../app-type.ts';
import {
  registerRoutes,
  type Answer,
  type Handlers,
  type RequestOf,
} from '../../platform/register-routes.ts';
import { viewerAs } from './see-as.ts';
import type { ShownDoor } from '@sammlung/core';
import { throughDoor, type DoorRow } from '../doors.ts';
import type { Viewer } from './access-sql.ts';
import { viewerOf } from './viewer.ts';
import { signedIn } from '../../platform/sessions.ts';
import type { Services } from '../../services.ts';

/** Who reads in a scope. */
export interface Scoped {
  /** Whether they read for themselves. */
  readonly own?: boolean;
  readonly viewer: Viewer;
  /** The door they came through. */
  readonly door?: DoorRow;
  /** That door, and those behind it by which they see what is on the website of a class. */
  readonly doors?: readonly ShownDoor[];
}

/** A part of the API under which things are read: for oneself, through a door, or as somebody else. */
export interface Scope extends ScopePath {
  viewerIn(services: Services, request: FastifyRequest): Promise<Scoped>;
}

/** For people with a session. */
export const OWN: Scope = {
  ...OWN_PATH,
  viewerIn: async (services, request) => ({
    own: true,
    viewer: viewerOf(signedIn(request), services.now()),
  }),
};

/** For whoever shows the token of a door. */
export const AT_DOOR: Scope = {
  ...DOOR_PATH,
  async viewerIn(services, request) {
    const { token } = TokenParams.parse(request.params);
    return throughDoor(services, request, token);
  },
};

/** For a teacher who looks at their own things as somebody else, at some time. */
export const SEEN_AS: Scope = {
  ...SEEN_AS_PATH,
  async viewerIn(services, request) {
    const { as, at } = AsParams.parse(request.params);
    const t = at === 'now' ? services.now() : at;
    return { viewer: await viewerAs(services.db, signedIn(request), as, t) };
  },
};

export const SCOPES: readonly Scope[] = [OWN, AT_DOOR, SEEN_AS];

/** What is done at each route of a scope, for whoever reads there. */
type ScopedHandlers<M extends RouteMap> = {
  [K in keyof M]: (
    request: RequestOf<M[K]>,
    scoped: Scoped,
    reply: FastifyReply,
  ) => Answer<M[K]> | Promise<Answer<M[K]>>;
};

/** Registers routes of the contract in each of the scopes, with a handler for all of them. */
export function registerScoped<M extends RouteMap>(
  app: App,
  scopes: readonly Scope[],
  routes: M,
  handlers: ScopedHandlers<M>,
) {
  for (const scope of scopes) {
    const inScope = Object.keys(routes).map((key) => {
      const handle = handlers[key] as ScopedHandlers<RouteMap>[string];
      const read = async (request: FastifyRequest, reply: FastifyReply) =>
        handle(request, await scope.viewerIn(app.services, request), reply);
      return [keyUnder(scope.prefix, key), read];
    });
    registerRoutes(app, under(scope, routes), Object.fromEntries(inScope) as Handlers<RouteMap>);
  }
}
