import type { Contents, HandedOut, MadePaths, Placed, Released } from '@sammlung/contract';
import { eq, inArray, sql } from 'drizzle-orm';
import { afterAll, describe, expect, it } from 'vitest';
import {
  classReleases,
  folders,
  grants,
  items,
  people,
  placements,
} from '../src/db/schema/index.ts';
import { startServer, type Who } from './harness.ts';

const server = await startServer();
const { ask, call, refused, db, world } = server;
afterAll(() => server.stop());

const { schoolId, ids } = world;
const numbers = (count: number) => Array.from({ length: count }, (_, n) => n);
const asFolders = (of: readonly string[]) => of.map((id) => ({ kind: 'folder' as const, id }));

async function foldersOf(who: Who, title: string, count: number) {
  const paths = numbers(count).map((n) => [title, `${title} ${n}`]);
  return ask<MadePaths>(who, 'POST', '/api/paths', { parentId: null, paths });
}

describe('as much as is allowed at once', () => {
  it('a thousand folders are handed out to eight audiences, changed and taken back', async () => {
    const made = await foldersOf('owner', 'Handed', 1000);
    const six = await db
      .insert(people)
      .values(numbers(6).map((n) => ({ schoolId, kind: 'student' as const, name: `Many ${n}` })))
      .returning({ id: people.id });
    const audiences = [
      ...six.map(({ id }) => ({ kind: 'person', id })),
      { kind: 'class', id: world.classA },
      { kind: 'course', id: world.courseId },
    ];
    const hand = (more: object) =>
      ask<HandedOut>('owner', 'POST', '/api/grants', {
        things: asFolders(made.ids),
        audiences,
        level: 'view',
        from: null,
        until: null,
        note: null,
        ...more,
      });
    const first = await hand({});
    expect([first.made.length, first.changed.length, first.already]).toEqual([8000, 0, 0]);
    const again = await hand({});
    expect([again.made.length, again.changed.length, again.already]).toEqual([0, 0, 8000]);
    const until = '2027-01-01T08:00:00.000Z';
    const changed = await hand({ until });
    expect([changed.made.length, changed.changed.length]).toEqual([0, 8000]);
    expect(changed.changed[0]!.before).toEqual({ level: 'view', from: null, until: null });
    const last = await db.select().from(grants).where(eq(grants.folderId, made.ids[999]!));
    expect(last.map((g) => g.audienceId).sort()).toEqual(audiences.map(({ id }) => id).sort());
    for (const grant of last) {
      expect(grant).toMatchObject({ schoolId, createdBy: ids.owner, untilAt: new Date(until) });
      expect(grant[`${grant.audienceKind}Id` as 'personId']).toBe(grant.audienceId);
    }
    await ask('owner', 'POST', '/api/grants/take-back', { grants: first.made.slice(0, 1000) });
    const left = await db
      .select({ n: sql<number>`count(*)::int` })
      .from(grants)
      .where(sql`${grants.takenBackAt} is null and ${inArray(grants.folderId, made.ids)}`);
    expect(left[0]!.n).toBe(7000);
  });

  it('a thousand items are placed in twenty folders, each once and in their order', async () => {
    const from = (await foldersOf('owner', 'Placed from', 1)).ids[0]!;
    const targets = (await foldersOf('owner', 'Placed to', 20)).ids;
    const made = await db
      .insert(items)
      .values(
        numbers(1000).map((n) => ({
          ...{ schoolId, ownerId: ids.owner, kind: 'link' as const },
          title: `Link ${String(n).padStart(4, '0')}`,
          url: 'https://school.example/',
        })),
      )
      .returning({ id: items.id });
    const lying = await db
      .insert(placements)
      .values(
        made.map(({ id }, n) => ({
          ...{ schoolId, folderId: from, itemId: id, addedBy: ids.owner },
          position: n,
        })),
      )
      .returning({ id: placements.id });
    const place = () =>
      ask<Placed>('owner', 'POST', '/api/placements', {
        placements: lying.map(({ id }) => id),
        to: targets,
      });
    const placed = await place();
    expect([placed.made.length, placed.already]).toEqual([20_000, 0]);
    expect(await place()).toEqual({ made: [], already: 20_000 });
    const path = `/api/folders/${targets[19]}/contents?limit=100`;
    const { items: shown } = await ask<Contents>('owner', 'GET', path);
    expect(shown.slice(0, 3).map((x) => x.title)).toEqual(['Link 0000', 'Link 0001', 'Link 0002']);

    // Another item of the name of one of these: none of them is placed.
    const twins = (await foldersOf('owner', 'With a twin', 1)).ids;
    await ask('owner', 'POST', '/api/links', {
      folderId: twins[0],
      url: 'https://school.example/other',
      title: 'link 0500',
    });
    const refusal = await refused(
      await call('owner', 'POST', '/api/placements', {
        placements: lying.map(({ id }) => id),
        to: twins,
      }),
      409,
      'name-taken',
    );
    expect(refusal.faults).toEqual([{ field: 'title', fault: 'Link 0500' }]);
    const { items: alone } = await ask<Contents>(
      'owner',
      'GET',
      `/api/folders/${twins[0]}/contents`,
    );
    expect(alone).toHaveLength(1);
  });

  it('a thousand folders get another release, in general and for two classes, and get theirs back', async () => {
    const { ids: these } = await foldersOf('owner', 'Released', 1000);
    const from = '2027-02-01T08:00:00.000Z';
    const release = { held: false, from, until: null };
    const { before } = await ask<Released>('owner', 'POST', '/api/releases', {
      things: asFolders(these),
      rules: [
        { classId: null, release: { held: true, from: null, until: null } },
        { classId: world.classA, release },
        { classId: world.classB, release },
      ],
    });
    expect(before).toHaveLength(3000);
    const own = () => db.select().from(classReleases).where(inArray(classReleases.folderId, these));
    const set = await own();
    expect(set).toHaveLength(2000);
    expect(set[0]).toMatchObject({ schoolId, held: false, fromAt: new Date(from), untilAt: null });
    const held = () =>
      db
        .select({ held: folders.held })
        .from(folders)
        .where(inArray(folders.id, these))
        .then((found) => found.filter((f) => f.held).length);
    expect(await held()).toBe(1000);
    await ask('owner', 'POST', '/api/releases/back', { before });
    expect([await held(), (await own()).length]).toEqual([0, 0]);
  });
});

