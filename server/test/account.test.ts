import type { Account, NewSecondStep, Session } from '@sammlung/contract';
import { eq, sql } from 'drizzle-orm';
import { afterAll, beforeEach, describe, expect, it } from 'vitest';
import { grants, mails, rateLimits } from '../src/db/schema/index.ts';
import { mail, PASSWORD, startServer } from './harness.ts';
import { totp } from './totp.ts';
import { unzipped } from './unzip.ts';

const server = await startServer({ postRoom: true });
const { ask, base, call, clock, db, refused } = server;
afterAll(() => server.stop());
beforeEach(() => db.delete(rateLimits));

/** A browser: it keeps the cookies that it is given. */
function browser(agent = 'Mozilla/5.0 (X11; Linux x86_64; rv:130.0) Gecko/20100101 Firefox/130.0') {
  const cookies = new Map<string, string>();
  return async function send(method: string, path: string, body?: unknown): Promise<Response> {
    const reply = await fetch(`${base}${path}`, {
      method,
      headers: {
        'user-agent': agent,
        cookie: [...cookies].map(([name, value]) => `${name}=${value}`).join('; '),
        ...(body !== undefined && { 'content-type': 'application/json' }),
      },
      ...(body !== undefined && { body: JSON.stringify(body) }),
    });
    for (const one of reply.headers.getSetCookie()) {
      const [name, value] = one.split(';')[0]!.split('=') as [string, string];
      if (value === '' || /max-age=0/iu.test(one)) cookies.delete(name);
      else cookies.set(name, value);
    }
    return reply;
  };
}
type Browser = ReturnType<typeof browser>;
const signIn = (send: Browser, email: string, password = PASSWORD) =>
  send('POST', '/api/session', { email, password });
const code = (send: Browser, given: string) => send('POST', '/api/session/code', { code: given });
const who = async (send: Browser) =>
  ((await (await send('GET', '/api/session')).json()) as Session).person?.name ?? null;
const account = async (send: Browser) =>
  (await (await send('GET', '/api/account')).json()) as Account;
async function signedIn(name: string, agent?: string) {
  const send = browser(agent);
  expect((await signIn(send, mail(name))).status).toBe(204);
  return send;
}
let count = 0;
/** A new teacher with the password of all, and their browser. */
async function newTeacher() {
  count += 1;
  const name = `teacher ${count}`;
  const id = await server.enrol(name as Parameters<typeof server.enrol>[0], 'teacher');
  return { id, name, send: await signedIn(name) };
}
/** The next code: another one than was given a moment ago, and good whatever the time is until then. */
const later = (secret: string) => totp(secret, Date.now(), 1);
/** Turns the second step on; resolves to its secret and recovery codes. */
async function secondStep(send: Browser) {
  const made = await send('POST', '/api/account/second-step', { password: PASSWORD });
  expect(made.status).toBe(200);
  const { address, secret, recoveryCodes } = (await made.json()) as NewSecondStep;
  expect(new URL(address).searchParams.get('secret')).toBe(secret);
  const on = await send('PUT', '/api/account/second-step', { code: totp(secret) });
  expect(on.status).toBe(204);
  return { secret, recoveryCodes };
}

