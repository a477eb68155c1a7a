import { randomUUID } from 'node:crypto';
import type {
  Boxes,
  Copied,
  Door,
  Doors,
  Feed,
  InTray,
  RoundDone,
  SentNotes,
  Token,
} from '@sammlung/contract';
import { isNull } from 'drizzle-orm';
import { grants, memberships, rateLimits, requests, sessions } from '../src/db/schema/index.ts';
import { addWaitingMove, waitingMovesOf } from '../src/domain/programs/waiting-moves.ts';
import type { SignedIn } from '../src/platform/sessions.ts';
import { beginToken, emailToken, passwordToken } from '../src/platform/passwords.ts';
import { newToken } from '../src/platform/tokens.ts';
import { authenticator } from './authenticator.ts';
import { mail, PASSWORD, startServer, type Scene, type Who } from './harness.ts';
import { PNG, shownPage } from './pages.ts';
import { uploader } from './upload.ts';

export const server = await startServer({ postRoom: true });
const { world, db, ask, call, clock } = server;
const { begin, send, add } = uploader(server);

/** `adds` and `manages` have that level in what is handed out; `joiner` and `leaver` are not yet, and no longer, in its class. */
export const WHO = [
  'owner',
  'manages',
  'adds',
  'colleague',
  'office',
  'student in',
  'joiner',
  'leaver',
  'student out',
  'other school',
  'visitor with door',
  'visitor without',
] as const satisfies readonly Who[];
type Person = (typeof WHO)[number];

const DAY = 24 * 60 * 60 * 1000;
const adds = await server.enrol('adds', 'teacher');
const manages = await server.enrol('manages', 'teacher');
const { schoolId, classA: classId } = world;
await db.insert(memberships).values([
  {
    schoolId,
    classId,
    personId: await server.enrol('joiner', 'student'),
    fromAt: new Date(clock.now + DAY),
  },
  {
    schoolId,
    classId,
    personId: await server.enrol('leaver', 'student'),
    untilAt: new Date(clock.now - DAY),
  },
]);

/** A scene in which two colleagues have a part; of those before nothing is handed out any more, so that New stays short. */
export async function newScene(): Promise<Scene> {
  await db
    .update(grants)
    .set({ takenBackAt: new Date(clock.now) })
    .where(isNull(grants.takenBackAt));
  const made = await server.scene();
  await db.insert(grants).values(
    (
      [
        ['add', adds],
        ['manage', manages],
      ] as const
    ).map(([level, personId]) => ({
      schoolId,
      folderId: made.handed,
      audienceKind: 'person' as const,
      personId,
      level,
      createdBy: world.ids.owner,
    })),
  );
  return made;
}

/** What is asked for: an address, and a body where the route takes one. */
interface Ask {
  path: string;
  body?: unknown;
  headers?: Record<string, string>;
}
export interface Row {
  /** A promise where something has to be there first. */
  ask: (s: Scene) => Ask | Promise<Ask>;
  expected: Record<Person, number>;
}

type Some = Partial<Record<Person, number>>;
const each = (statuses: (who: Person) => number): Record<Person, number> =>
  Object.fromEntries(WHO.map((who) => [who, statuses(who)])) as Record<Person, number>;
const visits = (who: Person) => who.startsWith('visitor');
const teaches = (who: Person) =>
  ['owner', 'manages', 'adds', 'colleague', 'other school'].includes(who);

const everybody = (status: number) => each(() => status);
/** 401 for visitors. */
const signedIn = (status: number, named: Some = {}) => ({
  ...each((who) => (visits(who) ? 401 : status)),
  ...named,
});
/** 404 for whoever is not named. */
const only = (named: Some) => signedIn(404, named);
/** Who has a library: not students. */
const staff = (status: number, named: Some = {}) =>
  only({
    ...each((who) => (visits(who) ? 401 : teaches(who) || who === 'office' ? status : 404)),
    ...named,
  });
/** Only teachers have a tray. */
const teachers = (status: number) =>
  only(Object.fromEntries(WHO.filter(teaches).map((who) => [who, status])));
const otherTeachers = (status: number): Some =>
  Object.fromEntries(
    WHO.filter((who) => teaches(who) && who !== 'owner').map((who) => [who, status]),
  );
const TRAY_RULES = {
  goesOut: { notes: 'now', sheet: 'now', quiz: 'now', key: 'next-lesson', other: 'now' },
  titlePattern: 'Lesson {n}',
};
/** Who has folders that programs can walk: not the office. */
const withFolders = (status: number) => signedIn(status, { office: 404 });
/** A password for programs of the owner. */
const token = async () =>
  (await ask<Token>('owner', 'POST', '/api/tokens', { name: 'Laptop', writes: true })).id;
/** A hand-in box of the class of the student. */
const box = async () => {
  const asked = { title: 'Soil log', classIds: [classId] };
  return (await ask<{ ids: [string] }>('owner', 'POST', '/api/boxes', asked)).ids[0];
};
/** The place of the student in one. */
const placeIn = async () => {
  const id = await box();
  const { own } = await ask<Boxes>('student in', 'GET', '/api/boxes');
  return own.find((one) => one.id === id)!.placeId;
};
/** A file of the student in a place, and a remark of the owner about it. */
const handedIn = async () => {
  const folderId = await placeIn();
  return (await add('student in', folderId, 'log.txt', folderId)).placementId!;
};
const remark = async () => {
  const path = `/api/placements/${await handedIn()}/remarks`;
  return (await ask<{ id: string }>('owner', 'POST', path, { body: 'When was that?' })).id;
};
/** A move that a program of the owner wanted. */
async function waitingMove(s: Scene): Promise<string> {
  const person = { id: world.ids.owner, schoolId } as SignedIn;
  const move = { kind: 'folder' as const, thingId: s.inner, toFolderId: null };
  await addWaitingMove(db, person, move, clock.now);
  return (await waitingMovesOf(db, person.id)).find((one) => one.thingId === s.inner)!.id;
}
const CALENDAR = 'BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:test\r\nEND:VCALENDAR\r\n';
let units = 0;
/** A file in the tray of the owner, of which there is a small picture. */
const trayFile = async () =>
  (
    await ask<InTray>('owner', 'POST', '/api/tray/known', {
      ...{ name: 'Tray.txt', hash: world.content.hash },
    })
  ).id;
const roundRow = async (s: Scene) => ({
  ...{ fileId: await trayFile(), title: 'In place', lessonDate: null, again: true },
  to: [{ classId: null, folderId: s.secret, goesOut: 'now' }],
});
/** Who sees what is in the scene. */
const readers = (status: number) =>
  only({ owner: status, manages: status, adds: status, 'student in': status });
/** Who may put something there; who only sees it is told so. */
const adders = (status: number) => ({ ...readers(status), 'student in': 403 });
/** Who may change what is there and hand it out. */
const managers = (status: number) => ({ ...adders(status), adds: 403 });

const TUS = { 'tus-resumable': '1.0.0' };
const HELD = { held: true, from: null, until: null };
const BYTES = { 'content-type': 'application/octet-stream' };
const folder = (id: string) => ({ kind: 'folder', id });
const placement = (id: string) => ({ kind: 'placement', id });

/** The owner's announced upload of five bytes. */
async function announced(s: Scene): Promise<string> {
  const reply = await begin('owner', s.handed, 'Announced.txt', 5);
  return reply.headers.get('location')!.split('/').at(-1)!;
}
const binned = (s: Scene) => ask('owner', 'POST', '/api/bin', { things: [folder(s.handed)] });

/** What somebody of another class asks to see. */
async function requested(s: Scene): Promise<string> {
  const [made] = await db
    .insert(requests)
    .values({ schoolId, personId: world.ids['student out'], folderId: s.handed })
    .returning();
  return made!.id;
}
const heading = async (s: Scene) =>
  (
    await ask<{ id: string }>('owner', 'POST', `/api/class-pages/${s.classX}/headings`, {
      title: 'Unit',
    })
  ).id;
const entry = (s: Scene) =>
  ask<{ id: string; appearances: string[] }>('owner', 'POST', '/api/entries', {
    ...{ title: 'Lesson', things: [folder(s.handed)], on: [{ classId: s.classX }] },
  });
const WEBSITE = { headings: [], loose: true, texts: [], tells: 'nothing' };
const website = async (s: Scene) => {
  const path = `/api/class-pages/${s.classX}/website`;
  const { door } = await ask<{ door: Door }>('owner', 'PUT', path, WEBSITE);
  return door.address.split('/').at(-1)!;
};
const keeps = (s: Scene) =>
  ask<{ id: string }>('student in', 'POST', '/api/kept', folder(s.handed));
const feed = () => ask<Feed>('student in', 'POST', '/api/feeds', { classId });
const tokenOf = ({ address }: Feed) => new URL(address).pathname.split('/').at(-2)!;

const page = async (s: Scene) => (await shownPage(server, s.handed)).id;
const picture = async (s: Scene) => {
  const { id, picture: hash } = await shownPage(server, s.handed);
  return `placements/${id}/pictures/${hash}`;
};
const DRAFT = { html: '<p>More</p>', base: 1, after: null };

