import type { ClassList, Courses, ImportedRoster } from '@sammlung/contract';
import { writeRoster } from '@sammlung/core';
import { ROSTER, SCHOOL } from '@sammlung/core/testing';
import { ZipArchive } from 'archiver';
import { eq } from 'drizzle-orm';
import { buffer } from 'node:stream/consumers';
import { afterAll, describe, expect, it } from 'vitest';
import { people } from '../src/db/schema/index.ts';
import { unpackRoster } from '../src/features/roster/archive.ts';
import { startServer } from './harness.ts';

const server = await startServer();
const { world, db, ask, call, refused } = server;
afterAll(() => server.stop());
// The colleague of the harness becomes the office of this school.
await db.update(people).set({ kind: 'office' }).where(eq(people.id, world.ids.colleague));

const bytes = { 'content-type': 'application/octet-stream' };
async function zipped(files: Record<string, string>) {
  const archive = new ZipArchive();
  for (const [name, text] of Object.entries(files)) archive.append(text, { name });
  void archive.finalize();
  return new Uint8Array(await buffer(archive));
}
const send = async (archive: Uint8Array, query: string) =>
  call('colleague', 'POST', `/api/oneroster?${query}`, archive as BodyInit, bytes);
const take = async (archive: Uint8Array, query = 'take=yes') =>
  (await (await send(archive, query)).json()) as ImportedRoster;

const files = () => writeRoster(SCHOOL, ROSTER);

describe('people in OneRoster files', () => {
  const HEAD = 'sourcedId,givenName,familyName,role,email,username';

  it('never become somebody who is here as something else, and are found by their sign-in names', async () => {
    const [pupil] = await db
      .insert(people)
      .values({
        schoolId: world.schoolId,
        kind: 'student',
        name: 'Old Name',
        signInName: 'quill42',
      })
      .returning();
    const roster = {
      'classes.csv': 'sourcedId,title,courseSourcedId',
      'users.csv': [
        HEAD,
        ',Left,Out,student,,',
        'x-1,Owner,Student,student,owner@example.org,',
        'x-2,New,Name,student,,QUILL42',
        'x-3,Pupil,Teacher,teacher,student.in@example.org,',
      ].join('\n'),
    };
    const taken = await take(await zipped(roster));
    expect(taken.people).toEqual({ made: 0, known: 1 });
    expect(taken.faults.map((f) => [f.line, f.fault, f.what])).toEqual([
      [2, 'missing', 'sourcedId'],
      [3, 'other-kind', 'owner@example.org'],
      [5, 'other-kind', 'student.in@example.org'],
    ]);
    const named = async (id: string) =>
      (await db.select().from(people).where(eq(people.id, id)))[0]!;
    expect(await named(pupil!.id)).toMatchObject({ name: 'New Name', externalId: 'x-2' });
    expect(await named(world.ids.owner)).toMatchObject({ name: 'owner', kind: 'teacher' });
  });
});

describe('a roster from the school’s system', () => {
  it('is told before, taken, and taken again changes nothing; who is no longer in it leaves where asked', async () => {
    const archive = await zipped(files());
    const told = await take(archive, 'take=no');
    expect(told).toMatchObject({
      courses: { made: 1, known: 0 },
      classes: { made: 2, known: 0 },
      people: { made: 3, known: 0 },
      joined: 2,
      left: 0,
      faultCount: 0,
    });
    const courses = async () =>
      (await ask<Courses>('colleague', 'GET', '/api/courses')).courses.find(
        (c) => c.title === 'Bees',
      );
    expect(await courses()).toBeUndefined();
    expect(await take(archive)).toEqual(told);
    const made = (await courses())!;
    expect(made.teachers.map((x) => x.name)).toEqual(['Ada Teach']);
    expect(await take(archive)).toMatchObject({
      courses: { made: 0, known: 1 },
      people: { made: 0, known: 3 },
      joined: 0,
      left: 0,
    });
    const less = { ...ROSTER, enrollments: ROSTER.enrollments.filter((e) => e.personId !== 'p-2') };
    const without = await zipped(writeRoster(SCHOOL, less));
    expect((await take(without)).left).toBe(0);
    expect((await take(without, 'take=yes&leave=yes')).left).toBe(1);
    const list = await ask<ClassList>('colleague', 'GET', `/api/classes/${made.classes[0]!.id}`);
    expect(list.members.map((m) => [m.name, m.state])).toEqual([
      ['Öykü Maria Işık', expect.stringMatching(/now|later/u)],
      ['Bo Bo', 'left'],
    ]);
  });

  it('that was saved here is known in full when it comes back', async () => {
    const reply = await call('colleague', 'GET', '/api/oneroster');
    expect(reply.headers.get('content-type')).toBe('application/zip');
    const archive = new Uint8Array(await reply.arrayBuffer());
    const unpacked = await unpackRoster(Buffer.from(archive));
    expect(Object.keys(unpacked).sort()).toEqual([
      'classes',
      'courses',
      'enrollments',
      'roles',
      'users',
    ]);
    const told = await take(archive, 'take=no');
    expect(told.faults).toEqual([]);
    expect([told.courses.made, told.classes.made, told.people.made, told.joined]).toEqual([
      0, 0, 0, 0,
    ]);
    expect(told.people.known).toBeGreaterThanOrEqual(4);
  });

  it('is refused when it is no archive or has no list, and nobody of another school is touched', async () => {
    await refused(
      await send(new TextEncoder().encode('no archive'), 'take=yes'),
      422,
      'list-binary',
    );
    await refused(await send(await zipped({ 'readme.txt': 'x' }), 'take=yes'), 422, 'list-empty');
    const many = Object.fromEntries(Array.from({ length: 201 }, (_, n) => [`${n}.txt`, '']));
    await refused(await send(await zipped(many), 'take=yes'), 422, 'list-too-long');
    const twice = { 'a/users.csv': 'x', 'b/users.csv': 'x' };
    await refused(await send(await zipped(twice), 'take=yes'), 422, 'list-too-long');
    const large = 'x'.repeat(45_000_000);
    const heavy = { 'users.csv': large, 'classes.csv': large };
    await refused(await send(await zipped(heavy), 'take=yes'), 422, 'list-too-long');
    const stranger = {
      ...ROSTER,
      people: [{ ...ROSTER.people[0]!, id: 'p-9', email: 'other.school@example.org' }],
      enrollments: [],
    };
    const told = await take(await zipped(writeRoster(SCHOOL, stranger)), 'take=no');
    expect(told.faults).toEqual([
      { file: 'users', line: 2, fault: 'twice', what: 'other.school@example.org' },
    ]);
    expect((await call('owner', 'POST', '/api/oneroster?take=yes', 'x', bytes)).status).toBe(404);
  });
});
