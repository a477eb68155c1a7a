import type { LOG_ROUTES, LogEntry, Session } from '@sammlung/contract';
import { eq } from 'drizzle-orm';
import { afterAll, beforeEach, describe, expect, it } from 'vitest';
import type { z } from 'zod';
import { folders, log } from '../src/db/schema/index.ts';
import { forgetOld } from '../src/features/log/service.ts';
import { startServer } from './harness.ts';

type Page = z.infer<(typeof LOG_ROUTES)['GET /api/log']['reply']>;

const server = await startServer();
const { db, ask, call, clock, world } = server;
afterAll(() => server.stop());
let scene: Awaited<ReturnType<typeof server.scene>>;
/** What is written from here on has nothing before it. */
beforeEach(async () => {
  scene = await server.scene();
  await db.delete(log);
});

const read = async (who: Parameters<typeof ask>[0], query: Record<string, string> = {}) =>
  (await ask<Page>(who, 'GET', `/api/log?${new URLSearchParams(query).toString()}`)).entries;
/** Who did what, for whom. */
const lines = (entries: readonly LogEntry[]) =>
  entries.map(({ by, act, thing, audience, person, class: klass, course }) =>
    [by, act, thing?.title, audience, person ?? klass?.code ?? course].filter(Boolean).join(', '),
  );
const handOut = (kind: string, id: string, more: object = {}) =>
  ask<{ made: string[] }>('owner', 'POST', '/api/grants', {
    ...{ things: [{ kind: 'folder', id: scene.handed }], audiences: [{ kind, id }] },
    ...{ level: 'view', from: null, until: null, note: null, ...more },
  });

