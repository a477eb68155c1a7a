import { createServer, type AddressInfo, type Socket } from 'node:net';
import type { Boxes, HandedOut, SentNotes } from '@sammlung/contract';
import { eq } from 'drizzle-orm';
import { afterAll, beforeEach, describe, expect, it } from 'vitest';
import { credentials, mails, people, postRoom } from '../src/db/schema/index.ts';
import { sendDigests } from '../src/features/receive/digest.ts';
import { startMailServer } from '../src/standin/mail-server.ts';
import { scratchDatabase } from './database.ts';
import { mail, startServer, type Scene } from './harness.ts';
import { uploader } from './upload.ts';

/** The stand-in with a database of its own, on a port that is known before: it can be down. */
const room = await scratchDatabase();
async function freePort(): Promise<number> {
  const probe = createServer().listen(0, '127.0.0.1');
  await new Promise((resolve) => probe.once('listening', resolve));
  const { port } = probe.address() as AddressInfo;
  await new Promise((resolve) => probe.close(resolve));
  return port;
}
const port = await freePort();
const quiet = () => undefined;
let standIn: Awaited<ReturnType<typeof startMailServer>> | null = null;
const open = async () => (standIn = await startMailServer(room.db, quiet, port));
const close = async () => {
  await standIn?.stop();
  standIn = null;
};

const server = await startServer({ smtp: `smtp://127.0.0.1:${port}` });
const { world, clock, db, ask, app } = server;
const { post } = app.services;
const { add } = uploader(server);
afterAll(async () => {
  await server.stop();
  await close();
  await room.close();
});
beforeEach(async () => {
  await close();
  await room.db.delete(postRoom);
  await db.delete(mails);
});

const MINUTE = 60_000;
const letters = async () =>
  (await room.db.select().from(postRoom)).sort((a, b) => a.recipient.localeCompare(b.recipient));
const toB = { kind: 'class', id: world.classB };
const handOut = ({ inner }: Scene, note: object, more: object = {}) =>
  ask<HandedOut>('owner', 'POST', '/api/grants', {
    things: [{ kind: 'folder', id: inner }],
    audiences: [toB],
    note,
    ...more,
  });
const states = async () => (await db.select().from(mails)).map((m) => m.state);

describe('a cover note', () => {
  it('reaches each person by themselves, with a link, and the sender as a copy', async () => {
    await open();
    const scene = await server.scene();
    const note = { body: 'Bring a knife.\nAnd gloves.', copyToSender: true };
    expect(
      await handOut(scene, note, {
        audiences: [toB, { kind: 'person', id: world.ids['student out'] }],
      }),
    ).toMatchObject({ noted: 1 });
    expect(await post.sendDue(clock.now)).toBe(2);
    const [copy, one] = await letters();
    expect(one!.recipient).toContain(mail('student out'));
    expect(one!.recipient).not.toContain(mail('owner'));
    expect(one!.sender).toContain('owner');
    expect(one!.body).toContain('Bring a knife.\nAnd gloves.');
    expect(one!.body).toContain(`${app.services.address()}/folder/${scene.inner}`);
    expect(copy!.subject).toBe(`Copy: ${one!.subject}`);
    expect(await states()).toEqual(['sent', 'sent']);
    expect(await post.sendDue(clock.now + 60 * MINUTE)).toBe(0);
  });

  it('leads somebody who cannot sign in yet past choosing a password', async () => {
    await open();
    const scene = await server.scene();
    await db.update(people).set({ email: 'fresh@example.org' }).where(eq(people.id, scene.pupil));
    await handOut(scene, { body: '' }, { audiences: [{ kind: 'class', id: scene.classX }] });
    await post.sendDue(clock.now);
    const [letter] = await letters();
    const token = /\/password\/([\w-]+)\?to=%2Ffolder%2F/u.exec(letter!.body)?.[1];
    const body = { token, password: 'a long enough one' };
    expect(
      (await server.call('visitor without', 'POST', '/api/session/password', body)).status,
    ).toBe(204);
    expect(
      await db.select().from(credentials).where(eq(credentials.userId, scene.pupil)),
    ).toHaveLength(1);
    // What opens an account is not kept where it is of no more use.
    expect((await db.select().from(mails))[0]!.path).toBeNull();
  });

  it('waits for a handing out that begins later, and is withdrawn with it', async () => {
    await open();
    const scene = await server.scene();
    const from = clock.now + 30 * MINUTE;
    const { made } = await handOut(
      scene,
      { body: 'Later' },
      { from: new Date(from).toISOString() },
    );
    expect(await post.sendDue(from - 1)).toBe(0);
    await ask('owner', 'POST', '/api/grants/take-back', { grants: made });
    expect(await post.sendDue(from)).toBe(0);
    expect(await states()).toEqual([]);
  });

  it('names nothing that is held back: it waits until it goes out, and its link lasts from then on', async () => {
    await open();
    const scene = await server.scene();
    await db.update(people).set({ email: 'waits@example.org' }).where(eq(people.id, scene.pupil));
    const hold = (held: boolean) =>
      ask('owner', 'POST', '/api/releases', {
        things: [{ kind: 'folder', id: scene.inner }],
        rules: [{ classId: null, release: { held, from: null, until: null } }],
      });
    await hold(true);
    await handOut(
      scene,
      { body: 'Soon', copyToSender: true },
      { audiences: [toB, { kind: 'class', id: scene.classX }] },
    );
    expect(await post.sendDue(clock.now)).toBe(1);
    expect((await letters()).map((l) => l.recipient)).toEqual([
      expect.stringContaining(mail('owner')),
    ]);
    const later = clock.now + 20 * 24 * 60 * MINUTE;
    expect(await post.sendDue(later)).toBe(0);
    await hold(false);
    expect(await post.sendDue(later + MINUTE)).toBe(2);
    const letter = (await letters()).find((l) => l.recipient.includes('waits@'))!;
    const token = /\/password\/([\w-]+)/u.exec(letter.body)?.[1];
    const body = { token, password: 'a long enough one' };
    const chosen = await server.call('visitor without', 'POST', '/api/session/password', body);
    expect(chosen.status).toBe(204);
  });

  it('about something that ended while it was held back is not sent any more', async () => {
    await open();
    const scene = await server.scene();
    await ask('owner', 'POST', '/api/releases', {
      things: [{ kind: 'folder', id: scene.inner }],
      rules: [{ classId: null, release: { held: true, from: null, until: null } }],
    });
    await handOut(scene, { body: 'Soon' }, { until: new Date(clock.now + MINUTE).toISOString() });
    expect(await post.sendDue(clock.now)).toBe(0);
    expect(await states()).toEqual(['waiting']);
    expect(await post.sendDue(clock.now + 2 * MINUTE)).toBe(0);
    expect(await states()).toEqual([]);
  });

  it('keeps names and texts out of the headings', async () => {
    await open();
    const scene = await server.scene();
    await db
      .update(people)
      .set({ name: 'Eve\r\nBcc: all@example.org' })
      .where(eq(people.id, world.ids.owner));
    await handOut(scene, { body: 'Hello\r\nBcc: all@example.org\r\n.\r\nQUIT' });
    await post.sendDue(clock.now);
    await db.update(people).set({ name: 'owner' }).where(eq(people.id, world.ids.owner));
    const found = await letters();
    expect(found).toHaveLength(1);
    expect(found[0]!.recipient).toContain(mail('student out'));
    expect(found[0]!.subject).toContain('Eve Bcc: all');
    expect(found[0]!.body).toContain('.\nQUIT');
  });
});

