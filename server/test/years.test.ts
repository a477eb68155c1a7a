import type {
  Boxes,
  Contents,
  Courses,
  PersonThings,
  YearClosing,
  YearProposal,
  YearRow,
} from '@sammlung/contract';
import { eq } from 'drizzle-orm';
import { afterAll, describe, expect, it } from 'vitest';
import { courses, memberships, years } from '../src/db/schema/index.ts';
import { startServer } from './harness.ts';
import { uploader } from './upload.ts';

const server = await startServer();
const { ask, call, db, refused, world } = server;
const files = uploader(server);
afterAll(() => server.stop());

const listed = async () => (await ask<{ years: YearRow[] }>('office', 'GET', '/api/years')).years;
const proposal = (id = world.yearId) => ask<YearProposal>('office', 'GET', `/api/years/${id}/next`);
const make = (body: object) => call('office', 'POST', '/api/years', body);
const close = (id = world.yearId) => ask('office', 'PUT', `/api/years/${id}/closed`);
const reopen = (id = world.yearId) => ask('office', 'DELETE', `/api/years/${id}/closed`);

describe('a new year', () => {
  it('is proposed with the courses and classes of the one before, and made with those that are wanted', async () => {
    await server.scene();
    const next = await proposal();
    expect(next).toMatchObject({
      ...{ label: '2027/28', firstDay: '2027-08-30', lastDay: '2028-07-07' },
      courses: [
        { title: 'Course', teachers: ['owner'], classes: [{ code: 'A' }, { code: 'B' }] },
        {
          title: expect.stringMatching(/^Course \d+$/u) as string,
          classes: [/^X\d+$/u, /^Y\d+$/u].map((code) => ({
            code: expect.stringMatching(code) as string,
          })),
        },
      ],
    });
    const [course] = next.courses;
    const reply = await make({
      ...{ label: next.label, firstDay: next.firstDay, lastDay: next.lastDay },
      courses: [{ from: course!.id, classes: [{ from: course!.classes[1]!.id, code: 'B2' }] }],
    });
    expect(reply.status).toBe(201);
    const { id } = (await reply.json()) as { id: string };
    expect(
      (await listed()).map(({ label, classes, students }) => [label, classes, students]),
    ).toEqual([
      ['2027/28', 1, 0],
      ['2026/27', 4, 3],
    ]);
    const { courses: taught } = await ask<Courses>('owner', 'GET', '/api/courses');
    const made = taught.find(({ yearId }) => yearId === id)!;
    expect(made).toMatchObject({ title: 'Course', classes: [{ code: 'B2', students: 0 }] });
    // Nobody has anything by it.
    expect((await ask<YearClosing>('office', 'GET', `/api/years/${id}/closing`)).things).toBe(0);
    await db.update(courses).set({ removedAt: new Date() }).where(eq(courses.yearId, id));
  });

  it('has a name of its own, days in their order, and no class twice; else nothing is made', async () => {
    const days = { firstDay: '2028-08-28', lastDay: '2029-07-06' };
    await refused(await make({ label: '2026/27', ...days, courses: [] }), 409, 'year-taken');
    await refused(
      await make({ label: 'Back', firstDay: '2029-01-01', lastDay: '2029-01-01', courses: [] }),
      422,
      'ends-before-start',
    );
    const [course] = (await proposal()).courses;
    const [a, b] = course!.classes;
    const twice = [
      { from: a!.id, code: 'SO1' },
      { from: b!.id, code: 'so1' },
    ];
    await refused(
      await make({ label: 'Twice', ...days, courses: [{ from: course!.id, classes: twice }] }),
      409,
      'code-taken',
    );
    const elsewhere = [{ from: world.yearId, classes: [] }];
    await refused(await make({ label: 'None', ...days, courses: elsewhere }), 404, 'not-found');
    expect((await listed()).map(({ label }) => label)).not.toContain('Twice');
    const both = await Promise.all([1, 2].map(() => make({ label: 'Once', ...days, courses: [] })));
    expect(both.map(({ status }) => status).sort()).toEqual([201, 409]);
  });
});

