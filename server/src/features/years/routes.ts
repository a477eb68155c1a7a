import { YEARS_ROUTES } from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { registerRoutes } from '../../platform/register-routes.ts';
import { signedIn } from '../../platform/sessions.ts';
import {
  closeYear,
  listYears,
  makeYear,
  proposeNextYear,
  renameYear,
  yearClosing,
} from './service.ts';

/** The years of a school, for the office. */
export async function yearsRoutes(app: App) {
  const { services } = app;
  registerRoutes(app, YEARS_ROUTES, {
    'GET /api/years': (request) => listYears(services, signedIn(request)),
    'GET /api/years/:year/next': (request) =>
      proposeNextYear(services, signedIn(request), request.params.year),
    'POST /api/years': (request) => makeYear(services, signedIn(request), request.body),
    'PATCH /api/years/:year': (request) =>
      renameYear(services, signedIn(request), request.params.year, request.body),
    'GET /api/years/:year/closing': (request) =>
      yearClosing(services, signedIn(request), request.params.year),
    'PUT /api/years/:year/closed': (request) =>
      closeYear(services, signedIn(request), request.params.year, true),
    'DELETE /api/years/:year/closed': (request) =>
      closeYear(services, signedIn(request), request.params.year, false),
  });
}
