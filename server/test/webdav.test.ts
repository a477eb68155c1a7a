import type { Bin, Contents, NewThings, Tray, Token, WaitingMove } from '@sammlung/contract';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { passwordToken } from '../src/platform/passwords.ts';
import { startServer, type Who } from './harness.ts';
import { programs } from './programs.ts';

const server = await startServer({ uploadLimit: 2_000_000 });
const { ask, call, clock, world, db, base } = server;
const { dav, list, raw, passwordOf, authorization, addressOf } = programs(server);
afterAll(() => server.stop());

const folder = async (title: string, parentId: string | null = null) =>
  (await ask<{ id: string }>('owner', 'POST', '/api/folders', { parentId, title })).id;
const contents = (id: string, who: Who = 'owner') =>
  ask<Contents>(who, 'GET', `/api/folders/${id}/contents`);
const titles = async (id: string, who: Who = 'owner') =>
  (await contents(id, who)).items.map(({ title }) => title);
const handOut = (id: string, classId = world.classA) =>
  ask('owner', 'POST', '/api/grants', {
    things: [{ kind: 'folder', id }],
    audiences: [{ kind: 'class', id: classId }],
  });
const status = async (...asked: Parameters<typeof dav>) => (await dav(...asked)).status;
const put = (path: string, body: string, more: object = {}) =>
  status('owner', 'PUT', path, { body, ...more });
const read = async (who: Who, path: string) => (await dav(who, 'GET', path)).text();
const moveTo = (from: string, to: string, overwrite = 'T') =>
  status('owner', 'MOVE', from, { headers: { destination: addressOf(to), overwrite } });
const waiting = async () =>
  (await ask<{ moves: WaitingMove[] }>('owner', 'GET', '/api/waiting-moves')).moves;

let unit = '';
beforeAll(async () => {
  unit = await folder('Unit 1');
  await folder('Private');
  await handOut(unit);
  await ask('owner', 'PATCH', `/api/class-pages/${world.classA}`, { currentFolderId: unit });
});

describe('a password for programs', () => {
  it('is the only way in, and opens nothing else', async () => {
    const ask401 = await fetch(`${base}/dav/`, { method: 'PROPFIND' });
    expect(ask401.status).toBe(401);
    expect(ask401.headers.get('www-authenticate')).toMatch(/^Basic /u);
    expect((await call('owner', 'PROPFIND', '/dav/')).status).toBe(401);
    const withAccount = { authorization: authorization('correct horse', 'owner@example.org') };
    const wrong = await fetch(`${base}/dav/`, { method: 'PROPFIND', headers: withAccount });
    expect(wrong.status).toBe(401);
    const headers = { authorization: authorization(await passwordOf('owner')) };
    expect((await fetch(`${base}/api/library/tree`, { headers })).status).toBe(401);
    const options = await fetch(`${base}/dav/`, { method: 'OPTIONS' });
    expect([options.status, options.headers.get('dav')]).toEqual([200, '1, 2']);
  });

  it('lets nobody in once it is revoked, until that is undone', async () => {
    const made = await ask<Token & { password: string }>('owner', 'POST', '/api/tokens', {
      ...{ name: 'Lost laptop', writes: true },
    });
    const enter = async () =>
      (
        await fetch(`${base}/dav/`, {
          method: 'PROPFIND',
          headers: { authorization: authorization(made.password), depth: '0' },
        })
      ).status;
    expect(await enter()).toBe(207);
    await ask('owner', 'DELETE', `/api/tokens/${made.id}`);
    expect(await enter()).toBe(401);
    await ask('owner', 'POST', `/api/tokens/${made.id}/restore`);
    expect(await enter()).toBe(207);
    await ask('owner', 'DELETE', `/api/tokens/${made.id}`);
    clock.now += 11 * 60_000;
    expect((await call('owner', 'POST', `/api/tokens/${made.id}/restore`)).status).toBe(409);
    const { tokens } = await ask<{ tokens: Token[] }>('owner', 'GET', '/api/tokens');
    expect(tokens.map(({ id }) => id)).not.toContain(made.id);
  });

  it('ends with the password of the person', async () => {
    const personId = await server.enrol('adds', 'teacher');
    expect(await status('adds', 'PROPFIND', '', { headers: { depth: '0' } })).toBe(207);
    const token = await passwordToken(db, personId, 'password', clock.now);
    await ask('visitor without', 'POST', '/api/session/password', {
      ...{ token, password: 'another horse' },
    });
    expect(await status('adds', 'PROPFIND', '', { headers: { depth: '0' } })).toBe(401);
  });

  it('cannot be guessed: a thousand wrong ones are counted before they are looked at', async () => {
    const tried = await Promise.all(
      Array.from({ length: 1000 }, async (_, n) => {
        const headers = { authorization: authorization(`wrong ${n}`, 'guessed'), depth: '0' };
        return (await fetch(`${base}/dav/`, { method: 'PROPFIND', headers })).status;
      }),
    );
    expect(tried.filter((one) => one === 401)).toHaveLength(10);
    expect(tried.filter((one) => one === 429)).toHaveLength(990);
    // Who has the right one is let in all the same, with many requests at once from the first on.
    await server.enrol('manages', 'teacher');
    const first = { authorization: authorization(await passwordOf('manages')), depth: '0' };
    const many = await Promise.all(
      Array.from({ length: 30 }, () =>
        fetch(`${base}/dav/`, { method: 'PROPFIND', headers: first }),
      ),
    );
    expect(many.filter((one) => one.status !== 207)).toEqual([]);
    expect(await status('owner', 'PROPFIND', '', { headers: { depth: '0' } })).toBe(207);
  });
});

