import { Today } from '@sammlung/contract';
import type { App } from '../../platform/app-type.ts';
import { signedIn } from '../../platform/sessions.ts';
import { today } from './service.ts';

export async function todayRoutes(app: App) {
  app.get('/api/today', { schema: { response: { 200: Today } } }, (request) =>
    today(app.services, signedIn(request)),
  );
}
