import {
  Behind,
  CodeParams,
  Door,
  DoorChange,
  DoorParams,
  DoorRequest,
  Doors,
  DoorWord,
  NewDoor,
  Nothing,
  ShortParams,
  ShortTo,
  TokenParams,
} from '@sammlung/contract';
import { readSayable } from '@sammlung/core';
import { denialReason, doorOf, passwordCookie, tokenOfShort } from '../../domain/doors.ts';
import { unlockKept } from '../../domain/kept.ts';
import type { App } from '../../app-type.ts';
import { AppError } from '../../platform/errors.ts';
import { ATOM } from '../../domain/feeds.ts';
import { askToSee, targetOf } from '../../domain/requests.ts';
import { signedIn } from '../../platform/sessions.ts';
import { countShortAddress, countAttempt } from '../../platform/rate-limits.ts';
import {
  changeDoor,
  closeDoor,
  codeOf,
  doorsOf,
  openDoor,
  reopenDoor,
  SHORT_DIGITS,
  wordFits,
} from './service.ts';
import { doorFeed } from './cover.ts';
import { resolveDoor } from './wall.ts';

/** Doors, from both sides: whoever opens and closes them, and whoever comes to them. */
export async function doorRoutes(app: App) {
  const { services } = app;
  const { db, rateLimits, hashing, now } = services;
  const one = { params: DoorParams, response: { 200: Door } };

  app.get('/api/doors', { schema: { response: { 200: Doors } } }, (request) =>
    doorsOf(services, signedIn(request)),
  );
  app.post(
    '/api/doors',
    { schema: { body: NewDoor, response: { 201: Door } } },
    async (request, reply) =>
      reply.code(201).send(await openDoor(services, signedIn(request), request.body)),
  );
  app.patch('/api/doors/:door', { schema: { ...one, body: DoorChange } }, (request) =>
    changeDoor(services, signedIn(request), request.params.door, request.body),
  );
  app.delete(
    '/api/doors/:door',
    { schema: { params: DoorParams, response: { 204: Nothing } } },
    async (request, reply) => {
      await closeDoor(services, signedIn(request), request.params.door);
      return reply.code(204).send(null);
    },
  );
  app.post('/api/doors/:door/reopen', { schema: one }, (request) =>
    reopenDoor(services, signedIn(request), request.params.door),
  );
  app.get(
    '/api/doors/:door/code.:form',
    { schema: { params: CodeParams } },
    async (request, reply) => {
      const { door, form } = request.params;
      const code = await codeOf(services, signedIn(request), door, form);
      return reply.type(form === 'svg' ? 'image/svg+xml' : 'image/png').send(code);
    },
  );

  app.get(
    '/api/open/:token',
    { schema: { params: TokenParams, response: { 200: Behind } } },
    (request) => resolveDoor(services, request.params.token, request),
  );
  app.get(
    '/api/open/:token/atom.xml',
    { schema: { params: TokenParams } },
    async (request, reply) => reply.type(ATOM).send(await doorFeed(services, request.params.token)),
  );
  app.post(
    '/api/open/:token/word',
    { schema: { params: TokenParams, body: DoorWord, response: { 204: Nothing } } },
    async (request, reply) => {
      const { token } = request.params;
      const found = await doorOf(db, token);
      if (!found || denialReason(found, request.person, now(), false) !== 'word')
        throw new AppError('not-found');
      // Counted when its turn comes: a whole class with the right word at once is no burst of tries.
      await hashing(async () => {
        const giveBack = await countAttempt(rateLimits, `word ${found.door.id}`, request.ip);
        if (!(await wordFits(found.door, request.body.word))) throw new AppError('wrong-word');
        await giveBack();
      });
      if (request.person) await unlockKept(db, request.person, found);
      const secure = services.address().startsWith('https:');
      reply.header('set-cookie', passwordCookie(services.sign, found, now(), secure));
      return reply.code(204).send(null);
    },
  );
  app.post(
    '/api/open/:token/requests',
    { schema: { params: TokenParams, body: DoorRequest, response: { 204: Nothing } } },
    async (request, reply) => {
      const person = signedIn(request);
      const found = await doorOf(db, request.params.token);
      if (found?.door.schoolId !== person.schoolId) throw new AppError('not-found');
      await askToSee(db, person, targetOf(found.door), request.body.message, now());
      return reply.code(204).send(null);
    },
  );
  app.get(
    '/api/at/:typed',
    { schema: { params: ShortParams, response: { 200: ShortTo } } },
    async (request) => {
      const giveBack = await countShortAddress(rateLimits, request.ip);
      const meant = readSayable(request.params.typed, SHORT_DIGITS);
      const token = meant && (await tokenOfShort(db, meant));
      if (!token) throw new AppError('no-such-address');
      await giveBack();
      return { path: `/open/${token}` };
    },
  );
}