describe('the folders of a program', () => {
  it('are those of a teacher, with the current folder of each class', async () => {
    expect(await list('owner', '')).toEqual(['Tray', 'Classes', 'Library']);
    expect(await list('owner', 'Classes')).toEqual(['A', 'B']);
    expect(await list('owner', 'Library')).toEqual(expect.arrayContaining(['Unit 1', 'Private']));
    expect(await put('Library/Unit 1/Sieve.txt', 'Three sieves.')).toBe(201);
    expect(await list('owner', 'Classes/A')).toEqual(['Sieve.txt']);
    expect(await read('owner', 'Classes/A/sieve.TXT')).toBe('Three sieves.');
    expect(await list('owner', 'Classes/B')).toEqual([]);
    expect(await status('office', 'PROPFIND', '').catch(() => 'none')).toBe('none');
    expect(await list('colleague', 'Library')).toEqual([]);
    expect(await list('colleague', 'Classes')).toEqual([]);
  });

  it('show a student what the web shows, and nothing of what is held back', async () => {
    await put('Library/Unit 1/Key.txt', 'Answers of the quiz.');
    const key = (await contents(unit)).items.find(({ title }) => title === 'Key')!;
    await ask('owner', 'POST', '/api/releases', {
      things: [{ kind: 'placement', id: key.placementId }],
      rules: [{ classId: null, release: { held: true, from: null, until: null } }],
    });
    const { things } = await ask<NewThings>('student in', 'GET', '/api/new');
    expect(await list('student in', 'New')).toEqual(
      things.map(({ title, extension }) => `${title}.${extension}`),
    );
    expect(await list('student in', '')).toEqual(['New', 'My classes', 'Kept']);
    expect(await list('student in', 'My classes')).toEqual(['A']);
    expect(await list('student in', 'My classes/A')).toEqual(['Unit 1']);
    expect(await list('student in', 'My classes/A/Unit 1')).toEqual(['Sieve.txt']);
    expect(await read('student in', 'My classes/A/Unit 1/Sieve.txt')).toBe('Three sieves.');
    expect(await status('student in', 'GET', 'My classes/A/Unit 1/Key.txt')).toBe(404);
    expect(await list('student out', 'My classes/B')).toEqual([]);
    expect(await status('student out', 'PROPFIND', 'My classes/A')).toBe(404);
    await ask('student in', 'POST', '/api/kept', { kind: 'folder', id: unit });
    expect(await list('student in', 'Kept')).toEqual(['Unit 1']);
  });

  it('are only to be read by students, and by passwords that only read', async () => {
    const file = 'My classes/A/Unit 1/Sieve.txt';
    const other = { headers: { destination: addressOf('New/Mine.txt') } };
    for (const [method, path, more] of [
      ['PUT', file, { body: 'mine' }],
      ['PUT', 'New/mine.txt', { body: 'mine' }],
      ['DELETE', file, {}],
      ['MKCOL', 'Kept/mine', {}],
      ['MOVE', file, other],
      ['COPY', file, other],
      ['LOCK', file, { body: LOCK }],
      ['PROPPATCH', file, { body: PATCH }],
    ] as const) {
      expect([method, await status('student in', method, path, more)]).toEqual([method, 403]);
      const mine = path.replace(/^(?:My classes\/A|New|Kept)/u, 'Library');
      const reads = { ...more, reads: true };
      expect([method, await status('owner', method, mine, reads)]).toEqual([method, 403]);
    }
    expect(await read('owner', 'Library/Unit 1/Sieve.txt')).toBe('Three sieves.');
  });

  it('keep what programs note about things, for themselves', async () => {
    const path = 'Library/Unit 1/Sieve.txt';
    expect(await status('owner', 'PROPPATCH', path, { body: PATCH })).toBe(207);
    const asked = `<propfind xmlns="DAV:"><prop><x:mark xmlns:x="urn:test"/><getetag/></prop></propfind>`;
    const found = await dav('owner', 'PROPFIND', path, { body: asked, headers: { depth: '0' } });
    const text = await found.text();
    expect(text).toContain('>seen &amp; read</');
    expect(text).toContain('<D:getetag>"');
    expect(
      await status('owner', 'PROPPATCH', path, { body: PATCH.replace(/x:mark/gu, 'D:getetag') }),
    ).toBe(207);
  });
});

