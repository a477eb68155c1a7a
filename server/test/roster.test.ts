import type {
  ClassList,
  Consequences,
  Courses,
  Invited,
  JoinRequests,
  ListPreview,
  Slips,
  MovedToClass,
  ImportedList,
} from '@sammlung/contract';
import { eq } from 'drizzle-orm';
import { afterAll, describe, expect, it } from 'vitest';
import { credentials, mails, people, schools } from '../src/db/schema/index.ts';
import { PASSWORD, startServer, mail, type Scene, type Who } from './harness.ts';

const server = await startServer();
const { world, clock, db, ask, call, refused, base } = server;
afterAll(() => server.stop());
await db.update(schools).set({ timeZone: 'Europe/Berlin' }).where(eq(schools.id, world.schoolId));

const bytes = { 'content-type': 'application/octet-stream' };
const preview = async (scene: Scene, list: BodyInit) => {
  const reply = await call(
    'owner',
    'POST',
    `/api/classes/${scene.classX}/list/preview`,
    list,
    bytes,
  );
  return { reply, data: reply.clone().ok ? ((await reply.clone().json()) as ListPreview) : null };
};
const take = (scene: Scene, rows: object[], leaving: string[] = []) =>
  ask<ImportedList>('owner', 'POST', `/api/classes/${scene.classX}/list`, {
    rows: rows.map((row) => ({
      signInName: null,
      externalId: null,
      from: null,
      until: null,
      email: null,
      personId: null,
      ...row,
    })),
    leaving,
  });
const list = (id: string) => ask<ClassList>('owner', 'GET', `/api/classes/${id}`);
const names = async (id: string) =>
  (await list(id)).members.filter((m) => m.state === 'now').map((m) => m.name);
const handTo = (scene: Scene, classId: string) =>
  ask('owner', 'POST', '/api/grants', {
    things: [{ kind: 'folder', id: scene.handed }],
    audiences: [{ kind: 'class', id: classId }],
  });
const sees = async (who: Who, scene: Scene) =>
  (await call(who, 'GET', `/api/folders/${scene.inner}`)).status === 200;

