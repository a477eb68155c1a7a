import type {
  AudienceChoices,
  ClassList,
  Courses,
  Door,
  Feed,
  People,
  PersonRow,
  SchoolFacts,
  Session,
  Slips,
  Token,
} from '@sammlung/contract';
import { and, eq } from 'drizzle-orm';
import { afterAll, beforeEach, describe, expect, it } from 'vitest';
import { mails, people, rateLimits } from '../src/db/schema/index.ts';
import { mail, PASSWORD, startServer } from './harness.ts';

const server = await startServer();
const { db, ask, call, refused, world, cookies } = server;
afterAll(() => server.stop());
beforeEach(() => db.delete(rateLimits));

const add = async (kind: PersonRow['kind'], name: string, email: string | null = null) =>
  (await ask<{ id: string }>('office', 'POST', '/api/people', { kind, name, email })).id;
const found = async (query: string) =>
  (await ask<People>('office', 'GET', `/api/people?${query}`)).people.map(({ name }) => name);
const change = (id: string, body: object) => call('office', 'PATCH', `/api/people/${id}`, body);
const deactivate = (id: string) => call('office', 'PUT', `/api/people/${id}/deactivated`);
const reactivate = (id: string) => ask('office', 'DELETE', `/api/people/${id}/deactivated`);
const signIn = (email: string, password: string) =>
  call('visitor without', 'POST', '/api/session', { email, password });
/** Signs in and sends a request as whoever has. */
async function as(email: string, password: string) {
  const cookie = (await signIn(email, password)).headers.getSetCookie()[0]!.split(';')[0]!;
  return (method: string, path: string, body?: unknown) =>
    call('visitor without', method, path, body, { cookie });
}

describe('the people of a school', () => {
  it('are found by all words in name, address or sign-in name, and by what they do', async () => {
    await add('teacher', 'Frida Ostermann', 'frida@example.org');
    await add('student', 'Friedrich Ost');
    await add('office', 'Käthe Østby', 'kaethe@example.org');
    expect(await found('words=ost')).toEqual(['Frida Ostermann', 'Friedrich Ost']);
    expect(await found('words=OST%20fri')).toEqual(['Frida Ostermann', 'Friedrich Ost']);
    expect(await found('words=ost&kind=student')).toEqual(['Friedrich Ost']);
    expect(await found('words=kaethe%40')).toEqual(['Käthe Østby']);
    expect(await found('words=100%25_')).toEqual([]);
    expect(await found(`words=${'zz%20'.repeat(60)}`)).toEqual([]);
    expect(await found('words=other')).toEqual([]);
  });

  it('come in pages, in the order of their names, each once', async () => {
    await db.insert(people).values(
      Array.from({ length: 230 }, (_, n) => ({
        schoolId: world.schoolId,
        kind: 'student' as const,
        // Many share a name: the page goes on among them.
        name: `Paged ${Math.floor(n / 50)}`,
      })),
    );
    const names: string[] = [];
    const ids = new Set<string>();
    let after: string | null = null;
    do {
      const page: People = await ask(
        'office',
        'GET',
        `/api/people?words=paged${after === null ? '' : `&after=${after}`}`,
      );
      for (const one of page.people) {
        names.push(one.name);
        ids.add(one.id);
      }
      after = page.next;
    } while (after !== null);
    expect(ids.size).toBe(230);
    expect(names).toEqual([...names].sort());
  });

  it('are shown with what they belong to and how they come in', async () => {
    const row = async (id: string) => ask<PersonRow>('office', 'GET', `/api/people/${id}`);
    expect(await row(world.ids.owner)).toMatchObject({
      access: 'ready',
      belongs: [{ label: 'Course' }],
    });
    expect((await row(world.ids['student in'])).belongs).toEqual([
      expect.objectContaining({ label: 'A' }),
    ]);
    const id = await add('teacher', 'Not yet', 'not.yet@example.org');
    expect((await row(id)).access).toBe('none');
    await ask('office', 'POST', '/api/people/invitations', { people: [id] });
    expect((await row(id)).access).toBe('invited');
    await ask('office', 'POST', '/api/people/slips', { people: [id] });
    expect((await row(id)).access).toBe('first');
    await refused(
      await call('office', 'GET', `/api/people/${world.ids['other school']}`),
      404,
      'not-found',
    );
  });

  it('have an address that nobody else has, at any school and in any case', async () => {
    for (const email of [mail('owner'), mail('other school').toUpperCase()]) {
      const body = { kind: 'teacher', name: 'Twin', email };
      await refused(await call('office', 'POST', '/api/people', body), 409, 'email-taken');
    }
    const id = await add('teacher', 'One', 'one@example.org');
    await refused(await change(id, { email: mail('owner') }), 409, 'email-taken');
    expect((await change(id, { email: 'ONE@example.org' })).status).toBe(204);
  });
});

