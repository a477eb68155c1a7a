import swagger from '@fastify/swagger';
import swaggerUi from '@fastify/swagger-ui';
import { OPENAPI_ROUTES } from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { registerRoutes } from '../../platform/register-routes.ts';
import { openApiDocument } from './document.ts';

/** The description of the API: for programs, and as a page to read. */
export async function openApiRoutes(app: App) {
  const json = JSON.stringify(openApiDocument());
  registerRoutes(app, OPENAPI_ROUTES, {
    'GET /api/openapi.json': (_request, reply) => reply.type('application/json').send(json),
  });
  await app.register(swagger, { mode: 'static', specification: { document: JSON.parse(json) } });
  await app.register(swaggerUi, {
    routePrefix: '/api-docs',
    theme: { title: 'Sammlung API' },
    // To read: nothing is sent from here.
    uiConfig: { layout: 'BaseLayout', docExpansion: 'none', supportedSubmitMethods: [] },
  });
}