describe('a class list', () => {
  it('is looked at first, then taken; access follows at once, and Undo takes it all back', async () => {
    const scene = await server.scene();
    await handTo(scene, scene.classX);
    const { data } = await preview(
      scene,
      `Name;Mail\nNew Person;new${scene.classX.slice(0, 6)}@example.org\nstudent out;${mail('student out')}\nowner;${mail('owner')}\nFar Away;${mail('other school')}\n;x@y.example.`,
    );
    expect(data!.rows.map((r) => [r.state, ...r.doubts, ...r.faults])).toEqual([
      ['new'],
      ['joins'],
      ['doubtful', 'is-staff'],
      ['doubtful', 'mail-elsewhere'],
      ['fault', 'mail-odd'],
    ]);
    expect(data!.missing.map((m) => m.name)).toEqual([expect.stringMatching(/^Pupil/u)]);
    const line = data!.consequences.audiences.find((a) => a.label.startsWith('X'));
    expect(line?.change.gains).toEqual({ people: 2, items: 1, folders: 2 });
    expect(await sees('student out', scene)).toBe(false);

    const pupil = data!.missing[0]!;
    const taken = await take(
      scene,
      [
        { name: 'New Person', email: `new${scene.classX.slice(0, 6)}@example.org` },
        { name: 'student out', personId: world.ids['student out'] },
      ],
      [pupil.membershipId],
    );
    expect(taken).toMatchObject({ joined: 2, made: 1, left: 1 });
    expect(await names(scene.classX)).toEqual(['New Person', 'student out']);
    expect(await sees('student out', scene)).toBe(true);
    await ask('owner', 'POST', `/api/classes/${scene.classX}/list/undo`, taken.undo);
    expect(await names(scene.classX)).toEqual([pupil.name]);
    expect(await sees('student out', scene)).toBe(false);
  });

  it('taken once more it changes nothing; without addresses people get sign-in names of their own', async () => {
    const scene = await server.scene();
    const rows = [{ name: 'Same Name' }, { name: 'Same Name' }, { name: 'Öykü Işık' }];
    expect(await take(scene, rows)).toMatchObject({ joined: 3, made: 3 });
    const { members } = await list(scene.classX);
    const signIns = members.map((m) => m.signInName!);
    expect(new Set(signIns).size).toBe(4);
    expect(signIns.filter((n) => /^same\.n\d{2,}$/u.test(n))).toHaveLength(2);
    expect(signIns.some((n) => /^oyku\.i\d{2,}$/u.test(n))).toBe(true);
    const { data } = await preview(
      scene,
      `Öykü Işık\n${members.find((m) => m.name.startsWith('Pupil'))!.name}`,
    );
    expect(data!.rows.map((r) => r.state)).toEqual(['stays', 'stays']);
    expect(data!.consequences.audiences).toEqual([]);
  });

  it('follows the days of joining and leaving in the time of the school', async () => {
    const scene = await server.scene();
    await handTo(scene, scene.classX);
    const day = new Date(clock.now + 10 * 86_400_000).toISOString().slice(0, 10);
    const next = new Date(Date.parse(day) + 86_400_000).toISOString().slice(0, 10);
    await take(scene, [
      { name: 'student out', personId: world.ids['student out'], from: day, until: next },
    ]);
    const midnight =
      Date.parse(`${day}T00:00:00Z`) - (/-(0[4-9]|10)-/u.test(day) ? 2 : 1) * 3_600_000;
    const now = clock.now;
    for (const [t, seen] of [
      [midnight - 1, false],
      [midnight, true],
      [midnight + 24 * 3_600_000 - 1, true],
      [midnight + 25 * 3_600_000, false],
    ] as const) {
      clock.now = t;
      expect(await sees('student out', scene), new Date(t).toISOString()).toBe(seen);
    }
    clock.now = now;
    const member = (await list(scene.classX)).members.find((m) => m.name === 'student out')!;
    expect(member.state).toBe('later');
    const path = `/api/memberships/${member.membershipId}`;
    await refused(
      await call('owner', 'PATCH', path, { from: next, until: day }),
      422,
      'ends-before-start',
    );
    await ask('owner', 'PATCH', path, { from: null, until: null });
    expect(await sees('student out', scene)).toBe(true);
  });

  it('is refused in words when it is none, is empty or far too long', async () => {
    const scene = await server.scene();
    const refusedList = async (body: BodyInit, code: string) =>
      refused((await preview(scene, body)).reply, 422, code);
    await refusedList(new Uint8Array([0x50, 0x4b, 3, 4, 0, 0, 0, 1]), 'list-binary');
    await refusedList('\n;;\n', 'list-empty');
    const long = await refusedList(
      'a,b\n'.concat('Some Body,s@b.example\n'.repeat(50_000)),
      'list-too-long',
    );
    expect(long.faults).toEqual([{ field: 'list', fault: '50001' }]);
    const utf16 = Buffer.from('\uFEFFName\tMail\r\nZoë Ünal\tz@b.example', 'utf16le');
    const { data } = await preview(scene, new Uint8Array(utf16));
    expect(data).toMatchObject({ encoding: 'utf-16le', rows: [{ name: 'Zoë Ünal' }] });
  });
});

