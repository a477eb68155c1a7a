import { SPACE_ROUTES } from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { registerRoutes } from '../../platform/register-routes.ts';
import { signedIn } from '../../platform/sessions.ts';
import { space } from './service.ts';

export async function spaceRoutes(app: App) {
  registerRoutes(app, SPACE_ROUTES, {
    'GET /api/space': (request) => space(app.services, signedIn(request)),
  });
}
