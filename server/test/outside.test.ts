import type { LogEntry, Session } from '@sammlung/contract';
import { and, eq, ne } from 'drizzle-orm';
import { afterAll, beforeEach, describe, expect, it } from 'vitest';
import { credentials, people, sessions } from '../src/db/schema/index.ts';
import { readSettings } from '../src/settings.ts';
import { mail, PASSWORD, startServer } from './harness.ts';
import { CLIENT, startProvider, type Says } from './provider.ts';

const provider = await startProvider();
const { issuer } = provider;
const server = await startServer({ provider: { issuer, ...CLIENT, name: 'Orchard accounts' } });
const { db, base, ask, call, refused, world } = server;
afterAll(async () => {
  await server.stop();
  await provider.stop();
});
beforeEach(() => db.delete(credentials).where(eq(credentials.providerId, 'school')));

const cookiesOf = (reply: Response) =>
  reply.headers
    .getSetCookie()
    .map((one) => one.split(';')[0]!)
    .join('; ');

/** Leaves for the provider; what it is asked, and what the browser keeps meanwhile. */
async function leave(to = '/new') {
  const reply = await call('visitor without', 'POST', '/api/session/outside', { to });
  const { address } = (await reply.json()) as { address: string };
  const asked = new URL(address);
  return { asked, cookie: cookiesOf(reply), get: (name: string) => asked.searchParams.get(name)! };
}
const back = (query: Record<string, string>, cookie: string) =>
  fetch(`${base}/api/session/outside/callback/school?${new URLSearchParams(query).toString()}`, {
    headers: { cookie },
    redirect: 'manual',
  });
/** Goes there and comes back with what the provider says; who is signed in then, and where they are. */
async function come(claims: Says, to?: string) {
  const { get, cookie } = await leave(to);
  const code = provider.vouch(get('nonce'), claims);
  const reply = await back({ code, state: get('state') }, cookie);
  const session = await call('visitor without', 'GET', '/api/session', undefined, {
    cookie: cookiesOf(reply),
  });
  const { person } = (await session.json()) as Session;
  return { name: person?.name ?? null, location: reply.headers.get('location') };
}
const owner = { sub: 'o-1', email: mail('owner'), email_verified: true };