describe('more than is allowed at once', () => {
  it('folders: five thousand, in whatever depth', async () => {
    const { folderId } = await ask<{ folderId: string }>('student in', 'POST', '/api/desk');
    const deep = (count: number) =>
      numbers(count).map((n) => numbers(20).map((depth) => `${depth === 0 ? 'top' : n} ${depth}`));
    const paths = (count: number) => ({ parentId: folderId, paths: deep(count) });
    await refused(
      await call('student in', 'POST', '/api/paths', paths(264)),
      422,
      'too-many-folders',
    );
    const made = await ask<MadePaths>('student in', 'POST', '/api/paths', paths(263));
    expect([made.count, made.made.length]).toEqual([263 * 19 + 1, 1]);
    const again = await ask<MadePaths>('student in', 'POST', '/api/paths', paths(263));
    expect([again.count, again.ids]).toEqual([0, made.ids]);
  });

  it('words to look for: twelve, each counted once', async () => {
    const find = (words: string) =>
      call('owner', 'GET', `/api/find?words=${encodeURIComponent(words)}`);
    const letters = 'abcdefghijklm'.split('');
    await refused(await find(letters.join(' ')), 422, 'too-many-words');
    expect((await find(letters.slice(0, 12).join(' '))).status).toBe(200);
    expect((await find('a b '.repeat(50))).status).toBe(200);
    // Each sign that leaves a word out is kept on a stack by PostgreSQL, which is a small one.
    for (const signs of ['-'.repeat(60), '- '.repeat(60), `${'- -'.repeat(30)}link`])
      expect((await find(signs)).status, signs).toBe(200);
  });
});