describe('members', () => {
  it('move to another class of the course: what each class has follows at once', async () => {
    const scene = await server.scene();
    await handTo(scene, scene.classY);
    const { undo } = await take(scene, [
      { name: 'student out', personId: world.ids['student out'] },
    ]);
    expect(await sees('student out', scene)).toBe(false);
    const move = `/api/memberships/${undo.joined[0]}/move`;
    const moved = await ask<MovedToClass>('owner', 'POST', move, { classId: scene.classY });
    expect(await sees('student out', scene)).toBe(true);
    expect(await names(scene.classY)).toEqual(['student out']);
    await ask('owner', 'POST', `/api/classes/${scene.classX}/list/undo`, moved.undo);
    expect(await sees('student out', scene)).toBe(false);
    expect(await names(scene.classY)).toEqual([]);
    expect(await names(scene.classX)).toContain('student out');
    await ask('owner', 'POST', move, { classId: scene.classY });
    await refused(
      await call('owner', 'POST', `/api/memberships/${undo.joined[0]}/move`, {
        classId: world.classA,
      }),
      422,
      'audience-unknown',
    );
  });

  it('choose a password by the start word of a printed slip, and a new slip ends the old', async () => {
    const scene = await server.scene();
    const slips = async () =>
      (
        await ask<Slips>('owner', 'POST', `/api/classes/${scene.classX}/slips`, {
          people: [scene.pupil],
        })
      ).slips[0]!;
    const signIn = (email: string, password: string) =>
      fetch(`${base}/api/session`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ email, password }),
      });
    const first = await slips();
    expect(first.firstPassword).toMatch(/^[a-z]+-[a-z]+-\d{3}$/u);
    // The word is good for choosing a password, and nothing else: there is no session yet.
    const reply = await signIn(first.signInName.toUpperCase(), first.firstPassword);
    expect(reply.status).toBe(200);
    expect(reply.headers.getSetCookie()).toEqual([]);
    const { token } = (await reply.json()) as { token: string };
    const choose = (chosen: string, by = token) =>
      fetch(`${base}/api/session/password`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ token: by, password: chosen }),
      });
    await refused(await choose('short'), 422, 'password-short');
    expect((await choose('a sentence of mine')).status).toBe(204);
    await refused(await choose('another sentence'), 410, 'link-used');
    await refused(await signIn(first.signInName, first.firstPassword), 401, 'wrong-sign-in');
    const own = await signIn(first.signInName, 'a sentence of mine');
    expect(own.status).toBe(204);
    const cookie = own.headers
      .getSetCookie()
      .map((c) => c.split(';')[0])
      .join('; ');
    const me = () => fetch(`${base}/api/new`, { headers: { cookie } });
    expect((await me()).status).toBe(200);

    // Forgotten: the office prints another slip. The password and the session last until a new one is chosen by it.
    const path = `/api/classes/${scene.classX}/slips`;
    expect(await ask<Slips>('owner', 'POST', path, { people: [scene.pupil] })).toEqual({
      slips: [],
      others: [expect.stringMatching(/^Pupil/u)],
    });
    const second = (await ask<Slips>('office', 'POST', path, { people: [scene.pupil] })).slips[0]!;
    expect((await me()).status).toBe(200);
    expect((await signIn(first.signInName, 'a sentence of mine')).status).toBe(204);
    const again = (await (await signIn(second.signInName, second.firstPassword)).json()) as {
      token: string;
    };
    expect((await choose('a third sentence', again.token)).status).toBe(204);
    expect((await me()).status).toBe(401);
    await refused(await signIn(first.signInName, 'a sentence of mine'), 401, 'wrong-sign-in');
    await refused(await signIn(second.signInName, second.firstPassword), 401, 'wrong-sign-in');
    await refused(await signIn('nobody77', PASSWORD), 401, 'wrong-sign-in');
  });

  it('with an address are invited by mail; the link sets a password once', async () => {
    const scene = await server.scene();
    const email = `invited-${scene.pupil.slice(0, 6)}@example.org`;
    await db.update(people).set({ email }).where(eq(people.id, scene.pupil));
    const path = `/api/classes/${scene.classX}/invitations`;
    expect(await ask<Invited>('owner', 'POST', path, { people: [scene.pupil] })).toEqual({
      sent: 1,
      without: 0,
      others: [],
    });
    expect((await list(scene.classX)).members[0]!.access).toBe('invited');
    const [letter] = await db.select().from(mails).where(eq(mails.personId, scene.pupil));
    const token = letter!.path!.split('/').at(-1)!;
    const set = (password: string) =>
      call('visitor without', 'POST', '/api/session/password', { token, password });
    await refused(await set('short'), 422, 'password-short');
    expect((await set('a long enough one')).status).toBe(204);
    await refused(await set('another long one'), 410, 'link-used');
    const reply = await call('visitor without', 'POST', '/api/session', {
      email,
      password: 'a long enough one',
    });
    expect(reply.status).toBe(204);
    expect((await list(scene.classX)).members[0]!.access).toBe('ready');
  });
});

