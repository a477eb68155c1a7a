import { REACH_ROUTES } from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { registerRoutes } from '../../platform/register-routes.ts';
import { signedIn } from '../../platform/sessions.ts';
import {
  classReach,
  folderReach,
  itemReach,
  recorded,
  remind,
  schoolReach,
  setSchoolReach,
} from './service.ts';

/** Who has opened what. */
export async function reachRoutes(app: App) {
  const { services } = app;

  registerRoutes(app, REACH_ROUTES, {
    'GET /api/folders/:folder/reach': (request) =>
      folderReach(services, signedIn(request), request.params.folder, request.query.class),
    'GET /api/classes/:class/reach': (request) =>
      classReach(services, signedIn(request), request.params.class),
    'GET /api/placements/:placement/reach': (request) =>
      itemReach(services, signedIn(request), request.params.placement, request.query.class),
    'POST /api/placements/:placement/reach/notes': (request) =>
      remind(
        services,
        signedIn(request),
        request.params.placement,
        request.query.class,
        request.body,
      ),
    'GET /api/recorded': (request) => recorded(services, signedIn(request), request.query.before),
    'GET /api/school/reach': (request) => schoolReach(services, signedIn(request)),
    'PUT /api/school/reach': (request) =>
      setSchoolReach(services, signedIn(request), request.body.level),
  });
}
