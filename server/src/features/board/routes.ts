import { Board, BoardQuery } from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { signedIn } from '../../platform/sessions.ts';
import { board } from './service.ts';

/** Who sees what: the folders a person decides about, against all audiences. */
export async function boardRoutes(app: App) {
  app.get(
    '/api/board',
    { schema: { querystring: BoardQuery, response: { 200: Board } } },
    (request) => board(app.services, signedIn(request), request.query.at),
  );
}
