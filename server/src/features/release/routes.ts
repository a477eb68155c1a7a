import {
  FolderParams,
  Nothing,
  PlacementParams,
  ReleaseBack,
  Released,
  Releasing,
  Timing,
} from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { signedIn } from '../../platform/sessions.ts';
import { release, releaseBack, timingOf } from './service.ts';

/** When folders and placements are out: in general, and for single classes. */
export async function releaseRoutes(app: App) {
  const { services } = app;

  app.get(
    '/api/folders/:folder/timing',
    { schema: { params: FolderParams, response: { 200: Timing } } },
    (request) =>
      timingOf(services, signedIn(request), { kind: 'folder', id: request.params.folder }),
  );
  app.get(
    '/api/placements/:placement/timing',
    { schema: { params: PlacementParams, response: { 200: Timing } } },
    (request) =>
      timingOf(services, signedIn(request), { kind: 'placement', id: request.params.placement }),
  );
  app.post(
    '/api/releases',
    { schema: { body: Releasing, response: { 200: Released } } },
    (request) => release(services, signedIn(request), request.body),
  );
  app.post(
    '/api/releases/back',
    { schema: { body: ReleaseBack, response: { 204: Nothing } } },
    async (request, reply) => {
      await releaseBack(services, signedIn(request), request.body.before);
      return reply.code(204).send(null);
    },
  );
}
