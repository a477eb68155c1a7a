import type { Contents, NewThings, Tree } from '@sammlung/contract';
import { eq } from 'drizzle-orm';
import { afterAll, describe, expect, it } from 'vitest';
import { openingCounts, openings, placements, versions } from '../src/db/schema/index.ts';
import { endOpenings } from '../src/domain/openings.ts';
import { startServer } from './harness.ts';

const server = await startServer();
const { ask, call, db, world } = server;
afterAll(() => server.stop());

const DAY_MS = 24 * 60 * 60 * 1000;
const ago = (days: number) => new Date(Date.now() - days * DAY_MS);

describe('openings', () => {
  it('of more than a year ago become counts, and name nobody', async () => {
    const { placement, version, door } = await server.scene();
    const row = { schoolId: world.schoolId, placementId: placement, versionId: version };
    const opened = { ...row, kind: 'opened' as const };
    await db.insert(openings).values([
      { ...opened, personId: world.ids['student in'], at: ago(370) },
      { ...opened, personId: world.ids['student out'], at: ago(369) },
      { ...opened, personId: world.ids['student in'], at: ago(300) },
      { ...opened, doorId: door, at: ago(400) },
      { ...row, kind: 'downloaded', personId: world.ids['student in'], at: ago(400) },
    ]);
    expect(await endOpenings(db, Date.now())).toBe(4);
    const left = await db.select().from(openings).where(eq(openings.placementId, placement));
    expect(left.map((o) => o.personId)).toEqual([world.ids['student in']]);
    const counts = async () =>
      (await db.select().from(openingCounts).where(eq(openingCounts.placementId, placement)))
        .map(({ kind, visitors, count }) => `${kind} ${visitors} ${count}`)
        .sort();
    expect(await counts()).toEqual(['downloaded false 1', 'opened false 2', 'opened true 1']);
    // Another night adds to them, and takes nothing twice.
    await db.insert(openings).values({ ...opened, personId: world.ids.colleague, at: ago(366) });
    expect(await endOpenings(db, Date.now())).toBe(1);
    expect(await endOpenings(db, Date.now())).toBe(0);
    expect(await counts()).toEqual(['downloaded false 1', 'opened false 3', 'opened true 1']);
  });

  it('that are gone do not make old things new', async () => {
    const { placement, version, inner } = await server.scene();
    const seen = async () => {
      const { things, unopened } = await ask<NewThings>('student in', 'GET', '/api/new');
      const { items } = await ask<Contents>('student in', 'GET', `/api/folders/${inner}/contents`);
      return {
        isNew: things.find((x) => x.placementId === placement)?.opened === false,
        counted: unopened,
        marked: items.find((x) => x.placementId === placement)?.opened === false,
      };
    };
    const before = await seen();
    expect(before).toMatchObject({ isNew: true, marked: true });
    const age = async (days: number) => {
      await db
        .update(placements)
        .set({ addedAt: ago(days) })
        .where(eq(placements.id, placement));
      await db
        .update(versions)
        .set({ createdAt: ago(days) })
        .where(eq(versions.id, version));
      await db.execute(`update grants set created_at = now() - interval '${days} days'`);
    };
    await age(360);
    expect(await seen()).toMatchObject({ isNew: true, marked: true });
    await age(366);
    expect(await seen()).toEqual({ isNew: false, counted: 0, marked: false });
  });

  it('and counts go with what is deleted for good', async () => {
    const { placement, version, secret } = await server.scene();
    await db.insert(openingCounts).values({
      schoolId: world.schoolId,
      placementId: placement,
      versionId: version,
      kind: 'opened',
      visitors: false,
      count: 7,
    });
    await ask('owner', 'POST', '/api/bin', { things: [{ kind: 'folder', id: secret }] });
    expect((await call('owner', 'POST', '/api/bin/empty', {})).status).toBe(204);
    const left = await db
      .select()
      .from(openingCounts)
      .where(eq(openingCounts.placementId, placement));
    expect(left).toEqual([]);
  });
});

describe('the tree of a library', () => {
  it('marks what is handed out of it, and what lies below', async () => {
    const { secret, handed, inner } = await server.scene();
    const { folders } = await ask<Tree>('owner', 'GET', '/api/library/tree');
    const marks = Object.fromEntries(folders.map((f) => [f.id, f.handedOut]));
    expect([marks[secret], marks[handed], marks[inner]]).toEqual([false, true, true]);
  });
});
