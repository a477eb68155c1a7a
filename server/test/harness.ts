import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { hash } from '@node-rs/argon2';
import {
  COMMON_ERRORS,
  ROUTES,
  type ErrorCode,
  type Problem,
  type Route,
  type Session,
} from '@sammlung/contract';
import { eq } from 'drizzle-orm';
import { buildApp } from '../src/app.ts';
import * as s from '../src/db/schema/index.ts';
import { newToken } from '../src/platform/tokens.ts';
import { openLog } from '../src/platform/log.ts';
import { DiskStorage } from '../src/platform/storage.ts';
import type { Settings } from '../src/settings.ts';
import { scratchDatabase } from './database.ts';

export type Who =
  | 'owner'
  | 'office'
  | 'colleague'
  | 'student in'
  | 'student out'
  | 'other school'
  | Enrolled
  | 'visitor with door'
  | 'visitor without';

/** Further people of the first school, whom a test enrols by itself. */
export type Enrolled = 'adds' | 'manages' | 'joiner' | 'leaver';

const PEOPLE = {
  owner: { school: 0, kind: 'teacher' },
  colleague: { school: 0, kind: 'teacher' },
  office: { school: 0, kind: 'office' },
  'student in': { school: 0, kind: 'student' },
  'student out': { school: 0, kind: 'student' },
  'other school': { school: 1, kind: 'teacher' },
} as const;

type Known = keyof typeof PEOPLE | Enrolled;

const PASSWORD = 'correct horse';
const passwordHash = hash(PASSWORD, { memoryCost: 8, timeCost: 1 });