describe('one’s own account', () => {
  it('shows the sessions with their browsers, and ends one or all others', async () => {
    const { send, name } = await newTeacher();
    const phone = await signedIn(
      name,
      'Mozilla/5.0 (Linux; Android 14; Pixel 8) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/126.0.0.0 Mobile Safari/537.36',
    );
    const third = await signedIn(name, 'x'.repeat(5000));
    const { sessions: all } = await account(send);
    expect(all.map((one) => [one.browser, one.system, one.here])).toEqual([
      ['', '', false],
      ['Chrome 126', 'Android', false],
      ['Firefox 130', 'Linux', true],
      // What the harness signed in with.
      ['', '', false],
    ]);
    const [, onPhone] = all;
    const end = (id: string, by = send) => by('DELETE', `/api/account/sessions/${id}`);
    const other = await signedIn('colleague');
    await refused(await end(onPhone!.id, other), 404, 'not-found');
    expect((await end(onPhone!.id)).status).toBe(204);
    expect(await who(phone)).toBe(null);
    await refused(await end(onPhone!.id), 404, 'not-found');
    expect((await send('DELETE', '/api/account/sessions')).status).toBe(204);
    expect([await who(third), await who(send)]).toEqual([null, name]);
  });

  it('takes a new password by the one before: other sessions end, this one goes on', async () => {
    const { id, send, name } = await newTeacher();
    const elsewhere = await signedIn(name);
    const change = (current: string, password: string) =>
      send('PUT', '/api/account/password', { current, password });
    await refused(await change(PASSWORD, 'short'), 422, 'password-short');
    await refused(await change('not it', 'a hedge of hawthorn'), 403, 'wrong-password');
    // Whoever else knew it may have asked for links by which to come back.
    await send('PUT', '/api/account/email', { email: 'links@example.org', password: PASSWORD });
    await send('POST', '/api/tokens', { name: 'Laptop', writes: true });
    expect(await account(send)).toMatchObject({ newEmail: 'links@example.org' });
    expect((await change(PASSWORD, 'a hedge of hawthorn')).status).toBe(204);
    expect(await account(send)).toMatchObject({ newEmail: null });
    expect(await (await send('GET', '/api/tokens')).json()).toMatchObject({ tokens: [] });
    expect([await who(elsewhere), await who(send)]).toEqual([null, name]);
    const [told] = await db.select().from(mails).where(eq(mails.personId, id));
    expect(told!.body).toContain('Your password was changed.');
    await refused(await signIn(browser(), mail(name)), 401, 'wrong-sign-in');
    expect((await signIn(browser(), mail(name), 'a hedge of hawthorn')).status).toBe(204);
  });

  it('lets nobody guess the password at a session that was left open, many at once or one by one', async () => {
    const { send } = await newTeacher();
    const replies = await Promise.all(
      Array.from({ length: 14 }, (_, n) =>
        send('PUT', '/api/account/email', { email: 'new@example.org', password: `guess ${n}` }),
      ),
    );
    const statuses = replies.map(({ status }) => status).sort();
    expect(statuses.filter((one) => one === 403)).toHaveLength(10);
    expect(statuses.filter((one) => one === 429)).toHaveLength(4);
    await refused(
      await send('PUT', '/api/account/password', {
        current: PASSWORD,
        password: 'long enough now',
      }),
      429,
      'too-many-tries',
    );
  });

  it('has the name of the class list for students, else one’s own', async () => {
    const { send } = await newTeacher();
    expect((await send('PATCH', '/api/account', { name: ' Dr. Ines Holm ' })).status).toBe(204);
    expect(await who(send)).toBe('Dr. Ines Holm');
    const student = await signedIn('student in');
    await refused(await student('PATCH', '/api/account', { name: 'Boss' }), 403, 'not-allowed');
    expect(await account(student)).toMatchObject({ mayRename: false, secondStep: null });
  });
});

describe('a new address', () => {
  const lastMail = async (email: string) => {
    const found = await db.select().from(mails).where(eq(mails.toEmail, email));
    return found.at(-1);
  };
  const tokenIn = (path: string | null | undefined) => path!.split('/').at(-1)!;
  const confirm = (token: string, send = browser()) =>
    send('POST', '/api/account/email/confirmed', { token });

  it('counts once its mail was opened, wherever that is; the one before is told', async () => {
    const { id, send, name } = await newTeacher();
    const change = (email: string, password = PASSWORD) =>
      send('PUT', '/api/account/email', { email, password });
    await refused(await change('new.one@example.org', 'not it'), 403, 'wrong-password');
    expect((await change('First.One@example.org')).status).toBe(204);
    const first = tokenIn((await lastMail('first.one@example.org'))!.path);
    expect((await change('new.one@example.org')).status).toBe(204);
    expect(await account(send)).toMatchObject({
      email: mail(name),
      newEmail: 'new.one@example.org',
    });
    const stored = await db.execute(sql`select identifier from verifications where value = ${id}`);
    const token = tokenIn((await lastMail('new.one@example.org'))!.path);
    expect(JSON.stringify(stored.rows)).not.toContain(token);

    await refused(await confirm(first), 410, 'link-used');
    await refused(await confirm('%'), 410, 'link-used');
    expect((await confirm(token)).status).toBe(204);
    await refused(await confirm(token), 410, 'link-used');
    expect(await account(send)).toMatchObject({ email: 'new.one@example.org', newEmail: null });
    expect(await who(send)).toBe(name);
    expect((await lastMail(mail(name)))!.subject).toContain('was changed');
    await refused(await signIn(browser(), mail(name)), 401, 'wrong-sign-in');
    expect((await signIn(browser(), 'new.one@example.org')).status).toBe(204);
  });

  it('that somebody has is told to them alone, also where they came by it meanwhile', async () => {
    const { send } = await newTeacher();
    const change = (email: string) =>
      send('PUT', '/api/account/email', { email, password: PASSWORD });
    expect((await change(mail('other school'))).status).toBe(204);
    expect(await account(send)).toMatchObject({ newEmail: null });
    expect(await lastMail(mail('other school'))).toMatchObject({ path: null });
    expect((await change('meanwhile@example.org')).status).toBe(204);
    const token = tokenIn((await lastMail('meanwhile@example.org'))!.path);
    const taker = { kind: 'student', name: 'Quick', email: 'meanwhile@example.org' };
    await ask('office', 'POST', '/api/people', taker);
    await refused(await confirm(token), 409, 'email-taken');
  });

  it('is good for nothing after a day, once given up, or for somebody who is let in no more', async () => {
    const { id, send } = await newTeacher();
    const change = async (email: string) => {
      await send('PUT', '/api/account/email', { email, password: PASSWORD });
      return tokenIn((await lastMail(email))!.path);
    };
    const given = await change('given.up@example.org');
    expect((await send('DELETE', '/api/account/email')).status).toBe(204);
    await refused(await confirm(given), 410, 'link-used');
    const late = await change('late@example.org');
    clock.now += 25 * 3_600_000;
    await refused(await confirm(late), 410, 'link-used');
    clock.now -= 25 * 3_600_000;
    const ended = await change('ended@example.org');
    await ask('office', 'PUT', `/api/people/${id}/deactivated`);
    await refused(await confirm(ended), 410, 'link-used');
  });
});

