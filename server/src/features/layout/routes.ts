import { LAYOUT_ROUTES } from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { registerRoutes } from '../../platform/register-routes.ts';
import { signedIn } from '../../platform/sessions.ts';
import { layoutStart, makeLayout } from './service.ts';

export async function layoutRoutes(app: App) {
  const { services } = app;

  registerRoutes(app, LAYOUT_ROUTES, {
    'GET /api/layout': (request) => layoutStart(services, signedIn(request)),
    'POST /api/layout': (request) => makeLayout(services, signedIn(request), request.body),
  });
}
