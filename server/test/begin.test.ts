import type { Courses } from '@sammlung/contract';
import { eq, sql } from 'drizzle-orm';
import { afterAll, beforeEach, describe, expect, it } from 'vitest';
import { rows } from '../src/db/database.ts';
import {
  folders,
  mails,
  people,
  rateLimits,
  schools,
  sessions,
  years,
} from '../src/db/schema/index.ts';
import { removeSchool } from '../src/domain/remove-school.ts';
import { beginAddress } from '../src/features/begin/service.ts';
import { mail, startServer } from './harness.ts';
import { uploader } from './upload.ts';

const server = await startServer({ sample: true });
const { app, db, clock, call, ask, refused, world } = server;
afterAll(() => server.stop());
const { add } = uploader(server);

const HOUR = 3_600_000;
const begun = {
  school: { name: 'Baumschule', timeZone: 'Europe/Berlin', language: 'de' },
  person: { name: 'Frida Ostermann', email: 'Frida@baumschule.example', password: 'korrekt pferd' },
  year: { label: '2026/27', firstDay: '2026-08-31', lastDay: '2027-07-09' },
};
const newToken = async () => (await beginAddress(app.services))!.split('/').at(-1)!;
const begin = (token: string, body: unknown = begun) =>
  call('visitor without', 'POST', `/api/begin/${token}`, body);
const look = (token: string) => call('visitor without', 'GET', `/api/begin/${token}`);
const begunSchools = () => db.select().from(schools).where(eq(schools.name, begun.school.name));

// The schools of the harness stand for the sample: beside it, one school can begin.
beforeEach(async () => {
  for (const { id } of await begunSchools()) await removeSchool(db, app.services.storage, id);
  await db.update(schools).set({ sample: true });
  await db.delete(rateLimits);
});

describe('a school that begins', () => {
  it('has its office account, its year and its language, and begins once', async () => {
    const token = await newToken();
    expect(await (await look(token)).json()).toEqual({
      until: new Date(clock.now + 24 * HOUR).toISOString(),
    });
    expect((await begin(token)).status).toBe(204);
    const { email, password } = begun.person;
    const signIn = await call('visitor without', 'POST', '/api/session', { email, password });
    expect(signIn.status).toBe(204);
    const cookie = signIn.headers.getSetCookie()[0]!.split(';')[0]!;
    const courses = await call('visitor without', 'GET', '/api/courses', undefined, { cookie });
    expect(((await courses.json()) as Courses).years).toMatchObject([{ label: '2026/27' }]);

    expect(await beginAddress(app.services)).toBe(null);
    await refused(await look(token), 410, 'begin-over');
    await refused(await begin(token), 410, 'begin-over');
    expect(await begunSchools()).toHaveLength(1);

    // Whoever has chosen no language gets mails in that of the school.
    const [{ id: schoolId } = { id: '' }] = await begunSchools();
    await db
      .insert(people)
      .values({ schoolId, kind: 'teacher', name: 'Ohne', email: 'ohne@baumschule.example' });
    await ask('visitor without', 'POST', '/api/session/forgotten', {
      email: 'ohne@baumschule.example',
    });
    const [sent] = await db.select().from(mails).where(eq(mails.schoolId, schoolId));
    expect(sent!.subject).toContain('Passwort');
  });

  it.each([1, 2])('begins once of two at the same time, by %i addresses', async (addresses) => {
    const tokens = [await newToken(), await newToken()].slice(0, addresses);
    const replies = await Promise.all([tokens[0]!, tokens.at(-1)!].map((token) => begin(token)));
    expect(replies.map(({ status }) => status).sort()).toEqual([204, 410]);
    expect(await begunSchools()).toHaveLength(1);
  });

  it('does not begin by an address that is a day old, nor by one that is guessed', async () => {
    const token = await newToken();
    clock.now += 24 * HOUR;
    await refused(await begin(token), 410, 'begin-over');
    clock.now -= 24 * HOUR;
    const tried: number[] = [];
    for (let n = 0; n < 25; n += 1) tried.push((await begin(`${token}${n}`)).status);
    expect(tried.filter((status) => status === 410)).toHaveLength(19);
    expect(tried.at(-1)).toBe(429);
    expect(await begunSchools()).toEqual([]);
  });

  it.each([
    ['an address that somebody has', { person: { email: mail('owner') } }, 409, 'email-taken'],
    ['a short password', { person: { password: 'short' } }, 422, 'password-short'],
    ['no time zone', { school: { timeZone: 'Fenland/Moor' } }, 400, 'bad-request'],
    ['a year that ends before it begins', { year: { lastDay: '2026-08-01' } }, 400, 'bad-request'],
    ['a year of twenty years', { year: { lastDay: '2046-08-01' } }, 400, 'bad-request'],
    ['no name', { school: { name: '  ' } }, 400, 'bad-request'],
  ])('is refused with %s, and may be tried again', async (_, change, status, code) => {
    const token = await newToken();
    const wrong = {
      school: { ...begun.school, ...('school' in change && change.school) },
      person: { ...begun.person, ...('person' in change && change.person) },
      year: { ...begun.year, ...('year' in change && change.year) },
    };
    await refused(await begin(token, wrong), status, code);
    expect(await begunSchools()).toEqual([]);
    expect((await begin(token)).status).toBe(204);
  });
});

describe('removing a school', () => {
  it('takes all that is its and nothing of others', async () => {
    const { inner } = await server.scene();
    await add('owner', inner, 'Kept.txt', 'Of the first school.');
    const other = await db.select().from(schools).where(eq(schools.name, 'Second'));
    await db.insert(folders).values({
      schoolId: other[0]!.id,
      ownerId: world.ids['other school'],
      title: 'Of the second school',
      createdBy: world.ids['other school'],
    });
    const before = await counts(other[0]!.id);
    expect(before['folders']).toBe(1);
    expect((await counts(world.schoolId))['blobs']).toBeGreaterThan(0);

    await removeSchool(db, app.services.storage, world.schoolId);
    expect(await counts(world.schoolId)).toEqual({});
    expect(await counts(other[0]!.id)).toEqual(before);
    expect(await db.select().from(schools).where(eq(schools.id, world.schoolId))).toEqual([]);
    expect(await db.select().from(years)).toEqual([]);
    const left: string[] = [];
    for await (const { schoolId } of app.services.storage.contents()) left.push(schoolId);
    expect(left).not.toContain(world.schoolId);
    expect(await db.select().from(sessions)).toHaveLength(1);
  });

  /** How many rows of each table belong to a school. */
  async function counts(schoolId: string): Promise<Record<string, number>> {
    const found: Record<string, number> = {};
    const tables = await rows<{ name: string }>(
      db,
      sql`select table_name as name from information_schema.columns where table_schema = 'public' and column_name = 'school_id'`,
    );
    for (const { name } of tables) {
      const [{ n } = { n: 0 }] = await rows<{ n: number }>(
        db,
        sql`select count(*)::int as n from ${sql.identifier(name)} where school_id = ${schoolId}::uuid`,
      );
      if (n > 0) found[name] = n;
    }
    return found;
  }
});