const LOCK = `<D:lockinfo xmlns:D="DAV:"><D:lockscope><D:exclusive/></D:lockscope><D:locktype><D:write/></D:locktype><D:owner>test</D:owner></D:lockinfo>`;
const PATCH = `<D:propertyupdate xmlns:D="DAV:" xmlns:x="urn:test"><D:set><D:prop><x:mark>seen &amp; read</x:mark></D:prop></D:set></D:propertyupdate>`;

describe('saving a file to a class', () => {
  it('is the whole round for it, by the rules of the tray', async () => {
    expect(await put('Classes/A/Lesson 16, humus.txt', 'What humus is.')).toBe(201);
    expect(await titles(unit, 'student in')).toContain('Lesson 16, humus');
    const row = (await contents(unit)).items.find(({ title }) => title === 'Lesson 16, humus')!;
    expect(row.lessonDate).toBe(new Date(clock.now).toISOString().slice(0, 10));
    const rounds = await ask<{ rounds: { steps: { title: string }[] }[] }>(
      ...(['owner', 'GET', '/api/tray/rounds'] as const),
    );
    expect(rounds.rounds[0]!.steps.map(({ title }) => title)).toEqual(['Lesson 16, humus']);
    // A key waits for the day after, as in the tray.
    expect(await put('Classes/A/Quiz 7 key.txt', 'Worked answers of quiz seven.')).toBe(201);
    expect(await titles(unit, 'student in')).not.toContain('Quiz 7 key');
    expect(await titles(unit)).toContain('Quiz 7 key');
    expect(await read('owner', 'Classes/A/Quiz 7 key.txt')).toBe('Worked answers of quiz seven.');
  });

  it('is the next version of what has its name', async () => {
    expect(await put('Classes/A/Lesson 16, humus.txt', 'What humus is, corrected.')).toBe(204);
    const rows = (await contents(unit, 'student in')).items;
    expect(rows.filter(({ title }) => title === 'Lesson 16, humus')).toMatchObject([
      { version: 2 },
    ]);
  });

  it('is refused, with where it is, for what the library has; it waits in the tray', async () => {
    const again = await dav('owner', 'PUT', 'Classes/A/Once more.txt', {
      body: 'What humus is, corrected.',
    });
    expect(again.status).toBe(409);
    expect(await again.text()).toContain('in Unit 1 already');
    expect(await put('Classes/A/Once more.txt', 'What humus is, corrected.')).toBe(409);
    const { files } = await ask<Tray>('owner', 'GET', '/api/tray');
    expect(files.map(({ name }) => name)).toEqual(['Once more.txt']);
    expect(files[0]!.answer?.to).toMatchObject([{ classId: world.classA, folderId: unit }]);
    expect(await list('owner', 'Tray')).toEqual(['Once more.txt']);
    expect(await status('owner', 'DELETE', 'Tray/Once more.txt')).toBe(204);
  });

  it('needs a current folder, and asks where more people than the class would see it', async () => {
    expect(await put('Classes/B/Early.txt', 'Too early.')).toBe(409);
    const open = await folder('Open to all');
    await handOut(open, world.classB);
    await ask('owner', 'POST', '/api/doors', {
      thing: { kind: 'folder', id: open },
      kind: 'public',
    });
    await ask('owner', 'PATCH', `/api/class-pages/${world.classB}`, { currentFolderId: open });
    expect(await put('Classes/B/For B.txt', 'For B alone.')).toBe(403);
    expect(await titles(open)).toEqual([]);
    expect(await list('owner', 'Tray')).toEqual(['For B.txt']);
    expect(await status('owner', 'DELETE', 'Tray/For B.txt')).toBe(204);
  });

  it('goes from the tray, too, when a program moves it there', async () => {
    expect(await put('Tray/scan.txt', 'A scan of the day.')).toBe(201);
    expect(await moveTo('Tray/scan.txt', 'Tray/Board.txt')).toBe(201);
    expect(await moveTo('Tray/Board.txt', 'Classes/A/Board.txt')).toBe(201);
    expect(await titles(unit, 'student in')).toContain('Board');
    expect(await list('owner', 'Tray')).toEqual([]);
    expect(await moveTo('Classes/A/Board.txt', 'Tray/Board.txt')).toBe(403);
  });
});

