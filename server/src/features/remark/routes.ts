import { REMARK_ROUTES } from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { registerRoutes } from '../../platform/register-routes.ts';
import { signedIn } from '../../platform/sessions.ts';
import {
  changeBody,
  listRemarks,
  markRead,
  phrases,
  remove,
  restore,
  savePhrases,
  write,
} from './service.ts';

export async function remarkRoutes(app: App) {
  const { services } = app;
  registerRoutes(app, REMARK_ROUTES, {
    'GET /api/placements/:placement/remarks': (request) =>
      listRemarks(services, signedIn(request), request.params.placement),
    'POST /api/placements/:placement/remarks': (request) =>
      write(services, signedIn(request), request.params.placement, request.body),
    'PUT /api/placements/:placement/remarks/read': (request) =>
      markRead(services, signedIn(request), request.params.placement),
    'PATCH /api/remarks/:remark': (request) =>
      changeBody(services, signedIn(request), request.params.remark, request.body.body),
    'DELETE /api/remarks/:remark': (request) =>
      remove(services, signedIn(request), request.params.remark),
    'POST /api/remarks/:remark/back': (request) =>
      restore(services, signedIn(request), request.params.remark),
    'GET /api/phrases': (request) => phrases(services, signedIn(request)),
    'PUT /api/phrases': (request) => savePhrases(services, signedIn(request), request.body.phrases),
  });
}
