import { LIBRARY_ROUTES } from '@sammlung/contract';
import { makeFolder } from '../../domain/files/make-folder.ts';
import { move, moveBack } from '../../domain/files/move.ts';
import type { App } from '../../app-type.ts';
import { registerRoutes } from '../../platform/register-routes.ts';
import { signedIn } from '../../platform/sessions.ts';

import {
  changeFolder,
  changePlacement,
  folderYear,
  makeLink,
  makePaths,
  place,
  putFolderInYear,
  topFolders,
  tree,
} from './service.ts';

export async function libraryRoutes(app: App) {
  const { services } = app;

  registerRoutes(app, LIBRARY_ROUTES, {
    'GET /api/library/tree': (request) => tree(services, signedIn(request)),
    'GET /api/library/top': (request) => topFolders(services, signedIn(request)),
    'POST /api/folders': (request) => makeFolder(services, signedIn(request), request.body),
    'POST /api/paths': (request) => makePaths(services, signedIn(request), request.body),
    'PATCH /api/folders/:folder': (request) =>
      changeFolder(services, signedIn(request), request.params.folder, request.body),
    'GET /api/folders/:folder/year': (request) =>
      folderYear(services, signedIn(request), request.params.folder),
    'PUT /api/folders/:folder/year': (request) =>
      putFolderInYear(services, signedIn(request), request.params.folder, request.body.yearId),
    'PATCH /api/placements/:placement': (request) =>
      changePlacement(services, signedIn(request), request.params.placement, request.body),
    'POST /api/placements': (request) => place(services, signedIn(request), request.body),
    'POST /api/links': (request) => makeLink(services, signedIn(request), request.body),
    'POST /api/moves': (request) => move(services, signedIn(request), request.body),
    'POST /api/moves/back': (request) => moveBack(services, signedIn(request), request.body.from),
  });
}