describe('mails speak the language of whoever gets them', () => {
  const speak = (who: 'owner' | 'student out', language: 'en' | 'de' | null) =>
    ask(who, 'PUT', '/api/session/language', { language: language ?? 'en' });

  it('a note, its end, and the copy for the sender', async () => {
    await open();
    const scene = await server.scene();
    await speak('student out', 'de');
    const until = '2031-03-04T12:30:00.000Z';
    await handOut(scene, { body: 'Bring a knife.', copyToSender: true }, { until });
    await post.sendDue(clock.now);
    const [copy, one] = await letters();
    expect(one!.subject).toMatch(/, von owner$/u);
    expect(one!.body).toMatch(/^Bring a knife\./u);
    expect(one!.body).toMatch(/Es ist bis Di\.?, 4\. März,? (um )?\d\d:30 da\. Hier ist es:/u);
    expect(copy!.subject).toMatch(/^Copy: .*, from owner$/u);
    expect(copy!.body).toMatch(/You can open it until Tue,? 4 Mar,? (at )?\d\d:30\. Here it is:/u);
    await speak('student out', 'en');
  });

  it('a forgotten password', async () => {
    await open();
    await speak('student out', 'de');
    await server.call('visitor without', 'POST', '/api/session/forgotten', {
      email: mail('student out'),
    });
    await post.sendDue(clock.now);
    await speak('student out', 'en');
    const [letter] = await letters();
    expect(letter!.subject).toMatch(/^Ein neues Passwort für /u);
    expect(letter!.body).toMatch(/\/password\/[\w-]+/u);
  });

  it('of the server where none was chosen', () => {
    expect(post.words(null).digest.one('Worms')).toBe('New: Worms');
    expect(post.words('de').digest.one('Worms')).toBe('Neu: Worms');
  });
});

