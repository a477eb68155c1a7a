import { TIMETABLE_ROUTES } from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { registerRoutes } from '../../platform/register-routes.ts';
import { signedIn } from '../../platform/sessions.ts';
import {
  calendarDays,
  calendarLessons,
  changeLessons,
  changeSchoolDays,
  schoolDays,
  timetableOf,
} from './service.ts';

export async function timetableRoutes(app: App) {
  const { services } = app;
  registerRoutes(app, TIMETABLE_ROUTES, {
    'GET /api/timetable': (request) => timetableOf(services, signedIn(request)),
    'PUT /api/classes/:class/lessons': (request) =>
      changeLessons(services, signedIn(request), request.params.class, request.body.lessons),
    'POST /api/timetable/calendar': (request) =>
      calendarLessons(services, signedIn(request), request.body.text),
    'GET /api/school-days': (request) => schoolDays(services, signedIn(request)),
    'PUT /api/school-days': (request) =>
      changeSchoolDays(services, signedIn(request), request.body.days),
    'POST /api/school-days/calendar': (request) =>
      calendarDays(signedIn(request), request.body.text),
  });
}
