import { BEGIN_ROUTES } from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { registerRoutes } from '../../platform/register-routes.ts';
import { beginBy, offerOf } from './service.ts';

/** How a school begins, by the one-time address that the server prints. */
export async function beginRoutes(app: App) {
  const { services } = app;
  registerRoutes(app, BEGIN_ROUTES, {
    'GET /api/begin/:begin': (request) => offerOf(services, request.params.begin, request.ip),
    'POST /api/begin/:begin': (request) =>
      beginBy(services, request.params.begin, request.body, request.ip),
  });
}