describe('closing a year', () => {
  it('takes from its classes what they have, leaves it to teachers, and gives it back', async () => {
    const scene = await server.scene();
    const seen = (who: Parameters<typeof call>[0]) =>
      call(who, 'GET', `/api/folders/${scene.handed}/contents`).then(({ status }) => status);
    const closing = await ask<YearClosing>('office', 'GET', `/api/years/${world.yearId}/closing`);
    expect(closing).toMatchObject({ classes: 6, students: 4, boxes: 0 });
    expect(closing.things).toBeGreaterThan(0);
    expect([await seen('student in'), await seen('owner')]).toEqual([200, 200]);
    await close();
    await close();
    expect([await seen('student in'), await seen('owner')]).toEqual([404, 200]);
    expect((await call('visitor without', 'GET', `/api/open/${scene.token}`)).status).toBe(200);
    expect((await listed()).find(({ id }) => id === world.yearId)!.closedAt).not.toBeNull();
    // Courses that are over go to nobody.
    const things = await ask<PersonThings>(
      'office',
      'GET',
      `/api/people/${world.ids.owner}/things`,
    );
    expect(things.courses).toEqual([]);
    await reopen();
    expect(await seen('student in')).toBe(200);
  });

  it('leaves to students what they have by a class of another year too', async () => {
    const scene = await server.scene();
    const next = await proposal();
    const [course] = next.courses;
    await make({
      ...{ label: 'Other', firstDay: '2029-08-28', lastDay: '2030-07-06' },
      courses: [{ from: course!.id, classes: [{ from: course!.classes[0]!.id, code: 'NEXT' }] }],
    });
    const { courses: taught } = await ask<Courses>('owner', 'GET', '/api/courses');
    const made = taught.flatMap(({ classes }) => classes).find(({ code }) => code === 'NEXT')!;
    await db.insert(memberships).values({
      ...{ schoolId: world.schoolId, classId: made.id, personId: world.ids['student in'] },
    });
    await ask('owner', 'POST', '/api/grants', {
      things: [{ kind: 'folder', id: scene.handed }],
      audiences: [{ kind: 'class', id: made.id }],
    });
    await close();
    const seen = await call('student in', 'GET', `/api/folders/${scene.handed}/contents`);
    expect(seen.status).toBe(200);
    await reopen();
  });

  it('loses no file that is on its way: teachers go on, and students hand in once it is open again', async () => {
    const scene = await server.scene();
    const asked = { title: 'Soil log', classIds: [world.classA] };
    const [box] = (await ask<{ ids: [string] }>('owner', 'POST', '/api/boxes', asked)).ids;
    const { own } = await ask<Boxes>('student in', 'GET', '/api/boxes');
    const { placeId } = own.find(({ id }) => id === box)!;
    const names = async (who: Parameters<typeof call>[0]) => {
      const path = `/api/folders/${scene.handed}/contents`;
      return (await ask<Contents>(who, 'GET', path)).items.map(({ title }) => title);
    };
    const handedIn = await files.send('student in', placeId, 'log.txt', 'rain', 4);
    const sheets = await Promise.all(
      ['one', 'two', 'three'].map((name) =>
        files.send('owner', scene.handed, `${name}.txt`, name, name.length),
      ),
    );
    const [, ...placed] = await Promise.all([
      close(),
      ...sheets.map((id) => files.place('owner', scene.handed, id)),
    ]);
    expect(placed.map(({ status }) => status)).toEqual([200, 200, 200]);
    await refused(await files.place('student in', placeId, handedIn), 409, 'box-ended');
    expect(await names('owner')).toEqual(expect.arrayContaining(['one', 'two', 'three']));
    await reopen();
    expect(await names('student in')).toEqual(expect.arrayContaining(['one', 'two', 'three']));
    expect((await files.place('student in', placeId, handedIn)).status).toBe(200);
  });

  it('is for the office of that school alone', async () => {
    const [other] = await db
      .insert(years)
      .values({
        ...{ schoolId: world.otherSchoolId, label: 'Theirs' },
        ...{ firstDay: '2026-08-31', lastDay: '2027-07-09' },
      })
      .returning();
    await refused(await call('office', 'PUT', `/api/years/${other!.id}/closed`), 404, 'not-found');
    await refused(
      await call('owner', 'PUT', `/api/years/${world.yearId}/closed`),
      404,
      'not-found',
    );
    await refused(await call('office', 'GET', `/api/years/${other!.id}/next`), 404, 'not-found');
  });
});