describe('courses and classes', () => {
  it('are made with codes that are unique in the year, and taught by several', async () => {
    const made = await ask<{ id: string }>('owner', 'POST', '/api/courses', {
      title: 'Hedges',
      colour: 'moss',
      yearId: world.yearId,
      classes: ['H1', 'H2'],
    });
    await refused(
      await call('owner', 'POST', '/api/classes', {
        courseId: made.id,
        code: 'h1',
        colour: 'leaf',
      }),
      409,
      'code-taken',
    );
    expect((await call('colleague', 'GET', '/api/courses')).status).toBe(200);
    const teachers = [world.ids.owner, world.ids.colleague];
    await ask('owner', 'PATCH', `/api/courses/${made.id}`, { teachers });
    const { courses } = await ask<Courses>('colleague', 'GET', '/api/courses');
    expect(courses.find((c) => c.id === made.id)).toMatchObject({
      title: 'Hedges',
      classes: [{ code: 'H1' }, { code: 'H2' }],
    });
    await refused(
      await call('owner', 'PATCH', `/api/courses/${made.id}`, {
        teachers: [world.ids['student in']],
      }),
      422,
      'audience-unknown',
    );
  });

  it('removed with open handings out take them back, and bring them again with Undo', async () => {
    const scene = await server.scene();
    await handTo(scene, scene.classX);
    await take(scene, [{ name: 'student out', personId: world.ids['student out'] }]);
    expect(await sees('student out', scene)).toBe(true);
    const told = await ask<Consequences>('owner', 'GET', `/api/courses/${scene.course}/removal`);
    expect(told.asks).toBe(true);
    expect(told.audiences[0]!.change.loses).toMatchObject({ people: 2, items: 1 });
    await ask('owner', 'DELETE', `/api/courses/${scene.course}`);
    expect(await sees('student out', scene)).toBe(false);
    expect((await call('owner', 'GET', `/api/classes/${scene.classX}`)).status).toBe(404);
    // It stands nowhere any more: not at the student's place, not on the board, not beside a folder, not in Find.
    for (const [who, path] of [
      ['student out', '/api/classes'],
      ['owner', '/api/board'],
      ['owner', `/api/folders/${scene.inner}/audience`],
      ['owner', '/api/audiences'],
      ['owner', '/api/find/filters'],
      ['owner', '/api/today'],
    ] as const)
      expect(JSON.stringify(await ask(who, 'GET', path)), path).not.toContain(scene.classX);
    await refused(
      await call('owner', 'POST', '/api/grants', {
        things: [{ kind: 'folder', id: scene.inner }],
        audiences: [{ kind: 'class', id: scene.classX }],
      }),
      422,
      'audience-unknown',
    );
    await ask('owner', 'POST', `/api/courses/${scene.course}/restore`);
    expect(await sees('student out', scene)).toBe(true);
  });
});