describe('coming in at first', () => {
  it('is by an invitation for those with an address, once each, and by a slip for all', async () => {
    const reachable = await add('teacher', 'Reached', 'reached@example.org');
    const nameless = await add('student', 'Nameless One');
    const ids = [reachable, nameless, world.ids.owner];
    expect(await ask('office', 'POST', '/api/people/invitations', { people: ids })).toEqual({
      ...{ sent: 1, without: 1, others: ['owner'] },
    });
    const [invitation] = await db
      .select()
      .from(mails)
      .where(and(eq(mails.personId, reachable), eq(mails.kind, 'invitation')));
    expect(invitation!.body).toContain('office has given you an account at First');
    const token = invitation!.path!.split('/').at(-1)!;
    const chosen = { token, password: 'a new password' };
    await ask('visitor without', 'POST', '/api/session/password', chosen);
    await refused(
      await call('visitor without', 'POST', '/api/session/password', chosen),
      410,
      'link-used',
    );
    expect((await signIn('reached@example.org', 'a new password')).status).toBe(204);

    const { slips } = await ask<Slips>('office', 'POST', '/api/people/slips', {
      people: [nameless],
    });
    expect(slips).toHaveLength(1);
    const first = await signIn(slips[0]!.signInName, slips[0]!.firstPassword);
    expect(first.status).toBe(200);
    const elsewhere = [world.ids['other school']];
    for (const route of ['invitations', 'slips'])
      await refused(
        await call('office', 'POST', `/api/people/${route}`, { people: elsewhere }),
        404,
        'not-found',
      );
  });
});