describe('signing in at a provider', () => {
  it('asks for a code with PKCE, state and nonce, and comes back to where somebody was going', async () => {
    const { asked, get } = await leave('/folder/1?x=2');
    expect(asked.origin).toBe(issuer);
    expect(get('response_type')).toBe('code');
    expect(get('code_challenge_method')).toBe('S256');
    for (const name of ['state', 'nonce', 'code_challenge'])
      expect(get(name).length).toBeGreaterThanOrEqual(22);
    expect(get('redirect_uri')).toMatch(/\/api\/session\/outside\/callback\/school$/u);
    const came = await come(owner, '/folder/1?x=2');
    expect(came.name).toBe('owner');
    expect(came.location).toMatch(/\/folder\/1\?x=2$/u);
    expect(provider.exchanged().get('code_verifier')).toBeTruthy();
    expect(await ask('visitor without', 'GET', '/api/session/ways')).toEqual({
      ...{ outside: 'Orchard accounts', passwords: 'all' },
    });
  });

  it('goes nowhere else afterwards', async () => {
    for (const to of ['//evil.example', 'https://evil.example', '/\\evil.example', ''])
      expect(
        (await call('visitor without', 'POST', '/api/session/outside', { to })).status,
        to,
      ).toBe(400);
  });

  it('joins by an address that the provider has verified, from then on by the subject alone', async () => {
    const joined = async () =>
      (await ask<{ entries: LogEntry[] }>('office', 'GET', '/api/log?who=owner')).entries.filter(
        ({ act }) => act === 'sign-in',
      ).length;
    const before = await joined();
    expect((await come({ ...owner, email_verified: false })).name).toBeNull();
    expect((await come({ sub: 'o-1' })).name).toBeNull();
    expect((await come(owner)).name).toBe('owner');
    // Another address by now, or none: it is the same person.
    expect((await come({ sub: 'o-1', email: mail('colleague'), email_verified: true })).name).toBe(
      'owner',
    );
    expect((await come({ sub: 'o-1' })).name).toBe('owner');
    // The address with another subject may be somebody else’s by now.
    expect((await come({ ...owner, sub: 'o-2' })).name).toBeNull();
    const kept = await db.select().from(credentials).where(eq(credentials.providerId, 'school'));
    expect(kept).toHaveLength(1);
    expect(kept[0]).toMatchObject({ accessToken: null, refreshToken: null, idToken: null });
    expect((await joined()) - before).toBe(1);
  });

  it('lets nobody in whom the lists do not have, whatever the token says', async () => {
    const before = await db.$count(people);
    const claims = { sub: 'n-1', email: 'new@example.org', email_verified: true };
    const came = await come({ ...claims, roles: ['office'], kind: 'office' });
    expect(came.name).toBeNull();
    expect(came.location).toMatch(/\/sign-in\?.*error=/u);
    expect(await db.$count(people)).toBe(before);
    // A form of a sign-in name is no address.
    const [pupil] = await db
      .insert(people)
      .values({ schoolId: world.schoolId, kind: 'student', name: 'Pupil', signInName: 'pupil' })
      .returning();
    expect(
      (await come({ sub: 'n-2', email: pupil!.signInKey!, email_verified: true })).name,
    ).toBeNull();
    // What somebody does at the school stays as it was.
    await come({ ...owner, kind: 'office', role: 'office' });
    const [teacher] = await db.select().from(people).where(eq(people.id, world.ids.owner));
    expect(teacher).toMatchObject({ kind: 'teacher', name: 'owner', email: mail('owner') });
  });

  it('lets nobody in who may not come any more', async () => {
    expect((await come(owner)).name).toBe('owner');
    const path = `/api/people/${world.ids.owner}/deactivated`;
    await ask('office', 'PUT', path);
    const held = await db.$count(sessions);
    expect((await come(owner)).name).toBeNull();
    expect(await db.$count(sessions)).toBe(held);
    await db.delete(credentials).where(eq(credentials.providerId, 'school'));
    expect((await come(owner)).name).toBeNull();
    await ask('office', 'DELETE', path);
    await server.signInAgain();
  });

  const minute = Math.floor(Date.now() / 1000);
  it.each<[string, Says]>([
    ['of another issuer', { iss: 'https://elsewhere.example' }],
    ['for another audience', { aud: 'another program' }],
    ['that is over', { iat: minute - 7200, exp: minute - 3600 }],
    ['that is not yet', { nbf: minute + 3600 }],
    ['signed by another key', { key: 'foreign' }],
    ['with another nonce', { nonce: 'an old one' }],
    ['without a nonce', { nonce: undefined }],
    ['without a subject', { sub: undefined }],
    ['that was not sent at all', { key: 'none' }],
  ])('takes no token %s', async (_, wrong) => {
    const came = await come({ ...owner, ...wrong });
    expect(came.name).toBeNull();
    expect(came.location).toMatch(/error=/u);
    expect(
      await db.$count(
        credentials,
        and(eq(credentials.userId, world.ids.owner), ne(credentials.providerId, 'credential')),
      ),
    ).toBe(0);
  });

  it('takes no code twice, of another browser, or without having been asked for', async () => {
    const { get, cookie } = await leave();
    const query = { code: provider.vouch(get('nonce'), owner), state: get('state') };
    const signsIn = async (reply: Response) => cookiesOf(reply).includes('sammlung.session_token=');
    expect(await signsIn(await back(query, ''))).toBe(false);
    expect(await signsIn(await back({ ...query, state: 'made up' }, cookie))).toBe(false);
    expect(await signsIn(await back({ error: 'access_denied', state: 'none' }, cookie))).toBe(
      false,
    );
    const fresh = await leave();
    const again = {
      code: provider.vouch(fresh.get('nonce'), owner),
      state: fresh.get('state'),
    };
    expect(await signsIn(await back(again, fresh.cookie))).toBe(true);
    expect(await signsIn(await back(again, fresh.cookie))).toBe(false);
  });

  it('two at once are joined once', async () => {
    const came = await Promise.all([come(owner), come(owner), come({ ...owner, sub: 'o-9' })]);
    expect(came.filter(({ name }) => name === 'owner').length).toBeGreaterThanOrEqual(1);
    const kept = await db.select().from(credentials).where(eq(credentials.providerId, 'school'));
    expect(kept).toHaveLength(1);
  });
});

describe('in place of passwords', () => {
  it('only the office signs in by one', async () => {
    const only = await startServer({
      provider: { issuer, ...CLIENT, name: 'Orchard accounts' },
    });
    Object.assign(only.app.services.settings, { passwords: 'office' });
    const signIn = (who: string) =>
      only.call('visitor without', 'POST', '/api/session', {
        ...{ email: mail(who), password: PASSWORD },
      });
    await refused(await signIn('owner'), 401, 'wrong-sign-in');
    await refused(await signIn('student in'), 401, 'wrong-sign-in');
    expect((await signIn('office')).status).toBe(204);
    await only.stop();
  });

  it('a provider that does not answer is said to be silent', async () => {
    const silent = await startServer({
      provider: { issuer: 'http://127.0.0.1:9', ...CLIENT, name: 'Nobody' },
    });
    const path = '/api/session/outside';
    const reply = await silent.call('visitor without', 'POST', path, { to: '/' });
    await refused(reply, 503, 'provider-silent');
    await silent.stop();
  });

  it('is set whole, and over HTTPS', () => {
    const env = {
      ...{ SAMMLUNG_DATA: '/d', SAMMLUNG_DATABASE_URL: 'postgres://x/y' },
      ...{ SAMMLUNG_PROVIDER: 'https://id.example', SAMMLUNG_PROVIDER_SECRET: 's' },
    };
    expect(readSettings(env).provider).toMatchObject({
      issuer: 'https://id.example',
      name: 'id.example',
    });
    expect(() => readSettings({ ...env, SAMMLUNG_PROVIDER_SECRET: '' })).toThrow(/SECRET/u);
    expect(() => readSettings({ ...env, SAMMLUNG_PROVIDER: 'http://id.example' })).toThrow(
      /https/u,
    );
    expect(() =>
      readSettings({ ...env, SAMMLUNG_PROVIDER: '', SAMMLUNG_PASSWORDS: 'office' }),
    ).toThrow(/PROVIDER/u);
  });
});
