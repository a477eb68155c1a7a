import {
  FolderChange,
  FolderParams,
  MadeFolder,
  MadePaths,
  MadePlacement,
  Move,
  MoveBack,
  Moved,
  NewFolder,
  NewLink,
  Nothing,
  Paths,
  Placed,
  PlacementChange,
  PlacementParams,
  Placing,
  TopFolders,
  Tree,
} from '@sammlung/contract';
import { makeFolder } from '../../domain/files/make-folder.ts';
import { move, moveBack } from '../../domain/files/move.ts';
import type { App } from '../../app-type.ts';
import { signedIn } from '../../platform/sessions.ts';

import {
  changeFolder,
  changePlacement,
  makeLink,
  makePaths,
  place,
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
  app.post('/api/paths', { schema: { body: Paths, response: { 200: MadePaths } } }, (request) =>
    makePaths(services, signedIn(request), request.body),
  );
  app.patch(
    '/api/folders/:folder',
    { schema: { params: FolderParams, body: FolderChange, response: { 204: Nothing } } },
    async (request, reply) => {
      await changeFolder(services, signedIn(request), request.params.folder, request.body);
      return reply.code(204).send(null);
    },
  );
  app.patch(
    '/api/placements/:placement',
    { schema: { params: PlacementParams, body: PlacementChange, response: { 204: Nothing } } },
    async (request, reply) => {
      await changePlacement(services, signedIn(request), request.params.placement, request.body);
      return reply.code(204).send(null);
    },
  );
  app.post('/api/placements', { schema: { body: Placing, response: { 200: Placed } } }, (request) =>
    place(services, signedIn(request), request.body),
  );
  app.post(
    '/api/links',
    { schema: { body: NewLink, response: { 201: MadePlacement } } },
    async (request, reply) =>
      reply.code(201).send(await makeLink(services, signedIn(request), request.body)),
  );
  app.post('/api/moves', { schema: { body: Move, response: { 200: Moved } } }, (request) =>
    move(services, signedIn(request), request.body),
  );
  app.post(
    '/api/moves/back',
    { schema: { body: MoveBack, response: { 204: Nothing } } },
    async (request, reply) => {
      await moveBack(services, signedIn(request), request.body.from);
      return reply.code(204).send(null);
    },
  );
}
