import { CONSEQUENCE_ROUTES } from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { consequences } from '../../domain/access/consequences.ts';
import { registerRoutes } from '../../platform/register-routes.ts';
import { signedIn } from '../../platform/sessions.ts';
import { confidentialWords, setConfidentialWords } from '../../domain/teacher-settings.ts';

export async function consequenceRoutes(app: App) {
  registerRoutes(app, CONSEQUENCE_ROUTES, {
    'POST /api/consequences': (request) =>
      consequences(app.services, signedIn(request), request.body),
    'GET /api/confidential': async (request) => ({
      words: [...(await confidentialWords(app.services.db, signedIn(request).id))],
    }),
    'PUT /api/confidential': (request) =>
      setConfidentialWords(app.services.db, signedIn(request), request.body.words),
  });
}
