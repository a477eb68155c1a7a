import { Behind, Door, DoorParams, NewDoor, Nothing, TokenParams } from '@sammlung/contract';
import type { App } from '../../platform/app-type.ts';
import { signedIn } from '../../platform/sessions.ts';
import { closeDoor, openDoor, reopenDoor } from './service.ts';
import { behind } from './wall.ts';

/** Doors, from both sides: whoever opens and closes them, and whoever comes to them. */
export async function doorRoutes(app: App) {
  const { services } = app;

  app.get(
    '/api/open/:token',
    { schema: { params: TokenParams, response: { 200: Behind } } },
    (request) => behind(services, request.params.token, request.person),
  );
  app.post(
    '/api/doors',
    { schema: { body: NewDoor, response: { 201: Door } } },
    async (request, reply) =>
      reply.code(201).send(await openDoor(services, signedIn(request), request.body)),
  );
  app.delete(
    '/api/doors/:door',
    { schema: { params: DoorParams, response: { 204: Nothing } } },
    async (request, reply) => {
      await closeDoor(services, signedIn(request), request.params.door);
      return reply.code(204).send(null);
    },
  );
  app.post(
    '/api/doors/:door/reopen',
    { schema: { params: DoorParams, response: { 200: Door } } },
    (request) => reopenDoor(services, signedIn(request), request.params.door),
  );
}
