import { CARRY_OVER_ROUTES } from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { registerRoutes } from '../../platform/register-routes.ts';
import { signedIn } from '../../platform/sessions.ts';
import { listMarks, settle } from './marks.ts';
import { carryOut } from './run.ts';
import {
  beginCarryOver,
  CARRY_OVER,
  carryOverNow,
  carryStart,
  previewCarryOver,
  undoCarryOver,
} from './service.ts';

/** Structure of one year for the classes of another one. */
export async function carryOverRoutes(app: App) {
  const { services } = app;
  await services.jobs?.work<{ id: string }>(CARRY_OVER, ({ id }) => carryOut(services, id));
  registerRoutes(app, CARRY_OVER_ROUTES, {
    'GET /api/carry-over': (request) => carryStart(services, signedIn(request)),
    'POST /api/carry-over/preview': (request) =>
      previewCarryOver(services, signedIn(request), request.body),
    'POST /api/carry-over': (request) => beginCarryOver(services, signedIn(request), request.body),
    'GET /api/carry-over/:carryOver': (request) =>
      carryOverNow(services, signedIn(request), request.params.carryOver),
    'DELETE /api/carry-over/:carryOver': (request) =>
      undoCarryOver(services, signedIn(request), request.params.carryOver),
    'GET /api/carry-over/:carryOver/marks': (request) =>
      listMarks(services, signedIn(request), request.params.carryOver),
    'POST /api/carry-over/:carryOver/marks': (request) =>
      settle(services, signedIn(request), request.params.carryOver, request.body),
  });
}
