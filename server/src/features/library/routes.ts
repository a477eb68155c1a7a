import {
  FolderParams,
  MadeFolder,
  MadePlacement,
  NewFolder,
  NewPlacement,
  Nothing,
  PlacementParams,
  TopFolders,
  Tree,
} from '@sammlung/contract';
import type { App } from '../../platform/app-type.ts';
import { askerOf } from '../../platform/asking.ts';
import { signedIn } from '../../platform/sessions.ts';
import {
  binFolder,
  makeFolder,
  place,
  removePlacement,
  restoreFolder,
  restorePlacement,
  topFolders,
  tree,
} from './service.ts';

export async function libraryRoutes(app: App) {
  const { services } = app;

  app.get('/api/library/tree', { schema: { response: { 200: Tree } } }, (request) =>
    tree(services, signedIn(request)),
  );
  app.get('/api/library/top', { schema: { response: { 200: TopFolders } } }, (request) =>
    topFolders(services, signedIn(request)),
  );
  app.post(
    '/api/folders',
    { schema: { body: NewFolder, response: { 201: MadeFolder } } },
    async (request, reply) =>
      reply.code(201).send(await makeFolder(services, signedIn(request), request.body)),
  );
  app.delete(
    '/api/folders/:folder',
    { schema: { params: FolderParams, response: { 204: Nothing } } },
    async (request, reply) => {
      await binFolder(services, askerOf(request), request.params.folder);
      return reply.code(204).send(null);
    },
  );
  app.post(
    '/api/folders/:folder/restore',
    { schema: { params: FolderParams, response: { 204: Nothing } } },
    async (request, reply) => {
      await restoreFolder(services, signedIn(request), request.params.folder);
      return reply.code(204).send(null);
    },
  );
  app.post(
    '/api/placements',
    { schema: { body: NewPlacement, response: { 201: MadePlacement } } },
    async (request, reply) =>
      reply.code(201).send(await place(services, signedIn(request), request.body)),
  );
  app.delete(
    '/api/placements/:placement',
    { schema: { params: PlacementParams, response: { 204: Nothing } } },
    async (request, reply) => {
      await removePlacement(services, signedIn(request), request.params.placement);
      return reply.code(204).send(null);
    },
  );
  app.post(
    '/api/placements/:placement/restore',
    { schema: { params: PlacementParams, response: { 204: Nothing } } },
    async (request, reply) => {
      await restorePlacement(services, signedIn(request), request.params.placement);
      return reply.code(204).send(null);
    },
  );
}