describe('a mail server', () => {
  it('that is down for an hour costs tries and no mail', async () => {
    const scene = await server.scene();
    await handOut(scene, { body: 'Hello' });
    const start = clock.now;
    let sent = 0;
    for (let minute = 0; minute < 60; minute += 1)
      sent += await post.sendDue(start + minute * MINUTE);
    expect(sent).toBe(0);
    const [waiting] = await db.select().from(mails);
    expect(waiting).toMatchObject({ state: 'waiting', tries: 6 });
    const { notes } = await ask<SentNotes>('owner', 'GET', '/api/notes');
    expect(notes.find((n) => n.trying !== null)).toMatchObject({
      waiting: 1,
      sent: 0,
      trying: expect.stringContaining('ECONNREFUSED'),
    });
    await open();
    for (let minute = 60; minute < 180 && sent === 0; minute += 1)
      sent += await post.sendDue(start + minute * MINUTE);
    expect(sent).toBe(1);
    expect(await letters()).toHaveLength(1);
  });

  it('that refuses one address says so to the sender, and the others get theirs', async () => {
    await open();
    const scene = await server.scene();
    await db
      .update(people)
      .set({ email: `refused.${scene.pupil.slice(0, 4)}@example.org` })
      .where(eq(people.id, scene.pupil));
    await handOut(
      scene,
      { body: 'Hello' },
      { audiences: [toB, { kind: 'class', id: scene.classX }] },
    );
    expect(await post.sendDue(clock.now)).toBe(1);
    const { notes } = await ask<SentNotes>('owner', 'GET', '/api/notes');
    const failed = notes.find((n) => n.failed.length > 0)!;
    expect(failed.failed).toEqual([
      { name: expect.stringContaining('Pupil'), fault: expect.stringContaining('No such mailbox') },
    ]);
    await db.update(people).set({ email: 'better@example.org' }).where(eq(people.id, scene.pupil));
    await ask('owner', 'POST', `/api/notes/${failed.id}/again`);
    expect(await post.sendDue(clock.now)).toBe(1);
    expect(await states()).toEqual(['sent', 'sent']);
  });

  it('that is slow is waited for, and one that never answers is left for the next try', async () => {
    const scene = await server.scene();
    await handOut(scene, { body: 'Slowly' });
    const sockets: Socket[] = [];
    const silent = createServer((socket) => void sockets.push(socket.on('error', quiet)));
    await new Promise<void>((resolve) => silent.listen(port, '127.0.0.1', resolve));
    expect(await post.sendDue(clock.now)).toBe(0);
    expect(sockets.length).toBeGreaterThan(0);
    for (const socket of sockets) socket.destroy();
    await new Promise((resolve) => silent.close(resolve));
    const [waiting] = await db.select().from(mails);
    expect(waiting).toMatchObject({
      state: 'waiting',
      tries: 1,
      fault: expect.stringMatching(/greeting/iu),
    });
    await open();
    expect(await post.sendDue(clock.now + 2 * MINUTE)).toBe(1);
  });

  it('is asked by two processes at once and sends each mail once', async () => {
    await open();
    const scene = await server.scene();
    await handOut(
      scene,
      { body: 'Once' },
      { audiences: [toB, { kind: 'class', id: world.classA }] },
    );
    await Promise.all([post.sendDue(clock.now), post.sendDue(clock.now), post.sendDue(clock.now)]);
    expect(await letters()).toHaveLength(2);
  });
});

describe('the digest', () => {
  it('comes once, in the afternoon of the school, with what is new, to whoever wants it', async () => {
    await open();
    const scene = await server.scene();
    // On the day of the first four o'clock from now on.
    const HOUR = 60 * MINUTE;
    const day = Math.ceil((clock.now - 16 * HOUR) / (24 * HOUR)) * 24 * HOUR;
    const at = (hour: number) => day + hour * HOUR;
    await ask('student in', 'PUT', '/api/new/digest', { digest: true });
    const digests = (now: number) => sendDigests({ ...app.services, now: () => now });
    // So does what a teacher has written about work.
    const { ids } = await ask<{ ids: [string] }>('owner', 'POST', '/api/boxes', {
      ...{ title: 'Soil log', classIds: [world.classA] },
    });
    const { own } = await ask<Boxes>('student in', 'GET', '/api/boxes');
    const { placeId } = own.find((box) => box.id === ids[0])!;
    const { placementId } = await add('student in', placeId, 'Week 9.txt', 'rain');
    await ask('owner', 'POST', `/api/placements/${placementId}/remarks`, { body: 'Which day?' });
    expect(await digests(at(15))).toBe(0);
    expect(await digests(at(16))).toBe(1);
    expect(await digests(at(16) + 5 * MINUTE)).toBe(0);
    await post.sendDue(at(17));
    const [letter] = await letters();
    expect(letter!.body).toContain('Böden 土壌');
    expect(letter!.body).toContain('1 remark about Week 9 (Soil log)');
    expect(letter!.body).not.toContain('Which day?');
    expect(letter!.body).toContain('/new');
    await ask('student in', 'PUT', `/api/placements/${scene.placement}/opened`);
    await ask('student in', 'PUT', '/api/new/digest', { digest: false });
    expect(await digests(at(16) + 24 * 60 * MINUTE)).toBe(0);
  });
});

describe('a forgotten password', () => {
  it('is mailed to whom the address belongs, and the reply tells nothing', async () => {
    await open();
    const asked = async (email: string) => {
      const reply = await server.call('visitor without', 'POST', '/api/session/forgotten', {
        email,
      });
      return [reply.status, await reply.text()];
    };
    expect(await asked(mail('student out'))).toEqual(await asked('nobody@nowhere.example'));
    expect(await post.sendDue(clock.now)).toBe(1);
    expect((await letters())[0]!.body).toMatch(/\/password\/[\w-]{20,}/u);
    for (let n = 0; n < 12; n += 1) await asked(mail('student out'));
    expect((await asked(mail('student out')))[0]).toBe(429);
  });
});
