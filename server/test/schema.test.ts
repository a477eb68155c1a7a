import { randomUUID } from 'node:crypto';
import { nameKey } from '@sammlung/core';
import { eq, sql } from 'drizzle-orm';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import * as s from '../src/db/schema/index.ts';
import { scratchDatabase } from './database.ts';

const database = await scratchDatabase();
const { db } = database;
afterAll(database.close);

const schoolId = randomUUID();
const otherId = randomUUID();
const teacher = randomUUID();
const stranger = randomUUID();

beforeAll(async () => {
  await db.insert(s.schools).values([
    { id: schoolId, name: 'One', timeZone: 'UTC' },
    { id: otherId, name: 'Two', timeZone: 'UTC' },
  ]);
  await db.insert(s.people).values([
    { id: teacher, schoolId, kind: 'teacher', name: 'Teacher' },
    { id: stranger, schoolId: otherId, kind: 'teacher', name: 'Stranger' },
  ]);
});

async function folder(
  title: string,
  parentId: string | null = null,
  more: Partial<typeof s.folders.$inferInsert> = {},
) {
  const [made] = await db
    .insert(s.folders)
    .values({ schoolId, ownerId: teacher, createdBy: teacher, title, parentId, ...more })
    .returning();
  return made!;
}

/** The name of the rule that a statement breaks, or the code of another error of the database. */
async function broken(statement: PromiseLike<unknown>): Promise<string | undefined> {
  try {
    await statement;
  } catch (error) {
    const cause = error instanceof Error ? error.cause : undefined;
    if (cause instanceof pg.DatabaseError) return cause.constraint ?? cause.code;
    throw error;
  }
  return undefined;
}

const move = (id: string, parentId: string | null) =>
  db.update(s.folders).set({ parentId }).where(eq(s.folders.id, id));
const pathOf = async (id: string) =>
  (await db.select().from(s.folders).where(eq(s.folders.id, id)))[0]!.path;

describe('the tables refuse what must not be', () => {
  it('keep the path of a folder and of all below it when it moves', async () => {
    const a = await folder('a');
    const b = await folder('b', a.id);
    const c = await folder('c', b.id);
    const other = await folder('other');
    await move(b.id, other.id);
    expect(await pathOf(c.id)).toEqual([other.id, b.id, c.id]);
    await move(b.id, null);
    expect(await pathOf(c.id)).toEqual([b.id, c.id]);
  });

  it('a folder in itself or below itself, also when two people tie the knot together', async () => {
    const a = await folder('knot a');
    const b = await folder('knot b', a.id);
    expect(await broken(move(a.id, a.id))).toBe('folders_no_knot');
    expect(await broken(move(a.id, b.id))).toBe('folders_no_knot');
    const x = await folder('knot x');
    const y = await folder('knot y');
    const outcomes = await Promise.all([broken(move(x.id, y.id)), broken(move(y.id, x.id))]);
    expect(outcomes.filter((o) => o === undefined)).toHaveLength(1);
    // Where each has the row that the other looks at, the database ends one of them.
    expect(outcomes.find((o) => o !== undefined)).toMatch(/^(folders_no_knot|40P01)$/u);
  });

  it('a path that is not the one of the parent', async () => {
    const a = await folder('path');
    expect(
      await broken(
        db
          .update(s.folders)
          .set({ path: [randomUUID(), a.id] })
          .where(eq(s.folders.id, a.id)),
      ),
    ).toBe('folders_path');
  });

  it('siblings of one name, but not a binned one beside a living one', async () => {
    const top = await folder('siblings');
    await folder('Größe', top.id, { binnedAt: new Date() });
    await folder('Größe', top.id);
    expect(await broken(folder('GRÖßE', top.id))).toBe('folders_sibling_name');
    expect(await broken(folder('Gro\u0308ße', top.id))).toBe('folders_sibling_name');
    expect(await broken(folder('siblings'))).toBe('folders_top_name');
  });

  it('anything that reaches into another school', async () => {
    const mine = await folder('tenant');
    const alien = { schoolId: otherId, ownerId: stranger, createdBy: stranger };
    expect(
      await broken(db.insert(s.folders).values({ ...alien, title: 'x', parentId: mine.id })),
    ).toContain('school_id');
    expect(await broken(folder('y', null, { ownerId: stranger }))).toContain('school_id');
    const grant = {
      schoolId: otherId,
      folderId: mine.id,
      audienceKind: 'staff' as const,
      createdBy: stranger,
    };
    expect(await broken(db.insert(s.grants).values(grant))).toContain('school_id');
  });

  it('a file without content, a version of another item as the newest', async () => {
    const file = { schoolId, ownerId: teacher, kind: 'file' as const, title: 'empty' };
    expect(await broken(db.insert(s.items).values(file))).toBe('items_have_content');
    const link = { schoolId, ownerId: teacher, kind: 'link' as const, title: 'link' };
    expect(await broken(db.insert(s.items).values(link))).toBe('items_link');
  });

  it('handings out that mean nothing', async () => {
    const f = await folder('grants');
    const base = { schoolId, folderId: f.id, createdBy: teacher };
    const put = (more: object) =>
      broken(
        db
          .insert(s.grants)
          .values({ ...base, audienceKind: 'staff', ...more } as typeof s.grants.$inferInsert),
      );
    expect(await put({ audienceKind: 'class' })).toBe('grants_audience');
    expect(await put({ folderId: null })).toBe('grants_target');
    expect(await put({ audienceKind: 'school', level: 'manage' })).toBe('grants_level');
    const [from, until] = [new Date(2), new Date(1)];
    expect(await put({ fromAt: from, untilAt: until })).toBe('grants_span');
    expect(await put({})).toBeUndefined();
    expect(await put({})).toBe('grants_folder_once');
    expect(
      await broken(db.insert(s.doors).values({ ...base, kind: 'public', token: 'short' })),
    ).toBe('doors_token');
  });

  it('two items of one name in a folder, by whatever way the name comes about', async () => {
    const f = await folder('names');
    const link = async (title: string) => {
      const [made] = await db
        .insert(s.items)
        .values({ schoolId, ownerId: teacher, kind: 'link', title, url: 'https://example.org' })
        .returning();
      return made!;
    };
    const [a, b] = [await link('Map'), await link('Chart')];
    const put = (itemId: string) =>
      db.insert(s.placements).values({ schoolId, folderId: f.id, itemId, addedBy: teacher });
    await put(a.id);
    await put(b.id);
    expect(await broken(put(a.id))).toBe('placements_once');
    expect(await broken(put((await link('MAP')).id))).toBe('placements_sibling_name');
    expect(await broken(db.update(s.items).set({ title: 'map' }).where(eq(s.items.id, b.id)))).toBe(
      'placements_sibling_name',
    );
    const [row] = await db
      .select({ key: s.placements.nameKey })
      .from(s.placements)
      .where(eq(s.placements.itemId, b.id));
    expect(row?.key).toBe('chart');
  });

  it('name keys are those of core/naming', async () => {
    for (const name of ['Böden', 'Bo\u0308DEN', 'ΣΟΦΟΣ', 'İstanbul', 'Straße', '土壌 A', 'ﬁsh'])
      expect((await db.execute(sql`select item_name_key(${name}, '') as key`)).rows[0]).toEqual({
        key: nameKey(name),
      });
  });
});
