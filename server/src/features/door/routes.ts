import { Behind, TokenParams } from '@sammlung/contract';
import { behind } from './service.ts';
import type { App } from '../../platform/app-type.ts';

export async function doorRoutes(app: App) {
  app.get(
    '/api/open/:token',
    { schema: { params: TokenParams, response: { 200: Behind } } },
    (request) => behind(app.services, request.params.token, request.person),
  );
}
