import { SCHOOL_ROUTES, type SchoolFacts } from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { changeSchool, schoolFacts } from '../../domain/schools.ts';
import { registerRoutes } from '../../platform/register-routes.ts';
import { requireOffice, signedIn, type SignedIn } from '../../platform/sessions.ts';
import type { Services } from '../../services.ts';

/** The school itself, for the office. */
export async function schoolRoutes(app: App) {
  const { services } = app;
  registerRoutes(app, SCHOOL_ROUTES, {
    'GET /api/school': (request) => read(services, signedIn(request)),
    'PUT /api/school': (request) => write(services, signedIn(request), request.body),
  });
}

async function read({ db }: Pick<Services, 'db'>, person: SignedIn) {
  requireOffice(person);
  return schoolFacts(db, person.schoolId);
}

async function write({ db }: Pick<Services, 'db'>, person: SignedIn, facts: SchoolFacts) {
  requireOffice(person);
  await changeSchool(db, person.schoolId, facts);
}
