import { DOOR_ROUTES } from '@sammlung/contract';
import { readSayable } from '@sammlung/core';
import { denialReason, doorOf, setPasswordCookie, tokenOfShort } from '../../domain/doors.ts';
import { unlockKept } from '../../domain/kept.ts';
import type { App } from '../../app-type.ts';
import { registerRoutes } from '../../platform/register-routes.ts';
import { AppError } from '../../platform/errors.ts';
import { ATOM } from '../../domain/feeds.ts';
import { askAsVisitor, askToSee, targetOf } from '../../domain/requests.ts';
import { signedIn } from '../../platform/sessions.ts';
import {
  countAttempt,
  countShortAddress,
  countVisitorRequest,
} from '../../platform/rate-limits.ts';
import {
  changeDoor,
  closeDoor,
  codeOf,
  doorsOf,
  openDoor,
  reopenDoor,
  SHORT_DIGITS,
  passwordMatches,
} from './service.ts';
import { doorFeed, embedded } from './cover.ts';
import { resolveDoor } from './wall.ts';

/** Doors, from both sides: whoever opens and closes them, and whoever comes to them. */
export async function doorRoutes(app: App) {
  const { services } = app;
  const { db, rateLimits, hashing, now } = services;

  registerRoutes(app, DOOR_ROUTES, {
    'GET /api/doors': (request) => doorsOf(services, signedIn(request)),
    'POST /api/doors': (request) => openDoor(services, signedIn(request), request.body),
    'PATCH /api/doors/:door': (request) =>
      changeDoor(services, signedIn(request), request.params.door, request.body),
    'DELETE /api/doors/:door': (request) =>
      closeDoor(services, signedIn(request), request.params.door),
    'POST /api/doors/:door/reopen': (request) =>
      reopenDoor(services, signedIn(request), request.params.door),
    'GET /api/doors/:door/code.:form': async (request, reply) => {
      const { door, form } = request.params;
      const code = await codeOf(services, signedIn(request), door, form);
      return reply.type(form === 'svg' ? 'image/svg+xml' : 'image/png').send(code);
    },
    'GET /api/open/:token': (request) => resolveDoor(services, request.params.token, request),
    'GET /api/open/:token/atom.xml': async (request, reply) =>
      reply.type(ATOM).send(await doorFeed(services, request.params.token)),
    'POST /api/open/:token/word': async (request, reply) => {
      const { token } = request.params;
      const found = await doorOf(db, token);
      if (!found || denialReason(found, request.person, now(), false) !== 'word')
        throw new AppError('not-found');
      // Counted when its turn comes: a whole class with the right word at once is no burst of tries.
      await hashing(async () => {
        const giveBack = await countAttempt(rateLimits, `word ${found.door.id}`, request.ip);
        if (!(await passwordMatches(found.door, request.body.word)))
          throw new AppError('wrong-word');
        await giveBack();
      });
      if (request.person) await unlockKept(db, request.person, found);
      setPasswordCookie(reply, services, found, now());
    },
    'POST /api/open/:token/requests': async (request) => {
      const { message, visitor } = request.body;
      if (!visitor || request.person) {
        const person = signedIn(request);
        const found = await doorOf(db, request.params.token);
        if (found?.door.schoolId !== person.schoolId || found.door.classId)
          throw new AppError('not-found');
        return askToSee(db, person, targetOf(found.door), message, now());
      }
      await countVisitorRequest(rateLimits, request.ip);
      const wall = await resolveDoor(services, request.params.token, request);
      const found = await doorOf(db, request.params.token);
      if (!found || wall.state !== 'wall' || wall.ask !== 'visitor')
        throw new AppError('not-found');
      const { schoolId } = found.door;
      await askAsVisitor(db, schoolId, targetOf(found.door), visitor, message, now());
    },
    'GET /api/oembed': (request, reply) => {
      const { format } = request.query;
      if (format !== 'json') throw new AppError('json-only');
      // It tells nothing that the address does not tell: scripts of any website may read it.
      void reply.header('access-control-allow-origin', '*');
      return embedded(services, request.query);
    },
    'GET /api/at/:typed': async (request) => {
      const giveBack = await countShortAddress(rateLimits, request.ip);
      const meant = readSayable(request.params.typed, SHORT_DIGITS);
      const token = meant && (await tokenOfShort(db, meant));
      if (!token) throw new AppError('no-such-address');
      await giveBack();
      return { path: `/open/${token}` };
    },
  });
}
