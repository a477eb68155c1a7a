import { NOTE_ROUTES } from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { registerRoutes } from '../../platform/register-routes.ts';
import { signedIn } from '../../platform/sessions.ts';
import { sentNotes } from '../../domain/sent-notes.ts';
import { sendAgain, sendNote } from './service.ts';

/** Cover notes: sent with a handing out or after it. */
export async function noteRoutes(app: App) {
  const { services } = app;

  registerRoutes(app, NOTE_ROUTES, {
    'GET /api/notes': (request) =>
      sentNotes(services.db, signedIn(request).id).then((notes) => ({ notes })),
    'POST /api/grants/:grant/notes': (request) =>
      sendNote(services, signedIn(request), request.params.grant, request.body),
    'POST /api/notes/:note/again': (request) =>
      sendAgain(services, signedIn(request), request.params.note),
  });
}
