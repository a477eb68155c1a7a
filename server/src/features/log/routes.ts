import { LOG_ROUTES } from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { registerRoutes } from '../../platform/register-routes.ts';
import { signedIn } from '../../platform/sessions.ts';
import { forgetOld, logFor } from './service.ts';

/** The log of who changed what others see. */
export async function logRoutes(app: App) {
  const { services } = app;
  await services.jobs?.schedule('forget-log', '45 2 * * *', () => forgetOld(services));
  registerRoutes(app, LOG_ROUTES, {
    'GET /api/log': (request) => logFor(services, signedIn(request), request.query),
  });
}
