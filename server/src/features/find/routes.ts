import { FindFilters, FindQuery, Found } from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { signedIn } from '../../platform/sessions.ts';
import { filters, find } from './service.ts';

export async function findRoutes(app: App) {
  const { services } = app;

  app.get(
    '/api/find',
    { schema: { querystring: FindQuery, response: { 200: Found } } },
    (request) => find(services, signedIn(request), request.query),
  );
  app.get('/api/find/filters', { schema: { response: { 200: FindFilters } } }, (request) =>
    filters(services, signedIn(request)),
  );
}
