import { createHash, randomBytes } from 'node:crypto';
import { mkdtempSync, rmSync, truncateSync } from 'node:fs';
import { get } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { eq } from 'drizzle-orm';
import { afterAll, describe, expect, it } from 'vitest';
import { openings } from '../src/db/schema/index.ts';
import { mediaTypeOf } from '../src/features/intake/media-type.ts';
import { DiskStorage } from '../src/platform/storage.ts';
import { startServer } from './harness.ts';
import { uploader } from './upload.ts';

const server = await startServer();
afterAll(() => server.stop());
const folder = mkdtempSync(join(tmpdir(), 'sammlung-types-'));
const disk = new DiskStorage(folder);
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** A file of `bytes` in a scene's inner folder; resolves to its placement. */
async function lay(name: string, bytes: Buffer) {
  const { inner } = await server.scene();
  const { begin, place } = uploader(server);
  const begun = await begin('owner', inner, name, bytes.length);
  const path = begun.headers.get('location')!;
  const half = bytes.length >> 1;
  for (const [from, to] of [
    [0, half],
    [half, bytes.length],
  ] as const)
    await server.call('owner', 'PATCH', path, new Uint8Array(bytes.subarray(from, to)), {
      'tus-resumable': '1.0.0',
      'content-type': 'application/offset+octet-stream',
      'upload-offset': String(from),
    });
  const placed = await place('owner', inner, path.split('/').at(-1)!);
  return ((await placed.json()) as { placementId: string }).placementId;
}

const digest = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');

describe('large contents', () => {
  const bytes = randomBytes(9_500_000);

  it('arrive whole, and in any range', async () => {
    const placement = await lay('large.bin', bytes);
    const path = `/api/placements/${placement}/content`;
    const whole = await server.call('student in', 'GET', path);
    expect(whole.headers.get('content-length')).toBe(String(bytes.length));
    expect(digest(new Uint8Array(await whole.arrayBuffer()))).toBe(digest(bytes));
    for (const [from, to] of [
      [0, 4_999_999],
      [1, 5_000_000],
      [4_194_304, 9_499_999],
      [9_499_990, 9_499_999],
    ] as const) {
      const part = await server.call('student in', 'GET', path, undefined, {
        range: `bytes=${from}-${to}`,
      });
      expect(part.status).toBe(206);
      expect(part.headers.get('content-range')).toBe(`bytes ${from}-${to}/${bytes.length}`);
      expect(digest(new Uint8Array(await part.arrayBuffer()))).toBe(
        digest(bytes.subarray(from, to + 1)),
      );
    }
    const beyond = { range: `bytes=${bytes.length}-` };
    const none = await server.call('student in', 'GET', path, undefined, beyond);
    expect([none.status, none.headers.get('content-range')]).toEqual([
      416,
      `bytes */${bytes.length}`,
    ]);
    // What has changed since is sent whole, and so are several parts.
    const asked: Record<string, string>[] = [
      { range: 'bytes=0-1', 'if-range': '"another"' },
      { range: 'bytes=0-1,5-6' },
    ];
    for (const headers of asked) {
      const whole = await server.call('student in', 'GET', path, undefined, headers);
      expect(whole.status).toBe(200);
      expect((await whole.arrayBuffer()).byteLength).toBe(bytes.length);
    }
    const head = await server.call('student in', 'HEAD', path);
    expect([head.status, head.headers.get('content-length')]).toEqual([200, String(bytes.length)]);
  });

  it('hurt nobody when the reader goes away in the middle', async () => {
    const placement = await lay('left.bin', bytes);
    await new Promise<void>((resolve, reject) => {
      const request = get(
        `${server.base}/api/placements/${placement}/content`,
        { headers: { cookie: server.cookies.get('student in') } },
        (reply) => reply.once('data', () => resolve(void request.destroy())),
      );
      request.on('error', (error) =>
        'code' in error && error.code === 'ECONNRESET' ? undefined : reject(error),
      );
    });
    const again = await server.call('student in', 'GET', `/api/placements/${placement}/content`);
    expect((await again.arrayBuffer()).byteLength).toBe(bytes.length);
  });

  it('break off, rather than end early, when the disk has less than it should', async () => {
    const cut = randomBytes(6_000_000);
    const placement = await lay('cut.bin', cut);
    const asked = server.call('student in', 'GET', `/api/placements/${placement}/content`);
    const reply = await asked;
    truncateSync(server.fileOf(digest(cut)), 5_000_000);
    const read = reply.arrayBuffer().then((b) => b.byteLength);
    // Either it was all on its way already, or the connection breaks: never a short file that looks whole.
    expect(await read.catch(() => 'broken')).toSatisfy(
      (x: unknown) => x === 'broken' || x === cut.length,
    );
  });

  it('are noted once when downloaded, and not when only looked at or fetched in parts', async () => {
    const { placement } = await server.scene();
    const path = `/api/placements/${placement}/content`;
    const count = async () =>
      (await server.db.select().from(openings).where(eq(openings.placementId, placement))).length;
    await (await server.call('student in', 'GET', `${path}?as=inline`)).text();
    await (await server.call('student in', 'GET', path, undefined, { range: 'bytes=5-9' })).text();
    expect(await count()).toBe(0);
    for (let n = 0; n < 3; n += 1) await (await server.call('student in', 'GET', path)).text();
    expect(await count()).toBe(1);
  });
});

describe('media types', () => {
  const PNG = Buffer.from('89504e470d0a1a0a0000000d4948445200000001000000010806000000', 'hex');
  it.each([
    ['a PDF', Buffer.from('%PDF-1.7\n'), 'pdf', 'application/pdf'],
    ['a PDF with another name', Buffer.from('%PDF-1.7\n'), 'txt', 'application/pdf'],
    ['a picture', PNG, 'png', 'image/png'],
    ['text', Buffer.from('words'), 'txt', 'text/plain'],
    ['a table', Buffer.from('a;b\n1;2'), 'csv', 'text/csv'],
    ['a page', Buffer.from('<p>hello'), 'html', 'text/html'],
    ['bytes named as text', Buffer.from([1, 0, 2, 0]), 'txt', 'application/octet-stream'],
    ['text named as a picture', Buffer.from('words'), 'png', 'application/octet-stream'],
    ['something without a name', Buffer.from('words'), '', 'application/octet-stream'],
  ])('%s', async (_, bytes, extension, type) => {
    const { hash } = await disk.put('school', bytes);
    const content = (await disk.open({ schoolId: 'school', hash }))!;
    expect(await mediaTypeOf(content, extension)).toBe(type);
    await content.close();
  });
});