describe('programs that save', () => {
  const own = async () => (await contents(unit)).items.find(({ title }) => title === 'Plan')!;
  const bin = async () => (await ask<Bin>('owner', 'GET', '/api/bin')).things.length;
  const seen = () => read('student in', 'My classes/A/Unit 1/Plan.txt');
  let first = '';
  beforeAll(async () => {
    await put('Library/Unit 1/Plan.txt', 'version 1');
    first = (await own()).itemId;
  });
  const expectVersion = async (version: number, text: string) => {
    expect(await own()).toMatchObject({ itemId: first, version });
    expect(await seen()).toBe(text);
    expect(await list('owner', 'Library/Unit 1')).toContain('Plan.txt');
    expect((await list('owner', 'Library/Unit 1')).filter((x) => /tmp|~/u.test(x))).toEqual([]);
    expect(await bin()).toBe(0);
  };
  const at = (name: string) => `Library/Unit 1/${name}`;

  it('write a temporary file and move it over the old one', async () => {
    expect(await put(at('Plan.txt.tmp'), 'version 2')).toBe(201);
    expect(await titles(unit)).not.toContain('Plan.txt');
    expect(await moveTo(at('Plan.txt.tmp'), at('Plan.txt'))).toBe(204);
    await expectVersion(2, 'version 2');
  });

  it('set the old file aside, which nobody notices, and move the new one in its place', async () => {
    expect(await put(at('~WRD0001.tmp'), 'version 3')).toBe(201);
    expect(await moveTo(at('Plan.txt'), at('~WRL0002.tmp'))).toBe(201);
    expect(await status('owner', 'GET', at('Plan.txt'))).toBe(404);
    expect(await seen()).toBe('version 2');
    expect(await moveTo(at('~WRD0001.tmp'), at('Plan.txt'))).toBe(201);
    expect(await status('owner', 'DELETE', at('~WRL0002.tmp'))).toBe(204);
    await expectVersion(3, 'version 3');
  });

  it('set it aside and move it back when something went wrong', async () => {
    expect(await moveTo(at('Plan.txt'), at('~WRL0003.tmp'))).toBe(201);
    expect(await moveTo(at('~WRL0003.tmp'), at('Plan.txt'))).toBe(201);
    await expectVersion(3, 'version 3');
  });

  it('delete the old file and write another of its name', async () => {
    expect(await status('owner', 'DELETE', at('Plan.txt'))).toBe(204);
    expect(await put(at('Plan.txt'), 'version 4')).toBe(201);
    await expectVersion(4, 'version 4');
  });

  it('write an ordinary file and move it over the old one', async () => {
    expect(await put(at('Plan new.txt'), 'version 5')).toBe(201);
    expect(await moveTo(at('Plan new.txt'), at('Plan.txt'), 'F')).toBe(412);
    expect(await moveTo(at('Plan new.txt'), at('Plan.txt'))).toBe(204);
    expect(await own()).toMatchObject({ itemId: first, version: 5 });
    expect(await seen()).toBe('version 5');
  });

  it('empty it first, lock it, and write it then', async () => {
    expect(await put(at('Plan.txt'), '')).toBe(204);
    expect(await seen()).toBe('version 5');
    const locked = await dav('owner', 'LOCK', at('Plan.txt'), { body: LOCK });
    expect(locked.status).toBe(200);
    const token = locked.headers.get('lock-token')!;
    expect(await put(at('Plan.txt'), 'version 6')).toBe(423);
    expect(await put(at('Plan.txt'), 'version 6', { headers: { if: `(${token})` } })).toBe(204);
    const unlock = { headers: { 'lock-token': token } };
    expect(await status('owner', 'UNLOCK', at('Plan.txt'), unlock)).toBe(204);
    expect(await own()).toMatchObject({ itemId: first, version: 6 });
    expect(await seen()).toBe('version 6');
  });
});

