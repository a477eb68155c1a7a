import type { Account, LogEntry, NewPasskey, Session } from '@sammlung/contract';
import { eq } from 'drizzle-orm';
import { afterAll, beforeEach, describe, expect, it } from 'vitest';
import { mails, passkeys, rateLimits, sessions } from '../src/db/schema/index.ts';
import { authenticator, type Wrong } from './authenticator.ts';
import { PASSWORD, startServer, type Who } from './harness.ts';

const server = await startServer();
const { app, ask, call, clock, db, refused, world } = server;
afterAll(() => server.stop());
beforeEach(() => db.delete(rateLimits));

const origin = app.services.address();
const begin = (who: Who) =>
  ask<NewPasskey>(who, 'POST', '/api/account/passkeys', { password: PASSWORD });
const finish = (who: Who, passkey: object) =>
  call(who, 'PUT', '/api/account/passkeys', { name: 'Phone', passkey });
const challenge = async () =>
  (await ask<{ challenge: string }>('visitor without', 'POST', '/api/session/passkey')).challenge;
const enter = (answer: object) => call('visitor without', 'PUT', '/api/session/passkey', answer);
/** A device with a passkey of somebody. */
async function deviceOf(who: Who) {
  const device = authenticator(origin);
  const made = await finish(who, device.make((await begin(who)).challenge));
  if (!made.ok) throw new Error(await made.text());
  return device;
}
const own = async (who: Who) => (await ask<Account>(who, 'GET', '/api/account')).passkeys;

describe('a passkey', () => {
  it('signs its owner in without a password or a code, and is listed, told of and removed', async () => {
    expect(await own('owner')).toEqual([]);
    const asked = await begin('owner');
    expect(asked.rp.id).toBe(new URL(origin).hostname);
    const device = await deviceOf('owner');
    expect(await own('owner')).toMatchObject([{ name: 'Phone', used: null }]);
    expect((await begin('owner')).excludeCredentials.map(({ id }) => id)).toEqual([device.id]);

    const entered = await enter(device.answer(await challenge()));
    expect(entered.status).toBe(204);
    const cookie = entered.headers.getSetCookie()[0]!;
    expect(cookie).toMatch(/HttpOnly; SameSite=Lax/u);
    const reply = await call('visitor without', 'GET', '/api/session', undefined, {
      cookie: cookie.split(';')[0]!,
    });
    expect(((await reply.json()) as Session).person?.id).toBe(world.ids.owner);
    const known = await db.select().from(sessions).where(eq(sessions.userId, world.ids.owner));
    expect(known.map(({ userAgent }) => userAgent).join(' ')).toContain('Firefox');
    expect((await own('owner'))![0]!.used).not.toBeNull();

    const [one] = (await own('owner'))!;
    const remove = (who: Who, password: string) =>
      call(who, 'POST', `/api/account/passkeys/${one!.id}/removal`, { password });
    await refused(await remove('owner', 'not it'), 403, 'wrong-password');
    await refused(await remove('colleague', PASSWORD), 404, 'not-found');
    expect((await remove('owner', PASSWORD)).status).toBe(204);
    await refused(await enter(device.answer(await challenge())), 403, 'wrong-passkey');
    const { entries } = await ask<{ entries: LogEntry[] }>('office', 'GET', '/api/log');
    for (const act of ['passkey', 'passkey-removed'])
      expect(entries.find((entry) => entry.act === act)).toMatchObject({
        by: 'owner',
        person: 'owner',
      });
    const told = await db.select().from(mails).where(eq(mails.personId, world.ids.owner));
    expect(told.map(({ body }) => body).join(' ')).toMatch(/added.*removed|removed.*added/su);
  });

  it('is not made by a wrong answer, a late one, for somebody else, or without the password', async () => {
    const device = authenticator(origin);
    await refused(
      await call('owner', 'POST', '/api/account/passkeys', { password: 'not it' }),
      403,
      'wrong-password',
    );
    for (const wrong of [
      { origin: 'https://elsewhere.example' },
      { rpId: 'elsewhere.example' },
      { unverified: true },
    ] as const satisfies Wrong[])
      await refused(
        await finish('owner', device.make((await begin('owner')).challenge, wrong)),
        403,
        'wrong-passkey',
      );
    const forColleague = (await begin('colleague')).challenge;
    for (const other of [forColleague, await challenge(), 'AAAA', ''])
      await refused(await finish('owner', device.make(other)), 403, 'wrong-passkey');
    const late = (await begin('owner')).challenge;
    clock.now += 4 * 60_000;
    await refused(await finish('owner', device.make(late)), 403, 'wrong-passkey');
    // What is no attestation at all, and a key that somebody has already.
    const made = device.make((await begin('owner')).challenge);
    made.response.attestationObject = 'AAAA';
    await refused(await finish('owner', made), 403, 'wrong-passkey');
    expect((await finish('owner', device.make((await begin('owner')).challenge))).status).toBe(204);
    await refused(
      await finish('colleague', device.make((await begin('colleague')).challenge)),
      403,
      'wrong-passkey',
    );
    await refused(
      await call('student in', 'POST', '/api/account/passkeys', { password: PASSWORD }),
      404,
      'not-found',
    );
    expect(await own('student in')).toBeNull();
  });

  it('lets nobody in by a wrong answer, a copy of one, of another device, or who may not come in', async () => {
    await db.delete(passkeys);
    const device = await deviceOf('colleague');
    for (const wrong of [
      { origin: 'https://elsewhere.example' },
      { rpId: 'elsewhere.example' },
      { unverified: true },
    ] as const satisfies Wrong[])
      await refused(await enter(device.answer(await challenge(), wrong)), 403, 'wrong-passkey');
    const forAccount = (await begin('colleague')).challenge;
    for (const other of [forAccount, 'AAAA', ''])
      await refused(await enter(device.answer(other)), 403, 'wrong-passkey');
    const late = await challenge();
    clock.now += 4 * 60_000;
    await refused(await enter(device.answer(late)), 403, 'wrong-passkey');
    await refused(
      await enter(authenticator(origin).answer(await challenge())),
      403,
      'wrong-passkey',
    );
    const forged = device.answer(await challenge());
    forged.response.signature = authenticator(origin).answer(await challenge()).response.signature;
    await refused(await enter(forged), 403, 'wrong-passkey');

    await db.delete(rateLimits);
    const right = device.answer(await challenge());
    const replies = await Promise.all([enter(right), enter(right), enter(right)]);
    expect(replies.map(({ status }) => status).sort()).toEqual([204, 403, 403]);
    // A device that was copied counts from where the copy was made.
    await refused(
      await enter(device.answer(await challenge(), { counter: 1 })),
      403,
      'wrong-passkey',
    );

    await ask('office', 'PUT', `/api/people/${world.ids.colleague}/deactivated`);
    await refused(await enter(device.answer(await challenge())), 403, 'wrong-passkey');
    await ask('office', 'DELETE', `/api/people/${world.ids.colleague}/deactivated`);
    expect((await enter(device.answer(await challenge()))).status).toBe(204);
  });

  it('is guessed at only so often, and made only so often', async () => {
    const device = await deviceOf('owner');
    for (let n = 0; n < 10; n += 1)
      await refused(await enter(device.answer('not asked for')), 403, 'wrong-passkey');
    await refused(await enter(device.answer(await challenge())), 429, 'too-many-tries');
    await db.delete(passkeys);
    for (let n = 0; n < 20; n += 1) await deviceOf('owner');
    await refused(
      await call('owner', 'POST', '/api/account/passkeys', { password: PASSWORD }),
      409,
      'passkeys-enough',
    );
  });
});
