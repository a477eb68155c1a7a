import { TRAY_ROUTES } from '@sammlung/contract';
import type { FastifyReply, FastifyRequest } from 'fastify';
import type { App } from '../../app-type.ts';
import { sweep } from '../../domain/contents.ts';
import { sendFile } from '../../domain/files/send.ts';
import { tidyTrays, waitingFile } from '../../domain/tray.ts';
import { AppError } from '../../platform/errors.ts';
import { registerRoutes } from '../../platform/register-routes.ts';
import { NEVER_RUN, sendStored } from '../../platform/send-stored.ts';
import { signedIn } from '../../platform/sessions.ts';
import { madeOf } from './queries.ts';
import { listRounds, previewRound, putInPlace, takeBackRound } from './rounds.ts';
import { answerFile, lessonsIn, moveOn, setInTray, setRules, trayOf } from './service.ts';

export async function trayRoutes(app: App) {
  const { services } = app;
  const { db, storage, now } = services;
  await services.jobs?.schedule('tidy-trays', '35 2 * * *', async () => {
    await sweep(db, storage, await tidyTrays(db, now()));
  });

  registerRoutes(app, TRAY_ROUTES, {
    'GET /api/tray': (request) => trayOf(services, signedIn(request)),
    'POST /api/tray/remove': (request) =>
      setInTray(services, signedIn(request), request.body.files, 'removed'),
    'POST /api/tray/restore': (request) =>
      setInTray(services, signedIn(request), request.body.files, 'there'),
    'PATCH /api/tray/:file': (request) =>
      answerFile(services, signedIn(request), request.params.file, request.body.answer),
    'GET /api/tray/:file/small': (request, reply) =>
      sendSmall(request, reply, request.params.file, request.query.as),
    'GET /api/tray/:file/content': (request, reply) =>
      sendContent(request, reply, request.params.file),
    'PUT /api/tray/rules': (request) => setRules(services, signedIn(request), request.body),
    'POST /api/tray/preview': (request) =>
      previewRound(services, signedIn(request), request.body.rows),
    'POST /api/tray/rounds': (request) =>
      putInPlace(services, signedIn(request), request.body.rows),
    'POST /api/tray/rounds/:round/back': (request) =>
      takeBackRound(services, signedIn(request), request.params.round),
    'GET /api/tray/rounds': (request) =>
      listRounds(services, signedIn(request), request.query.before ?? null),
    'GET /api/folders/:folder/lessons': (request) =>
      lessonsIn(services, signedIn(request), request.params.folder),
    'POST /api/tray/next-unit': (request) =>
      moveOn(services, signedIn(request), request.body.classId),
  });

  async function sendSmall(
    request: FastifyRequest,
    reply: FastifyReply,
    id: string,
    as: 'line' | undefined,
  ) {
    const { schoolId, hash } = await waitingFile(db, signedIn(request).id, id);
    const type = (await madeOf(db, schoolId, [hash!], 0)).get(hash!)?.small;
    if (!type) throw new AppError('not-found');
    const line = as && (await storage.stat({ schoolId, hash: hash!, form: 'line' })) !== null;
    const key = { schoolId, hash: hash!, form: line ? ('line' as const) : ('small' as const) };
    return sendStored(request, reply, storage, key, {
      'content-type': line ? 'image/webp' : type,
      'cache-control': 'private, max-age=86400',
      ...NEVER_RUN,
    });
  }

  async function sendContent(request: FastifyRequest, reply: FastifyReply, id: string) {
    const file = await waitingFile(db, signedIn(request).id, id);
    return sendFile(request, reply, storage, { ...file, hash: file.hash! }, 'inline');
  }
}