describe('moves of programs', () => {
  it('rename, and put in another folder, what nobody gains or loses by', async () => {
    await put('Library/Private/Draft.txt', 'A draft.');
    await folder('Elsewhere');
    expect(await moveTo('Library/Private/Draft.txt', 'Library/Elsewhere/Exam.md')).toBe(201);
    expect(await list('owner', 'Library/Elsewhere')).toEqual(['Exam.md']);
    expect(await moveTo('Library/Elsewhere', 'Library/ELSEWHERE')).toBe(201);
    expect(await list('owner', 'Library')).toContain('ELSEWHERE');
    expect(await moveTo('Library/ELSEWHERE', 'Library/Private/Deep')).toBe(201);
    expect(await read('owner', 'Library/Private/Deep/Exam.md')).toBe('A draft.');
    expect(await moveTo('Library/Private', 'Library/Private/Deep/Loop')).toBe(403);
    expect(await moveTo('Classes/A', 'Library/A')).toBe(403);
    expect(await moveTo('Tray', 'Library/Tray')).toBe(403);
  });

  it('wait for a word where more people would see something by them, or a class less', async () => {
    const open = await folder('Public shelf');
    await ask('owner', 'POST', '/api/doors', {
      thing: { kind: 'folder', id: open },
      kind: 'public',
    });
    await put('Library/Private/Marks.txt', 'The marks of all.');
    const to = { headers: { destination: addressOf('Library/Public shelf/Marks.txt') } };
    const refused = await dav('owner', 'MOVE', 'Library/Private/Marks.txt', to);
    expect(refused.status).toBe(403);
    expect(await refused.text()).toContain('waits for your decision');
    expect(await status('owner', 'COPY', 'Library/Private/Marks.txt', to)).toBe(403);
    expect(await titles(open)).toEqual([]);
    expect(await moveTo('Library/Unit 1/Sieve.txt', 'Library/Private/Sieve.txt')).toBe(403);
    expect(await titles(unit, 'student in')).toContain('Sieve');
    expect((await waiting()).map(({ thing, to: where }) => [thing.title, where?.title])).toEqual([
      ['Marks', 'Public shelf'],
      ['Sieve', 'Private'],
    ]);
    const [marks, sieve] = await waiting();
    await ask('owner', 'DELETE', `/api/waiting-moves/${marks!.id}`);
    await ask('owner', 'DELETE', `/api/waiting-moves/${sieve!.id}`);
    expect(await waiting()).toEqual([]);
    // A folder that a class would lose is not for a program to remove.
    expect(await status('owner', 'DELETE', 'Library/Unit 1')).toBe(403);
    expect(await titles(unit, 'student in')).toContain('Sieve');
  });

  it('do not make copies of what is elsewhere', async () => {
    const copyTo = (from: string, to: string) =>
      status('owner', 'COPY', from, { headers: { destination: addressOf(to) } });
    expect(await copyTo('Library/Private/Deep', 'Library/Private/Deeper')).toBe(201);
    expect(await read('owner', 'Library/Private/Deeper/Exam.md')).toBe('A draft.');
    expect(await copyTo('Library/Private/Marks.txt', 'Classes/A/Marks.txt')).toBe(403);
    const away = { headers: { destination: 'https://elsewhere.example/dav/Library/x.txt' } };
    expect(await status('owner', 'MOVE', 'Library/Private/Marks.txt', away)).toBe(502);
  });
});

