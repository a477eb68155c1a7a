import { randomUUID } from 'node:crypto';
import { eq } from 'drizzle-orm';
import { afterAll, describe, expect, it } from 'vitest';
import { placements } from '../src/db/schema/index.ts';
import { mail, startServer, type Scene, type Who } from './harness.ts';

const server = await startServer();
afterAll(() => server.stop());

const WHO: Who[] = [
  'owner',
  'colleague',
  'student in',
  'student out',
  'other school',
  'visitor with door',
  'visitor without',
];

type Row = [
  /** Address, and a body where the route takes one. */
  ask: (scene: Scene) => { path: string; body?: unknown; headers?: Record<string, string> },
  /** Expected status for each of WHO, in that order. */
  ...expected: number[],
];

const tusHeaders = (folderId: string) => ({
  'tus-resumable': '1.0.0',
  'upload-length': '5',
  'upload-metadata': `filename ${btoa('a.txt')},folderId ${btoa(folderId)}`,
});
const upload = () => ({
  path: `/api/uploads/${'0'.repeat(32)}`,
  headers: { 'tus-resumable': '1.0.0' },
});
const wrongTus = () => ({
  ...upload(),
  headers: {
    'tus-resumable': '1.0.0',
    'upload-offset': '0',
    'content-type': 'application/offset+octet-stream',
  },
  body: 'x',
});

const HELD = { held: true, from: null, until: null };

