import { AUDIENCE_ROUTES } from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { registerRoutes } from '../../platform/register-routes.ts';
import { viewerOf } from '../../domain/access/viewer.ts';
import { signedIn } from '../../platform/sessions.ts';
import { audienceChoices } from './choices.ts';
import { folderAudience } from './panel.ts';
import { changeGrant, handOut, handOutAgain, takeBack } from './service.ts';

export async function audienceRoutes(app: App) {
  const { services } = app;

  registerRoutes(app, AUDIENCE_ROUTES, {
    'GET /api/folders/:folder/audience': (request) =>
      folderAudience(services, viewerOf(signedIn(request), services.now()), request.params.folder),
    'GET /api/audiences': (request) =>
      audienceChoices(services, signedIn(request), request.query.words),
    'POST /api/grants': (request) => handOut(services, signedIn(request), request.body),
    'PUT /api/grants/:grant': (request) =>
      changeGrant(services, signedIn(request), request.params.grant, request.body),
    'POST /api/grants/take-back': (request) =>
      takeBack(services, signedIn(request), request.body.grants),
    'POST /api/grants/restore': (request) =>
      handOutAgain(services, signedIn(request), request.body.grants),
  });
}
