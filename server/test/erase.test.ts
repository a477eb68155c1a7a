import type { Boxes, Contents, Desk, Erasure, People } from '@sammlung/contract';
import { eq, sql } from 'drizzle-orm';
import { afterAll, describe, expect, it } from 'vitest';
import { PERSON_TABLES } from '../src/db/person-tables.ts';
import { blobs, folders, grants, items, memberships, people } from '../src/db/schema/index.ts';
import { startServer } from './harness.ts';
import { uploader } from './upload.ts';

const server = await startServer();
const { ask, call, db, refused, world } = server;
const { add } = uploader(server);
afterAll(() => server.stop());
const { schoolId, classA } = world;

const deactivate = (id: string) => ask('office', 'PUT', `/api/people/${id}/deactivated`);
const erasure = (id: string) => ask<Erasure>('office', 'GET', `/api/people/${id}/erasure`);
const erase = (id: string) => call('office', 'DELETE', `/api/people/${id}`);
/** How often a person is still spoken of, by table and column. */
async function tracesOf(id: string) {
  const found: Record<string, number> = {};
  for (const { name, who } of PERSON_TABLES)
    for (const column of who) {
      const { rows } = await db.execute<{ n: number }>(
        sql`select count(*)::int as n from ${sql.identifier(name)} where ${sql.identifier(column)} = ${id}::uuid`,
      );
      if (rows[0]!.n > 0) found[`${name}.${column}`] = rows[0]!.n;
    }
  return found;
}

describe('a student who is erased', () => {
  it('goes with the account, the desk, what was handed in and what was recorded; the rest stays with whom it was for', async () => {
    const id = await server.enrol('leaver', 'student');
    await db.insert(memberships).values({ schoolId, classId: classA, personId: id });
    const scene = await server.scene();
    const { folderId } = await ask<Desk>('leaver', 'POST', '/api/desk');
    await ask('leaver', 'POST', '/api/folders', { parentId: folderId, title: 'Notes' });
    await add('leaver', folderId, 'mine.txt', 'only on the desk');
    const asked = { title: 'Soil log', classIds: [classA] };
    const [box] = (await ask<{ ids: [string] }>('owner', 'POST', '/api/boxes', asked)).ids;
    const { placeId } = (await ask<Boxes>('leaver', 'GET', '/api/boxes')).own.find(
      (one) => one.id === box,
    )!;
    const handed = (await add('leaver', placeId, 'log.txt', 'handed in')).placementId!;
    await ask('owner', 'POST', `/api/placements/${handed}/remarks`, { body: 'Well done' });
    await ask('owner', 'PUT', `/api/placements/${handed}/opened`);
    const marked = (await add('owner', placeId, 'marked.txt', 'the teacher’s own')).placementId!;
    // Into a folder of the teacher's.
    await db.insert(grants).values({
      ...{ schoolId, folderId: scene.inner, personId: id, createdBy: world.ids.owner },
      ...{ audienceKind: 'person', level: 'view' },
    });
    const shared = (await add('owner', scene.inner, 'shared.txt', 'of the class')).placementId!;
    await db.execute(
      sql`update items set owner_id = ${id}::uuid where id = (select item_id from placements where id = ${shared}::uuid)`,
    );
    await ask('leaver', 'PUT', `/api/placements/${shared}/opened`);
    await ask('leaver', 'POST', '/api/kept', { kind: 'folder', id: scene.inner });
    const contents = async () => (await db.select().from(blobs)).length;
    const before = await contents();

    await refused(await call('office', 'GET', `/api/people/${id}/erasure`), 409, 'still-active');
    await refused(await erase(id), 409, 'still-active');
    await deactivate(id);
    expect(await erasure(id)).toEqual({
      ...{ first: false, folders: 1, items: 1, handedIn: 2, listed: false },
      stays: [{ name: 'owner', items: 1 }],
    });
    expect((await erase(id)).status).toBe(204);

    expect(await tracesOf(id)).toEqual({ 'log.person_id': 1 });
    const [row] = await db.select().from(people).where(eq(people.id, id));
    expect(row).toMatchObject({ name: 'Erased account', email: null, signInName: null });
    expect(await contents()).toBe(before - 2);
    const { people: found } = await ask<People>('office', 'GET', '/api/people?ended=true');
    expect(found.map((one) => one.id)).not.toContain(id);
    for (const again of [erase(id), call('office', 'GET', `/api/people/${id}`)])
      await refused(await again, 404, 'not-found');
    await refused(await call('owner', 'GET', `/api/places/${placeId}`), 404, 'not-found');
    const inFolder = await ask<Contents>('owner', 'GET', `/api/folders/${scene.inner}/contents`);
    expect(inFolder.items.map(({ title }) => title)).toContain('shared');
    const [kept] = await db
      .execute<{ owner_id: string; binned: boolean }>(
        sql`select i.owner_id, exists (select from folders b where b.id = any (f.path) and b.binned_at is not null) as binned
        from placements p join items i on i.id = p.item_id join folders f on f.id = p.folder_id where p.id = ${marked}::uuid`,
      )
      .then(({ rows }) => rows);
    expect(kept).toEqual({ owner_id: world.ids.owner, binned: true });
  });
});

describe('a teacher who is erased', () => {
  it('gives the library to a colleague first', async () => {
    const id = await server.enrol('manages', 'teacher');
    await ask('manages', 'POST', '/api/folders', { parentId: null, title: 'Soil' });
    await deactivate(id);
    expect(await erasure(id)).toMatchObject({ first: true, folders: 1 });
    await refused(await erase(id), 409, 'things-first');
    await ask('office', 'POST', `/api/people/${id}/hand-over`, { to: world.ids.owner });
    expect(await erasure(id)).toMatchObject({ first: false, folders: 0, items: 0 });
    expect((await erase(id)).status).toBe(204);
    const [soil] = await db.select().from(folders).where(eq(folders.title, 'Soil'));
    expect(soil!.ownerId).toBe(world.ids.owner);
    expect(await db.select().from(items).where(eq(items.ownerId, id))).toEqual([]);
    expect(Object.keys(await tracesOf(id)).sort()).toEqual([
      'folders.created_by',
      'hand_overs.from_id',
      'log.person_id',
    ]);
  });

  it('nor does anybody go who is of another school or comes in', async () => {
    await refused(await erase(world.ids['other school']), 404, 'not-found');
    await refused(await erase(world.ids.office), 409, 'still-active');
  });
});
