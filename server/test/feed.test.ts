import type { Door, Feed, Feeds } from '@sammlung/contract';
import { eq } from 'drizzle-orm';
import { afterAll, describe, expect, it } from 'vitest';
import { memberships, placements } from '../src/db/schema/index.ts';
import { startServer } from './harness.ts';

const server = await startServer();
const { ask, call, base, clock, db, world } = server;
afterAll(() => server.stop());

/** What a program that has only the address gets. */
const fetched = async (address: string) => {
  const reply = await fetch(address);
  return {
    status: reply.status,
    type: reply.headers.get('content-type'),
    text: await reply.text(),
  };
};
const held = { held: true, from: null, until: null };
const hold = (id: string) =>
  ask('owner', 'POST', '/api/releases', {
    things: [{ kind: 'placement', id }],
    rules: [{ classId: null, release: held }],
  });
const addLink = (folderId: string, title: string) =>
  ask<{ id: string }>('owner', 'POST', '/api/links', {
    folderId,
    title,
    url: 'https://x.example/?a=1&b=2',
  });

describe('the feed of a class', () => {
  const open = (classId: string | null = world.classA) =>
    ask<Feed>('student in', 'POST', '/api/feeds', { classId });

  it('holds what came by it, newest first, and nothing that is held back or above', async () => {
    const scene = await server.scene();
    const { id } = await addLink(scene.inner, 'Worms & co');
    const feed = await open();
    expect(feed).toEqual(await open());
    const { status, type, text } = await fetched(feed.address);
    expect(status).toBe(200);
    expect(type).toContain('application/atom+xml');
    expect(text).toContain('<![CDATA[Worms & co]]>');
    const bare = text.replaceAll(/<!\[CDATA\[.*?\]\]>/gu, '');
    expect(bare).toContain('https://x.example/?a=1&amp;b=2');
    expect(bare).not.toMatch(/&(?!amp;|lt;|gt;|quot;|#)/u);
    expect(text).toContain('Böden 土壌');
    expect(text).not.toContain('Secret');
    await hold(id);
    expect((await fetched(feed.address)).text).not.toContain('Worms');
  });

  it('ends when it is closed, and a new one has another address', async () => {
    const feed = await open();
    await ask('student in', 'DELETE', `/api/feeds/${feed.id}`);
    expect((await fetched(feed.address)).status).toBe(404);
    const next = await open();
    expect(next.address).not.toBe(feed.address);
    const { feeds } = await ask<Feeds>('student in', 'GET', '/api/feeds');
    expect(feeds).toEqual([next]);
    expect((await call('student out', 'DELETE', `/api/feeds/${next.id}`)).status).toBe(404);
  });

  it('is empty, without a name, once its reader has left the class', async () => {
    await server.scene();
    const feed = await open();
    const mine = eq(memberships.personId, world.ids['student in']);
    await db
      .update(memberships)
      .set({ untilAt: new Date(clock.now - 1) })
      .where(mine);
    const { text } = await fetched(feed.address);
    expect(text).not.toContain('<entry>');
    expect(text).not.toContain('Course');
    await db.update(memberships).set({ untilAt: null }).where(mine);
  });

  it('is for those who belong to the class', async () => {
    for (const [who, classId] of [
      ['student in', world.classB],
      ['student in', null],
      ['other school', world.classA],
    ] as const)
      expect((await call(who, 'POST', '/api/feeds', { classId })).status, who).toBe(404);
    expect((await fetched(`${base}/api/feeds/${'x'.repeat(27)}/atom.xml`)).status).toBe(404);
  });
});

describe('the calendar of a teacher', () => {
  it('says what goes out and what ends, and for whom', async () => {
    const scene = await server.scene();
    const from = new Date(clock.now + 86_400_000).toISOString();
    await ask('owner', 'POST', '/api/releases', {
      things: [{ kind: 'placement', id: scene.placement }],
      rules: [{ classId: world.classB, release: { held: false, from, until: null } }],
    });
    const feed = await ask<Feed>('owner', 'POST', '/api/feeds', { classId: null });
    const { status, type, text } = await fetched(feed.address);
    expect(status).toBe(200);
    expect(type).toContain('text/calendar');
    expect(text).toMatch(/^BEGIN:VCALENDAR\r\n/u);
    const lines = text.replaceAll('\r\n\t', '').replaceAll('\r\n ', '');
    expect(lines).toContain('SUMMARY:B: Böden 土壌 goes out');
    const stamp = from.replace(/[-:]/gu, '').replace(/\.\d+/u, '');
    expect(lines).toMatch(new RegExp(`DTSTART:${stamp.slice(0, 13)}`, 'u'));
    await ask('owner', 'PUT', '/api/session/language', { language: 'de' });
    expect((await fetched(feed.address)).text).toContain('ab jetzt zu sehen');
    await ask('owner', 'PUT', '/api/session/language', { language: 'en' });
    const wrong = feed.address.replace('calendar.ics', 'atom.xml');
    expect((await fetched(wrong)).status).toBe(404);
  });
});

describe('the feed of a public door', () => {
  it('holds what lies behind it, as long as it stands open and asks no word', async () => {
    const scene = await server.scene();
    const { id } = await addLink(scene.inner, 'Held for now');
    await hold(id);
    const address = `${base}/api/open/${scene.token}/atom.xml`;
    const { status, text } = await fetched(address);
    expect(status).toBe(200);
    expect(text).toContain('<title>Handed out</title>');
    expect(text).toContain('Böden 土壌');
    expect(text).not.toContain('Held for now');
    expect(text).not.toContain('Secret');
    await ask<Door>('owner', 'PATCH', `/api/doors/${scene.door}`, { word: 'worms' });
    expect((await fetched(address)).status).toBe(404);
    await ask<Door>('owner', 'PATCH', `/api/doors/${scene.door}`, { word: '' });
    await ask('owner', 'DELETE', `/api/doors/${scene.door}`);
    expect((await fetched(address)).status).toBe(404);
  });

  it('holds the newest fifty, newest first', async () => {
    const scene = await server.scene();
    for (let n = 1; n <= 55; n += 1) {
      const { id } = await addLink(scene.inner, `Link no. ${n}`);
      await server.db
        .update(placements)
        .set({ addedAt: new Date(clock.now + n * 60_000) })
        .where(eq(placements.id, id));
    }
    const { text } = await fetched(`${base}/api/open/${scene.token}/atom.xml`);
    const numbers = [...text.matchAll(/Link no\. (\d+)/gu)].map((match) => Number(match[1]));
    expect(numbers).toEqual(Array.from({ length: 50 }, (_, n) => 55 - n));
  });
});
