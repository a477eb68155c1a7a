import { media, type RouteMap } from './route.ts';

/** The description of all this. */
export const OPENAPI_ROUTES = {
  // Programs that read it have no session.
  'GET /api/openapi.json': {
    summary: 'This document.',
    reply: media('application/json'),
  },
} as const satisfies RouteMap;