describe('the account of somebody else', () => {
  /** A class of the colleague's own, in which nobody is yet. */
  async function ownClass() {
    const course = await ask<{ id: string }>('colleague', 'POST', '/api/courses', {
      title: 'Of the colleague',
      colour: 'moss',
      yearId: world.yearId,
      classes: [],
    });
    const made = await ask<{ id: string }>('colleague', 'POST', '/api/classes', {
      courseId: course.id,
      code: `K${(counter += 1)}`,
      colour: 'moss',
    });
    return made.id;
  }
  let counter = 0;
  const row = (more: object) => ({
    name: 'Somebody',
    email: null,
    signInName: null,
    externalId: null,
    from: null,
    until: null,
    personId: null,
    ...more,
  });
  const takeAs = (who: Who, classId: string, rows: object[]) =>
    ask<ImportedList>(who, 'POST', `/api/classes/${classId}/list`, { rows, leaving: [] });
  const personOf = async (id: string) =>
    (await db.select().from(people).where(eq(people.id, id)))[0]!;
  const passwordsOf = (id: string) =>
    db.select().from(credentials).where(eq(credentials.userId, id));
  const waiting = async (who: Who) =>
    (await ask<JoinRequests>(who, 'GET', '/api/join-requests')).requests.filter(
      (request) => request.askedBy === 'colleague',
    );
  const membersOf = async (who: Who, classId: string) =>
    (await ask<ClassList>(who, 'GET', `/api/classes/${classId}`)).members.map((m) => m.name);

  it('is not taken in, renamed or given an address or password by any teacher', async () => {
    const scene = await server.scene();
    const classId = await ownClass();
    const before = await personOf(scene.pupil);
    const taken = await takeAs('colleague', classId, [
      row({ personId: scene.pupil, name: 'Renamed', email: `mine${counter}@example.org` }),
    ]);
    expect(taken).toMatchObject({ joined: 0, changed: 0, asked: 1 });
    expect(await personOf(scene.pupil)).toMatchObject({ name: before.name, email: null });
    expect(await membersOf('colleague', classId)).toEqual([]);
    for (const path of ['slips', 'invitations'])
      await refused(
        await call('colleague', 'POST', `/api/classes/${classId}/${path}`, {
          people: [scene.pupil],
        }),
        404,
        'not-found',
      );
    expect(await passwordsOf(scene.pupil)).toEqual([]);
    // Taking the list again asks nobody twice, and Undo withdraws what was asked.
    expect(await takeAs('colleague', classId, [row({ personId: scene.pupil })])).toMatchObject({
      asked: 0,
    });
    await ask('colleague', 'POST', `/api/classes/${classId}/list/undo`, taken.undo);
    expect(await waiting('office')).toEqual([]);
  });

  it('joins once they or the office have said so; nobody else answers', async () => {
    const classId = await ownClass();
    const personId = world.ids['student in'];
    const askThem = () => takeAs('colleague', classId, [row({ personId })]);
    await askThem();
    expect(await waiting('student out')).toEqual([]);
    expect(await waiting('owner')).toEqual([]);
    const [mine] = await waiting('student in');
    expect(mine).toMatchObject({ name: 'student in', askedBy: 'colleague', code: `K${counter}` });
    expect((await waiting('office')).map(({ id }) => id)).toEqual([mine!.id]);
    const answer = (who: Who, given: string) =>
      call(who, 'POST', `/api/join-requests/${mine!.id}/answer`, { answer: given });
    for (const who of ['student out', 'owner', 'colleague', 'other school'] as const)
      await refused(await answer(who, 'yes'), 404, 'not-found');
    expect((await answer('student in', 'yes')).status).toBe(204);
    await refused(await answer('office', 'no'), 409, 'answered-already');
    expect(await membersOf('colleague', classId)).toEqual(['student in']);
    // Even then their account is their own.
    expect(
      await ask<Slips>('colleague', 'POST', `/api/classes/${classId}/slips`, {
        people: [personId],
      }),
    ).toEqual({ slips: [], others: ['student in'] });
    expect((await call('student in', 'GET', '/api/new')).status).toBe(200);
  });

  it('that the office has put into a class is its teachers’ to begin; one that a colleague made is not', async () => {
    const classId = await ownClass();
    const made = await takeAs('office', classId, [row({ name: 'Put by the office' })]);
    const [byOffice] = (await ask<ClassList>('colleague', 'GET', `/api/classes/${classId}`))
      .members;
    const slipsFor = (personId: string, who: Who = 'colleague') =>
      ask<Slips>(who, 'POST', `/api/classes/${classId}/slips`, { people: [personId] });
    expect(made).toMatchObject({ joined: 1, asked: 0 });
    expect((await slipsFor(byOffice!.personId)).slips).toHaveLength(1);

    await takeAs('colleague', classId, [row({ name: 'Made by the colleague' })]);
    const { members, course } = await ask<ClassList>('colleague', 'GET', `/api/classes/${classId}`);
    const own = members.find((m) => m.name === 'Made by the colleague')!;
    await ask('colleague', 'PATCH', `/api/courses/${course.id}`, {
      teachers: [world.ids.colleague, world.ids.owner],
    });
    expect(await slipsFor(own.personId, 'owner')).toEqual({ slips: [], others: [own.name] });
    expect((await slipsFor(own.personId)).slips).toHaveLength(1);
  });

  it('in use keeps its name and address, whatever a list or its Undo says', async () => {
    const scene = await server.scene();
    const member = world.ids['student in'];
    const taken = await takeAs('owner', world.classA, [
      row({ personId: member, name: 'Another name', email: 'another@example.org' }),
    ]);
    expect(taken).toMatchObject({ changed: 0 });
    const { members } = await list(world.classA);
    const { membershipId } = members.find((m) => m.personId === member)!;
    await ask('owner', 'POST', `/api/classes/${world.classA}/list/undo`, {
      joined: [],
      before: [{ membershipId, name: 'By Undo', from: null, until: null }],
    });
    expect(await personOf(member)).toMatchObject({ name: 'student in', email: mail('student in') });
    // One that nobody uses yet is named anew by whoever manages it, and gets its first address once.
    const first = `first-${scene.pupil.slice(0, 6)}@example.org`;
    await takeAs('owner', scene.classX, [
      row({ personId: scene.pupil, name: 'Right name', email: first }),
    ]);
    await takeAs('owner', scene.classX, [
      row({ personId: scene.pupil, name: 'Right name', email: 'second@example.org' }),
    ]);
    expect(await personOf(scene.pupil)).toMatchObject({ name: 'Right name', email: first });
  });

  it('who left the class comes back by whoever ended that, and by nobody who has no say', async () => {
    const classId = await ownClass();
    const personId = world.ids['student out'];
    await takeAs('colleague', classId, [row({ personId })]);
    const [request] = await waiting('student out');
    await ask('student out', 'POST', `/api/join-requests/${request!.id}/answer`, { answer: 'yes' });
    const [member] = (await ask<ClassList>('colleague', 'GET', `/api/classes/${classId}`)).members;
    clock.now += 1000;
    const end = (who: Who) =>
      ask<ImportedList>(who, 'POST', `/api/classes/${classId}/list`, {
        rows: [],
        leaving: [member!.membershipId],
      });
    const { undo } = await end('colleague');
    await ask('colleague', 'POST', `/api/classes/${classId}/list/undo`, undo);
    expect(await membersOf('colleague', classId)).toEqual(['student out']);
    clock.now += 1000;
    const byOffice = await end('office');
    clock.now += 1000;
    await refused(
      await call('colleague', 'POST', `/api/classes/${classId}/list/undo`, byOffice.undo),
      403,
      'not-allowed',
    );
    await refused(
      await call('colleague', 'PATCH', `/api/memberships/${member!.membershipId}`, {
        from: null,
        until: null,
      }),
      403,
      'not-allowed',
    );
    await ask('office', 'POST', `/api/classes/${classId}/list/undo`, byOffice.undo);
  });

  it('is looked at without telling an address that the list does not have', async () => {
    const classId = await ownClass();
    const read = async (text: string) => {
      const reply = await call(
        'colleague',
        'POST',
        `/api/classes/${classId}/list/preview`,
        text,
        bytes,
      );
      return ((await reply.json()) as ListPreview).rows;
    };
    expect(await read('Name\nstudent in')).toMatchObject([
      { state: 'doubtful', asks: true, person: { name: 'student in', email: null } },
    ]);
    expect(await read(`Name;Mail\nstudent in;${mail('student in')}`)).toMatchObject([
      { state: 'asks', asks: true, person: { email: mail('student in') } },
    ]);
  });

  it('is asked for no class that has been removed, and many slips at once hold up nobody', async () => {
    const classId = await ownClass();
    await takeAs('colleague', classId, [row({ personId: world.ids['student in'] })]);
    const [request] = await waiting('student in');
    await ask('colleague', 'DELETE', `/api/classes/${classId}`);
    expect(await waiting('student in')).toEqual([]);
    for (const who of ['student in', 'office'] as const)
      await refused(
        await call(who, 'POST', `/api/join-requests/${request!.id}/answer`, { answer: 'yes' }),
        404,
        'not-found',
      );
    const scene = await server.scene();
    const path = `/api/classes/${scene.classX}/slips`;
    const work = [
      ...Array.from({ length: 30 }, () => call('owner', 'POST', path, { people: [scene.pupil] })),
      ...Array.from({ length: 10 }, () =>
        call('visitor without', 'POST', '/api/session', {
          email: mail('office'),
          password: PASSWORD,
        }),
      ),
    ];
    const statuses = (await Promise.all(work)).map((reply) => reply.status);
    expect(statuses.slice(30)).toEqual(Array(10).fill(204));
    expect(new Set(statuses.slice(0, 30))).toEqual(new Set([200]));
  });

  it('under an address that is known already is refused with a word, not with a fault', async () => {
    const classId = await ownClass();
    await refused(
      await call('colleague', 'POST', `/api/classes/${classId}/list`, {
        rows: [row({ email: mail('student in') })],
        leaving: [],
      }),
      409,
      'account-taken',
    );
  });
});