/** Every route for every kind of person. A route that is not here makes the test below fail. */
const TABLE: Record<string, Row> = {
  'GET /api/session': [() => ({ path: '/api/session' }), 200, 200, 200, 200, 200, 200, 200],
  'POST /api/session': [
    () => ({ path: '/api/session', body: { email: mail('nobody'), password: 'x' } }),
    401,
    401,
    401,
    401,
    401,
    401,
    401,
  ],
  'DELETE /api/session': [() => ({ path: '/api/session' }), 204, 204, 204, 204, 204, 204, 204],
  'PUT /api/session/language': [
    () => ({ path: '/api/session/language', body: { language: 'en' } }),
    ...[204, 204, 204, 204, 204, 401, 401],
  ],
  'GET /api/sample': [() => ({ path: '/api/sample' }), 200, 200, 200, 200, 200, 200, 200],

  'GET /api/join-requests': [
    () => ({ path: '/api/join-requests' }),
    ...[200, 200, 200, 200, 200, 401, 401],
  ],
  'POST /api/join-requests/:request/answer': [
    (s) => ({ path: `/api/join-requests/${s.joinRequest}/answer`, body: { answer: 'yes' } }),
    ...[404, 404, 204, 404, 404, 401, 401],
  ],
  'DELETE /api/join-requests/:request': [
    (s) => ({ path: `/api/join-requests/${s.joinRequest}` }),
    ...[204, 404, 404, 404, 404, 401, 401],
  ],
  'GET /api/library/tree': [
    () => ({ path: '/api/library/tree' }),
    200,
    200,
    200,
    200,
    200,
    401,
    401,
  ],
  'GET /api/library/top': [() => ({ path: '/api/library/top' }), 200, 200, 404, 404, 200, 401, 401],
  'POST /api/folders': [
    (s) => ({ path: '/api/folders', body: { parentId: s.handed, title: 'New' } }),
    201,
    404,
    403,
    404,
    404,
    401,
    401,
  ],
  'POST /api/paths': [
    (s) => ({ path: '/api/paths', body: { parentId: s.handed, paths: [['New', 'Below']] } }),
    200,
    404,
    403,
    404,
    404,
    401,
    401,
  ],
  'PATCH /api/folders/:folder': [
    (s) => ({ path: `/api/folders/${s.handed}`, body: { mark: '🌱' } }),
    204,
    404,
    403,
    404,
    404,
    401,
    401,
  ],
  'PATCH /api/placements/:placement': [
    (s) => ({ path: `/api/placements/${s.placement}`, body: { title: 'Other' } }),
    204,
    404,
    403,
    404,
    404,
    401,
    401,
  ],
  'POST /api/placements': [
    (s) => ({ path: '/api/placements', body: { placements: [s.placement], to: [s.handed] } }),
    200,
    404,
    403,
    404,
    404,
    401,
    401,
  ],
  'POST /api/links': [
    (s) => ({ path: '/api/links', body: { folderId: s.handed, url: 'https://a.example/' } }),
    201,
    404,
    403,
    404,
    404,
    401,
    401,
  ],
  'POST /api/moves': [
    (s) => ({
      path: '/api/moves',
      body: { things: [{ kind: 'placement', id: s.placement }], to: s.handed, before: null },
    }),
    200,
    404,
    403,
    404,
    404,
    401,
    401,
  ],
  'POST /api/moves/back': [
    (s) => ({
      path: '/api/moves/back',
      body: { from: [{ kind: 'placement', id: s.placement, folderId: s.handed, position: 1 }] },
    }),
    204,
    404,
    403,
    404,
    404,
    401,
    401,
  ],
  'POST /api/consequences': [
    (s) => ({
      path: '/api/consequences',
      body: { do: 'remove', things: [{ kind: 'folder', id: s.inner }] },
    }),
    200,
    404,
    403,
    404,
    404,
    401,
    401,
  ],
  'GET /api/bin': [() => ({ path: '/api/bin' }), 200, 200, 200, 200, 200, 401, 401],
  'POST /api/bin': [
    (s) => ({ path: '/api/bin', body: { things: [{ kind: 'folder', id: s.handed }] } }),
    200,
    404,
    403,
    404,
    404,
    401,
    401,
  ],
  'POST /api/bin/restore': [
    (s) => ({ path: '/api/bin/restore', body: { things: [{ kind: 'folder', id: s.handed }] } }),
    200,
    404,
    404,
    404,
    404,
    401,
    401,
  ],
  'POST /api/bin/empty': [
    (s) => ({ path: '/api/bin/empty', body: { things: [{ kind: 'folder', id: s.handed }] } }),
    404,
    404,
    404,
    404,
    404,
    401,
    401,
  ],
  'GET /api/layout': [() => ({ path: '/api/layout' }), 200, 200, 404, 404, 200, 401, 401],
  'POST /api/layout': [
    () => ({
      path: '/api/layout',
      body: {
        pattern: '{class}',
        purpose: '',
        outline: 'Unit',
        parentId: null,
        classIds: [server.world.classA],
        handOut: true,
      },
    }),
    200,
    404,
    403,
    403,
    404,
    401,
    401,
  ],

  'GET /api/folders/:folder': [
    (s) => ({ path: `/api/folders/${s.inner}` }),
    200,
    404,
    200,
    404,
    404,
    401,
    401,
  ],
  'GET /api/folders/:folder/contents': [
    (s) => ({ path: `/api/folders/${s.inner}/contents` }),
    200,
    404,
    200,
    404,
    404,
    401,
    401,
  ],
  'GET /api/placements/:placement': [
    (s) => ({ path: `/api/placements/${s.placement}` }),
    200,
    404,
    200,
    404,
    404,
    401,
    401,
  ],
  'GET /api/placements/:placement/content': [
    (s) => ({ path: `/api/placements/${s.placement}/content` }),
    200,
    404,
    200,
    404,
    404,
    401,
    401,
  ],
  'GET /api/placements/:placement/versions': [
    (s) => ({ path: `/api/placements/${s.placement}/versions` }),
    200,
    404,
    403,
    404,
    404,
    401,
    401,
  ],
  'POST /api/placements/:placement/versions': [
    (s) => ({ path: `/api/placements/${s.placement}/versions`, body: { versionId: s.version } }),
    204,
    404,
    403,
    404,
    404,
    401,
    401,
  ],
  'PUT /api/placements/:placement/opened': [
    (s) => ({ path: `/api/placements/${s.placement}/opened` }),
    204,
    404,
    204,
    404,
    404,
    401,
    401,
  ],
  // Whoever holds the address may look, with or without a session; nobody else can know the token.
  'GET /api/open/:token': [
    (s) => ({ path: `/api/open/${s.token}` }),
    200,
    200,
    200,
    200,
    200,
    200,
    200,
  ],
  'GET /api/open/:token/folders/:folder': [
    (s) => ({ path: `/api/open/${s.token}/folders/${s.inner}` }),
    200,
    200,
    200,
    200,
    200,
    200,
    200,
  ],
  'GET /api/open/:token/folders/:folder/contents': [
    (s) => ({ path: `/api/open/${s.token}/folders/${s.inner}/contents` }),
    200,
    200,
    200,
    200,
    200,
    200,
    200,
  ],
  'GET /api/open/:token/placements/:placement': [
    (s) => ({ path: `/api/open/${s.token}/placements/${s.placement}` }),
    200,
    200,
    200,
    200,
    200,
    200,
    200,
  ],
  'GET /api/open/:token/placements/:placement/content': [
    (s) => ({ path: `/api/open/${s.token}/placements/${s.placement}/content` }),
    200,
    200,
    200,
    200,
    200,
    200,
    200,
  ],

  'GET /api/intake': [() => ({ path: '/api/intake' }), 200, 200, 200, 200, 200, 401, 401],
  'POST /api/uploads': [
    (s) => ({ path: '/api/uploads', headers: tusHeaders(s.handed) }),
    201,
    404,
    403,
    404,
    404,
    401,
    401,
  ],
  'HEAD /api/uploads/:upload': [upload, 404, 404, 404, 404, 404, 401, 401],
  'PATCH /api/uploads/:upload': [wrongTus, 404, 404, 404, 404, 404, 401, 401],
  'DELETE /api/uploads/:upload': [upload, 404, 404, 404, 404, 404, 401, 401],
  'POST /api/folders/:folder/files': [
    (s) => ({ path: `/api/folders/${s.handed}/files`, body: { uploadId: '0'.repeat(32) } }),
    404,
    404,
    403,
    404,
    404,
    401,
    401,
  ],
  'POST /api/intake/look': [
    () => ({ path: '/api/intake/look', body: { sizes: [1] } }),
    200,
    200,
    200,
    200,
    200,
    401,
    401,
  ],
  'POST /api/folders/:folder/known': [
    (s) => ({
      path: `/api/folders/${s.handed}/known`,
      body: { name: 'Again.txt', hash: server.world.content.hash },
    }),
    200,
    404,
    403,
    404,
    404,
    401,
    401,
  ],
  'POST /api/placed/:upload': [
    () => ({ path: '/api/placed/none', body: { choice: 'skip' } }),
    404,
    404,
    404,
    404,
    404,
    401,
    401,
  ],

  'GET /api/folders/:folder/archive': [
    (s) => ({ path: `/api/folders/${s.inner}/archive` }),
    200,
    404,
    200,
    404,
    404,
    401,
    401,
  ],
  'GET /api/archive': [
    (s) => ({ path: `/api/archive?things=placement.${s.placement},folder.${s.handed}` }),
    200,
    404,
    200,
    404,
    404,
    401,
    401,
  ],
  'GET /api/open/:token/folders/:folder/archive': [
    (s) => ({ path: `/api/open/${s.token}/folders/${s.inner}/archive` }),
    200,
    200,
    200,
    200,
    200,
    200,
    200,
  ],
  'GET /api/open/:token/archive': [
    (s) => ({ path: `/api/open/${s.token}/archive?things=placement.${s.placement}` }),
    200,
    200,
    200,
    200,
    200,
    200,
    200,
  ],
  'GET /api/space': [() => ({ path: '/api/space' }), 200, 200, 404, 404, 200, 401, 401],

  'GET /api/find': [() => ({ path: '/api/find?words=inner' }), 200, 200, 200, 200, 200, 401, 401],
  'GET /api/find/filters': [
    () => ({ path: '/api/find/filters' }),
    200,
    200,
    200,
    200,
    200,
    401,
    401,
  ],
  'GET /api/placements/:placement/small': [
    (s) => ({ path: `/api/placements/${s.placement}/small` }),
    200,
    404,
    200,
    404,
    404,
    401,
    401,
  ],
  'GET /api/open/:token/placements/:placement/small': [
    (s) => ({ path: `/api/open/${s.token}/placements/${s.placement}/small` }),
    200,
    200,
    200,
    200,
    200,
    200,
    200,
  ],
  'GET /api/placements/:placement/shown': [
    (s) => ({ path: `/api/placements/${s.placement}/shown` }),
    200,
    404,
    200,
    404,
    404,
    401,
    401,
  ],
  'GET /api/open/:token/placements/:placement/shown': [
    (s) => ({ path: `/api/open/${s.token}/placements/${s.placement}/shown` }),
    200,
    200,
    200,
    200,
    200,
    200,
    200,
  ],

  'GET /api/folders/:folder/audience': [
    (s) => ({ path: `/api/folders/${s.handed}/audience` }),
    200,
    404,
    403,
    404,
    404,
    401,
    401,
  ],
  'GET /api/audiences': [() => ({ path: '/api/audiences' }), 200, 200, 404, 404, 200, 401, 401],
  'POST /api/grants': [
    (s) => ({
      path: '/api/grants',
      body: {
        things: [{ kind: 'folder', id: s.handed }],
        audiences: [{ kind: 'class', id: server.world.classB }],
      },
    }),
    201,
    404,
    403,
    404,
    404,
    401,
    401,
  ],
  'PUT /api/grants/:grant': [
    (s) => ({ path: `/api/grants/${s.grant}`, body: { level: 'view', from: null, until: null } }),
    200,
    404,
    404,
    404,
    404,
    401,
    401,
  ],
  'POST /api/grants/take-back': [
    (s) => ({ path: '/api/grants/take-back', body: { grants: [s.grant] } }),
    204,
    404,
    404,
    404,
    404,
    401,
    401,
  ],
  'POST /api/grants/restore': [
    (s) => ({ path: '/api/grants/restore', body: { grants: [s.grant] } }),
    204,
    404,
    404,
    404,
    404,
    401,
    401,
  ],
  'GET /api/folders/:folder/timing': [
    (s) => ({ path: `/api/folders/${s.handed}/timing` }),
    200,
    404,
    403,
    404,
    404,
    401,
    401,
  ],
  'GET /api/placements/:placement/timing': [
    (s) => ({ path: `/api/placements/${s.placement}/timing` }),
    200,
    404,
    403,
    404,
    404,
    401,
    401,
  ],
  'POST /api/releases': [
    (s) => ({
      path: '/api/releases',
      body: {
        things: [{ kind: 'placement', id: s.placement }],
        rules: [{ classId: null, release: HELD }],
      },
    }),
    200,
    404,
    403,
    404,
    404,
    401,
    401,
  ],
  'POST /api/releases/back': [
    (s) => ({
      path: '/api/releases/back',
      body: { before: [{ kind: 'folder', id: s.handed, classId: null, release: HELD }] },
    }),
    204,
    404,
    403,
    404,
    404,
    401,
    401,
  ],
  'GET /api/board': [() => ({ path: '/api/board' }), 200, 200, 404, 404, 200, 401, 401],
  'GET /api/why': [
    (s) => ({ path: `/api/why?kind=folder&id=${s.handed}&as=class.${server.world.classA}` }),
    200,
    404,
    403,
    404,
    404,
    401,
    401,
  ],
  'GET /api/today': [() => ({ path: '/api/today' }), 200, 200, 404, 404, 200, 401, 401],

  'GET /api/doors': [() => ({ path: '/api/doors' }), 200, 200, 200, 200, 200, 401, 401],
  'POST /api/doors': [
    (s) => ({
      path: '/api/doors',
      body: { thing: { kind: 'folder', id: s.inner }, kind: 'public' },
    }),
    201,
    404,
    403,
    404,
    404,
    401,
    401,
  ],
  'PATCH /api/doors/:door': [
    (s) => ({ path: `/api/doors/${s.door}`, body: { short: true } }),
    200,
    404,
    404,
    404,
    404,
    401,
    401,
  ],
  'DELETE /api/doors/:door': [
    (s) => ({ path: `/api/doors/${s.door}` }),
    204,
    404,
    404,
    404,
    404,
    401,
    401,
  ],
  'POST /api/doors/:door/reopen': [
    (s) => ({ path: `/api/doors/${s.door}/reopen` }),
    200,
    404,
    404,
    404,
    404,
    401,
    401,
  ],
  'GET /api/doors/:door/code.:form': [
    (s) => ({ path: `/api/doors/${s.door}/code.svg` }),
    200,
    404,
    404,
    404,
    404,
    401,
    401,
  ],
  'POST /api/open/:token/word': [
    (s) => ({ path: `/api/open/${s.token}/word`, body: { word: 'any' } }),
    404,
    404,
    404,
    404,
    404,
    404,
    404,
  ],
  'POST /api/open/:token/requests': [
    (s) => ({ path: `/api/open/${s.token}/requests`, body: { message: 'Please' } }),
    204,
    204,
    204,
    204,
    404,
    401,
    401,
  ],
  'GET /api/at/:typed': [
    () => ({ path: '/api/at/heron-22222' }),
    404,
    404,
    404,
    404,
    404,
    404,
    404,
  ],
  'GET /api/folders/:folder/wall': [
    (s) => ({ path: `/api/folders/${s.handed}/wall` }),
    404,
    200,
    200,
    200,
    404,
    401,
    401,
  ],
  'GET /api/placements/:placement/wall': [
    (s) => ({ path: `/api/placements/${s.placement}/wall` }),
    404,
    200,
    200,
    200,
    404,
    401,
    401,
  ],
  'POST /api/requests': [
    (s) => ({ path: '/api/requests', body: { thing: { kind: 'folder', id: s.handed } } }),
    404,
    204,
    204,
    204,
    404,
    401,
    401,
  ],
  'POST /api/requests/:request/answer': [
    (s) => ({ path: `/api/requests/${s.door}/answer`, body: { answer: 'no' } }),
    404,
    404,
    404,
    404,
    404,
    401,
    401,
  ],
  'POST /api/requests/:request/reopen': [
    (s) => ({ path: `/api/requests/${s.door}/reopen` }),
    404,
    404,
    404,
    404,
    404,
    401,
    401,
  ],

  'GET /api/courses': [() => ({ path: '/api/courses' }), 200, 200, 404, 404, 200, 401, 401],
  'POST /api/courses': [
    () => ({
      path: '/api/courses',
      body: { title: 'New', colour: 'leaf', yearId: server.world.yearId },
    }),
    201,
    201,
    404,
    404,
    404,
    401,
    401,
  ],
  'PATCH /api/courses/:course': [
    (s) => ({ path: `/api/courses/${s.course}`, body: { colour: 'rose' } }),
    204,
    404,
    404,
    404,
    404,
    401,
    401,
  ],
  'GET /api/courses/:course/removal': [
    (s) => ({ path: `/api/courses/${s.course}/removal` }),
    200,
    404,
    404,
    404,
    404,
    401,
    401,
  ],
  'DELETE /api/courses/:course': [
    (s) => ({ path: `/api/courses/${s.course}` }),
    204,
    404,
    404,
    404,
    404,
    401,
    401,
  ],
  'POST /api/courses/:course/restore': [
    (s) => ({ path: `/api/courses/${s.course}/restore` }),
    404,
    404,
    404,
    404,
    404,
    401,
    401,
  ],
  'POST /api/classes': [
    (s) => ({
      path: '/api/classes',
      body: { courseId: s.course, code: s.course.slice(0, 8), colour: 'leaf' },
    }),
    201,
    404,
    404,
    404,
    404,
    401,
    401,
  ],
  'GET /api/classes/:class': [
    (s) => ({ path: `/api/classes/${s.classX}` }),
    200,
    404,
    404,
    404,
    404,
    401,
    401,
  ],
  'PATCH /api/classes/:class': [
    (s) => ({ path: `/api/classes/${s.classX}`, body: { colour: 'rose' } }),
    204,
    404,
    404,
    404,
    404,
    401,
    401,
  ],
  'GET /api/classes/:class/removal': [
    (s) => ({ path: `/api/classes/${s.classX}/removal` }),
    200,
    404,
    404,
    404,
    404,
    401,
    401,
  ],
  'DELETE /api/classes/:class': [
    (s) => ({ path: `/api/classes/${s.classX}` }),
    204,
    404,
    404,
    404,
    404,
    401,
    401,
  ],
  'POST /api/classes/:class/restore': [
    (s) => ({ path: `/api/classes/${s.classX}/restore` }),
    404,
    404,
    404,
    404,
    404,
    401,
    401,
  ],
  'POST /api/classes/:class/list/preview': [
    (s) => ({
      path: `/api/classes/${s.classX}/list/preview`,
      headers: { 'content-type': 'application/octet-stream' },
      body: 'Mina Kovarik',
    }),
    200,
    404,
    404,
    404,
    404,
    401,
    401,
  ],
  'POST /api/classes/:class/list': [
    (s) => ({ path: `/api/classes/${s.classX}/list`, body: { rows: [] } }),
    200,
    404,
    404,
    404,
    404,
    401,
    401,
  ],
  'POST /api/classes/:class/list/undo': [
    (s) => ({ path: `/api/classes/${s.classX}/list/undo`, body: { joined: [], before: [] } }),
    204,
    404,
    404,
    404,
    404,
    401,
    401,
  ],
  'POST /api/classes/:class/members/foretold': [
    (s) => ({
      path: `/api/classes/${s.classX}/members/foretold`,
      body: { memberships: [s.membership] },
    }),
    200,
    404,
    404,
    404,
    404,
    401,
    401,
  ],
  'PATCH /api/memberships/:membership': [
    (s) => ({
      path: `/api/memberships/${s.membership}`,
      body: { from: '2026-09-01', until: null },
    }),
    204,
    404,
    404,
    404,
    404,
    401,
    401,
  ],
  'POST /api/memberships/:membership/move': [
    (s) => ({ path: `/api/memberships/${s.membership}/move`, body: { classId: s.classY } }),
    200,
    404,
    404,
    404,
    404,
    401,
    401,
  ],
  'POST /api/classes/:class/invitations': [
    (s) => ({ path: `/api/classes/${s.classX}/invitations`, body: { people: [s.pupil] } }),
    200,
    404,
    404,
    404,
    404,
    401,
    401,
  ],
  'POST /api/classes/:class/slips': [
    (s) => ({ path: `/api/classes/${s.classX}/slips`, body: { people: [s.pupil] } }),
    200,
    404,
    404,
    404,
    404,
    401,
    401,
  ],

  'GET /api/oneroster': [() => ({ path: '/api/oneroster' }), 200, 200, 404, 404, 404, 401, 401],
  'POST /api/oneroster': [
    () => ({
      path: '/api/oneroster',
      headers: { 'content-type': 'application/octet-stream' },
      body: 'x',
    }),
    404,
    404,
    404,
    404,
    404,
    401,
    401,
  ],
  'GET /api/confidential': [
    () => ({ path: '/api/confidential' }),
    200,
    200,
    200,
    200,
    200,
    401,
    401,
  ],
  'PUT /api/confidential': [
    () => ({ path: '/api/confidential', body: { words: [] } }),
    204,
    204,
    404,
    404,
    204,
    401,
    401,
  ],
  'GET /api/notes': [() => ({ path: '/api/notes' }), 200, 200, 200, 200, 200, 401, 401],
  'POST /api/grants/:grant/notes': [
    (s) => ({ path: `/api/grants/${s.grant}/notes`, body: { body: 'Hello' } }),
    201,
    404,
    404,
    404,
    404,
    401,
    401,
  ],
  'POST /api/notes/:note/again': [
    (s) => ({ path: `/api/notes/${s.door}/again` }),
    404,
    404,
    404,
    404,
    404,
    401,
    401,
  ],
  'GET /api/post-room': [() => ({ path: '/api/post-room' }), 404, 404, 404, 404, 404, 404, 404],
  'POST /api/session/forgotten': [
    () => ({ path: '/api/session/forgotten', body: { email: mail('nobody') } }),
    204,
    204,
    204,
    204,
    204,
    204,
    204,
  ],
  'POST /api/session/password': [
    () => ({ path: '/api/session/password', body: { token: 'x', password: 'long enough' } }),
    410,
    410,
    410,
    410,
    410,
    410,
    410,
  ],
  'PUT /api/new/digest': [
    () => ({ path: '/api/new/digest', body: { digest: false } }),
    204,
    204,
    204,
    204,
    204,
    401,
    401,
  ],
  'GET /api/staff-room': [() => ({ path: '/api/staff-room' }), 200, 200, 200, 200, 200, 401, 401],

  'GET /api/as/:as/:at/folders/:folder': [
    (s) => ({ path: `/api/as/class.${server.world.classA}/now/folders/${s.handed}` }),
    200,
    404,
    404,
    404,
    404,
    401,
    401,
  ],
  'GET /api/as/:as/:at/folders/:folder/contents': [
    (s) => ({ path: `/api/as/class.${server.world.classA}/now/folders/${s.inner}/contents` }),
    200,
    404,
    404,
    404,
    404,
    401,
    401,
  ],
  'GET /api/as/:as/:at/folders/:folder/archive': [
    (s) => ({ path: `/api/as/class.${server.world.classA}/now/folders/${s.inner}/archive` }),
    200,
    404,
    404,
    404,
    404,
    401,
    401,
  ],
  'GET /api/as/:as/:at/archive': [
    (s) => ({
      path: `/api/as/class.${server.world.classA}/now/archive?things=placement.${s.placement}`,
    }),
    200,
    404,
    404,
    404,
    404,
    401,
    401,
  ],
  'GET /api/as/:as/:at/placements/:placement': [
    (s) => ({ path: `/api/as/class.${server.world.classA}/now/placements/${s.placement}` }),
    200,
    404,
    404,
    404,
    404,
    401,
    401,
  ],
  'GET /api/as/:as/:at/placements/:placement/content': [
    (s) => ({ path: `/api/as/class.${server.world.classA}/now/placements/${s.placement}/content` }),
    200,
    404,
    404,
    404,
    404,
    401,
    401,
  ],
  'GET /api/as/:as/:at/placements/:placement/small': [
    (s) => ({ path: `/api/as/class.${server.world.classA}/now/placements/${s.placement}/small` }),
    200,
    404,
    404,
    404,
    404,
    401,
    401,
  ],
  'GET /api/as/:as/:at/placements/:placement/shown': [
    (s) => ({ path: `/api/as/class.${server.world.classA}/now/placements/${s.placement}/shown` }),
    200,
    404,
    404,
    404,
    404,
    401,
    401,
  ],
  'GET /api/as/:as/:at/new': [
    () => ({ path: `/api/as/class.${server.world.classA}/now/new` }),
    200,
    200,
    404,
    404,
    404,
    401,
    401,
  ],
  'GET /api/as/:as/:at/classes': [
    () => ({ path: `/api/as/class.${server.world.classA}/now/classes` }),
    200,
    200,
    404,
    404,
    404,
    401,
    401,
  ],
  'GET /api/as/:as/:at/staff-room': [
    () => ({ path: `/api/as/class.${server.world.classA}/now/staff-room` }),
    200,
    200,
    404,
    404,
    404,
    401,
    401,
  ],
  'GET /api/as/:as/:at/name': [
    () => ({ path: `/api/as/class.${server.world.classA}/now/name` }),
    200,
    200,
    404,
    404,
    404,
    401,
    401,
  ],

  'GET /api/new': [() => ({ path: '/api/new' }), 200, 200, 200, 200, 200, 401, 401],
  'GET /api/classes': [() => ({ path: '/api/classes' }), 200, 200, 200, 200, 200, 401, 401],
  'GET /api/folders/:folder/live': [
    (s) => ({ path: `/api/folders/${s.inner}/live` }),
    ...[200, 404, 200, 404, 404, 401, 401],
  ],
  'GET /api/placements/:placement/live': [
    (s) => ({ path: `/api/placements/${s.placement}/live` }),
    ...[200, 404, 200, 404, 404, 401, 401],
  ],
  'GET /api/open/:token/folders/:folder/live': [
    (s) => ({ path: `/api/open/${s.token}/folders/${s.inner}/live` }),
    ...[200, 200, 200, 200, 200, 200, 200],
  ],
  'GET /api/open/:token/placements/:placement/live': [
    (s) => ({ path: `/api/open/${s.token}/placements/${s.placement}/live` }),
    ...[200, 200, 200, 200, 200, 200, 200],
  ],
  'GET /api/new/live': [() => ({ path: '/api/new/live' }), ...[200, 200, 200, 200, 200, 401, 401]],
  'PUT /api/new/marked': [
    () => ({ path: '/api/new/marked', body: { until: new Date().toISOString() } }),
    ...[200, 200, 200, 200, 200, 401, 401],
  ],
  'DELETE /api/new/marked/:at': [
    () => ({ path: `/api/new/marked/${new Date().toISOString()}` }),
    ...[204, 204, 204, 204, 204, 401, 401],
  ],

  'GET /api/kept': [() => ({ path: '/api/kept' }), ...[200, 200, 200, 200, 200, 401, 401]],
  'POST /api/kept': [
    (s) => ({ path: '/api/kept', body: { kind: 'folder', id: s.handed } }),
    ...[200, 404, 200, 404, 404, 401, 401],
  ],
  'PUT /api/kept/order': [
    () => ({ path: '/api/kept/order', body: { ids: [] } }),
    ...[204, 204, 204, 204, 204, 401, 401],
  ],
  'DELETE /api/kept/:kept': [
    () => ({ path: `/api/kept/${randomUUID()}` }),
    ...[404, 404, 404, 404, 404, 401, 401],
  ],

  'GET /api/feeds': [() => ({ path: '/api/feeds' }), ...[200, 200, 200, 200, 200, 401, 401]],
  'POST /api/feeds': [
    () => ({ path: '/api/feeds', body: { classId: server.world.classA } }),
    ...[404, 404, 200, 404, 404, 401, 401],
  ],
  'DELETE /api/feeds/:feed': [
    () => ({ path: `/api/feeds/${randomUUID()}` }),
    ...[404, 404, 404, 404, 404, 401, 401],
  ],
  // Their token is all they ask for; that they have one is the matter of feed.test.ts.
  'GET /api/feeds/:token/atom.xml': [
    () => ({ path: '/api/feeds/none/atom.xml' }),
    ...[404, 404, 404, 404, 404, 404, 404],
  ],
  'GET /api/feeds/:token/calendar.ics': [
    () => ({ path: '/api/feeds/none/calendar.ics' }),
    ...[404, 404, 404, 404, 404, 404, 404],
  ],
  'GET /api/open/:token/atom.xml': [
    (s) => ({ path: `/api/open/${s.token}/atom.xml` }),
    ...[200, 200, 200, 200, 200, 200, 200],
  ],

  'POST /api/desk': [() => ({ path: '/api/desk' }), ...[404, 404, 200, 200, 404, 401, 401]],
  'POST /api/copies': [
    (s) => ({
      path: '/api/copies',
      body: { things: [{ kind: 'placement', id: s.placement }], to: null },
    }),
    ...[404, 404, 200, 404, 404, 401, 401],
  ],
  'POST /api/open/:token/copies': [
    (s) => ({
      path: `/api/open/${s.token}/copies`,
      body: { things: [{ kind: 'placement', id: s.placement }], to: null },
    }),
    ...[404, 404, 200, 200, 404, 401, 401],
  ],
  'GET /api/folders/:folder/origins': [
    (s) => ({ path: `/api/folders/${s.inner}/origins` }),
    ...[200, 404, 403, 404, 404, 401, 401],
  ],
  'POST /api/placements/:placement/renew': [
    (s) => ({ path: `/api/placements/${s.placement}/renew` }),
    ...[404, 404, 403, 404, 404, 401, 401],
  ],
};

