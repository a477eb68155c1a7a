import { WHY_ROUTES } from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { registerRoutes } from '../../platform/register-routes.ts';
import { signedIn } from '../../platform/sessions.ts';
import { why } from './service.ts';

/** Why somebody sees something, or does not; for whoever decides about it. */
export async function whyRoutes(app: App) {
  registerRoutes(app, WHY_ROUTES, {
    'GET /api/why': (request) => why(app.services, signedIn(request), request.query),
  });
}
