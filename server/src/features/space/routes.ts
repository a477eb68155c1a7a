import { Space } from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { signedIn } from '../../platform/sessions.ts';
import { space } from './service.ts';

export async function spaceRoutes(app: App) {
  app.get('/api/space', { schema: { response: { 200: Space } } }, (request) =>
    space(app.services, signedIn(request)),
  );
}