/** The text of a reply; a page's line has none and is let go. */
async function read(reply: Response): Promise<string> {
  if (!reply.headers.get('content-type')?.startsWith('text/event-stream')) return reply.text();
  await reply.body?.cancel();
  return '';
}

const ended = new Set(['DELETE /api/session']);

describe('every route for every kind of person', () => {
  it('stands in the table, and the table names no other', () => {
    const api = server.app.routeList
      .filter(({ url }) => url.startsWith('/api/'))
      .map(({ method, url }) => `${method} ${url}`);
    // A HEAD beside a GET is made by the framework and answers by the same code.
    const own = api.filter(
      (route) => !(route.startsWith('HEAD') && api.includes(route.replace('HEAD', 'GET'))),
    );
    expect(own.sort()).toEqual(Object.keys(TABLE).sort());
  });

  it.each(Object.entries(TABLE))('%s', async (route, [ask, ...expected]) => {
    const method = route.split(' ')[0]!;
    let scene = await server.scene();
    let changed = false;
    for (const [n, who] of WHO.entries()) {
      // Who is refused, or only reads, leaves the scene as it was for the next one.
      if (changed) scene = await server.scene();
      changed = method !== 'GET' && expected[n]! < 400;
      const { path, body, headers } = ask(scene);
      const reply = await server.call(who, method, path, body, headers);
      const text = await read(reply);
      expect(`${who}: ${reply.status}`, text).toBe(`${who}: ${expected[n]}`);
      if (reply.status >= 400 && method !== 'HEAD')
        expect(reply.headers.get('content-type')).toContain('application/problem+json');
      if (ended.has(route) && server.cookies.has(who)) {
        expect(
          (await server.call(who, 'GET', '/api/new')).status,
          'the old session is of no use',
        ).toBe(401);
        server.cookies.set(who, await server.signIn(who as 'owner'));
      }
    }
  });

  it('says the same of what is not there and of what is not for the asker', async () => {
    const scene = await server.scene();
    const unknown = { ...scene };
    for (const key of [
      'secret',
      'handed',
      'inner',
      'placement',
      'grant',
      'door',
      'course',
      'classX',
      'membership',
    ] as const)
      unknown[key] = randomUUID();
    for (const [route, [ask, ...expected]] of Object.entries(TABLE)) {
      const method = route.split(' ')[0]!;
      if (method === 'HEAD' || expected[3] !== 404) continue;
      const replies = [];
      for (const s of [scene, unknown]) {
        const { path, body, headers } = ask(s);
        const reply = await server.call('student out', method, path, body, headers);
        replies.push({ status: reply.status, text: await read(reply) });
      }
      expect(replies[0], route).toEqual(replies[1]);
    }
  });

  it('tells a student nothing of what is held back in a folder they see, not even by refusing', async () => {
    const scene = await server.scene();
    await server.db
      .update(placements)
      .set({ held: true })
      .where(eq(placements.id, scene.placement));
    for (const [method, path] of [
      ['GET', ''],
      ['GET', '/content'],
      ['PUT', '/opened'],
      ['DELETE', ''],
      ['GET', '/versions'],
    ] as const) {
      const [held, none] = await Promise.all(
        [scene.placement, randomUUID()].map(async (id) => {
          const reply = await server.call('student in', method, `/api/placements/${id}${path}`);
          return { status: reply.status, text: await reply.text() };
        }),
      );
      expect(held, `${method} ${path}`).toEqual(none);
      expect(held?.status).toBe(404);
    }
  });

  it('never names what lies above a handed out folder', async () => {
    const scene = await server.scene();
    for (const [who, prefix] of [
      ['student in', '/api'],
      ['visitor with door', `/api/open/${scene.token}`],
    ] as const) {
      const texts = [];
      for (const path of [
        `folders/${scene.inner}`,
        `folders/${scene.handed}/contents`,
        `placements/${scene.placement}`,
      ])
        texts.push(await (await server.call(who, 'GET', `${prefix}/${path}`)).text());
      for (const path of ['/api/new', '/api/classes'])
        if (who === 'student in') texts.push(await (await server.call(who, 'GET', path)).text());
      expect(texts.join()).toContain('Inner');
      expect(texts.join()).not.toContain('Secret');
      expect(texts.join()).not.toContain(scene.secret);
      expect((await server.call(who, 'GET', `${prefix}/folders/${scene.secret}`)).status).toBe(404);
    }
  });
});