/** A year that may be closed. */
const emptyYear = async () => {
  const days = { firstDay: '2027-08-30', lastDay: '2028-07-08' };
  const body = { label: randomUUID(), ...days, courses: [] };
  return (await ask<{ id: string }>('office', 'POST', '/api/years', body)).id;
};
const carryPlan = async ({ handed }: Scene, to?: string) => ({
  ...{ from: world.yearId, to: to ?? (await emptyYear()), folders: [handed], classes: [] },
  ...{ pages: [], boxes: [], names: [], into: null, handOut: false },
});
/** What the owner has carried over. */
const carriedOver = async (s: Scene) =>
  (await ask<{ id: string }>('owner', 'POST', '/api/carry-over', await carryPlan(s))).id;
const newPupil = async () => {
  const body = { kind: 'student', name: 'Pupil', email: null };
  return (await ask<{ id: string }>('office', 'POST', '/api/people', body)).id;
};
/** A student who cannot come in any more. */
const gonePupil = async () => {
  const id = await newPupil();
  await ask('office', 'PUT', `/api/people/${id}/deactivated`);
  return id;
};
/** A teacher whose things may go to somebody else. */
const leaving = async () => {
  const body = { kind: 'teacher', name: 'Leaving', email: null };
  return (await ask<{ id: string }>('office', 'POST', '/api/people', body)).id;
};

