import {
  Keep,
  Kept,
  KeptMade,
  KeptOrder,
  KeptParams,
  Nothing,
  TokenParams,
} from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { signedIn } from '../../platform/sessions.ts';
import { arrangeKept, keep, keepAtDoor, keptThings, unpin } from './service.ts';

/** What somebody keeps at hand. */
export async function keepRoutes(app: App) {
  const { services } = app;
  app.get('/api/kept', { schema: { response: { 200: Kept } } }, (request) =>
    keptThings(services, signedIn(request)),
  );
  app.post('/api/kept', { schema: { body: Keep, response: { 200: KeptMade } } }, (request) =>
    keep(services, signedIn(request), request.body),
  );
  // At the door's own address: browsers send there what says that its password was given.
  app.post(
    '/api/open/:token/kept',
    { schema: { params: TokenParams, body: Keep, response: { 200: KeptMade } } },
    (request) =>
      keepAtDoor(services, signedIn(request), request, request.params.token, request.body),
  );
  app.put(
    '/api/kept/order',
    { schema: { body: KeptOrder, response: { 204: Nothing } } },
    async (request, reply) => {
      await arrangeKept(services, signedIn(request), request.body.ids);
      return reply.code(204).send(null);
    },
  );
  app.delete(
    '/api/kept/:kept',
    { schema: { params: KeptParams, response: { 204: Nothing } } },
    async (request, reply) => {
      await unpin(services, signedIn(request), request.params.kept);
      return reply.code(204).send(null);
    },
  );
}
