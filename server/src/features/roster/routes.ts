import { LIST_BYTES, ROSTER_ROUTES } from '@sammlung/contract';
import { ZipArchive } from 'archiver';
import type { App } from '../../app-type.ts';
import { registerRoutes } from '../../platform/register-routes.ts';
import { signedIn } from '../../platform/sessions.ts';
import { disposition } from '../../platform/disposition.ts';
import { rosterFiles, importRoster } from './oneroster.ts';
import { invite, printSlips } from './access.ts';
import {
  bringBack,
  changeClass,
  changeCourse,
  coursesOf,
  makeClass,
  makeCourse,
  removal,
  remove,
} from './courses.ts';
import { answerRequest, requestsFor, withdrawRequest } from './joining.ts';
import { previewList, importList, undoList } from './lists.ts';
import { changeMembership, classList, moveToClass, previewMembers } from './members.ts';

/** Courses, classes and their lists, for those who run them. */
export async function rosterRoutes(app: App) {
  const { services } = app;
  // A list comes as the bytes it was written in: the encoding is found out from them.
  app.addContentTypeParser(
    'application/octet-stream',
    { parseAs: 'buffer', bodyLimit: LIST_BYTES },
    (_request, body, done) => done(null, body),
  );

  registerRoutes(app, ROSTER_ROUTES, {
    'GET /api/courses': (request) => coursesOf(services, signedIn(request)),
    'POST /api/courses': (request) => makeCourse(services, signedIn(request), request.body),
    'PATCH /api/courses/:course': (request) =>
      changeCourse(services, signedIn(request), request.params.course, request.body),
    'POST /api/classes': (request) => makeClass(services, signedIn(request), request.body),
    'PATCH /api/classes/:class': (request) =>
      changeClass(services, signedIn(request), request.params.class, request.body),
    'GET /api/courses/:course/removal': (request) =>
      removal(services, signedIn(request), { courseId: request.params.course }),
    'GET /api/classes/:class/removal': (request) =>
      removal(services, signedIn(request), { classId: request.params.class }),
    'DELETE /api/courses/:course': (request) =>
      remove(services, signedIn(request), { courseId: request.params.course }),
    'DELETE /api/classes/:class': (request) =>
      remove(services, signedIn(request), { classId: request.params.class }),
    'POST /api/courses/:course/restore': (request) =>
      bringBack(services, signedIn(request), { courseId: request.params.course }),
    'POST /api/classes/:class/restore': (request) =>
      bringBack(services, signedIn(request), { classId: request.params.class }),
    'GET /api/classes/:class': (request) =>
      classList(services, signedIn(request), request.params.class),
    'POST /api/classes/:class/list/preview': (request) => {
      const bytes = Buffer.isBuffer(request.body) ? request.body : Buffer.alloc(0);
      const lastFirst = request.query.order === 'last';
      return previewList(services, signedIn(request), request.params.class, bytes, lastFirst);
    },
    'POST /api/classes/:class/list': (request) =>
      importList(services, signedIn(request), request.params.class, request.body),
    'POST /api/classes/:class/list/undo': (request) =>
      undoList(services, signedIn(request), request.params.class, request.body),
    'POST /api/classes/:class/members/preview': (request) =>
      previewMembers(services, signedIn(request), request.params.class, request.body),
    'PATCH /api/memberships/:membership': async (request) => {
      const { membership } = request.params;
      await changeMembership(services, signedIn(request), membership, request.body);
    },
    'POST /api/memberships/:membership/move': (request) => {
      const { membership } = request.params;
      return moveToClass(services, signedIn(request), membership, request.body.classId);
    },
    'POST /api/classes/:class/invitations': (request) =>
      invite(services, signedIn(request), request.params.class, request.body.people),
    'POST /api/classes/:class/slips': (request) =>
      printSlips(services, signedIn(request), request.params.class, request.body.people),
    'GET /api/join-requests': (request) => requestsFor(services, signedIn(request)),
    'POST /api/join-requests/:request/answer': (request) =>
      answerRequest(services, signedIn(request), request.params.request, request.body),
    'DELETE /api/join-requests/:request': (request) =>
      withdrawRequest(services, signedIn(request), request.params.request),
    'GET /api/oneroster': async (request, reply) => {
      const files = await rosterFiles(services, signedIn(request));
      const archive = new ZipArchive();
      for (const [name, text] of Object.entries(files)) archive.append(text, { name });
      void archive.finalize();
      return reply
        .headers({
          'content-type': 'application/zip',
          'content-disposition': disposition('OneRoster.zip'),
          'x-content-type-options': 'nosniff',
        })
        .send(archive);
    },
    'POST /api/oneroster': (request) => {
      const bytes = Buffer.isBuffer(request.body) ? request.body : Buffer.alloc(0);
      return importRoster(services, signedIn(request), bytes, request.query);
    },
  });
}