/** Every route for every kind of person. A route that is not here makes a test fail. */
export const TABLE: Record<string, Row> = {
  'GET /api/session': {
    ask: () => ({ path: '/api/session' }),
    expected: everybody(200),
  },
  'POST /api/session': {
    ask: () => ({ path: '/api/session', body: { email: mail('owner'), password: PASSWORD } }),
    expected: everybody(204),
  },
  'DELETE /api/session': {
    ask: () => ({ path: '/api/session' }),
    expected: everybody(204),
  },
  // Codes of a second step go through in `account.test.ts`.
  'POST /api/session/code': {
    ask: () => ({ path: '/api/session/code', body: { code: '123456' } }),
    expected: everybody(410),
  },
  'GET /api/account': { ask: () => ({ path: '/api/account' }), expected: signedIn(200) },
  'GET /api/account/held': {
    ask: () => ({ path: '/api/account/held' }),
    expected: signedIn(200),
  },
  'PATCH /api/account': {
    ask: () => ({ path: '/api/account', body: { name: 'Named' } }),
    expected: staff(204, { 'student in': 403, 'student out': 403, joiner: 403, leaver: 403 }),
  },
  'PUT /api/account/password': {
    ask: () => ({
      path: '/api/account/password',
      body: { current: PASSWORD, password: PASSWORD },
    }),
    expected: signedIn(204),
  },
  'PUT /api/account/email': {
    ask: () => ({
      path: '/api/account/email',
      body: { email: 'new@example.org', password: PASSWORD },
    }),
    expected: signedIn(204),
  },
  'DELETE /api/account/email': {
    ask: () => ({ path: '/api/account/email' }),
    expected: signedIn(204),
  },
  'POST /api/account/email/confirmed': {
    ask: async () => ({
      path: '/api/account/email/confirmed',
      body: { token: await emailToken(db, world.ids.owner, mail('owner'), clock.now) },
    }),
    expected: everybody(204),
  },
  'DELETE /api/account/sessions/:session': {
    ask: async () => {
      const [made] = await db
        .insert(sessions)
        .values({
          ...{ userId: world.ids.owner, token: newToken() },
          expiresAt: new Date(clock.now + DAY),
        })
        .returning();
      return { path: `/api/account/sessions/${made!.id}` };
    },
    expected: only({ owner: 204 }),
  },
  'DELETE /api/account/sessions': {
    ask: () => ({ path: '/api/account/sessions' }),
    expected: signedIn(204),
  },
  'POST /api/account/second-step': {
    ask: () => ({ path: '/api/account/second-step', body: { password: PASSWORD } }),
    expected: staff(200),
  },
  'PUT /api/account/second-step': {
    ask: () => ({ path: '/api/account/second-step', body: { code: '123456' } }),
    expected: staff(403),
  },
  'POST /api/account/second-step/off': {
    ask: () => ({ path: '/api/account/second-step/off', body: { password: PASSWORD } }),
    expected: staff(204),
  },
  'POST /api/account/recovery-codes': {
    ask: () => ({ path: '/api/account/recovery-codes', body: { password: PASSWORD } }),
    expected: signedIn(404),
  },
  'DELETE /api/people/:person/second-step': {
    ask: (s) => ({ path: `/api/people/${s.pupil}/second-step` }),
    expected: only({ office: 204 }),
  },
  'POST /api/account/passkeys': {
    ask: () => ({ path: '/api/account/passkeys', body: { password: PASSWORD } }),
    expected: staff(200),
  },
  'PUT /api/account/passkeys': {
    ask: () => ({
      path: '/api/account/passkeys',
      body: { name: 'Phone', passkey: authenticator('http://localhost').make('not asked for') },
    }),
    expected: staff(403),
  },
  'POST /api/account/passkeys/:passkey/removal': {
    ask: () => ({
      path: `/api/account/passkeys/${randomUUID()}/removal`,
      body: { password: PASSWORD },
    }),
    expected: signedIn(404),
  },
  'POST /api/session/passkey': {
    ask: () => ({ path: '/api/session/passkey' }),
    expected: everybody(200),
  },
  'PUT /api/session/passkey': {
    ask: () => ({
      path: '/api/session/passkey',
      body: authenticator('http://localhost').answer('not asked for'),
    }),
    expected: everybody(403),
  },
  'GET /api/session/ways': {
    ask: () => ({ path: '/api/session/ways' }),
    expected: everybody(200),
  },
  'POST /api/session/outside': {
    ask: () => ({ path: '/api/session/outside', body: { to: '/new' } }),
    expected: everybody(404),
  },
  'GET /api/session/outside/callback/school': {
    ask: () => ({ path: '/api/session/outside/callback/school?code=x&state=y' }),
    expected: everybody(404),
  },
  'PUT /api/session/language': {
    ask: () => ({ path: '/api/session/language', body: { language: 'en' } }),
    expected: signedIn(204),
  },
  'GET /api/openapi.json': {
    ask: () => ({ path: '/api/openapi.json' }),
    expected: everybody(200),
  },
  // A school has begun here: no address is good for another one.
  'GET /api/begin/:begin': {
    ask: async () => {
      await db.delete(rateLimits);
      return { path: `/api/begin/${await beginToken(db, clock.now)}` };
    },
    expected: everybody(410),
  },
  'POST /api/begin/:begin': {
    ask: async () => {
      await db.delete(rateLimits);
      return {
        path: `/api/begin/${await beginToken(db, clock.now)}`,
        body: {
          school: { name: 'Third', timeZone: 'UTC', language: 'en' },
          person: { name: 'First', email: mail('first'), password: PASSWORD },
          year: { label: '2026/27', firstDay: '2026-08-31', lastDay: '2027-07-09' },
        },
      };
    },
    expected: everybody(410),
  },
  'GET /api/sample': {
    ask: () => ({ path: '/api/sample' }),
    expected: everybody(200),
  },
  'GET /api/join-requests': {
    ask: () => ({ path: '/api/join-requests' }),
    expected: signedIn(200),
  },
  'POST /api/join-requests/:request/answer': {
    ask: (s) => ({ path: `/api/join-requests/${s.joinRequest}/answer`, body: { answer: 'yes' } }),
    expected: only({ office: 204, 'student in': 204 }),
  },
  'DELETE /api/join-requests/:request': {
    ask: (s) => ({ path: `/api/join-requests/${s.joinRequest}` }),
    expected: only({ owner: 204, office: 204 }),
  },
  'GET /api/library/tree': {
    ask: () => ({ path: '/api/library/tree' }),
    expected: signedIn(200),
  },
  'GET /api/library/top': {
    ask: () => ({ path: '/api/library/top' }),
    expected: staff(200),
  },
  'POST /api/folders': {
    ask: (s) => ({ path: '/api/folders', body: { parentId: s.handed, title: 'New' } }),
    expected: adders(201),
  },
  'POST /api/paths': {
    ask: (s) => ({ path: '/api/paths', body: { parentId: s.handed, paths: [['New', 'Below']] } }),
    expected: adders(200),
  },
  'PATCH /api/folders/:folder': {
    ask: (s) => ({ path: `/api/folders/${s.handed}`, body: { mark: '🌱' } }),
    expected: managers(204),
  },
  'GET /api/folders/:folder/year': {
    ask: (s) => ({ path: `/api/folders/${s.handed}/year` }),
    expected: only({ owner: 200, manages: 403, adds: 403, 'student in': 404 }),
  },
  'PUT /api/folders/:folder/year': {
    ask: (s) => ({ path: `/api/folders/${s.handed}/year`, body: { yearId: world.yearId } }),
    expected: only({ owner: 204, manages: 403, adds: 403, 'student in': 404 }),
  },
  'PATCH /api/placements/:placement': {
    ask: (s) => ({ path: `/api/placements/${s.placement}`, body: { title: 'Other' } }),
    expected: managers(204),
  },
  'POST /api/placements': {
    ask: (s) => ({ path: '/api/placements', body: { placements: [s.placement], to: [s.handed] } }),
    expected: only({ owner: 200, manages: 403, adds: 403, 'student in': 403 }),
  },
  'POST /api/links': {
    ask: (s) => ({ path: '/api/links', body: { folderId: s.handed, url: 'https://a.example/' } }),
    expected: adders(201),
  },
  'POST /api/pages': {
    ask: (s) => ({ path: '/api/pages', body: { folderId: s.handed, title: 'Page' } }),
    expected: adders(201),
  },
  'GET /api/placements/:placement/page': {
    ask: async (s) => ({ path: `/api/placements/${await page(s)}/page` }),
    expected: readers(200),
  },
  'GET /api/open/:token/placements/:placement/page': {
    ask: async (s) => ({ path: `/api/open/${s.token}/placements/${await page(s)}/page` }),
    expected: everybody(200),
  },
  'GET /api/as/:as/:at/placements/:placement/page': {
    ask: async (s) => ({ path: `/api/as/class.${classId}/now/placements/${await page(s)}/page` }),
    expected: only({ owner: 200 }),
  },
  'GET /api/placements/:placement/pictures/:hash': {
    ask: async (s) => ({ path: `/api/${await picture(s)}` }),
    expected: readers(200),
  },
  'GET /api/open/:token/placements/:placement/pictures/:hash': {
    ask: async (s) => ({ path: `/api/open/${s.token}/${await picture(s)}` }),
    expected: everybody(200),
  },
  'GET /api/as/:as/:at/placements/:placement/pictures/:hash': {
    ask: async (s) => ({ path: `/api/as/class.${classId}/now/${await picture(s)}` }),
    expected: only({ owner: 200 }),
  },
  'GET /api/placements/:placement/draft': {
    ask: async (s) => ({ path: `/api/placements/${await page(s)}/draft` }),
    expected: managers(200),
  },
  'PUT /api/placements/:placement/draft': {
    ask: async (s) => ({ path: `/api/placements/${await page(s)}/draft`, body: DRAFT }),
    expected: managers(200),
  },
  'DELETE /api/placements/:placement/draft': {
    ask: async (s) => ({ path: `/api/placements/${await page(s)}/draft` }),
    expected: managers(204),
  },
  'POST /api/placements/:placement/shown': {
    ask: async (s) => ({ path: `/api/placements/${await page(s)}/shown`, body: DRAFT }),
    expected: managers(200),
  },
  'POST /api/placements/:placement/begin': {
    ask: async (s) => {
      const id = await page(s);
      return { path: `/api/placements/${id}/begin`, body: { from: id } };
    },
    expected: managers(200),
  },
  'PUT /api/placements/:placement/showing': {
    ask: async (s) => ({
      path: `/api/placements/${await page(s)}/showing`,
      body: { whileWriting: true },
    }),
    expected: managers(204),
  },
  'POST /api/placements/:placement/references': {
    ask: async (s) => ({
      path: `/api/placements/${await page(s)}/references`,
      body: { things: [folder(s.handed)] },
    }),
    expected: managers(200),
  },
  'POST /api/placements/:placement/pictures': {
    ask: async (s) => ({
      path: `/api/placements/${await page(s)}/pictures`,
      body: PNG,
      headers: BYTES,
    }),
    expected: managers(200),
  },
  'POST /api/moves': {
    ask: (s) => ({
      path: '/api/moves',
      body: { things: [placement(s.placement)], to: s.handed, before: null },
    }),
    expected: managers(200),
  },
  'POST /api/moves/back': {
    ask: (s) => ({
      path: '/api/moves/back',
      body: { from: [{ kind: 'placement', id: s.placement, folderId: s.handed, position: 1 }] },
    }),
    expected: managers(204),
  },
  'POST /api/consequences': {
    ask: (s) => ({
      path: '/api/consequences',
      body: { do: 'remove', things: [folder(s.inner)] },
    }),
    expected: managers(200),
  },
  'GET /api/bin': {
    ask: () => ({ path: '/api/bin' }),
    expected: signedIn(200),
  },
  'POST /api/bin': {
    ask: (s) => ({ path: '/api/bin', body: { things: [folder(s.handed)] } }),
    expected: managers(200),
  },
  'POST /api/bin/restore': {
    ask: async (s) => {
      await binned(s);
      return { path: '/api/bin/restore', body: { things: [folder(s.handed)] } };
    },
    expected: only({ owner: 200 }),
  },
  'POST /api/bin/empty': {
    ask: async (s) => {
      await binned(s);
      return { path: '/api/bin/empty', body: { things: [folder(s.handed)] } };
    },
    expected: only({ owner: 204 }),
  },
  'GET /api/layout': {
    ask: () => ({ path: '/api/layout' }),
    expected: staff(200),
  },
  'POST /api/layout': {
    ask: () => ({
      path: '/api/layout',
      body: {
        pattern: '{class}',
        purpose: '',
        outline: 'Unit',
        parentId: null,
        classIds: [classId],
        handOut: true,
      },
    }),
    expected: only({ owner: 200, 'student in': 403, joiner: 403, leaver: 403, 'student out': 403 }),
  },
  'GET /api/folders/:folder': {
    ask: (s) => ({ path: `/api/folders/${s.inner}` }),
    expected: readers(200),
  },
  'GET /api/folders/:folder/contents': {
    ask: (s) => ({ path: `/api/folders/${s.inner}/contents` }),
    expected: readers(200),
  },
  'GET /api/folders/:folder/reader': {
    ask: (s) => ({ path: `/api/folders/${s.handed}/reader` }),
    expected: readers(200),
  },
  'GET /api/open/:token/folders/:folder/reader': {
    ask: (s) => ({ path: `/api/open/${s.token}/folders/${s.handed}/reader` }),
    expected: everybody(200),
  },
  'GET /api/as/:as/:at/folders/:folder/reader': {
    ask: (s) => ({ path: `/api/as/class.${classId}/now/folders/${s.handed}/reader` }),
    expected: only({ owner: 200 }),
  },
  'GET /api/placements/:placement': {
    ask: (s) => ({ path: `/api/placements/${s.placement}` }),
    expected: readers(200),
  },
  'GET /api/placements/:placement/content': {
    ask: (s) => ({ path: `/api/placements/${s.placement}/content` }),
    expected: readers(200),
  },
  'GET /api/placements/:placement/versions': {
    ask: (s) => ({ path: `/api/placements/${s.placement}/versions` }),
    expected: managers(200),
  },
  'POST /api/placements/:placement/versions': {
    ask: (s) => ({
      path: `/api/placements/${s.placement}/versions`,
      body: { versionId: s.version },
    }),
    expected: managers(204),
  },
  'PUT /api/placements/:placement/opened': {
    ask: (s) => ({ path: `/api/placements/${s.placement}/opened` }),
    expected: readers(204),
  },
  'PUT /api/open/:token/placements/:placement/opened': {
    ask: (s) => ({ path: `/api/open/${s.token}/placements/${s.placement}/opened` }),
    expected: everybody(204),
  },
  'GET /api/folders/:folder/reach': {
    ask: (s) => ({ path: `/api/folders/${s.handed}/reach` }),
    expected: managers(200),
  },
  'GET /api/classes/:class/reach': {
    ask: () => ({ path: `/api/classes/${classId}/reach` }),
    expected: only({ owner: 200 }),
  },
  'GET /api/placements/:placement/reach': {
    ask: (s) => ({ path: `/api/placements/${s.placement}/reach` }),
    expected: managers(200),
  },
  'POST /api/placements/:placement/reach/notes': {
    ask: (s) => ({ path: `/api/placements/${s.placement}/reach/notes`, body: { body: 'Look' } }),
    expected: managers(201),
  },
  'GET /api/recorded': {
    ask: () => ({ path: '/api/recorded' }),
    expected: signedIn(200),
  },
  'GET /api/school/reach': {
    ask: () => ({ path: '/api/school/reach' }),
    expected: signedIn(200),
  },
  'PUT /api/school/reach': {
    ask: () => ({ path: '/api/school/reach', body: { level: 'names' } }),
    expected: signedIn(403, { office: 200 }),
  },
  'GET /api/open/:token': {
    ask: (s) => ({ path: `/api/open/${s.token}` }),
    expected: everybody(200),
  },
  'GET /api/open/:token/folders/:folder': {
    ask: (s) => ({ path: `/api/open/${s.token}/folders/${s.inner}` }),
    expected: everybody(200),
  },
  'GET /api/open/:token/folders/:folder/contents': {
    ask: (s) => ({ path: `/api/open/${s.token}/folders/${s.inner}/contents` }),
    expected: everybody(200),
  },
  'GET /api/open/:token/placements/:placement': {
    ask: (s) => ({ path: `/api/open/${s.token}/placements/${s.placement}` }),
    expected: everybody(200),
  },
  'GET /api/open/:token/placements/:placement/content': {
    ask: (s) => ({ path: `/api/open/${s.token}/placements/${s.placement}/content` }),
    expected: everybody(200),
  },
  'GET /api/intake': {
    ask: () => ({ path: '/api/intake' }),
    expected: signedIn(200),
  },
  'POST /api/uploads': {
    ask: (s) => ({
      path: '/api/uploads',
      headers: {
        ...TUS,
        'upload-length': '5',
        'upload-metadata': `filename ${btoa('a.txt')},folderId ${btoa(s.handed)}`,
      },
    }),
    expected: adders(201),
  },
  'HEAD /api/uploads/:upload': {
    ask: async (s) => ({ path: `/api/uploads/${await announced(s)}`, headers: TUS }),
    expected: only({ owner: 200 }),
  },
  'PATCH /api/uploads/:upload': {
    ask: async (s) => ({
      path: `/api/uploads/${await announced(s)}`,
      headers: { ...TUS, 'upload-offset': '0', 'content-type': 'application/offset+octet-stream' },
      body: 'bytes',
    }),
    expected: only({ owner: 204 }),
  },
  'DELETE /api/uploads/:upload': {
    ask: async (s) => ({ path: `/api/uploads/${await announced(s)}`, headers: TUS }),
    expected: only({ owner: 204 }),
  },
  'POST /api/folders/:folder/files': {
    ask: async (s) => ({
      path: `/api/folders/${s.handed}/files`,
      body: { uploadId: await send('owner', s.handed, 'Sent.txt', 'bytes', 5) },
    }),
    expected: only({ owner: 200, 'student in': 403 }),
  },
  'POST /api/intake/look': {
    ask: () => ({ path: '/api/intake/look', body: { sizes: [1] } }),
    expected: signedIn(200),
  },
  'POST /api/folders/:folder/known': {
    ask: (s) => ({
      path: `/api/folders/${s.handed}/known`,
      body: { name: 'Again.txt', hash: world.content.hash },
    }),
    expected: only({ owner: 200, 'student in': 403 }),
  },
  'POST /api/placed/:upload': {
    ask: async (s) => {
      await add('owner', s.handed, 'Twice.txt', `first ${s.handed}`);
      const { uploadId } = await add('owner', s.handed, 'Twice.txt', `second ${s.handed}`);
      return { path: `/api/placed/${uploadId}`, body: { choice: 'skip' } };
    },
    expected: only({ owner: 200 }),
  },
  'GET /api/folders/:folder/archive': {
    ask: (s) => ({ path: `/api/folders/${s.inner}/archive` }),
    expected: readers(200),
  },
  'GET /api/archive': {
    ask: (s) => ({ path: `/api/archive?things=placement.${s.placement},folder.${s.handed}` }),
    expected: readers(200),
  },
  'GET /api/open/:token/folders/:folder/archive': {
    ask: (s) => ({ path: `/api/open/${s.token}/folders/${s.inner}/archive` }),
    expected: everybody(200),
  },
  'GET /api/open/:token/archive': {
    ask: (s) => ({ path: `/api/open/${s.token}/archive?things=placement.${s.placement}` }),
    expected: everybody(200),
  },
  'GET /api/space': {
    ask: () => ({ path: '/api/space' }),
    expected: staff(200),
  },
  'GET /api/find': {
    ask: () => ({ path: '/api/find?words=inner' }),
    expected: signedIn(200),
  },
  'GET /api/find/filters': {
    ask: () => ({ path: '/api/find/filters' }),
    expected: signedIn(200),
  },
  'GET /api/placements/:placement/small': {
    ask: (s) => ({ path: `/api/placements/${s.placement}/small` }),
    expected: readers(200),
  },
  'GET /api/open/:token/placements/:placement/small': {
    ask: (s) => ({ path: `/api/open/${s.token}/placements/${s.placement}/small` }),
    expected: everybody(200),
  },
  'GET /api/placements/:placement/shown': {
    ask: (s) => ({ path: `/api/placements/${s.placement}/shown` }),
    expected: readers(200),
  },
  'GET /api/open/:token/placements/:placement/shown': {
    ask: (s) => ({ path: `/api/open/${s.token}/placements/${s.placement}/shown` }),
    expected: everybody(200),
  },
  'GET /api/folders/:folder/audience': {
    ask: (s) => ({ path: `/api/folders/${s.handed}/audience` }),
    expected: managers(200),
  },
  'GET /api/audiences': {
    ask: () => ({ path: '/api/audiences' }),
    expected: staff(200),
  },
  'POST /api/grants': {
    ask: (s) => ({
      path: '/api/grants',
      body: {
        things: [folder(s.handed)],
        audiences: [{ kind: 'class', id: world.classB }],
      },
    }),
    expected: managers(201),
  },
  'PUT /api/grants/:grant': {
    ask: (s) => ({
      path: `/api/grants/${s.grant}`,
      body: { level: 'view', from: null, until: null },
    }),
    expected: only({ owner: 200, manages: 200 }),
  },
  'POST /api/grants/take-back': {
    ask: (s) => ({ path: '/api/grants/take-back', body: { grants: [s.grant] } }),
    expected: only({ owner: 204, manages: 204 }),
  },
  'POST /api/grants/restore': {
    ask: async (s) => {
      await ask('owner', 'POST', '/api/grants/take-back', { grants: [s.grant] });
      return { path: '/api/grants/restore', body: { grants: [s.grant] } };
    },
    expected: only({ owner: 204, manages: 204 }),
  },
  'GET /api/folders/:folder/timing': {
    ask: (s) => ({ path: `/api/folders/${s.handed}/timing` }),
    expected: managers(200),
  },
  'GET /api/placements/:placement/timing': {
    ask: (s) => ({ path: `/api/placements/${s.placement}/timing` }),
    expected: managers(200),
  },
  'POST /api/releases': {
    ask: (s) => ({
      path: '/api/releases',
      body: {
        things: [placement(s.placement)],
        rules: [{ classId: null, release: HELD }],
      },
    }),
    expected: managers(200),
  },
  'POST /api/releases/back': {
    ask: (s) => ({
      path: '/api/releases/back',
      body: { before: [{ kind: 'folder', id: s.handed, classId: null, release: HELD }] },
    }),
    expected: managers(204),
  },
  'GET /api/board': {
    ask: () => ({ path: '/api/board' }),
    expected: staff(200),
  },
  'GET /api/why': {
    ask: (s) => ({ path: `/api/why?kind=folder&id=${s.handed}&as=class.${classId}` }),
    expected: managers(200),
  },
  'GET /api/tray': { ask: () => ({ path: '/api/tray' }), expected: teachers(200) },
  'POST /api/tray': {
    ask: async () => ({
      path: '/api/tray',
      body: { uploadId: await send('owner', 'tray', 'Sent.txt', 'bytes of the tray', 17) },
    }),
    expected: only({ owner: 200 }),
  },
  'POST /api/tray/known': {
    ask: () => ({
      path: '/api/tray/known',
      body: { name: 'Again.txt', hash: world.content.hash },
    }),
    expected: only({ owner: 200 }),
  },
  'PATCH /api/tray/:file': {
    ask: async () => ({ path: `/api/tray/${await trayFile()}`, body: { answer: null } }),
    expected: only({ owner: 204 }),
  },
  'GET /api/tray/:file/small': {
    ask: async () => ({ path: `/api/tray/${await trayFile()}/small` }),
    expected: only({ owner: 200 }),
  },
  'GET /api/tray/:file/content': {
    ask: async () => ({ path: `/api/tray/${await trayFile()}/content` }),
    expected: only({ owner: 200 }),
  },
  'POST /api/tray/remove': {
    ask: async () => ({ path: '/api/tray/remove', body: { files: [await trayFile()] } }),
    expected: only({ owner: 204, ...otherTeachers(409) }),
  },
  'POST /api/tray/restore': {
    ask: async () => {
      const files = [await trayFile()];
      await ask('owner', 'POST', '/api/tray/remove', { files });
      return { path: '/api/tray/restore', body: { files } };
    },
    expected: only({ owner: 204, ...otherTeachers(409) }),
  },
  'PUT /api/tray/rules': {
    ask: () => ({ path: '/api/tray/rules', body: TRAY_RULES }),
    expected: teachers(204),
  },
  'POST /api/tray/preview': {
    ask: async (s) => ({ path: '/api/tray/preview', body: { rows: [await roundRow(s)] } }),
    expected: only({ owner: 200, ...otherTeachers(409) }),
  },
  'POST /api/tray/rounds': {
    ask: async (s) => ({ path: '/api/tray/rounds', body: { rows: [await roundRow(s)] } }),
    expected: only({ owner: 200, ...otherTeachers(409) }),
  },
  'POST /api/tray/rounds/:round/back': {
    ask: async (s) => {
      const body = { rows: [await roundRow(s)] };
      const { roundId } = await ask<RoundDone>('owner', 'POST', '/api/tray/rounds', body);
      return { path: `/api/tray/rounds/${roundId}/back` };
    },
    expected: only({ owner: 204 }),
  },
  'GET /api/tray/rounds': { ask: () => ({ path: '/api/tray/rounds' }), expected: teachers(200) },
  'GET /api/folders/:folder/lessons': {
    ask: (s) => ({ path: `/api/folders/${s.handed}/lessons` }),
    expected: only({ owner: 200, manages: 200, adds: 200 }),
  },
  'POST /api/tray/next-unit': {
    ask: async (s) => {
      const { id } = await ask<{ id: string }>('owner', 'POST', '/api/folders', {
        ...{ parentId: s.handed, title: `Unit ${(units += 1)}` },
      });
      await ask('owner', 'PATCH', `/api/class-pages/${s.classX}`, { currentFolderId: id });
      return { path: '/api/tray/next-unit', body: { classId: s.classX } };
    },
    expected: only({ owner: 200 }),
  },
  'GET /api/tokens': { ask: () => ({ path: '/api/tokens' }), expected: withFolders(200) },
  'POST /api/tokens': {
    ask: () => ({ path: '/api/tokens', body: { name: 'Laptop', writes: true } }),
    expected: withFolders(200),
  },
  'DELETE /api/tokens/:programToken': {
    ask: async () => ({ path: `/api/tokens/${await token()}` }),
    expected: only({ owner: 204 }),
  },
  'POST /api/tokens/:programToken/restore': {
    ask: async () => {
      const id = await token();
      await ask('owner', 'DELETE', `/api/tokens/${id}`);
      return { path: `/api/tokens/${id}/restore` };
    },
    expected: only({ owner: 204 }),
  },
  'GET /api/waiting-moves': {
    ask: () => ({ path: '/api/waiting-moves' }),
    expected: signedIn(200),
  },
  'DELETE /api/waiting-moves/:waitingMove': {
    ask: async (s) => ({ path: `/api/waiting-moves/${await waitingMove(s)}` }),
    expected: only({ owner: 204 }),
  },
  'GET /api/timetable': { ask: () => ({ path: '/api/timetable' }), expected: teachers(200) },
  'PUT /api/classes/:class/lessons': {
    ask: (s) => ({
      path: `/api/classes/${s.classX}/lessons`,
      body: { lessons: [{ weekday: 2, period: 1 }] },
    }),
    expected: only({ owner: 204, office: 204 }),
  },
  'POST /api/timetable/calendar': {
    ask: () => ({ path: '/api/timetable/calendar', body: { text: CALENDAR } }),
    expected: teachers(200),
  },
  'GET /api/log': {
    ask: (s) => ({ path: `/api/log?folder=${s.handed}&thing=handed&day=2026-11-30` }),
    expected: staff(200),
  },
  'GET /api/school': {
    ask: () => ({ path: '/api/school' }),
    expected: only({ office: 200 }),
  },
  'PUT /api/school': {
    ask: () => ({ path: '/api/school', body: { name: 'Harbour Road', language: 'de' } }),
    expected: only({ office: 204 }),
  },
  'GET /api/people': {
    ask: () => ({ path: '/api/people?words=owner' }),
    expected: only({ office: 200 }),
  },
  'GET /api/people/:person': {
    ask: (s) => ({ path: `/api/people/${s.pupil}` }),
    expected: only({ office: 200 }),
  },
  'POST /api/people': {
    ask: () => ({ path: '/api/people', body: { kind: 'teacher', name: 'New', email: null } }),
    expected: only({ office: 201 }),
  },
  'PATCH /api/people/:person': {
    ask: (s) => ({ path: `/api/people/${s.pupil}`, body: { name: 'Renamed' } }),
    expected: only({ office: 204 }),
  },
  'POST /api/people/invitations': {
    ask: (s) => ({ path: '/api/people/invitations', body: { people: [s.pupil] } }),
    expected: only({ office: 200 }),
  },
  'POST /api/people/slips': {
    ask: (s) => ({ path: '/api/people/slips', body: { people: [s.pupil] } }),
    expected: only({ office: 200 }),
  },
  'PUT /api/people/:person/deactivated': {
    ask: (s) => ({ path: `/api/people/${s.pupil}/deactivated` }),
    expected: only({ office: 204 }),
  },
  'DELETE /api/people/:person/deactivated': {
    ask: (s) => ({ path: `/api/people/${s.pupil}/deactivated` }),
    expected: only({ office: 204 }),
  },
  'GET /api/years': { ask: () => ({ path: '/api/years' }), expected: only({ office: 200 }) },
  'GET /api/years/:year/next': {
    ask: () => ({ path: `/api/years/${world.yearId}/next` }),
    expected: only({ office: 200 }),
  },
  'POST /api/years': {
    ask: () => ({
      path: '/api/years',
      body: {
        ...{ label: randomUUID(), firstDay: '2027-08-30', lastDay: '2028-07-08' },
        courses: [],
      },
    }),
    expected: only({ office: 201 }),
  },
  'PATCH /api/years/:year': {
    ask: () => ({
      path: `/api/years/${world.yearId}`,
      body: { label: '2026/27', firstDay: '2026-08-31', lastDay: '2027-07-09' },
    }),
    expected: only({ office: 204 }),
  },
  'GET /api/years/:year/closing': {
    ask: () => ({ path: `/api/years/${world.yearId}/closing` }),
    expected: only({ office: 200 }),
  },
  'PUT /api/years/:year/closed': {
    ask: async () => ({ path: `/api/years/${await emptyYear()}/closed` }),
    expected: only({ office: 204 }),
  },
  'DELETE /api/years/:year/closed': {
    ask: async () => ({ path: `/api/years/${await emptyYear()}/closed` }),
    expected: only({ office: 204 }),
  },
  'GET /api/carry-over': { ask: () => ({ path: '/api/carry-over' }), expected: staff(200) },
  'POST /api/carry-over/preview': {
    ask: async (s) => ({ path: '/api/carry-over/preview', body: await carryPlan(s) }),
    // Whoever may change the folder still may not take it into their own library.
    expected: only({ owner: 200, manages: 403, adds: 403, 'student in': 404 }),
  },
  'POST /api/carry-over': {
    ask: async (s) => ({ path: '/api/carry-over', body: await carryPlan(s) }),
    expected: only({ owner: 201, manages: 403, adds: 403, 'student in': 404 }),
  },
  'GET /api/carry-over/:carryOver': {
    ask: async (s) => ({ path: `/api/carry-over/${await carriedOver(s)}` }),
    expected: only({ owner: 200 }),
  },
  'DELETE /api/carry-over/:carryOver': {
    ask: async (s) => ({ path: `/api/carry-over/${await carriedOver(s)}` }),
    expected: only({ owner: 204 }),
  },
  'GET /api/carry-over/:carryOver/marks': {
    ask: async (s) => ({ path: `/api/carry-over/${await carriedOver(s)}/marks` }),
    expected: only({ owner: 200 }),
  },
  'POST /api/carry-over/:carryOver/marks': {
    ask: async (s) => ({
      path: `/api/carry-over/${await carriedOver(s)}/marks`,
      body: { ids: null, mend: false },
    }),
    expected: only({ owner: 200 }),
  },
  'GET /api/people/:person/things': {
    ask: () => ({ path: `/api/people/${world.ids.colleague}/things` }),
    expected: only({ office: 200 }),
  },
  'POST /api/people/:person/hand-over': {
    ask: async () => ({
      path: `/api/people/${await leaving()}/hand-over`,
      body: { to: world.ids.colleague },
    }),
    expected: only({ office: 201 }),
  },
  'GET /api/people/:person/merge': {
    ask: async (s) => ({ path: `/api/people/${s.pupil}/merge?other=${await newPupil()}` }),
    expected: only({ office: 200 }),
  },
  'POST /api/people/:person/merge': {
    ask: async (s) => ({
      path: `/api/people/${s.pupil}/merge`,
      body: { other: await newPupil() },
    }),
    expected: only({ office: 204 }),
  },
  'GET /api/people/:person/erasure': {
    ask: async () => ({ path: `/api/people/${await gonePupil()}/erasure` }),
    expected: only({ office: 200 }),
  },
  'DELETE /api/people/:person': {
    ask: async () => ({ path: `/api/people/${await gonePupil()}` }),
    expected: only({ office: 204 }),
  },
  'DELETE /api/hand-overs/:handOver': {
    ask: async () => {
      const { id } = await ask<{ id: string }>(
        'office',
        'POST',
        `/api/people/${await leaving()}/hand-over`,
        { to: world.ids.colleague },
      );
      return { path: `/api/hand-overs/${id}` };
    },
    expected: only({ office: 204 }),
  },
  'GET /api/school-days': {
    ask: () => ({ path: '/api/school-days' }),
    expected: staff(200),
  },
  'PUT /api/school-days': {
    ask: () => ({ path: '/api/school-days', body: { days: [] } }),
    expected: only({ office: 204 }),
  },
  'POST /api/school-days/calendar': {
    ask: () => ({ path: '/api/school-days/calendar', body: { text: CALENDAR } }),
    expected: only({ office: 200 }),
  },
  'GET /api/today': {
    ask: () => ({ path: '/api/today' }),
    expected: staff(200),
  },
  'GET /api/doors': {
    ask: () => ({ path: '/api/doors' }),
    expected: signedIn(200),
  },
  'POST /api/doors': {
    ask: (s) => ({
      path: '/api/doors',
      body: { thing: folder(s.inner), kind: 'public' },
    }),
    expected: managers(201),
  },
  'PATCH /api/doors/:door': {
    ask: (s) => ({ path: `/api/doors/${s.door}`, body: { short: true } }),
    expected: only({ owner: 200, manages: 200 }),
  },
  'DELETE /api/doors/:door': {
    ask: (s) => ({ path: `/api/doors/${s.door}` }),
    expected: only({ owner: 204, manages: 204 }),
  },
  'POST /api/doors/:door/reopen': {
    ask: async (s) => {
      await ask('owner', 'DELETE', `/api/doors/${s.door}`);
      return { path: `/api/doors/${s.door}/reopen` };
    },
    expected: only({ owner: 200, manages: 200 }),
  },
  'GET /api/doors/:door/code.:form': {
    ask: (s) => ({ path: `/api/doors/${s.door}/code.svg` }),
    expected: only({ owner: 200, manages: 200 }),
  },
  'POST /api/open/:token/word': {
    ask: async (s) => {
      await ask('owner', 'PATCH', `/api/doors/${s.door}`, { word: 'meadow' });
      return { path: `/api/open/${s.token}/word`, body: { word: 'meadow' } };
    },
    expected: everybody(204),
  },
  'POST /api/open/:token/requests': {
    ask: (s) => ({ path: `/api/open/${s.token}/requests`, body: { message: 'Please' } }),
    expected: signedIn(204, { 'other school': 404 }),
  },
  'GET /api/oembed': {
    ask: async (s) => {
      const { doors } = await ask<Doors>('owner', 'GET', '/api/doors');
      const url = doors.find(({ id }) => id === s.door)!.address;
      return { path: `/api/oembed?url=${encodeURIComponent(url)}` };
    },
    expected: everybody(200),
  },
  'GET /api/at/:typed': {
    ask: async (s) => {
      const door = await ask<Door>('owner', 'PATCH', `/api/doors/${s.door}`, { short: true });
      return { path: `/api/at/${door.shortAddress!.split('/').at(-1)!}` };
    },
    expected: everybody(200),
  },
  'GET /api/folders/:folder/wall': {
    ask: (s) => ({ path: `/api/folders/${s.handed}/wall` }),
    expected: signedIn(200, { owner: 404, 'other school': 404 }),
  },
  'GET /api/placements/:placement/wall': {
    ask: (s) => ({ path: `/api/placements/${s.placement}/wall` }),
    expected: signedIn(200, { owner: 404, 'other school': 404 }),
  },
  'POST /api/requests': {
    ask: (s) => ({ path: '/api/requests', body: { thing: folder(s.handed) } }),
    expected: signedIn(204, { owner: 404, 'other school': 404 }),
  },
  'POST /api/requests/:request/answer': {
    ask: async (s) => ({
      path: `/api/requests/${await requested(s)}/answer`,
      body: { answer: 'no' },
    }),
    expected: only({ owner: 200 }),
  },
  'POST /api/requests/:request/reopen': {
    ask: async (s) => {
      const request = await requested(s);
      await ask('owner', 'POST', `/api/requests/${request}/answer`, { answer: 'no' });
      return { path: `/api/requests/${request}/reopen` };
    },
    expected: only({ owner: 204 }),
  },
  'GET /api/courses': {
    ask: () => ({ path: '/api/courses' }),
    expected: staff(200),
  },
  'POST /api/courses': {
    ask: () => ({
      path: '/api/courses',
      body: { title: 'New', colour: 'leaf', yearId: world.yearId },
    }),
    expected: staff(201, { 'other school': 404 }),
  },
  'GET /api/boxes': { ask: () => ({ path: '/api/boxes' }), expected: signedIn(200) },
  'POST /api/boxes': {
    ask: (s) => ({ path: '/api/boxes', body: { title: 'Soil log', classIds: [s.classX] } }),
    expected: only({ owner: 201 }),
  },
  'GET /api/box-archive': {
    ask: async () => ({ path: `/api/box-archive?boxes=${await box()}` }),
    expected: only({ owner: 200 }),
  },
  'POST /api/boxes/clear': {
    ask: async () => {
      const id = await box();
      await ask('owner', 'PATCH', `/api/boxes/${id}`, { closed: true });
      return { path: '/api/boxes/clear', body: { boxes: [id], clear: true } };
    },
    expected: only({ owner: 204 }),
  },
  'GET /api/boxes/:box': {
    ask: async () => ({ path: `/api/boxes/${await box()}` }),
    expected: only({ owner: 200 }),
  },
  'PATCH /api/boxes/:box': {
    ask: async () => ({ path: `/api/boxes/${await box()}`, body: { text: 'Each week' } }),
    expected: only({ owner: 204 }),
  },
  'DELETE /api/boxes/:box': {
    ask: async () => ({ path: `/api/boxes/${await box()}` }),
    expected: only({ owner: 204 }),
  },
  'POST /api/boxes/:box/back': {
    ask: async () => {
      const id = await box();
      await ask('owner', 'DELETE', `/api/boxes/${id}`);
      return { path: `/api/boxes/${id}/back` };
    },
    expected: only({ owner: 204 }),
  },
  'GET /api/boxes/:box/copies': {
    ask: async () => ({ path: `/api/boxes/${await box()}/copies` }),
    expected: only({ owner: 200 }),
  },
  'POST /api/boxes/:box/copies': {
    ask: async (s) => ({
      path: `/api/boxes/${await box()}/copies`,
      body: { placement: s.placement },
    }),
    expected: only({ owner: 201 }),
  },
  'DELETE /api/copies/:copies': {
    ask: async (s) => {
      const path = `/api/boxes/${await box()}/copies`;
      const { id } = await ask<{ id: string }>('owner', 'POST', path, { placement: s.placement });
      return { path: `/api/copies/${id}` };
    },
    expected: only({ owner: 200 }),
  },
  'GET /api/places/:place': {
    ask: async () => ({ path: `/api/places/${await placeIn()}` }),
    expected: only({ owner: 200, 'student in': 200 }),
  },
  'GET /api/placements/:placement/remarks': {
    ask: async () => ({ path: `/api/placements/${await handedIn()}/remarks` }),
    expected: only({ owner: 200, 'student in': 200 }),
  },
  'POST /api/placements/:placement/remarks': {
    ask: async () => ({
      path: `/api/placements/${await handedIn()}/remarks`,
      body: { body: 'Well measured.', point: { page: 1, x: 0.5, y: 0.25 } },
    }),
    expected: only({ owner: 201, 'student in': 201 }),
  },
  'PUT /api/placements/:placement/remarks/read': {
    ask: async () => ({ path: `/api/placements/${await handedIn()}/remarks/read` }),
    expected: only({ owner: 204, 'student in': 204 }),
  },
  'PATCH /api/remarks/:remark': {
    ask: async () => ({ path: `/api/remarks/${await remark()}`, body: { body: 'Which day?' } }),
    expected: only({ owner: 204, 'student in': 403 }),
  },
  'DELETE /api/remarks/:remark': {
    ask: async () => ({ path: `/api/remarks/${await remark()}` }),
    expected: only({ owner: 204, 'student in': 403 }),
  },
  'POST /api/remarks/:remark/back': {
    ask: async () => {
      const id = await remark();
      await ask('owner', 'DELETE', `/api/remarks/${id}`);
      return { path: `/api/remarks/${id}/back` };
    },
    expected: only({ owner: 204 }),
  },
  'GET /api/phrases': { ask: () => ({ path: '/api/phrases' }), expected: teachers(200) },
  'PUT /api/phrases': {
    ask: () => ({ path: '/api/phrases', body: { phrases: ['The unit is missing.'] } }),
    expected: teachers(204),
  },
  'GET /api/class-pages/:class': {
    ask: () => ({ path: `/api/class-pages/${classId}` }),
    expected: only({ 'student in': 200 }),
  },
  'GET /api/as/:as/:at/class-pages/:class': {
    ask: (s) => ({ path: `/api/as/class.${s.classX}/now/class-pages/${s.classX}` }),
    expected: staff(200, { 'other school': 404 }),
  },
  'GET /api/class-pages/:class/edited': {
    ask: (s) => ({ path: `/api/class-pages/${s.classX}/edited` }),
    expected: only({ owner: 200 }),
  },
  'GET /api/class-pages/:class/earlier': {
    ask: (s) => ({ path: `/api/class-pages/${s.classX}/earlier?words=unit` }),
    expected: only({ owner: 200 }),
  },
  'GET /api/class-pages/:class/website': {
    ask: (s) => ({ path: `/api/class-pages/${s.classX}/website` }),
    expected: only({ owner: 200 }),
  },
  'PUT /api/class-pages/:class/website': {
    ask: (s) => ({ path: `/api/class-pages/${s.classX}/website`, body: WEBSITE }),
    expected: only({ owner: 200 }),
  },
  'GET /api/open/:token/website': {
    ask: async (s) => ({ path: `/api/open/${await website(s)}/website` }),
    expected: everybody(200),
  },
  'GET /api/open/:token/website/live': {
    ask: async (s) => ({ path: `/api/open/${await website(s)}/website/live` }),
    expected: everybody(200),
  },
  'PATCH /api/class-pages/:class': {
    ask: (s) => ({ path: `/api/class-pages/${s.classX}`, body: { numbered: true } }),
    expected: only({ owner: 204 }),
  },
  'POST /api/class-pages/:class/headings': {
    ask: (s) => ({ path: `/api/class-pages/${s.classX}/headings`, body: { title: 'Unit' } }),
    expected: only({ owner: 201 }),
  },
  'PATCH /api/headings/:heading': {
    ask: async (s) => ({ path: `/api/headings/${await heading(s)}`, body: { title: 'Other' } }),
    expected: only({ owner: 204 }),
  },
  'POST /api/headings/:heading/move': {
    ask: async (s) => ({ path: `/api/headings/${await heading(s)}/move`, body: { before: null } }),
    expected: only({ owner: 204 }),
  },
  'DELETE /api/headings/:heading': {
    ask: async (s) => ({ path: `/api/headings/${await heading(s)}` }),
    expected: only({ owner: 204 }),
  },
  'POST /api/headings/:heading/restore': {
    ask: async (s) => {
      const id = await heading(s);
      await ask('owner', 'DELETE', `/api/headings/${id}`);
      return { path: `/api/headings/${id}/restore` };
    },
    expected: only({ owner: 204 }),
  },
  'POST /api/entries': {
    ask: (s) => ({
      path: '/api/entries',
      body: { title: 'Lesson', things: [folder(s.handed)], on: [{ classId: s.classX }] },
    }),
    // To whom the folder is there it is said that they may not hand it out.
    expected: only({ owner: 201, manages: 404, adds: 403, 'student in': 403 }),
  },
  'PATCH /api/entries/:entry': {
    ask: async (s) => ({ path: `/api/entries/${(await entry(s)).id}`, body: { text: 'Read.' } }),
    expected: only({ owner: 204 }),
  },
  'POST /api/entries/:entry/appearances': {
    ask: async (s) => ({
      path: `/api/entries/${(await entry(s)).id}/appearances`,
      body: { on: [{ classId: s.classY }] },
    }),
    expected: only({ owner: 201 }),
  },
  'POST /api/entries/consequences': {
    ask: async (s) => ({
      path: '/api/entries/consequences',
      body: { do: 'take-back-everywhere', entry: (await entry(s)).id },
    }),
    expected: only({ owner: 200 }),
  },
  'PATCH /api/entries/:entry/appearances': {
    ask: async (s) => ({
      path: `/api/entries/${(await entry(s)).id}/appearances`,
      body: { release: HELD },
    }),
    expected: only({ owner: 200 }),
  },
  'DELETE /api/entries/:entry/appearances': {
    ask: async (s) => ({ path: `/api/entries/${(await entry(s)).id}/appearances` }),
    expected: only({ owner: 200 }),
  },
  'PATCH /api/appearances/:appearance': {
    ask: async (s) => ({
      path: `/api/appearances/${(await entry(s)).appearances[0]!}`,
      body: { keepOnTop: true },
    }),
    expected: only({ owner: 204 }),
  },
  'POST /api/appearances/:appearance/move': {
    ask: async (s) => ({
      path: `/api/appearances/${(await entry(s)).appearances[0]!}/move`,
      body: { headingId: null, before: null },
    }),
    expected: only({ owner: 204 }),
  },
  'DELETE /api/appearances/:appearance': {
    ask: async (s) => ({ path: `/api/appearances/${(await entry(s)).appearances[0]!}` }),
    expected: only({ owner: 204 }),
  },
  'POST /api/appearances/:appearance/restore': {
    ask: async (s) => {
      const id = (await entry(s)).appearances[0]!;
      await ask('owner', 'DELETE', `/api/appearances/${id}`);
      return { path: `/api/appearances/${id}/restore` };
    },
    expected: only({ owner: 204 }),
  },
  'PATCH /api/courses/:course': {
    ask: (s) => ({ path: `/api/courses/${s.course}`, body: { colour: 'rose' } }),
    expected: only({ owner: 204, office: 204 }),
  },
  'GET /api/courses/:course/removal': {
    ask: (s) => ({ path: `/api/courses/${s.course}/removal` }),
    expected: only({ owner: 200, office: 200 }),
  },
  'DELETE /api/courses/:course': {
    ask: (s) => ({ path: `/api/courses/${s.course}` }),
    expected: only({ owner: 204, office: 204 }),
  },
  'POST /api/courses/:course/restore': {
    ask: async (s) => {
      await ask('owner', 'DELETE', `/api/courses/${s.course}`);
      return { path: `/api/courses/${s.course}/restore` };
    },
    expected: only({ owner: 204, office: 204 }),
  },
  'POST /api/classes': {
    ask: (s) => ({
      path: '/api/classes',
      body: { courseId: s.course, code: s.course.slice(0, 8), colour: 'leaf' },
    }),
    expected: only({ owner: 201, office: 201 }),
  },
  'GET /api/classes/:class': {
    ask: (s) => ({ path: `/api/classes/${s.classX}` }),
    expected: only({ owner: 200, office: 200 }),
  },
  'PATCH /api/classes/:class': {
    ask: (s) => ({ path: `/api/classes/${s.classX}`, body: { colour: 'rose' } }),
    expected: only({ owner: 204, office: 204 }),
  },
  'GET /api/classes/:class/removal': {
    ask: (s) => ({ path: `/api/classes/${s.classX}/removal` }),
    expected: only({ owner: 200, office: 200 }),
  },
  'DELETE /api/classes/:class': {
    ask: (s) => ({ path: `/api/classes/${s.classX}` }),
    expected: only({ owner: 204, office: 204 }),
  },
  'POST /api/classes/:class/restore': {
    ask: async (s) => {
      await ask('owner', 'DELETE', `/api/classes/${s.classX}`);
      return { path: `/api/classes/${s.classX}/restore` };
    },
    expected: only({ owner: 204, office: 204 }),
  },
  'POST /api/classes/:class/list/preview': {
    ask: (s) => ({
      path: `/api/classes/${s.classX}/list/preview`,
      headers: BYTES,
      body: 'Mina Kovarik',
    }),
    expected: only({ owner: 200, office: 200 }),
  },
  'POST /api/classes/:class/list': {
    ask: (s) => ({ path: `/api/classes/${s.classX}/list`, body: { rows: [] } }),
    expected: only({ owner: 200, office: 200 }),
  },
  'POST /api/classes/:class/list/undo': {
    ask: (s) => ({
      path: `/api/classes/${s.classX}/list/undo`,
      body: { joined: [s.membership], before: [] },
    }),
    expected: only({ owner: 204, office: 204 }),
  },
  'POST /api/classes/:class/members/preview': {
    ask: (s) => ({
      path: `/api/classes/${s.classX}/members/preview`,
      body: { memberships: [s.membership] },
    }),
    expected: only({ owner: 200, office: 200 }),
  },
  'PATCH /api/memberships/:membership': {
    ask: (s) => ({
      path: `/api/memberships/${s.membership}`,
      body: { from: '2026-09-01', until: null },
    }),
    expected: only({ owner: 204, office: 204 }),
  },
  'POST /api/memberships/:membership/move': {
    ask: (s) => ({ path: `/api/memberships/${s.membership}/move`, body: { classId: s.classY } }),
    expected: only({ owner: 200, office: 200 }),
  },
  'POST /api/classes/:class/invitations': {
    ask: (s) => ({ path: `/api/classes/${s.classX}/invitations`, body: { people: [s.pupil] } }),
    expected: only({ owner: 200, office: 200 }),
  },
  'POST /api/classes/:class/slips': {
    ask: (s) => ({ path: `/api/classes/${s.classX}/slips`, body: { people: [s.pupil] } }),
    expected: only({ owner: 200, office: 200 }),
  },
  'GET /api/oneroster': {
    ask: () => ({ path: '/api/oneroster' }),
    expected: staff(200, { 'other school': 404 }),
  },
  'POST /api/oneroster': {
    ask: async () => {
      const saved = await call('office', 'GET', '/api/oneroster');
      return { path: '/api/oneroster?take=no', headers: BYTES, body: await saved.arrayBuffer() };
    },
    expected: only({ office: 200 }),
  },
  'GET /api/confidential': {
    ask: () => ({ path: '/api/confidential' }),
    expected: signedIn(200),
  },
  'PUT /api/confidential': {
    ask: () => ({ path: '/api/confidential', body: { words: [] } }),
    expected: staff(204),
  },
  'GET /api/notes': {
    ask: () => ({ path: '/api/notes' }),
    expected: signedIn(200),
  },
  'POST /api/grants/:grant/notes': {
    ask: (s) => ({ path: `/api/grants/${s.grant}/notes`, body: { body: 'Hello' } }),
    expected: only({ owner: 201, manages: 201 }),
  },
  'POST /api/notes/:note/again': {
    ask: async (s) => {
      await ask('owner', 'POST', `/api/grants/${s.grant}/notes`, { body: 'Hello' });
      const { notes } = await ask<SentNotes>('owner', 'GET', '/api/notes');
      return { path: `/api/notes/${notes[0]!.id}/again` };
    },
    expected: only({ owner: 204 }),
  },
  'GET /api/post-room': {
    ask: () => ({ path: '/api/post-room' }),
    expected: everybody(200),
  },
  'POST /api/session/forgotten': {
    ask: async () => {
      await db.delete(rateLimits);
      return { path: '/api/session/forgotten', body: { email: mail('nobody') } };
    },
    expected: everybody(204),
  },
  'POST /api/session/password': {
    ask: async (s) => {
      const token = await passwordToken(db, s.pupil, 'password', clock.now);
      return { path: '/api/session/password', body: { token, password: 'a sentence of mine' } };
    },
    expected: everybody(204),
  },
  'PUT /api/new/digest': {
    ask: () => ({ path: '/api/new/digest', body: { digest: false } }),
    expected: signedIn(204),
  },
  'GET /api/staff-room': {
    ask: () => ({ path: '/api/staff-room' }),
    expected: signedIn(200),
  },
  'GET /api/as/:as/:at/folders/:folder': {
    ask: (s) => ({ path: `/api/as/class.${classId}/now/folders/${s.handed}` }),
    expected: only({ owner: 200 }),
  },
  'GET /api/as/:as/:at/folders/:folder/contents': {
    ask: (s) => ({ path: `/api/as/class.${classId}/now/folders/${s.inner}/contents` }),
    expected: only({ owner: 200 }),
  },
  'GET /api/as/:as/:at/folders/:folder/archive': {
    ask: (s) => ({ path: `/api/as/class.${classId}/now/folders/${s.inner}/archive` }),
    expected: only({ owner: 200 }),
  },
  'GET /api/as/:as/:at/archive': {
    ask: (s) => ({
      path: `/api/as/class.${classId}/now/archive?things=placement.${s.placement}`,
    }),
    expected: only({ owner: 200 }),
  },
  'GET /api/as/:as/:at/placements/:placement': {
    ask: (s) => ({ path: `/api/as/class.${classId}/now/placements/${s.placement}` }),
    expected: only({ owner: 200 }),
  },
  'GET /api/as/:as/:at/placements/:placement/content': {
    ask: (s) => ({ path: `/api/as/class.${classId}/now/placements/${s.placement}/content` }),
    expected: only({ owner: 200 }),
  },
  'GET /api/as/:as/:at/placements/:placement/small': {
    ask: (s) => ({ path: `/api/as/class.${classId}/now/placements/${s.placement}/small` }),
    expected: only({ owner: 200 }),
  },
  'GET /api/as/:as/:at/placements/:placement/shown': {
    ask: (s) => ({ path: `/api/as/class.${classId}/now/placements/${s.placement}/shown` }),
    expected: only({ owner: 200 }),
  },
  'GET /api/as/:as/:at/new': {
    ask: () => ({ path: `/api/as/class.${classId}/now/new` }),
    expected: staff(200, { 'other school': 404 }),
  },
  'GET /api/as/:as/:at/classes': {
    ask: () => ({ path: `/api/as/class.${classId}/now/classes` }),
    expected: staff(200, { 'other school': 404 }),
  },
  'GET /api/as/:as/:at/staff-room': {
    ask: () => ({ path: `/api/as/class.${classId}/now/staff-room` }),
    expected: staff(200, { 'other school': 404 }),
  },
  'GET /api/as/:as/:at/name': {
    ask: () => ({ path: `/api/as/class.${classId}/now/name` }),
    expected: staff(200, { 'other school': 404 }),
  },
  'GET /api/new': {
    ask: () => ({ path: '/api/new' }),
    expected: signedIn(200),
  },
  'GET /api/classes': {
    ask: () => ({ path: '/api/classes' }),
    expected: signedIn(200),
  },
  'GET /api/folders/:folder/live': {
    ask: (s) => ({ path: `/api/folders/${s.inner}/live` }),
    expected: readers(200),
  },
  'GET /api/placements/:placement/live': {
    ask: (s) => ({ path: `/api/placements/${s.placement}/live` }),
    expected: readers(200),
  },
  'GET /api/open/:token/folders/:folder/live': {
    ask: (s) => ({ path: `/api/open/${s.token}/folders/${s.inner}/live` }),
    expected: everybody(200),
  },
  'GET /api/open/:token/placements/:placement/live': {
    ask: (s) => ({ path: `/api/open/${s.token}/placements/${s.placement}/live` }),
    expected: everybody(200),
  },
  'GET /api/new/live': {
    ask: () => ({ path: '/api/new/live' }),
    expected: signedIn(200),
  },
  'PUT /api/new/marked': {
    ask: () => ({ path: '/api/new/marked', body: { until: new Date().toISOString() } }),
    expected: signedIn(200),
  },
  'DELETE /api/new/marked/:at': {
    ask: () => ({ path: `/api/new/marked/${new Date().toISOString()}` }),
    expected: signedIn(204),
  },
  'GET /api/kept': {
    ask: () => ({ path: '/api/kept' }),
    expected: signedIn(200),
  },
  'POST /api/kept': {
    ask: (s) => ({ path: '/api/kept', body: folder(s.handed) }),
    expected: readers(200),
  },
  'POST /api/open/:token/kept': {
    ask: (s) => ({ path: `/api/open/${s.token}/kept`, body: folder(s.handed) }),
    expected: signedIn(200, { 'other school': 404 }),
  },
  'PUT /api/kept/order': {
    ask: async (s) => ({ path: '/api/kept/order', body: { ids: [(await keeps(s)).id] } }),
    expected: signedIn(204),
  },
  'DELETE /api/kept/:kept': {
    ask: async (s) => ({ path: `/api/kept/${(await keeps(s)).id}` }),
    expected: only({ 'student in': 204 }),
  },
  'GET /api/feeds': {
    ask: () => ({ path: '/api/feeds' }),
    expected: signedIn(200),
  },
  'POST /api/feeds': {
    ask: () => ({ path: '/api/feeds', body: { classId: classId } }),
    expected: only({ 'student in': 200 }),
  },
  'DELETE /api/feeds/:feed': {
    ask: async () => ({ path: `/api/feeds/${(await feed()).id}` }),
    expected: only({ 'student in': 204 }),
  },
  'GET /api/feeds/:token/atom.xml': {
    ask: async () => ({ path: `/api/feeds/${tokenOf(await feed())}/atom.xml` }),
    expected: everybody(200),
  },
  'GET /api/feeds/:token/calendar.ics': {
    ask: async () => {
      const calendar = await ask<Feed>('owner', 'POST', '/api/feeds', { classId: null });
      return { path: `/api/feeds/${tokenOf(calendar)}/calendar.ics` };
    },
    expected: everybody(200),
  },
  'GET /api/open/:token/atom.xml': {
    ask: (s) => ({ path: `/api/open/${s.token}/atom.xml` }),
    expected: everybody(200),
  },
  'POST /api/desk': {
    ask: () => ({ path: '/api/desk' }),
    expected: only({ 'student in': 200, joiner: 200, leaver: 200, 'student out': 200 }),
  },
  'POST /api/copies': {
    ask: (s) => ({
      path: '/api/copies',
      body: { things: [placement(s.placement)], to: null },
    }),
    expected: only({ 'student in': 200 }),
  },
  'POST /api/open/:token/copies': {
    ask: (s) => ({
      path: `/api/open/${s.token}/copies`,
      body: { things: [placement(s.placement)], to: null },
    }),
    expected: only({ 'student in': 200, joiner: 200, leaver: 200, 'student out': 200 }),
  },
  'GET /api/folders/:folder/origins': {
    ask: (s) => ({ path: `/api/folders/${s.inner}/origins` }),
    expected: only({ owner: 200, manages: 403, adds: 403, 'student in': 403 }),
  },
  'POST /api/placements/:placement/renew': {
    ask: async (s) => {
      const body = { things: [placement(s.placement)], to: null };
      const { things } = await ask<Copied>('student in', 'POST', '/api/copies', body);
      await add('owner', s.inner, 'Böden 土壌.txt', `newer ${s.handed}`);
      return { path: `/api/placements/${things[0]!.id}/renew` };
    },
    expected: only({ 'student in': 204 }),
  },
};
