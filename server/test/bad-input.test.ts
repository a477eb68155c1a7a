import { createHash } from 'node:crypto';
import { rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { afterAll, describe, expect, it } from 'vitest';
import { PASSWORD, mail, startServer } from './harness.ts';
import { uploader } from './upload.ts';

const server = await startServer();
const { call, refused } = server;
const { begin, send, place, add } = uploader(server);
afterAll(() => server.stop());

describe('requests that cannot be read', () => {
  it.each([
    ['broken JSON', '{"parentId":'],
    ['a wrong type', '{"parentId":7,"title":"x"}'],
    ['an id that is none', '{"parentId":"../../etc","title":"x"}'],
    ['a missing field', '{}'],
    ['a list', '[]'],
  ])('%s', async (_, body) => {
    const reply = await call('owner', 'POST', '/api/folders', body, {
      'content-type': 'application/json',
    });
    expect(reply.headers.get('content-type')).toContain('application/problem+json');
    await refused(reply, 400, 'bad-request');
  });

  it.each([
    '/api/folders/not-an-id',
    '/api/folders/%00',
    "/api/folders/'%20or%201=1",
    '/api/placements/00000000/content',
    '/api/folders/00000000-0000-4000-8000-000000000000/contents?limit=100000',
    '/api/folders/00000000-0000-4000-8000-000000000000/contents?after=x',
  ])('%s', async (path) => {
    await refused(await call('owner', 'GET', path), 400, 'bad-request');
  });

  it('a NUL character, wherever it stands', async () => {
    const { handed, placement, grant } = await server.scene();
    const nul = 'a\u0000b';
    for (const [method, path, body] of [
      ['GET', '/api/find?words=%00'],
      ['GET', `/api/audiences?words=a%00`],
      ['GET', '/api/at/a%00b'],
      ['GET', '/api/open/a%00b'],
      ['POST', '/api/session', { email: nul, password: 'x' }],
      ['POST', '/api/session', { email: 'a@b.example', password: nul }],
      ['POST', '/api/session/forgotten', { email: `${nul}@b.example` }],
      ['POST', '/api/session/password', { token: nul, password: 'long enough to be one' }],
      ['POST', '/api/folders', { parentId: handed, title: nul }],
      ['POST', '/api/paths', { parentId: handed, paths: [['a', nul]] }],
      ['POST', '/api/links', { folderId: handed, url: 'https://a.example/', title: nul }],
      ['PATCH', `/api/placements/${placement}`, { description: nul }],
      ['POST', `/api/grants/${grant}/notes`, { body: nul, copyToSender: false }],
      ['POST', '/api/courses', { title: nul, colour: 'leaf', yearId: handed }],
    ] as const)
      await refused(await call('owner', method, path, body), 400, 'bad-request');
  });

  it('an address that is none, and a body that is too long', async () => {
    await refused(await call('owner', 'GET', '/api/nowhere'), 404, 'not-found');
    const long = JSON.stringify({ parentId: null, title: 'x'.repeat(2_000_000) });
    const reply = await call('owner', 'POST', '/api/folders', long, {
      'content-type': 'application/json',
    });
    await refused(reply, 413, 'bad-request');
  });

  it('a change that another site sends', async () => {
    const title = 'From elsewhere';
    const forged: Record<string, string>[] = [
      { origin: 'https://evil.example' },
      { 'sec-fetch-site': 'cross-site' },
      { origin: 'null' },
    ];
    for (const headers of forged) {
      const reply = await call(
        'owner',
        'POST',
        '/api/folders',
        JSON.stringify({ parentId: null, title }),
        {
          ...headers,
          'content-type': 'application/json',
        },
      );
      await refused(reply, 403, 'wrong-origin');
    }
  });
});

describe('names of folders', () => {
  const make = (title: string, parentId: string) =>
    call('owner', 'POST', '/api/folders', { parentId, title });

  it.each([
    ['', 'empty'],
    ['  ', 'empty'],
    ['../up', 'forbidden-sign'],
    ['a\u0001b', 'invisible-sign'],
    ['abc\u202Edcba', 'invisible-sign'],
    ['x'.repeat(300), 'too-long'],
    ['NUL', 'reserved'],
    ['..', 'edge'],
  ])('%j is refused: %s', async (title, fault) => {
    const { inner } = await server.scene();
    const body = await refused(await make(title, inner), 422, 'name-not-allowed');
    expect(body.faults).toContainEqual({ field: 'title', fault });
  });

  it('a twin in case or Unicode form is refused, and nothing is made', async () => {
    const { inner } = await server.scene();
    expect((await make('Böden', inner)).status).toBe(201);
    for (const twin of ['Böden', 'bÖDEN', 'Bo\u0308den', ' Böden '])
      await refused(await make(twin, inner), 409, 'name-taken');
    const contents = await (await call('owner', 'GET', `/api/folders/${inner}/contents`)).json();
    expect(contents.folders).toHaveLength(1);
  });

  it('of sixty twins at once exactly one is made', async () => {
    const { inner } = await server.scene();
    const titles = Array.from({ length: 60 }, (_, n) => (n % 2 ? 'Twin' : 'TWIN'));
    const replies = await Promise.all(titles.map((title) => make(title, inner)));
    expect(replies.filter((r) => r.status === 201)).toHaveLength(1);
    expect(replies.filter((r) => r.status === 409)).toHaveLength(59);
  });
});

describe('uploads', () => {
  it('of somebody else is out of reach, whatever the address ends in', async () => {
    const { handed } = await server.scene();
    const theirs = await server.ask<{ id: string }>('colleague', 'POST', '/api/folders', {
      parentId: null,
      title: 'Theirs',
    });
    const mine = await send('colleague', theirs.id, 'mine.txt', '', 4);
    const other = await send('owner', handed, 'other.txt', 'ab', 4);
    const tus = { 'tus-resumable': '1.0.0' };
    const path = `/api/uploads/${mine}?x=/${other}`;
    const head = await call('colleague', 'HEAD', path, undefined, tus);
    expect(head.headers.get('upload-offset')).toBe('0');
    const patch = await call('colleague', 'PATCH', path, 'XY', {
      ...tus,
      'content-type': 'application/offset+octet-stream',
      'upload-offset': '0',
    });
    expect(patch.headers.get('upload-offset')).toBe('2');
    await call('colleague', 'DELETE', path, undefined, tus);
    const left = await call('owner', 'HEAD', `/api/uploads/${other}`, undefined, tus);
    expect([left.status, left.headers.get('upload-offset')]).toEqual([200, '2']);
    const gone = await call('colleague', 'HEAD', `/api/uploads/${mine}`, undefined, tus);
    expect(gone.status).toBe(404);
  });

  it.each([
    ['nothing', '', 'file-name-empty'],
    ['dots only', '..', 'file-name-empty'],
    ['control signs only', '\u0001\u0002', 'file-name-empty'],
  ])('a name of %s', async (_, name, code) => {
    const { handed } = await server.scene();
    await refused(await begin('owner', handed, name, 5), 422, code);
  });

  it('a zero-byte file, one over the limit, one without a length or folder', async () => {
    const { handed } = await server.scene();
    await refused(await begin('owner', handed, 'a.txt', 0), 422, 'empty-file');
    await refused(await begin('owner', handed, 'a.txt', 50_000_001), 413, 'file-too-large');
    const headers = { 'tus-resumable': '1.0.0' };
    await refused(
      await call('owner', 'POST', '/api/uploads', undefined, headers),
      400,
      'upload-refused',
    );
    await refused(
      await call('owner', 'POST', '/api/uploads', undefined, {
        ...headers,
        'upload-length': '5',
        'upload-metadata': '!!',
      }),
      400,
      'upload-refused',
    );
  });

  it.each([
    ['../../etc/passwd.txt', 'passwd.txt'],
    ['C:\\temp\\plan.txt', 'plan.txt'],
    ['gpj\u202Etxt.exe', 'gpjtxt.exe'],
    [`${'n'.repeat(300)}.txt`, `${'n'.repeat(116)}.txt`],
    ['con.txt', '_con.txt'],
  ])('the name %j is kept as %j, and said so', async (given, kept) => {
    const { inner } = await server.scene();
    const placed = await add('owner', inner, given, `words of ${given}`);
    expect(placed).toMatchObject({ outcome: 'new', name: kept, renamed: true });
  });

  it('the same name twice becomes the next version, the same content nothing', async () => {
    const { inner } = await server.scene();
    const first = await add('owner', inner, 'Plan.txt', 'one');
    const second = await add('owner', inner, 'PLAN.txt', 'two');
    const third = await add('owner', inner, 'plan.txt', 'two');
    expect([first, second, third]).toMatchObject([
      { outcome: 'new', version: 1 },
      { outcome: 'version', version: 2, placementId: first.placementId },
      { outcome: 'unchanged', version: 2, placementId: first.placementId },
    ]);
    const content = await call('owner', 'GET', `/api/placements/${first.placementId}/content`);
    expect(await content.text()).toBe('two');
  });

  it('stopped in the middle it goes on where it was, and placing it twice changes nothing', async () => {
    const { inner } = await server.scene();
    const id = await send('owner', inner, 'Long.txt', 'hello', 11);
    await refused(await place('owner', inner, id), 409, 'upload-unfinished');
    const head = await call('owner', 'HEAD', `/api/uploads/${id}`, undefined, {
      'tus-resumable': '1.0.0',
    });
    expect(head.headers.get('upload-offset')).toBe('5');
    const patch = {
      'tus-resumable': '1.0.0',
      'content-type': 'application/offset+octet-stream',
      'upload-offset': '5',
    };
    expect((await call('owner', 'PATCH', `/api/uploads/${id}`, ' world', patch)).status).toBe(204);
    const placed = await (await place('owner', inner, id)).json();
    expect(await (await place('owner', inner, id)).json()).toEqual(placed);
    const content = await call('owner', 'GET', `/api/placements/${placed.placementId}/content`);
    expect(await content.text()).toBe('hello world');
  });

  it("goes to no folder but its own, and nobody else's hands", async () => {
    const { inner, handed } = await server.scene();
    const id = await send('owner', inner, 'Mine.txt', 'mine', 4);
    await refused(await place('owner', handed, id), 404, 'not-found');
    const head = await call('other school', 'HEAD', `/api/uploads/${id}`, undefined, {
      'tus-resumable': '1.0.0',
    });
    expect(head.status).toBe(404);
    const placed = await place('owner', inner, id);
    expect(placed.status).toBe(200);
  });

  it('a disk that is full while bytes arrive: 507, and the upload goes on once there is room', async () => {
    const { inner } = await server.scene();
    const id = await send('owner', inner, 'Big.txt', '', 4);
    const file = `${server.settings.data}/uploads/${id}`;
    rmSync(file);
    symlinkSync('/dev/full', file);
    const patch = {
      'tus-resumable': '1.0.0',
      'content-type': 'application/offset+octet-stream',
      'upload-offset': '0',
    };
    const reply = await call('owner', 'PATCH', `/api/uploads/${id}`, 'data', patch);
    expect(reply.status).toBe(507);
    expect(await reply.json()).toMatchObject({ code: 'disk-full', status: 507 });
    rmSync(file);
    writeFileSync(file, '');
    expect((await call('owner', 'PATCH', `/api/uploads/${id}`, 'data', patch)).status).toBe(204);
    expect(await (await place('owner', inner, id)).json()).toMatchObject({ outcome: 'new' });
  });

  it('a disk without room for the file: 507 before a byte is sent', async () => {
    const full = await startServer({ diskReserve: 2 ** 52 });
    const { inner } = await full.scene();
    await full.refused(await uploader(full).begin('owner', inner, 'a.txt', 5), 507, 'disk-full');
    await full.stop();
  });

  it('uploads and open lines answer with the headers of all other replies', async () => {
    const { inner } = await server.scene();
    const begun = await uploader(server).begin('owner', inner, 'a.txt', 5);
    const line = await call('owner', 'GET', `/api/folders/${inner}/live`);
    for (const { headers } of [begun, line]) {
      expect(headers.get('x-content-type-options')).toBe('nosniff');
      expect(headers.get('content-security-policy')).toContain("frame-ancestors 'none'");
      expect(headers.get('x-robots-tag')).toBe('noindex, nofollow');
    }
    await line.body!.cancel();
  });

  it('content decides the type: a page in disguise is only ever downloaded', async () => {
    const { inner } = await server.scene();
    const page = '<script>alert(1)</script>';
    for (const name of ['page.html', 'drawing.svg', 'paper.pdf', 'picture.png']) {
      const { placementId } = await add('owner', inner, name, page);
      const reply = await call('owner', 'GET', `/api/placements/${placementId}/content?as=inline`);
      expect(reply.headers.get('content-disposition'), name).toMatch(/^attachment/u);
      expect(reply.headers.get('x-content-type-options')).toBe('nosniff');
      expect(reply.headers.get('content-security-policy')).toContain('sandbox');
      expect(reply.headers.get('content-type')).not.toContain('image/png');
      expect(reply.headers.get('content-type')).not.toContain('application/pdf');
      await reply.arrayBuffer();
    }
  });
});

describe('downloads', () => {
  it('come under their own name, whole or in ranges', async () => {
    const { placement } = await server.scene();
    const path = `/api/placements/${placement}/content`;
    const whole = await call('student in', 'GET', path);
    expect(whole.headers.get('content-disposition')).toMatch(
      /^attachment; filename=".*"; filename\*=UTF-8''B%C3%B6den%20%E5%9C%9F%E5%A3%8C\.txt$/u,
    );
    expect(await whole.text()).toBe('content of the file');
    const part = await call('student in', 'GET', path, undefined, { range: 'bytes=8-9' });
    expect([part.status, part.headers.get('content-range'), await part.text()]).toEqual([
      206,
      'bytes 8-9/19',
      'of',
    ]);
    await refused(
      await call('student in', 'GET', path, undefined, { range: 'bytes=50-' }),
      416,
      'range-not-there',
    );
    // Not by fetch, which asks for a fresh copy as soon as it sees this header.
    const again = await server.app.inject({
      url: path,
      headers: {
        cookie: server.cookies.get('student in'),
        'if-none-match': whole.headers.get('etag')!,
      },
    });
    expect(again.statusCode).toBe(304);
  });

  it('say so when the content has gone from the disk', async () => {
    const { inner } = await server.scene();
    const { placementId } = await add('owner', inner, 'gone.txt', 'soon gone');
    const hash = createHash('sha256').update('soon gone').digest('hex');
    rmSync(server.fileOf(hash));
    await refused(
      await call('owner', 'GET', `/api/placements/${placementId}/content`),
      500,
      'content-missing',
    );
  });
});

describe('sessions', () => {
  it('count for nothing when the cookie was tampered with or the session has ended', async () => {
    const cookie = server.cookies.get('owner')!;
    const ask = (value: string) => fetch(`${server.base}/api/new`, { headers: { cookie: value } });
    expect((await ask(cookie)).status).toBe(200);
    for (const bad of [
      cookie.slice(0, -12),
      `${cookie}x`.replace('=', '=x'),
      'sammlung.session_token=%',
      'x=1',
    ])
      expect((await ask(bad)).status, bad).toBe(401);
  });

  it('ten wrong passwords stop the tries from there, the right one included, and nobody else', async () => {
    const tryIt = (email: string, password: string) =>
      call('visitor without', 'POST', '/api/session', { email, password });
    for (let n = 0; n < 10; n += 1)
      await refused(await tryIt(mail('owner'), 'wrong'), 401, 'wrong-sign-in');
    const stopped = await tryIt(mail('owner').toUpperCase(), PASSWORD);
    expect(Number(stopped.headers.get('retry-after'))).toBeGreaterThan(0);
    await refused(stopped, 429, 'too-many-tries');
    expect((await tryIt(mail('colleague'), PASSWORD)).status).toBe(204);
    expect((await call('owner', 'GET', '/api/new')).status, 'who has signed in works on').toBe(200);
  });
});