describe('somebody who is let in no more', () => {
  it('is out at once, with programs, feeds and public addresses; students go on seeing what was handed out', async () => {
    const id = await add('teacher', 'Leaving', 'leaving@example.org');
    const { slips } = await ask<Slips>('office', 'POST', '/api/people/slips', { people: [id] });
    const first = await signIn('leaving@example.org', slips[0]!.firstPassword);
    const { token } = (await first.json()) as { token: string };
    await ask('visitor without', 'POST', '/api/session/password', { token, password: PASSWORD });
    const leaving = await as('leaving@example.org', PASSWORD);
    const json = async <T>(method: string, path: string, body?: unknown) => {
      const reply = await leaving(method, path, body);
      expect(reply.ok, `${method} ${path} ${reply.status}`).toBe(true);
      return (await reply.json()) as T;
    };
    const folder = await json<{ id: string }>('POST', '/api/folders', {
      parentId: null,
      title: 'Left behind',
    });
    await json('POST', '/api/grants', {
      things: [{ kind: 'folder', id: folder.id }],
      audiences: [{ kind: 'person', id: world.ids['student in'] }],
    });
    const door = await json<Door>('POST', '/api/doors', {
      thing: { kind: 'folder', id: folder.id },
      kind: 'public',
    });
    const program = await json<Token & { password: string }>('POST', '/api/tokens', {
      name: 'Laptop',
      writes: true,
    });
    const feed = await json<Feed>('POST', '/api/feeds', { classId: null });
    const opens = () =>
      call(
        'visitor without',
        'GET',
        `${new URL(door.address).pathname.replace('/open/', '/api/open/')}/folders/${folder.id}`,
      );
    const reads = () => call('visitor without', 'GET', new URL(feed.address).pathname);
    const mounts = () =>
      call('visitor without', 'PROPFIND', '/dav/', undefined, {
        authorization: `Basic ${Buffer.from(`leaving@example.org:${program.password}`).toString('base64')}`,
        depth: '0',
      });
    expect([(await opens()).status, (await reads()).status, (await mounts()).status]).toEqual([
      200, 200, 207,
    ]);

    expect((await deactivate(id)).status).toBe(204);
    expect((await leaving('GET', '/api/session')).status).toBe(200);
    expect(((await (await leaving('GET', '/api/session')).json()) as Session).person).toBe(null);
    expect((await leaving('GET', `/api/folders/${folder.id}`)).status).toBe(401);
    await refused(await signIn('leaving@example.org', PASSWORD), 401, 'wrong-sign-in');
    expect([(await opens()).status, (await reads()).status, (await mounts()).status]).toEqual([
      404, 404, 401,
    ]);
    expect((await call('student in', 'GET', `/api/folders/${folder.id}`)).status).toBe(200);
    expect(await found('words=leaving')).toEqual([]);
    expect(await found('words=leaving&ended=true')).toEqual(['Leaving']);
    const before = await db.select().from(mails);
    await ask('visitor without', 'POST', '/api/session/forgotten', {
      email: 'leaving@example.org',
    });
    expect(await db.select().from(mails)).toHaveLength(before.length);
    const slip = await call('office', 'POST', '/api/people/slips', { people: [id] });
    await refused(slip, 404, 'not-found');

    await reactivate(id);
    expect((await opens()).status).toBe(200);
    expect((await signIn('leaving@example.org', PASSWORD)).status).toBe(204);
    // What let programs in has ended for good.
    expect([(await reads()).status, (await mounts()).status]).toEqual([404, 401]);
    expect(((await (await leaving('GET', '/api/session')).json()) as Session).person).toBe(null);
  });

  it('counts in no class any more, and stands in its list without access', async () => {
    const id = world.ids['student in'];
    const students = async () =>
      (await ask<Courses>('owner', 'GET', '/api/courses')).courses
        .flatMap(({ classes }) => classes)
        .find((one) => one.id === world.classA)!.students;
    const before = await students();
    await deactivate(id);
    expect(await students()).toBe(before - 1);
    const { members } = await ask<ClassList>('owner', 'GET', `/api/classes/${world.classA}`);
    expect(members.find(({ personId }) => personId === id)!.access).toBe('ended');
    const { audiences } = await ask<AudienceChoices>('owner', 'GET', '/api/audiences');
    expect(audiences.find((one) => one.id === world.classA)!.people).toBe(before - 1);
    await reactivate(id);
    await server.signInAgain();
    expect(await students()).toBe(before);
  });

  it('is never the last of the office: neither deactivated nor made something else, by oneself or two at once', async () => {
    const { office } = world.ids;
    for (const { id } of (await ask<People>('office', 'GET', '/api/people?kind=office')).people)
      if (id !== office) await ask('office', 'PUT', `/api/people/${id}/deactivated`);
    await refused(await deactivate(office), 409, 'last-office');
    await refused(await change(office, { kind: 'teacher' }), 409, 'last-office');
    const second = await add('office', 'Second of the office');
    const both = await Promise.all([deactivate(office), change(second, { kind: 'teacher' })]);
    const { person } = await ask<Session>('office', 'GET', '/api/session');
    expect(both.filter(({ ok }) => ok)).toHaveLength(1);
    if (person === null) {
      await db.update(people).set({ deactivatedAt: null }).where(eq(people.id, office));
      cookies.set('office', await server.signIn('office'));
    }
  });

  it('does other work only where nothing of the first is theirs, and comes in anew for it', async () => {
    await refused(await change(world.ids.owner, { kind: 'office' }), 409, 'kind-fixed');
    await refused(await change(world.ids['student in'], { kind: 'teacher' }), 409, 'kind-fixed');
    const id = await add('teacher', 'Both', 'both@example.org');
    expect((await change(id, { kind: 'office' })).status).toBe(204);
    expect(await found('kind=office&words=both')).toEqual(['Both']);
  });
});

describe('the school itself', () => {
  it('gets another name and language from the office, which everybody reads from then on', async () => {
    const before = await ask<SchoolFacts & { timeZone: string }>('office', 'GET', '/api/school');
    for (const name of ['', ' ', 'x'.repeat(101)])
      expect((await call('office', 'PUT', '/api/school', { ...before, name })).status).toBe(400);
    await ask('office', 'PUT', '/api/school', { name: ' Harbour Road ', language: null });
    expect(await ask('office', 'GET', '/api/school')).toEqual({
      ...before,
      ...{ name: 'Harbour Road', language: null },
    });
    const { person } = await ask<Session>('owner', 'GET', '/api/session');
    expect(person?.school.name).toBe('Harbour Road');
    const { name, language } = before;
    await ask('office', 'PUT', '/api/school', { name, language });
  });
});
