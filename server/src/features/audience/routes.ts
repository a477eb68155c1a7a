import {
  Door,
  DoorParams,
  FolderAudience,
  FolderParams,
  GrantParams,
  HandedOut,
  HandOut,
  NewDoor,
  Nothing,
} from '@sammlung/contract';
import type { App } from '../../platform/app-type.ts';
import { askerOf } from '../../platform/asking.ts';
import { signedIn } from '../../platform/sessions.ts';
import { folderAudience } from './panel.ts';
import { closeDoor, handOut, openDoor, reopenDoor, restoreGrant, takeBack } from './service.ts';

export async function audienceRoutes(app: App) {
  const { services } = app;
  const grant = { params: GrantParams, response: { 204: Nothing } };

  app.get(
    '/api/folders/:folder/audience',
    { schema: { params: FolderParams, response: { 200: FolderAudience } } },
    (request) => folderAudience(services, askerOf(request), request.params.folder),
  );
  app.post(
    '/api/grants',
    { schema: { body: HandOut, response: { 201: HandedOut } } },
    async (request, reply) =>
      reply.code(201).send(await handOut(services, signedIn(request), request.body)),
  );
  app.delete('/api/grants/:grant', { schema: grant }, async (request, reply) => {
    await takeBack(services, signedIn(request), request.params.grant);
    return reply.code(204).send(null);
  });
  app.post('/api/grants/:grant/restore', { schema: grant }, async (request, reply) => {
    await restoreGrant(services, signedIn(request), request.params.grant);
    return reply.code(204).send(null);
  });
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
