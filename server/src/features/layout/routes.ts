import { LayoutStart, MadeLayout, NewLayout } from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { signedIn } from '../../platform/sessions.ts';
import { layoutStart, makeLayout } from './service.ts';

export async function layoutRoutes(app: App) {
  const { services } = app;

  app.get('/api/layout', { schema: { response: { 200: LayoutStart } } }, (request) =>
    layoutStart(services, signedIn(request)),
  );
  app.post(
    '/api/layout',
    { schema: { body: NewLayout, response: { 200: MadeLayout } } },
    (request) => makeLayout(services, signedIn(request), request.body),
  );
}
