import { BOX_ROUTES } from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { registerRoutes } from '../../platform/register-routes.ts';
import { signedIn } from '../../platform/sessions.ts';
import { give, given, takeBack } from './copies.ts';
import {
  boxesOf,
  changeFacts,
  clear,
  deleteCleared,
  makeBoxes,
  place,
  placesOf,
  remove,
  restore,
} from './service.ts';

export async function boxRoutes(app: App) {
  const { services } = app;
  await services.jobs?.schedule('clear-boxes', '25 2 * * *', () => deleteCleared(services));
  registerRoutes(app, BOX_ROUTES, {
    'GET /api/boxes': (request) =>
      boxesOf(services, signedIn(request), request.query.ended ? 'ended' : 'current'),
    'POST /api/boxes/clear': (request) => clear(services, signedIn(request), request.body),
    'POST /api/boxes': (request) => makeBoxes(services, signedIn(request), request.body),
    'GET /api/boxes/:box': (request) => placesOf(services, signedIn(request), request.params.box),
    'PATCH /api/boxes/:box': (request) =>
      changeFacts(services, signedIn(request), request.params.box, request.body),
    'DELETE /api/boxes/:box': (request) => remove(services, signedIn(request), request.params.box),
    'POST /api/boxes/:box/back': (request) =>
      restore(services, signedIn(request), request.params.box),
    'GET /api/boxes/:box/copies': (request) =>
      given(services, signedIn(request), request.params.box),
    'POST /api/boxes/:box/copies': (request) =>
      give(services, signedIn(request), request.params.box, request.body),
    'DELETE /api/copies/:copies': (request) =>
      takeBack(services, signedIn(request), request.params.copies),
    'GET /api/places/:place': (request) => place(services, signedIn(request), request.params.place),
  });
}
