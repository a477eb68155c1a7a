import { Change, Consequences } from '@sammlung/contract';
import type { App } from '../../platform/app-type.ts';
import { signedIn } from '../../platform/sessions.ts';
import { consequences } from './service.ts';

export async function consequenceRoutes(app: App) {
  app.post(
    '/api/consequences',
    { schema: { body: Change, response: { 200: Consequences } } },
    (request) => consequences(app.services, signedIn(request), request.body),
  );
}
