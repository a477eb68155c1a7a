import { BIN_ROUTES } from '@sammlung/contract';
import { remove } from '../../domain/files/remove.ts';
import type { App } from '../../app-type.ts';
import { registerRoutes } from '../../platform/register-routes.ts';
import { signedIn } from '../../platform/sessions.ts';
import { bin, emptyBin, emptyOverdue, outOfBin } from './service.ts';

export async function binRoutes(app: App) {
  const { services } = app;
  await services.jobs?.schedule('empty-bin', '20 2 * * *', () => emptyOverdue(services));

  registerRoutes(app, BIN_ROUTES, {
    'GET /api/bin': (request) => bin(services, signedIn(request)),
    'POST /api/bin': (request) => remove(services, signedIn(request), request.body.things),
    'POST /api/bin/restore': (request) => outOfBin(services, signedIn(request), request.body),
    'POST /api/bin/empty': (request) => emptyBin(services, signedIn(request), request.body),
  });
}