describe('a second step', () => {
  it('begins by the password and counts from the first right code; then signing in takes both', async () => {
    const { send, name } = await newTeacher();
    await refused(
      await send('POST', '/api/account/second-step', { password: 'not it' }),
      403,
      'wrong-password',
    );
    const made = (await (
      await send('POST', '/api/account/second-step', { password: PASSWORD })
    ).json()) as NewSecondStep;
    // Begun and not confirmed: signing in is as before.
    expect((await signIn(browser(), mail(name))).status).toBe(204);
    expect(decodeURIComponent(made.address)).toContain(`Sammlung:${mail(name)}`);
    expect(made.recoveryCodes).toHaveLength(10);
    const { secret } = await secondStep(send);
    await refused(
      await send('POST', '/api/account/second-step', { password: PASSWORD }),
      409,
      'second-step-on',
    );
    expect(await account(send)).toMatchObject({ secondStep: { on: true, recoveryCodes: 10 } });

    const other = browser();
    const first = await signIn(other, mail(name));
    expect(await first.json()).toEqual({ step: 'code' });
    expect(await who(other)).toBe(null);
    await refused(await other('GET', '/api/account'), 401, 'sign-in-needed');
    await refused(await code(other, '000000'), 403, 'wrong-code');
    const right = later(secret);
    expect((await code(other, `${right.slice(0, 3)} ${right.slice(3)}`)).status).toBe(204);
    expect(await who(other)).toBe(name);
  });

  it('takes each code once, whoever has read it over a shoulder', async () => {
    const { send, name } = await newTeacher();
    const { secret, recoveryCodes } = await secondStep(send);
    const right = later(secret);
    const [one, two, three] = [browser(), browser(), browser()];
    for (const each of [one, two, three]) await signIn(each, mail(name));
    const replies = await Promise.all([one, two, three].map((each) => code(each, right)));
    expect(replies.map(({ status }) => status).sort()).toEqual([204, 403, 403]);
    const spare = browser();
    await signIn(spare, mail(name));
    expect((await code(spare, recoveryCodes[0]!)).status).toBe(204);
    expect(await account(spare)).toMatchObject({ secondStep: { recoveryCodes: 9 } });
    const late = browser();
    await signIn(late, mail(name));
    await refused(await code(late, recoveryCodes[0]!), 403, 'wrong-code');
  });

  it('is not to be guessed: codes are counted before they are judged, and the password comes first', async () => {
    const { send, name } = await newTeacher();
    const { secret } = await secondStep(send);
    await refused(await code(browser(), later(secret)), 410, 'sign-in-again');
    const many = await Promise.all(
      Array.from({ length: 14 }, async (_, n) => {
        const each = browser();
        await signIn(each, mail(name));
        return (await code(each, String(100_000 + n))).status;
      }),
    );
    expect(many.filter((status) => status === 429).length).toBeGreaterThanOrEqual(4);
    const each = browser();
    await signIn(each, mail(name));
    await refused(await code(each, later(secret)), 429, 'too-many-tries');
  });

  it('goes on nobody else’s challenge, and not on the session of whoever was here before', async () => {
    const { send, name } = await newTeacher();
    const { secret } = await secondStep(send);
    const other = await signedIn('colleague');
    await signIn(other, mail(name));
    expect(await who(other)).toBe(null);
    expect((await code(other, later(secret))).status).toBe(204);
    expect(await who(other)).toBe(name);
  });

  it('ends by the password, and by the office for whoever has lost everything', async () => {
    const { id, send, name } = await newTeacher();
    await secondStep(send);
    const off = (password: string) => send('POST', '/api/account/second-step/off', { password });
    await refused(await off('not it'), 403, 'wrong-password');
    const codes = await send('POST', '/api/account/recovery-codes', { password: PASSWORD });
    expect(((await codes.json()) as NewSecondStep).recoveryCodes).toHaveLength(10);
    expect((await off(PASSWORD)).status).toBe(204);
    expect(await who(send)).toBe(name);
    expect((await signIn(browser(), mail(name))).status).toBe(204);

    await secondStep(send);
    expect(
      (await ask<{ secondStep: boolean }>('office', 'GET', `/api/people/${id}`)).secondStep,
    ).toBe(true);
    await ask('office', 'DELETE', `/api/people/${id}/second-step`);
    expect(await who(send)).toBe(null);
    expect((await signIn(browser(), mail(name))).status).toBe(204);
  });

  it('stays where the password is forgotten and chosen anew', async () => {
    const { send, name, id } = await newTeacher();
    const { secret } = await secondStep(send);
    await call('visitor without', 'POST', '/api/session/forgotten', { email: mail(name) });
    const [sent] = await db.select().from(mails).where(eq(mails.personId, id));
    const token = sent!.path!.split('/').at(-1);
    const fresh = browser();
    const set = await fresh('POST', '/api/session/password', {
      ...{ token, password: 'a hedge of hawthorn' },
    });
    expect(set.status).toBe(204);
    expect(await (await signIn(fresh, mail(name), 'a hedge of hawthorn')).json()).toEqual({
      step: 'code',
    });
    expect((await code(fresh, later(secret))).status).toBe(204);
  });

  it('is not for students', async () => {
    const student = await signedIn('student in');
    for (const path of ['second-step', 'recovery-codes', 'second-step/off'])
      await refused(
        await student('POST', `/api/account/${path}`, { password: PASSWORD }),
        404,
        'not-found',
      );
  });
});

