import type { PersonThings, Tree } from '@sammlung/contract';
import { eq, sql } from 'drizzle-orm';
import { afterAll, describe, expect, it } from 'vitest';
import { courseTeachers, doors, entries, folders, items } from '../src/db/schema/index.ts';
import { startServer } from './harness.ts';

const server = await startServer();
const { ask, call, db, refused, world } = server;
afterAll(() => server.stop());
await server.enrol('adds', 'teacher');
const to = await server.enrol('manages', 'teacher');
const from = world.ids.owner;

const handOver = (body: { to: string }, person = from) =>
  call('office', 'POST', `/api/people/${person}/hand-over`, body);
const undo = (id: string) => call('office', 'DELETE', `/api/hand-overs/${id}`);
/** All folders and items with their owners, and where they are: what Undo brings back. */
const everything = () =>
  db.execute(sql`
    select 'folder' as kind, id, owner_id, parent_id, path from folders where binned_at is null
    union all select 'item', id, owner_id, null, null from items
    union all select 'entry', id, owner_id, null, null from entries
    union all select 'door', id, created_by, null, null from doors
    union all select 'teaches', course_id, person_id, null, null from course_teachers order by kind, id, owner_id`);
const rows = async () => (await everything()).rows;

describe('all that a teacher has', () => {
  it('goes to a colleague, in a folder of its own, and whoever saw it sees it; Undo brings it back', async () => {
    const scene = await server.scene();
    await ask('owner', 'POST', '/api/bin', { things: [{ kind: 'folder', id: scene.inner }] });
    const second = await server.scene();
    const [entry] = await db
      .insert(entries)
      .values({ schoolId: world.schoolId, ownerId: from, title: 'Read this', text: '' })
      .returning();
    const before = await rows();
    const things = await ask<PersonThings>('office', 'GET', `/api/people/${from}/things`);
    expect(things).toMatchObject({ folders: 5, items: 2 });
    expect(new Set(things.courses.map((course) => course.id))).toEqual(
      new Set([world.courseId, scene.course, second.course]),
    );

    const made = await handOver({ to });
    expect(made.status).toBe(201);
    const { id } = (await made.json()) as { id: string };
    const owned = async (table: typeof folders | typeof items | typeof entries) =>
      (await db.select({ id: table.id }).from(table).where(eq(table.ownerId, from))).length;
    expect(await Promise.all([folders, items, entries].map(owned))).toEqual([0, 0, 0]);
    const { folders: tree } = await ask<Tree>('manages', 'GET', '/api/library/tree');
    const top = tree.find(({ title }) => title === 'owner')!;
    expect(tree.filter(({ parentId }) => parentId === top.id).map((folder) => folder.id)).toEqual([
      scene.secret,
      second.secret,
    ]);
    for (const who of ['student in', 'manages'] as const)
      expect((await call(who, 'GET', `/api/folders/${second.inner}/contents`)).status).toBe(200);
    expect((await call('owner', 'GET', `/api/folders/${second.inner}/contents`)).status).toBe(404);
    expect((await call('visitor without', 'GET', `/api/open/${second.token}`)).status).toBe(200);
    await ask('manages', 'PATCH', `/api/folders/${second.secret}`, { title: 'Mine now' });
    await ask('manages', 'PATCH', `/api/folders/${second.secret}`, { title: 'Mine again' });
    const [door] = await db.select().from(doors).where(eq(doors.id, second.door));
    expect(door!.createdBy).toBe(to);
    const [given] = await db.select().from(entries).where(eq(entries.id, entry!.id));
    expect(given!.ownerId).toBe(to);
    const teaching = await db
      .select()
      .from(courseTeachers)
      .where(eq(courseTeachers.personId, from));
    expect(teaching).toEqual([]);

    expect((await undo(id)).status).toBe(204);
    expect(await rows()).toEqual(before);
    await refused(await undo(id), 404, 'not-found');
  });

  it('stays where the colleague has put it since, when it is undone', async () => {
    const scene = await server.scene();
    const { id } = (await (await handOver({ to })).json()) as { id: string };
    const mine = await ask<{ id: string }>('manages', 'POST', '/api/folders', {
      ...{ parentId: null, title: 'Of my own' },
    });
    await ask('manages', 'POST', '/api/moves', {
      ...{ things: [{ kind: 'folder', id: scene.secret }], to: mine.id, before: null },
    });
    expect((await undo(id)).status).toBe(204);
    const [moved] = await db.select().from(folders).where(eq(folders.id, scene.secret));
    expect(moved).toMatchObject({ ownerId: to, parentId: mine.id });
  });

  it('keeps courses that others teach, but for those who are let in no more', async () => {
    const scene = await server.scene();
    const { schoolId } = world;
    const [other] = await db
      .insert(courseTeachers)
      .values({ schoolId, courseId: scene.course, personId: world.ids.colleague })
      .returning();
    const labels = async () =>
      (await ask<PersonThings>('office', 'GET', `/api/people/${from}/things`)).courses.map(
        (course) => course.id,
      );
    expect(await labels()).not.toContain(scene.course);
    await ask('office', 'PUT', `/api/people/${other!.personId}/deactivated`);
    expect(await labels()).toContain(scene.course);
    await ask('office', 'DELETE', `/api/people/${other!.personId}/deactivated`);
    await server.signInAgain();
  });

  it('goes to no student, nobody of another school, not to oneself, and to nobody who is let in no more', async () => {
    const person = { kind: 'teacher', name: 'Gone', email: null };
    const gone = await ask<{ id: string }>('office', 'POST', '/api/people', person);
    await ask('office', 'PUT', `/api/people/${gone.id}/deactivated`);
    const { ids } = world;
    for (const wrong of [ids['student in'], ids['other school'], ids.office, from, gone.id])
      await refused(await handOver({ to: wrong }), 404, 'not-found');
    await refused(await handOver({ to }, ids['student in']), 404, 'not-found');
    expect((await handOver({ to: from }, gone.id)).status).toBe(201);
  });

  it('goes once, also when the office does it twice at once in both directions', async () => {
    await server.scene();
    const replies = await Promise.all([
      handOver({ to }),
      handOver({ to: from }, to),
      handOver({ to }),
    ]);
    expect(replies.map(({ status }) => status)).toEqual([201, 201, 201]);
    const found = await rows();
    const owners = new Set(
      found.filter(({ kind }) => kind === 'folder').map((row) => row.owner_id),
    );
    expect(owners.size).toBe(1);
  });

  it('goes to nobody where its folders would be too deep', async () => {
    let parentId: string | null = null;
    for (let level = 0; level < 64; level += 1) {
      const [made]: { id: string }[] = await db
        .insert(folders)
        .values({
          ...{ schoolId: world.schoolId, ownerId: world.ids.colleague, title: 'Deep' },
          ...{ createdBy: world.ids.colleague, parentId },
        })
        .returning({ id: folders.id });
      parentId = made!.id;
    }
    await refused(await handOver({ to }, world.ids.colleague), 422, 'too-deep');
  });
});
