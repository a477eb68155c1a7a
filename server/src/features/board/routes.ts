import { BOARD_ROUTES } from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { registerRoutes } from '../../platform/register-routes.ts';
import { signedIn } from '../../platform/sessions.ts';
import { board } from './service.ts';

/** Who sees what: the folders a person decides about, against all audiences. */
export async function boardRoutes(app: App) {
  registerRoutes(app, BOARD_ROUTES, {
    'GET /api/board': (request) => board(app.services, signedIn(request), request.query.at),
  });
}
