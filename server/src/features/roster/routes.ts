import {
  ClassChange,
  ClassList,
  ClassMove,
  ClassParams,
  Consequences,
  CourseChange,
  CourseParams,
  Courses,
  Invited,
  JoinAnswer,
  JoinRequestParams,
  JoinRequests,
  ListPreview,
  ListQuery,
  ListUndo,
  Made,
  MovedToClass,
  Members,
  MembersForetold,
  MembershipChange,
  MembershipParams,
  NewClass,
  NewCourse,
  Nothing,
  Slips,
  TakeList,
  TakenList,
  TakenRoster,
  TakeQuery,
} from '@sammlung/contract';
import { ZipArchive } from 'archiver';
import type { App } from '../../app-type.ts';
import { signedIn } from '../../platform/sessions.ts';
import { disposition } from '../../platform/disposition.ts';
import { rosterFiles, takeRoster } from './oneroster.ts';
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
import { previewList, takeList, undoList } from './lists.ts';
import { changeMembership, classList, moveToClass, previewMembers } from './members.ts';

/** Largest list that is read, in bytes. */
const LIST_BYTES = 8 * 1024 * 1024;

/** Courses, classes and their lists, for those who run them. */
export async function rosterRoutes(app: App) {
  const { services } = app;
  // A list comes as the bytes it was written in: the encoding is found out from them.
  app.addContentTypeParser(
    'application/octet-stream',
    { parseAs: 'buffer', bodyLimit: LIST_BYTES },
    (_request, body, done) => done(null, body),
  );

  app.get('/api/courses', { schema: { response: { 200: Courses } } }, (request) =>
    coursesOf(services, signedIn(request)),
  );
  app.post(
    '/api/courses',
    { schema: { body: NewCourse, response: { 201: Made } } },
    async (request, reply) =>
      reply.code(201).send(await makeCourse(services, signedIn(request), request.body)),
  );
  app.patch(
    '/api/courses/:course',
    { schema: { params: CourseParams, body: CourseChange, response: { 204: Nothing } } },
    async (request, reply) => {
      await changeCourse(services, signedIn(request), request.params.course, request.body);
      return reply.code(204).send(null);
    },
  );
  app.post(
    '/api/classes',
    { schema: { body: NewClass, response: { 201: Made } } },
    async (request, reply) =>
      reply.code(201).send(await makeClass(services, signedIn(request), request.body)),
  );
  app.patch(
    '/api/classes/:class',
    { schema: { params: ClassParams, body: ClassChange, response: { 204: Nothing } } },
    async (request, reply) => {
      await changeClass(services, signedIn(request), request.params.class, request.body);
      return reply.code(204).send(null);
    },
  );

  const course = { params: CourseParams, response: { 204: Nothing } };
  const oneClass = { params: ClassParams, response: { 204: Nothing } };
  app.get(
    '/api/courses/:course/removal',
    { schema: { params: CourseParams, response: { 200: Consequences } } },
    (request) => removal(services, signedIn(request), { courseId: request.params.course }),
  );
  app.get(
    '/api/classes/:class/removal',
    { schema: { params: ClassParams, response: { 200: Consequences } } },
    (request) => removal(services, signedIn(request), { classId: request.params.class }),
  );
  app.delete('/api/courses/:course', { schema: course }, async (request, reply) => {
    await remove(services, signedIn(request), { courseId: request.params.course });
    return reply.code(204).send(null);
  });
  app.delete('/api/classes/:class', { schema: oneClass }, async (request, reply) => {
    await remove(services, signedIn(request), { classId: request.params.class });
    return reply.code(204).send(null);
  });
  app.post('/api/courses/:course/restore', { schema: course }, async (request, reply) => {
    await bringBack(services, signedIn(request), { courseId: request.params.course });
    return reply.code(204).send(null);
  });
  app.post('/api/classes/:class/restore', { schema: oneClass }, async (request, reply) => {
    await bringBack(services, signedIn(request), { classId: request.params.class });
    return reply.code(204).send(null);
  });

  app.get(
    '/api/classes/:class',
    { schema: { params: ClassParams, response: { 200: ClassList } } },
    (request) => classList(services, signedIn(request), request.params.class),
  );
  app.post(
    '/api/classes/:class/list/preview',
    {
      bodyLimit: LIST_BYTES,
      schema: { params: ClassParams, querystring: ListQuery, response: { 200: ListPreview } },
    },
    (request) => {
      const bytes = Buffer.isBuffer(request.body) ? request.body : Buffer.alloc(0);
      const lastFirst = request.query.order === 'last';
      return previewList(services, signedIn(request), request.params.class, bytes, lastFirst);
    },
  );
  app.post(
    '/api/classes/:class/list',
    {
      bodyLimit: LIST_BYTES,
      schema: { params: ClassParams, body: TakeList, response: { 200: TakenList } },
    },
    (request) => takeList(services, signedIn(request), request.params.class, request.body),
  );
  app.post(
    '/api/classes/:class/list/undo',
    {
      bodyLimit: LIST_BYTES,
      schema: { params: ClassParams, body: ListUndo, response: { 204: Nothing } },
    },
    async (request, reply) => {
      await undoList(services, signedIn(request), request.params.class, request.body);
      return reply.code(204).send(null);
    },
  );
  app.post(
    '/api/classes/:class/members/foretold',
    {
      bodyLimit: LIST_BYTES,
      schema: { params: ClassParams, body: MembersForetold, response: { 200: Consequences } },
    },
    (request) => previewMembers(services, signedIn(request), request.params.class, request.body),
  );
  app.patch(
    '/api/memberships/:membership',
    { schema: { params: MembershipParams, body: MembershipChange, response: { 204: Nothing } } },
    async (request, reply) => {
      const { membership } = request.params;
      await changeMembership(services, signedIn(request), membership, request.body);
      return reply.code(204).send(null);
    },
  );
  app.post(
    '/api/memberships/:membership/move',
    { schema: { params: MembershipParams, body: ClassMove, response: { 200: MovedToClass } } },
    (request) => {
      const { membership } = request.params;
      return moveToClass(services, signedIn(request), membership, request.body.classId);
    },
  );
  app.post(
    '/api/classes/:class/invitations',
    { schema: { params: ClassParams, body: Members, response: { 200: Invited } } },
    (request) => invite(services, signedIn(request), request.params.class, request.body.people),
  );
  app.post(
    '/api/classes/:class/slips',
    { schema: { params: ClassParams, body: Members, response: { 200: Slips } } },
    (request) => printSlips(services, signedIn(request), request.params.class, request.body.people),
  );
  app.get('/api/join-requests', { schema: { response: { 200: JoinRequests } } }, (request) =>
    requestsFor(services, signedIn(request)),
  );
  app.post(
    '/api/join-requests/:request/answer',
    { schema: { params: JoinRequestParams, body: JoinAnswer, response: { 204: Nothing } } },
    async (request, reply) => {
      await answerRequest(services, signedIn(request), request.params.request, request.body);
      return reply.code(204).send(null);
    },
  );
  app.delete(
    '/api/join-requests/:request',
    { schema: { params: JoinRequestParams, response: { 204: Nothing } } },
    async (request, reply) => {
      await withdrawRequest(services, signedIn(request), request.params.request);
      return reply.code(204).send(null);
    },
  );
  app.get('/api/oneroster', async (request, reply) => {
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
  });
  app.post(
    '/api/oneroster',
    {
      bodyLimit: 4 * LIST_BYTES,
      schema: { querystring: TakeQuery, response: { 200: TakenRoster } },
    },
    (request) => {
      const bytes = Buffer.isBuffer(request.body) ? request.body : Buffer.alloc(0);
      return takeRoster(services, signedIn(request), bytes, request.query);
    },
  );
}