describe('the log of what others see', () => {
  it('has each handing out, its terms, its taking back and its Undo, with who did it', async () => {
    const { made } = await handOut('class', world.classB);
    const terms = { level: 'view', from: null, until: '2027-01-08T07:00:00.000Z' };
    await ask('owner', 'PUT', `/api/grants/${made[0]}`, terms);
    // The same once more changes nothing.
    await ask('owner', 'PUT', `/api/grants/${made[0]}`, terms);
    await ask('owner', 'POST', '/api/grants/take-back', { grants: made });
    await ask('owner', 'POST', '/api/grants/restore', { grants: made });
    const entries = await read('owner', { folder: scene.handed });
    const title = (await db.select().from(folders).where(eq(folders.id, scene.handed)))[0]!.title;
    expect(entries.map(({ by, act, thing }) => [by, act, thing?.title])).toEqual(
      ['handed-out', 'taken-back', 'terms', 'handed-out'].map((act) => ['owner', act, title]),
    );
    expect(entries[2]?.details).toMatchObject({ until: terms.until, was: { until: null } });
    expect(entries[0]?.thing?.path).toBe(`/folder/${scene.handed}`);
    // Nobody else’s business: not of a colleague, not of the office, and of no student.
    expect(await read('colleague')).toEqual([]);
    expect(await read('office')).toEqual([]);
    expect((await call('student in', 'GET', '/api/log')).status).toBe(404);
  });

  it('has doors and times, and nothing that opens anything', async () => {
    const door = await ask<{ id: string; address: string }>('owner', 'POST', '/api/doors', {
      ...{ thing: { kind: 'folder', id: scene.inner }, kind: 'public', until: null },
    });
    const word = 'Saffron-and-brick';
    await ask('owner', 'PATCH', `/api/doors/${door.id}`, { word });
    await ask('owner', 'DELETE', `/api/doors/${door.id}`);
    const things = [{ kind: 'placement', id: scene.placement }];
    const held = { held: true, from: null, until: null };
    const rule = (classId: string | null, release: object | null) => ({ classId, release });
    for (const rules of [[rule(null, held), rule(world.classA, held)], [rule(world.classA, null)]])
      await ask('owner', 'POST', '/api/releases', { things, rules });
    const entries = await read('owner');
    expect(entries.map(({ act, audience }) => [act, audience])).toEqual([
      ['release', 'class'],
      ['release', 'class'],
      ['release', null],
      ['closed', 'public'],
      ['door', 'public'],
      ['opened', 'public'],
    ]);
    expect(entries.map(({ details: { held: on, general } }) => on ?? general).slice(0, 3)).toEqual([
      true,
      true,
      true,
    ]);
    const written = JSON.stringify(await db.select().from(log));
    const token = door.address.split('/').at(-1)!;
    expect(entries[4]?.details.word).toBe(true);
    for (const secret of [token, word, 'argon2']) expect(written).not.toContain(secret);
  });

  it('has lists for those who teach and for the office, and roles for the office alone', async () => {
    const until = '2027-02-01';
    await ask('owner', 'PATCH', `/api/memberships/${scene.membership}`, { from: null, until });
    const made = { kind: 'teacher', name: 'Log Keeper', email: 'log.keeper@example.org' };
    const { id } = await ask<{ id: string }>('office', 'POST', '/api/people', made);
    await ask('office', 'PATCH', `/api/people/${id}`, { kind: 'office' });
    await ask('office', 'POST', '/api/people/slips', { people: [id] });
    await ask('office', 'PUT', `/api/people/${id}/deactivated`);
    await ask('office', 'DELETE', `/api/people/${id}/deactivated`);
    const entries = await read('office');
    expect(lines(entries)).toEqual([
      ...['reactivated', 'deactivated', 'password', 'role', 'added'].map(
        (act) => `office, ${act}, person, Log Keeper`,
      ),
      expect.stringMatching(/^owner, left, class, /u),
    ]);
    expect(entries[3]?.details).toEqual({ role: 'office', was: { role: 'teacher' } });
    expect(lines(await read('owner'))).toEqual([expect.stringMatching(/^owner, left, class, /u)]);
    expect(JSON.stringify(await db.select().from(log))).not.toContain('log.keeper@');
  });

  it('is found by thing, person and day, page after page', async () => {
    const { made } = await handOut('class', world.classB);
    clock.now += 86_400_000;
    await ask('owner', 'POST', '/api/grants/take-back', { grants: made });
    const [taken, handed] = await read('owner');
    const zoned = (iso: string) => new Date(iso).toLocaleDateString('sv', { timeZone: zone });
    const zone = (await ask<Session>('owner', 'GET', '/api/session')).person?.school.timeZone;
    const acts = async (query: Record<string, string>) =>
      (await read('owner', query)).map(({ act }) => act);
    expect(await acts({ day: zoned(taken!.at) })).toEqual(['taken-back']);
    expect(await acts({ day: zoned(handed!.at) })).toEqual(['handed-out']);
    expect(await acts({ thing: handed!.thing!.title.toUpperCase() })).toHaveLength(2);
    expect(await acts({ thing: 'no such thing' })).toEqual([]);
    expect(await acts({ who: 'OWN' })).toHaveLength(2);
    expect(await acts({ who: 'colleague' })).toEqual([]);
    expect(await acts({ folder: scene.inner })).toEqual([]);
    const many = Array.from({ length: 150 }, (_, n) => ({
      ...{ schoolId: world.schoolId, act: 'terms' as const, ownerId: world.ids.owner },
      ...{ title: `Gone ${n}`, folderId: crypto.randomUUID(), at: new Date(clock.now + n) },
    }));
    await db.insert(log).values(many);
    const first = await ask<Page>('owner', 'GET', '/api/log');
    const second = await ask<Page>('owner', 'GET', `/api/log?after=${first.next}`);
    expect([first.entries.length, second.entries.length, second.next]).toEqual([100, 52, null]);
    const all = [...first.entries, ...second.entries].map(({ id }) => id);
    expect(new Set(all).size).toBe(152);
    // What is gone for good keeps its name.
    expect(first.entries[0]?.thing).toEqual({ title: 'Gone 149', path: null });
  });

  it('goes with a thing to whoever has it next, and is kept a year', async () => {
    await handOut('class', world.classB);
    const path = { folder: scene.handed };
    await ask('office', 'POST', `/api/people/${world.ids.owner}/hand-over`, {
      to: world.ids.colleague,
    });
    expect(await read('owner', path)).toEqual([]);
    expect(lines(await read('colleague', path))).toHaveLength(1);
    const days = (n: number) => ({ db, now: () => clock.now + n * 86_400_000 });
    const all = await db.select().from(log);
    await forgetOld(days(365));
    const kept = (await db.select().from(log)).length;
    expect(kept).toBe(all.length);
    expect(kept).toBeGreaterThan(0);
    await forgetOld(days(367));
    expect(await db.select().from(log)).toHaveLength(0);
  });
});