describe('what programs send', () => {
  it('leads nowhere by paths that are none', async () => {
    for (const path of [
      '/dav/../api/library/tree',
      '/dav/%2e%2e/api/library/tree',
      '/dav/Library/..%2f..%2fetc%2fpasswd',
      '/dav/Library/%00',
      '/dav/Library/%ff',
      '/dav/Library/a%5cb',
      '/dav/Library/x#y',
    ])
      expect([path, await raw('owner', 'GET', path)]).toEqual([
        path,
        expect.toSatisfy((found: number) => found >= 400 && found < 500),
      ]);
    const long = 'x'.repeat(300);
    expect(await put(`Library/Private/${long}.txt`, 'long')).toBe(414);
    expect(await put(`Library/Private/${'y'.repeat(200)}.txt`, 'long')).toBe(403);
    expect(await status('owner', 'MKCOL', `Library/Private/${'z'.repeat(70)}`)).toBe(403);
    for (const name of ['CON.txt', 'a:b.txt', 'what?.txt', '‮txt.exe'])
      expect([name, await put(`Library/Private/${name}`, 'bad')]).toEqual([name, 403]);
    expect(await put('Library/Top.txt', 'on top')).toBe(403);
    expect(await put('Library/Not there/x.txt', 'no folder')).toBe(409);
    expect(await put('Library/Private', 'a folder')).toBe(405);
  });

  it('is not there when only half of it has come, or too much', async () => {
    const half = { headers: { 'content-length': '1000' }, sent: 'half' };
    expect(await raw('owner', 'PUT', '/dav/Library/Private/half.txt', half)).toBeNull();
    expect(await put('Library/Private/large.txt', 'x'.repeat(2_000_001))).toBe(413);
    expect(await list('owner', 'Library/Private')).not.toEqual(
      expect.arrayContaining([expect.stringMatching(/half|large/u)]),
    );
    const part = { headers: { 'content-range': 'bytes 0-3/10' } };
    expect(await put('Library/Private/part.txt', 'part', part)).toBe(400);
  });

  it('is listed folder by folder', async () => {
    const endless = await dav('owner', 'PROPFIND', 'Library');
    expect(endless.status).toBe(403);
    expect(await endless.text()).toContain('propfind-finite-depth');
    const all = await Promise.all(
      Array.from({ length: 100 }, () =>
        status('owner', 'PROPFIND', 'Library', { headers: { depth: '1' } }),
      ),
    );
    expect(new Set(all)).toEqual(new Set([207]));
    for (const depth of ['2', 'deep'])
      expect(await status('owner', 'PROPFIND', '', { headers: { depth } })).toBe(400);
  });

  it('is no XML that makes work', async () => {
    const bomb = `<!DOCTYPE x [<!ENTITY a "aaaaaaaaaa">]><propfind xmlns="DAV:"><prop>&a;</prop></propfind>`;
    for (const body of [bomb, '<propfind', '<other xmlns="DAV:"/>', '<p:propfind/>'])
      expect(await status('owner', 'PROPFIND', '', { body, headers: { depth: '0' } })).toBe(400);
    const body = `<propfind xmlns="DAV:"><prop>${'<x/>'.repeat(100_000)}</prop></propfind>`;
    expect(await status('owner', 'PROPFIND', '', { body, headers: { depth: '0' } })).toBe(413);
  });

  it('counts only while its conditions hold', async () => {
    const path = 'Library/Private/Marks.txt';
    const etag = (await dav('owner', 'HEAD', path)).headers.get('etag')!;
    const when = (header: string, value: string) =>
      put(path, 'new', { headers: { [header]: value } });
    expect(await when('if-none-match', '*')).toBe(412);
    expect(await when('if-match', '"other"')).toBe(412);
    expect(await when('if', '(["other"])')).toBe(412);
    expect(await when('if', `(<urn:uuid:00000000-0000-0000-0000-000000000000>)`)).toBe(412);
    const much = '(<urn:x>)'.repeat(51);
    for (const bad of [much, '(', '()', '(<x', 'x', '(Not)', '<http://x/>', '((['])
      expect([bad, await when('if', bad)]).toEqual([bad, 400]);
    expect(await when('if', `(Not ["other"] [${etag}])`)).toBe(204);
    expect(await when('if-match', etag)).toBe(412);
  });

  it('does not pass a lock of somebody else, nor take it', async () => {
    const path = 'Library/Private/Marks.txt';
    const taken = await dav('owner', 'LOCK', path, {
      ...{ body: LOCK, headers: { timeout: 'Second-60' } },
    });
    const token = taken.headers.get('lock-token')!;
    expect(await put(path, 'mine')).toBe(423);
    expect(await status('owner', 'DELETE', path)).toBe(423);
    expect(await status('owner', 'DELETE', 'Library/Private')).toBe(423);
    expect(await moveTo(path, 'Library/Private/Stolen.txt')).toBe(423);
    expect(await status('owner', 'LOCK', path, { body: LOCK })).toBe(423);
    const made = '<urn:uuid:11111111-1111-1111-1111-111111111111>';
    const unlock = (of: string) =>
      status('owner', 'UNLOCK', path, { headers: { 'lock-token': of } });
    expect(await unlock(made)).toBe(409);
    expect(await put(path, 'x', { headers: { if: `(${made}) (Not <DAV:no-lock>)` } })).toBe(423);
    expect(await put(path, 'held', { headers: { if: `(${token})` } })).toBe(204);
    // What nobody renews ends.
    clock.now += 61_000;
    expect(await put(path, 'free again')).toBe(204);
    expect(await unlock(token)).toBe(409);
  });

  it('is kept within the room that a person has', async () => {
    const asked =
      '<propfind xmlns="DAV:"><prop><quota-available-bytes/><quota-used-bytes/></prop></propfind>';
    const found = await dav('owner', 'PROPFIND', 'Library', {
      ...{ body: asked, headers: { depth: '0' } },
    });
    const [, left] = /quota-available-bytes>(\d+)</u.exec(await found.text())!;
    expect(Number(left)).toBeGreaterThan(900_000_000);
  });
});
