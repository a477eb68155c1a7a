import {
  Answer,
  Answered,
  FolderParams,
  NewRequest,
  Nothing,
  PlacementParams,
  RequestParams,
  Wall,
} from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { signedIn } from '../../platform/sessions.ts';
import { answer, reopen, request as askFor, wallAt } from './service.ts';

/** The wall at addresses of the school, and asking to see what lies behind. */
export async function requestRoutes(app: App) {
  const { services } = app;

  app.get(
    '/api/folders/:folder/wall',
    { schema: { params: FolderParams, response: { 200: Wall } } },
    (request) => wallAt(services, signedIn(request), { kind: 'folder', id: request.params.folder }),
  );
  app.get(
    '/api/placements/:placement/wall',
    { schema: { params: PlacementParams, response: { 200: Wall } } },
    (request) =>
      wallAt(services, signedIn(request), { kind: 'placement', id: request.params.placement }),
  );
  app.post(
    '/api/requests',
    { schema: { body: NewRequest, response: { 204: Nothing } } },
    async (request, reply) => {
      const { thing, message } = request.body;
      await askFor(services, signedIn(request), thing, message);
      return reply.code(204).send(null);
    },
  );
  app.post(
    '/api/requests/:request/answer',
    { schema: { params: RequestParams, body: Answer, response: { 200: Answered } } },
    (request) => answer(services, signedIn(request), request.params.request, request.body),
  );
  app.post(
    '/api/requests/:request/reopen',
    { schema: { params: RequestParams, response: { 204: Nothing } } },
    async (request, reply) => {
      await reopen(services, signedIn(request), request.params.request);
      return reply.code(204).send(null);
    },
  );
}
