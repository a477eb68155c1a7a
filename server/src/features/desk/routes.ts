import {
  Copied,
  Copying,
  Desk,
  FolderParams,
  Nothing,
  Origins,
  PlacementParams,
} from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { signedIn } from '../../platform/sessions.ts';
import { AT_DOOR, OWN } from '../../domain/access/scopes.ts';
import { deskOf, originsOf, renewCopy, takeCopies } from './service.ts';

/** A student's own room: copies of what was handed out, and what is made of them. */
export async function deskRoutes(app: App) {
  const { services } = app;
  // It is made when it is first asked for.
  app.post('/api/desk', { schema: { response: { 200: Desk } } }, (request) =>
    deskOf(services, signedIn(request)),
  );
  for (const { prefix, params, viewerIn } of [OWN, AT_DOOR])
    app.post(
      `${prefix}/copies`,
      { schema: { params, body: Copying, response: { 200: Copied } } },
      async (request) => {
        const person = signedIn(request);
        const { viewer } = await viewerIn(services, request);
        return takeCopies(services, person, viewer, request.body);
      },
    );
  app.get(
    '/api/folders/:folder/origins',
    { schema: { params: FolderParams, response: { 200: Origins } } },
    (request) => originsOf(services, signedIn(request), request.params.folder),
  );
  app.post(
    '/api/placements/:placement/renew',
    { schema: { params: PlacementParams, response: { 204: Nothing } } },
    async (request, reply) => {
      await renewCopy(services, signedIn(request), request.params.placement);
      return reply.code(204).send(null);
    },
  );
}