describe('all that is held about somebody', () => {
  const take = async (send: Browser) => {
    const reply = await send('GET', '/api/account/held');
    expect(reply.status).toBe(200);
    return unzipped(Buffer.from(await reply.arrayBuffer()));
  };
  it('comes as one archive: their files, and each record about them but no secret', async () => {
    const scene = await server.scene();
    const send = await signedIn('owner');
    await send('POST', '/api/tokens', { name: 'My laptop', writes: true });
    const held = await take(send);
    expect([...held.keys()]).toEqual(
      expect.arrayContaining([
        expect.stringMatching(/^Secret \d+\/Handed out\/Inner\/Böden 土壌\.txt$/u) as string,
        'Records about you/people.json',
        'Records about you/folders.json',
        'Records about you/tokens.json',
        'Records about you/sessions.json',
      ]),
    );
    const records = (name: string) =>
      JSON.parse(held.get(`Records about you/${name}.json`)!.toString()) as Record<
        string,
        unknown
      >[];
    expect(records('people')).toEqual([expect.objectContaining({ email: mail('owner') })]);
    expect(records('tokens')).toEqual([expect.objectContaining({ name: 'My laptop' })]);
    expect(records('folders').map(({ id }) => id)).toContain(scene.handed);
    for (const [path, content] of held)
      if (path.endsWith('.json'))
        for (const row of JSON.parse(content.toString()) as Record<string, unknown>[])
          expect(Object.keys(row).filter((key) => /token|password|secret|hash/u.test(key))).toEqual(
            [],
          );
  });

  it('is of nobody else, also for whoever has nothing yet', async () => {
    const { id, send } = await newTeacher();
    const held = await take(send);
    expect([...held.keys()].filter((path) => !path.startsWith('Records about you/'))).toEqual([]);
    const all = [...held.values()].map(String).join();
    expect(all).toContain(id);
    expect(all).not.toContain(mail('owner'));
  });

  it('tells nothing of what is handed out later, or of a mail that waits', async () => {
    const scene = await server.scene();
    const { ids, schoolId } = server.world;
    const person = { audienceKind: 'person' as const, personId: ids['student in'] };
    await db.insert(grants).values({
      ...{ ...person, schoolId, folderId: scene.secret, createdBy: ids.owner },
      fromAt: new Date(clock.now + 1e9),
    });
    await db.insert(mails).values({
      ...{ schoolId, kind: 'note', personId: ids['student in'], subject: 'A quiz tomorrow' },
      path: '/password/abc',
    });
    const held = await take(await signedIn('student in'));
    expect(held.has('Records about you/memberships.json')).toBe(true);
    const all = [...held.values()].map(String).join();
    for (const unseen of [scene.secret, 'A quiz tomorrow', '/password/abc'])
      expect(all).not.toContain(unseen);
  });
});
