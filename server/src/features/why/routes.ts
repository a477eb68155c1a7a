import { Why, WhyQuery } from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { signedIn } from '../../platform/sessions.ts';
import { why } from './service.ts';

/** Why somebody sees something, or does not; for whoever decides about it. */
export async function whyRoutes(app: App) {
  app.get('/api/why', { schema: { querystring: WhyQuery, response: { 200: Why } } }, (request) =>
    why(app.services, signedIn(request), request.query),
  );
}
