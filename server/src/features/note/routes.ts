import { CoverNote, GrantParams, Noted, NoteParams, Nothing, SentNotes } from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { signedIn } from '../../platform/sessions.ts';
import { sentNotes } from '../../domain/sent-notes.ts';
import { sendAgain, sendNote } from './service.ts';

/** Cover notes: sent with a handing out or after it. */
export async function noteRoutes(app: App) {
  const { services } = app;

  app.get('/api/notes', { schema: { response: { 200: SentNotes } } }, (request) =>
    sentNotes(services.db, signedIn(request).id).then((notes) => ({ notes })),
  );
  app.post(
    '/api/grants/:grant/notes',
    { schema: { params: GrantParams, body: CoverNote, response: { 201: Noted } } },
    async (request, reply) =>
      reply
        .code(201)
        .send(await sendNote(services, signedIn(request), request.params.grant, request.body)),
  );
  app.post(
    '/api/notes/:note/again',
    { schema: { params: NoteParams, response: { 204: Nothing } } },
    async (request, reply) => {
      await sendAgain(services, signedIn(request), request.params.note);
      return reply.code(204).send(null);
    },
  );
}