/** The whole server on a port of its own, with two schools; `call` sends a request as one of the people. */
export async function startServer(more: Partial<Settings> = {}) {
  const database = await scratchDatabase();
  const { db, pool } = database;
  const data = mkdtempSync(join(tmpdir(), 'sammlung-data-'));
  const settings: Settings = {
    port: 0,
    host: '127.0.0.1',
    proxies: 0,
    data,
    databaseUrl: database.url,
    web: null,
    address: null,
    sample: false,
    uploadLimit: 50_000_000,
    teacherQuota: 1_000_000_000,
    studentQuota: 1_000_000,
    sendfile: 'no',
    diskReserve: 0,
    unconfined: false,
    smtp: null,
    postRoom: false,
    websitePort: 0,
    ...{ provider: null, providerPort: 0, passwords: 'all' },
    ...{ metrics: null, log: 'warn' },
    language: 'en',
    mailFrom: 'sammlung@example.org',
    ...more,
  };
  const clock = { now: Date.now() };
  const undeclared = new Set<string>();
  const process = async () => {
    const app = await buildApp({
      settings,
      db,
      pool,
      secret: 'test',
      now: () => clock.now,
      log: openLog('warn'),
      checksReplies: true,
      onProblem: (route, code) => {
        if (!mayAnswer(route, code)) undeclared.add(`${route}: ${code}`);
      },
    });
    await app.listen({ port: 0, host: '127.0.0.1' });
    return app;
  };
  const app = await process();
  const base = app.listeningOrigin;
  const world = await plant(db, new DiskStorage(data));
  const cookies = new Map<Who, string>();

  async function signIn(who: Known): Promise<string> {
    const reply = await fetch(`${base}/api/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ email: mail(who), password: PASSWORD }),
    });
    if (reply.status !== 204) throw new Error(`${who} could not sign in: ${await reply.text()}`);
    return reply.headers
      .getSetCookie()
      .map((c) => c.split(';')[0]!)
      .join('; ');
  }
  const everybody = Object.keys(PEOPLE) as Known[];
  for (const who of everybody) cookies.set(who, await signIn(who));

  /** Takes one more person into the first school and signs them in; resolves to their id. */
  async function enrol(name: Enrolled, kind: 'teacher' | 'student'): Promise<string> {
    const id = await addPerson(db, { schoolId: world.schoolId, kind, name });
    everybody.push(name);
    cookies.set(name, await signIn(name));
    return id;
  }

  /** Sends JSON, or a body as it stands when `headers` name its type. */
  async function call(
    who: Who,
    method: string,
    path: string,
    body?: unknown,
    headers: Record<string, string> = {},
  ) {
    const cookie = cookies.get(who);
    const raw = headers['content-type'] !== undefined;
    const reply = await fetch(`${base}${path}`, {
      method,
      headers: {
        'user-agent': 'Mozilla/5.0 (X11; Linux x86_64; rv:130.0) Gecko/20100101 Firefox/130.0',
        ...(cookie && { cookie }),
        ...(body !== undefined && !raw && { 'content-type': 'application/json' }),
        ...headers,
      },
      ...(body !== undefined && { body: raw ? (body as BodyInit) : JSON.stringify(body) }),
    });
    return reply;
  }

  /** A request that has to succeed; resolves to its reply. */
  async function ask<T = null>(who: Who, method: string, path: string, body?: unknown): Promise<T> {
    const reply = await call(who, method, path, body);
    const text = await reply.text();
    if (!reply.ok) throw new Error(`${method} ${path}: ${reply.status} ${text}`);
    return (text === '' ? null : JSON.parse(text)) as T;
  }

  /** Signs in whoever is not signed in any more. */
  async function signInAgain() {
    for (const who of everybody) {
      const { person } = await ask<Session>(who, 'GET', '/api/session');
      if (!person) cookies.set(who, await signIn(who));
    }
  }

  /** Expects a refusal as problem details with this status and code. */
  async function refused(reply: Response, status: number, code: string): Promise<Problem> {
    const body = (await reply.json()) as Problem;
    if (reply.status !== status || body.code !== code)
      throw new Error(`expected ${status} ${code}, got ${reply.status} ${JSON.stringify(body)}`);
    return body;
  }

  return {
    app,
    db,
    base,
    clock,
    settings,
    world,
    cookies,
    call,
    ask,
    refused,
    signIn,
    signInAgain,
    enrol,
    /** One more server process on the same database. */
    process,
    /** Where a content of the first school is on the disk. */
    fileOf: (hash: string) => join(data, 'files', world.schoolId, hash.slice(0, 2), hash),
    /** A folder in a folder with a file in it, handed out to the class and open at a door. */
    scene: () => makeScene(db, world),
    /** Throws when a route has answered with an error that the contract does not have for it. */
    async stop() {
      await app.close();
      await database.close();
      rmSync(data, { recursive: true, force: true });
      if (undeclared.size > 0)
        throw new Error(`Not among the errors of its route:\n${[...undeclared].sort().join('\n')}`);
    },
  };
}

/** Whether the contract has an error for a route; HEAD beside a GET answers by the same code. */
function mayAnswer(key: string, code: ErrorCode): boolean {
  const route = (ROUTES as Record<string, Route>)[key.replace(/^HEAD (?!\/api\/uploads)/u, 'GET ')];
  if (!route) return !key.split(' ')[1]!.startsWith('/api/');
  return [...COMMON_ERRORS, ...(route.errors ?? [])].includes(code);
}
export type TestServer = Awaited<ReturnType<typeof startServer>>;

export const mail = (who: string) => `${who.replaceAll(' ', '.')}@example.org`;
export { PASSWORD };

type Db = Awaited<ReturnType<typeof scratchDatabase>>['db'];

/** Somebody with an address and the password of all; resolves to their id. */
async function addPerson(
  db: Db,
  person: { schoolId: string; kind: 'teacher' | 'student' | 'office'; name: string },
): Promise<string> {
  const [made] = await db
    .insert(s.people)
    .values({ ...person, email: mail(person.name) })
    .returning();
  const { id } = made!;
  const password = await passwordHash;
  await db
    .insert(s.credentials)
    .values({ userId: id, accountId: id, providerId: 'credential', password });
  return id;
}

async function plant(db: Db, storage: DiskStorage) {
  const schools = await db
    .insert(s.schools)
    .values([
      { name: 'First', timeZone: 'UTC' },
      { name: 'Second', timeZone: 'UTC' },
    ])
    .returning();
  const schoolId = schools[0]!.id;
  const ids = {} as Record<keyof typeof PEOPLE, string>;
  for (const [name, { school, kind }] of Object.entries(PEOPLE))
    ids[name as keyof typeof PEOPLE] = await addPerson(db, {
      schoolId: schools[school]!.id,
      kind,
      name,
    });
  const [year] = await db
    .insert(s.years)
    .values({ schoolId, label: '2026/27', firstDay: '2026-08-31', lastDay: '2027-07-09' })
    .returning();
  const [course] = await db
    .insert(s.courses)
    .values({ schoolId, yearId: year!.id, title: 'Course', colour: 'leaf' })
    .returning();
  await db.insert(s.courseTeachers).values({ schoolId, courseId: course!.id, personId: ids.owner });
  const classes = await db
    .insert(s.classes)
    .values(
      ['A', 'B'].map((code) => ({
        schoolId,
        yearId: year!.id,
        courseId: course!.id,
        code,
        colour: 'leaf' as const,
      })),
    )
    .returning();
  await db.insert(s.memberships).values([
    { schoolId, classId: classes[0]!.id, personId: ids['student in'] },
    { schoolId, classId: classes[1]!.id, personId: ids['student out'] },
  ]);
  const content = await storage.put(schoolId, new TextEncoder().encode('content of the file'));
  await db.insert(s.blobs).values({ schoolId, ...content });
  // As if a picture and a form to show had been made of it.
  for (const form of ['small', 'shown'] as const)
    await storage.putForm({ schoolId, hash: content.hash, form }, Readable.from([form]));
  await db.insert(s.previews).values({
    schoolId,
    hash: content.hash,
    mediaType: 'text/plain',
    state: 'done',
    small: 'image/png',
    shown: 'application/pdf',
  });
  return {
    schoolId,
    otherSchoolId: schools[1]!.id,
    ids,
    yearId: year!.id,
    courseId: course!.id,
    classA: classes[0]!.id,
    classB: classes[1]!.id,
    content,
  };
}

let scenes = 0;

async function makeScene(db: Db, world: Awaited<ReturnType<typeof plant>>) {
  const { schoolId, content } = world;
  const owner = world.ids.owner;
  scenes += 1;
  const folder = async (title: string, parentId: string | null) => {
    const [made] = await db
      .insert(s.folders)
      .values({ schoolId, ownerId: owner, createdBy: owner, parentId, title })
      .returning();
    return made!.id;
  };
  const secret = await folder(`Secret ${scenes}`, null);
  const handed = await folder('Handed out', secret);
  const inner = await folder('Inner', handed);
  const { itemId, version } = await db.transaction(async (tx) => {
    const [item] = await tx
      .insert(s.items)
      .values({ schoolId, ownerId: owner, kind: 'file', title: 'Böden 土壌', extension: 'txt' })
      .returning();
    const [version] = await tx
      .insert(s.versions)
      .values({
        schoolId,
        itemId: item!.id,
        number: 1,
        ...content,
        mediaType: 'text/plain',
        originalName: 'Böden 土壌.txt',
        createdBy: owner,
      })
      .returning();
    await tx.update(s.items).set({ currentVersionId: version!.id }).where(eq(s.items.id, item!.id));
    return { itemId: item!.id, version: version!.id };
  });
  const [placement] = await db
    .insert(s.placements)
    .values({ schoolId, folderId: inner, itemId, addedBy: owner })
    .returning();
  const [grant] = await db
    .insert(s.grants)
    .values({
      schoolId,
      folderId: handed,
      audienceKind: 'class',
      classId: world.classA,
      createdBy: owner,
    })
    .returning();
  const [door] = await db
    .insert(s.doors)
    .values({ schoolId, folderId: handed, kind: 'public', token: newToken(), createdBy: owner })
    .returning();
  const roster = await makeRoster(db, world);
  return {
    ...roster,
    secret,
    handed,
    inner,
    itemId,
    version,
    placement: placement!.id,
    grant: grant!.id,
    door: door!.id,
    token: door!.token,
  };
}
/** A course of the owner's with two classes, and a pupil in the first one who cannot sign in yet. */
async function makeRoster(db: Db, { schoolId, yearId, ids }: Awaited<ReturnType<typeof plant>>) {
  const [course] = await db
    .insert(s.courses)
    .values({ schoolId, yearId, title: `Course ${scenes}`, colour: 'plum' })
    .returning();
  const courseId = course!.id;
  await db.insert(s.courseTeachers).values({ schoolId, courseId, personId: ids.owner });
  const classes = await db
    .insert(s.classes)
    .values(
      ['X', 'Y'].map((code) => ({
        schoolId,
        yearId,
        courseId,
        code: `${code}${scenes}`,
        colour: 'plum' as const,
      })),
    )
    .returning();
  const [pupil] = await db
    .insert(s.people)
    .values({ schoolId, kind: 'student', name: `Pupil ${scenes}`, signInName: `pupil${scenes}` })
    .returning();
  const [membership] = await db
    .insert(s.memberships)
    .values({ schoolId, classId: classes[0]!.id, personId: pupil!.id })
    .returning();
  const [request] = await db
    .insert(s.joinRequests)
    .values({
      schoolId,
      classId: classes[0]!.id,
      personId: ids['student in'],
      askedBy: ids.owner,
    })
    .returning();
  return {
    joinRequest: request!.id,
    course: courseId,
    classX: classes[0]!.id,
    classY: classes[1]!.id,
    pupil: pupil!.id,
    membership: membership!.id,
  };
}
export type Scene = Awaited<ReturnType<typeof makeScene>>;
