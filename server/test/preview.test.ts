import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { symlink } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { crc32, deflateSync } from 'node:zlib';
import type { PlacementView } from '@sammlung/contract';
import { ZipArchive } from 'archiver';
import { eq } from 'drizzle-orm';
import PDFDocument from 'pdfkit';
import sharp from 'sharp';
import { afterAll, describe, expect, it } from 'vitest';
import { makeSheet, makeText } from '../../demo/src/files/office.ts';
import { makePdf } from '../../demo/src/files/pdf.ts';
import { makePicture, makeTelephonePicture } from '../../demo/src/files/picture.ts';
import { items, previews, texts, versions } from '../src/db/schema/index.ts';
import { prepare, readMade } from '../src/features/preview/prepare.ts';
import { runProgram } from '../src/platform/programs.ts';
import { startServer } from './harness.ts';
import { uploader } from './upload.ts';

const server = await startServer({ uploadLimit: 100_000_000 });
const { ask, call } = server;
const { addBytes } = uploader(server);
const scratch = mkdtempSync(join(tmpdir(), 'sammlung-preview-'));
afterAll(async () => {
  await server.stop();
  rmSync(scratch, { recursive: true });
});

const folder = (
  await ask<{ id: string }>('owner', 'POST', '/api/folders', { parentId: null, title: 'Previews' })
).id;

/** Adds a file, prepares it as the job does, and looks at what came of it. */
async function look(name: string, bytes: Uint8Array | string) {
  const { placementId } = await addBytes('owner', folder, name, bytes);
  const before = await ask<PlacementView>('owner', 'GET', `/api/placements/${placementId}`);
  const [version] = await server.db
    .select()
    .from(versions)
    .innerJoin(items, eq(items.currentVersionId, versions.id))
    .where(eq(items.id, before.itemId));
  const { schoolId, hash } = version!.versions;
  await prepare(server.app.services, schoolId, hash);
  const view = await ask<PlacementView>('owner', 'GET', `/api/placements/${placementId}`);
  const [text] = await server.db.select().from(texts).where(eq(texts.hash, hash));
  const get = (form: string) => call('owner', 'GET', `/api/placements/${placementId}/${form}`);
  return { before, view, hash, text: text?.body ?? null, get };
}
const beginning = async (reply: Response) =>
  Buffer.from(await reply.arrayBuffer())
    .subarray(0, 4)
    .toString('latin1');

describe('previews', () => {
  it('of a PDF: a small picture and its text', async () => {
    const pdf = await makePdf({
      title: 'Sinking rings',
      course: 'Soil',
      code: 'SO1',
      colour: '#2f6f4f',
      blocks: [{ text: 'Water sinks into loam.' }],
    });
    const { before, view, text, get } = await look('Rings.pdf', pdf);
    expect(before.preview).toEqual({ state: 'waiting', fault: null, shown: null });
    expect(view.preview).toEqual({ state: 'done', fault: null, shown: null });
    expect(text).toContain('Water sinks into loam.');
    expect(view.small).toMatch(/^[0-9a-f]{12}$/u);
    expect(await beginning(await get('small'))).toBe('\u00ff\u00d8\u00ff\u00e0');
    const line = await get('small?as=line');
    expect(line.headers.get('content-type')).toBe('image/webp');
    const { height, format } = await sharp(await line.arrayBuffer()).metadata();
    expect([height, format]).toEqual([160, 'webp']);
    expect((await get('shown')).status).toBe(404);
  });

  it('made before there were pictures for lines, are sent as they are', async () => {
    const { get, hash } = await look('Older.jpg', await makePicture('soilPit'));
    const { data } = server.app.services.settings;
    const lines = readdirSync(data, { recursive: true, encoding: 'utf8' }).filter(
      (path) => path.includes(hash) && path.endsWith('.line'),
    );
    expect(lines).toHaveLength(1);
    rmSync(join(data, lines[0]!));
    expect((await get('small?as=line')).headers.get('content-type')).toBe('image/jpeg');
  });

  it('of office files: a PDF in their place, and their text', async () => {
    const docx = await makeText({ title: 'Soil words', paragraphs: ['Topsoil, Oberboden, 表土.'] });
    const { view, text, get } = await look('Words.docx', docx);
    expect(view.preview).toEqual({ state: 'done', fault: null, shown: 'application/pdf' });
    expect(text).toContain('Oberboden');
    const shown = await get('shown');
    expect(shown.headers.get('content-security-policy')).toContain('sandbox');
    expect(await beginning(shown)).toBe('%PDF');
    const sheet = await look(
      'Log.xlsx',
      await makeSheet({
        name: 'Log',
        columns: [{ header: 'Bed', width: 20 }],
        rows: [['North bed']],
      }),
    );
    expect(sheet.text).toContain('North bed');
    expect(sheet.view.small).not.toBeNull();
  }, 240_000);

  it('of OpenDocument files that are one XML file, and of no other XML', async () => {
    const { view, text } = await look('Mulch.fodt', FLAT_ODT);
    expect(view.preview).toMatchObject({ state: 'done', shown: 'application/pdf' });
    expect(text).toContain('Straw keeps the soil moist');
    const feed = await look('Feed.xml', '<?xml version="1.0"?><feed><title>Straw</title></feed>');
    expect(feed.view.mediaType).toMatch(/^(?:application|text)\/xml$/u);
    expect(feed.view.preview).toMatchObject({ shown: null });
  }, 240_000);

  it('of a spreadsheet: the cells that are used, not the empty rest of a sheet of paper', async () => {
    const rows = [
      ['Monday', 3],
      ['Tuesday', 4.5],
    ];
    const sheet = {
      name: 'Log',
      columns: ['Day', 'Rain'].map((header) => ({ header, width: 12 })),
    };
    const { get } = await look('Cells.xlsx', await makeSheet({ ...sheet, rows }));
    const { width, height } = await sharp(await (await get('small')).arrayBuffer()).metadata();
    expect(width).toBeGreaterThan(height * 1.5);
  });

  it('of a drawing: pixels, in which nothing runs', async () => {
    const svg = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 40 20"><script>alert(1)</script>
      <rect width="40" height="20" fill="#2f6f4f"/></svg>`;
    const { view, get } = await look('Leaf.svg', svg);
    expect(view.preview).toMatchObject({ state: 'done', shown: 'image/jpeg' });
    const { width, height, format } = await sharp(
      await (await get('shown')).arrayBuffer(),
    ).metadata();
    expect([width, height, format]).toEqual([2400, 1200, 'jpeg']);
  });

  it('of pictures, also of those that browsers do not show', async () => {
    const jpg = await makePicture('soilPit');
    const { view, get } = await look('Pit.jpg', jpg);
    expect(view.preview).toMatchObject({ state: 'done', shown: null });
    expect((await (await get('small')).arrayBuffer()).byteLength).toBeLessThan(60_000);
    const heic = await look('Pit.heic', await makeTelephonePicture('soilPit'));
    expect(heic.view.preview).toMatchObject({ state: 'done', shown: 'image/jpeg' });
  });

  it('of sound and video: the waves, and a frame', async () => {
    const make = (name: string, ...args: string[]) => {
      execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', ...args, name], { cwd: scratch });
      return readFileSync(join(scratch, name));
    };
    const sound = await look('Birds.wav', make('a.wav', '-i', 'sine=frequency=880:duration=2'));
    expect(await beginning(await sound.get('small'))).toContain('PNG');
    const video = await look(
      'Pruning.webm',
      make('a.webm', '-i', 'testsrc=duration=2:size=320x240:rate=10'),
    );
    expect(video.view.mediaType).toBe('video/webm');
    expect(await beginning(await video.get('small'))).toContain('PNG');
  });

  it('of texts: what is written in them, in whatever letters', async () => {
    expect((await look('Notes.txt', 'Böden und Sand')).view.opening).toBe('Böden und Sand');
    expect((await look('Old.txt', Buffer.from('B\u00f6den, alt', 'latin1'))).text).toBe(
      'Böden, alt',
    );
    expect((await look('Marks.csv', 'name;mark\nMina;2\n')).text).toContain('Mina');
    expect((await look('Plain.bin', Buffer.from([0, 1, 2, 3]))).view.preview).toBeNull();
  });
});

describe('hostile and broken files', () => {
  it.each([
    ['a broken PDF', 'Broken.pdf', () => Buffer.from('%PDF-1.7\nnothing of it is right'), 'broken'],
    ['a PDF with a password', 'Locked.pdf', lockedPdf, 'password'],
    ['a picture that is cut off', 'Cut.png', () => bomb(40, 40).subarray(0, 40), 'broken'],
    [
      'an office file that is none',
      'Zip.docx',
      () => zipped({ '[Content_Types].xml': CONTENT_TYPES, 'word/document.xml': '<broken' }),
      'broken',
    ],
  ] as const)(
    '%s: a clear state',
    async (_, name, make, fault) => {
      const { view, get } = await look(name, await make());
      expect(view.preview).toEqual({ state: 'failed', fault, shown: null });
      expect((await get('small')).status).toBe(404);
      expect(
        (await call('owner', 'GET', `/api/placements/${view.placementId}/content`)).status,
      ).toBe(200);
    },
    240_000,
  );

  it('a picture that unfolds to gigabytes does not take them', async () => {
    const { view } = await look('Bomb.png', bomb(60_000, 60_000));
    expect(view.preview?.state).toMatch(/done|failed/u);
    expect(process.memoryUsage().rss).toBeLessThan(2_000_000_000);
  }, 240_000);

  it('a program that runs on or writes on is ended, with all it started', async () => {
    const bounds = { seconds: 1, memory: 1 << 30, fileSize: 1 << 20 };
    const sh = (script: string, more = bounds) =>
      runProgram('sh', () => ['-c', script], { folder: scratch }, more);
    expect(await sh('sleep 60 & wait')).toMatchObject({ code: null, overtime: true });
    expect((await sh('dd if=/dev/zero of=large bs=1M count=50')).code).not.toBe(0);
    const greedy = 'x=$(head -c 2000000000 /dev/zero | tr "\\0" a)';
    expect((await sh(greedy, { ...bounds, seconds: 20 })).code).not.toBe(0);
    expect((await sh('env')).stdout).not.toContain('SAMMLUNG');
  });

  it('a program sees its folder and its document, and nothing else of this machine', async () => {
    writeFileSync(join(scratch, 'secret.txt'), 'the secret');
    const folder = mkdtempSync(join(scratch, 'own-'));
    writeFileSync(join(folder, 'given.txt'), 'the document');
    const document = { path: join(folder, 'given.txt'), name: 'document.txt' };
    const bounds = { seconds: 10, memory: 1 << 30, fileSize: 1 << 20 };
    const sh = (script: string) =>
      runProgram('sh', (at) => ['-c', script, 'sh', at.document], { folder, document }, bounds);
    expect((await sh('cat "$1"')).stdout).toBe('the document');
    expect((await sh('echo changed > "$1"')).code).not.toBe(0);
    expect((await sh('echo own > own.txt')).code).toBe(0);
    expect(readFileSync(join(folder, 'own.txt'), 'utf8')).toBe('own\n');
    const { settings } = server;
    for (const path of [join(scratch, 'secret.txt'), settings.data, '/etc/passwd', '/root'])
      expect((await sh(`ls -a ${path}`)).code, path).not.toBe(0);
    // Nor does it see what else runs here, or reach anything over the network.
    expect(Number((await sh('ls /proc | grep -c "^[0-9]"')).stdout)).toBeLessThan(10);
    expect((await sh('cat /proc/net/dev')).stdout).not.toMatch(/eth|ens|enp/u);
  });

  it('a link left in place of what was to be made is not followed', async () => {
    const link = join(mkdtempSync(join(scratch, 'link-')), 'small.jpg');
    await symlink('/etc/hostname', link);
    await expect(readMade(link)).rejects.toThrow('ELOOP');
  });

  it.each([
    ['an ODT', 'Asks.odt', odtWith],
    ['an RTF', 'Asks.rtf', rtfWith],
  ] as const)(
    '%s that asks for a picture of the server does not get it',
    async (_, name, ask) => {
      const picture = join(scratch, 'secret.png');
      writeFileSync(picture, bomb(640, 400));
      const document = await ask(picture);
      const pictures = (pdf: string) =>
        execFileSync('pdfimages', ['-list', pdf], { encoding: 'utf8' }).match(/ image +640 /gu) ??
        [];
      // It would, if nothing confined the program.
      writeFileSync(join(scratch, name), document);
      const profile = `-env:UserInstallation=file://${scratch}/profile`;
      const args = [profile, '--headless', '--convert-to', 'pdf', '--outdir', scratch];
      execFileSync('soffice', [...args, join(scratch, name)], { stdio: 'ignore' });
      expect(pictures(join(scratch, 'Asks.pdf'))).toHaveLength(1);

      const { view, text, get } = await look(name, document);
      expect(view.preview).toMatchObject({ state: 'done' });
      expect(text).toContain('What the document says');
      writeFileSync(
        join(scratch, 'Shown.pdf'),
        Buffer.from(await (await get('shown')).arrayBuffer()),
      );
      expect(pictures(join(scratch, 'Shown.pdf'))).toEqual([]);
    },
    240_000,
  );

  it('get no preview where the system lets programs see everything, unless that is accepted', async () => {
    const { placementId } = await addBytes('owner', folder, 'Unseen.rtf', '{\\rtf1 Unseen}');
    const before = await ask<PlacementView>('owner', 'GET', `/api/placements/${placementId}`);
    const [version] = await server.db
      .select()
      .from(versions)
      .where(eq(versions.itemId, before.itemId));
    await prepare(server.app.services, version!.schoolId, version!.hash, false);
    const view = () => ask<PlacementView>('owner', 'GET', `/api/placements/${placementId}`);
    expect((await view()).preview).toEqual({ state: 'failed', fault: 'off', shown: null });
    await server.db.update(previews).set({ state: 'waiting', fault: null });
    const accepted = { ...server.app.services, settings: { ...server.settings, unconfined: true } };
    await prepare(accepted, version!.schoolId, version!.hash, false);
    expect((await view()).preview).toMatchObject({ state: 'done' });
  }, 240_000);

  it('a content that ended the server three times is given up', async () => {
    const { placementId } = await addBytes('owner', folder, 'Thrice.txt', 'thrice');
    const { itemId } = await ask<PlacementView>('owner', 'GET', `/api/placements/${placementId}`);
    await server.db.execute(
      `update previews set tries = 3 where hash = (select v.hash from versions v where v.item_id = '${itemId}')`,
    );
    const [version] = await server.db.select().from(versions).where(eq(versions.itemId, itemId));
    await prepare(server.app.services, version!.schoolId, version!.hash);
    const view = await ask<PlacementView>('owner', 'GET', `/api/placements/${placementId}`);
    expect(view.preview).toMatchObject({ state: 'failed', fault: 'too-large' });
  });
});

const ODT_MANIFEST = `<?xml version="1.0"?>
<manifest:manifest xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0" manifest:version="1.2">
<manifest:file-entry manifest:full-path="/" manifest:media-type="application/vnd.oasis.opendocument.text"/>
<manifest:file-entry manifest:full-path="content.xml" manifest:media-type="text/xml"/></manifest:manifest>`;

const FLAT_ODT = `<?xml version="1.0" encoding="UTF-8"?>
<office:document xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0"
  xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0" office:version="1.2"
  office:mimetype="application/vnd.oasis.opendocument.text"><office:body><office:text>
<text:p>Straw keeps the soil moist.</text:p></office:text></office:body></office:document>`;

/** A text document that shows the picture at a path of whoever opens it. */
const odtWith = (path: string) =>
  zipped({
    mimetype: 'application/vnd.oasis.opendocument.text',
    'META-INF/manifest.xml': ODT_MANIFEST,
    'content.xml': `<?xml version="1.0"?>
<office:document-content office:version="1.2" xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0"
  xmlns:draw="urn:oasis:names:tc:opendocument:xmlns:drawing:1.0" xmlns:xlink="http://www.w3.org/1999/xlink"
  xmlns:svg="urn:oasis:names:tc:opendocument:xmlns:svg-compatible:1.0"
  xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0"><office:body><office:text>
<text:p>What the document says<draw:frame text:anchor-type="as-char" svg:width="20cm" svg:height="12.5cm">
<draw:image xlink:href="file://${path}" xlink:type="simple" xlink:show="embed"/></draw:frame></text:p>
</office:text></office:body></office:document-content>`,
  });
const rtfWith = (path: string) =>
  Buffer.from(
    `{\\rtf1 What the document says {\\field{\\*\\fldinst INCLUDEPICTURE "file://${path}" }{\\fldrslt x}}}`,
  );

function lockedPdf(): Promise<Buffer> {
  const pdf = new PDFDocument({ userPassword: 'secret', pdfVersion: '1.7' });
  const chunks: Buffer[] = [];
  pdf.on('data', (chunk: Buffer) => chunks.push(chunk));
  pdf.text('Locked').end();
  return new Promise((resolve) => pdf.on('end', () => resolve(Buffer.concat(chunks))));
}

/** A PNG of one colour: few bytes, many pixels. */
function bomb(width: number, height: number): Buffer {
  const chunk = (type: string, data: Buffer) => {
    const head = Buffer.alloc(4);
    head.writeUInt32BE(data.length);
    const body = Buffer.concat([Buffer.from(type), data]);
    const crc = Buffer.alloc(4);
    crc.writeUInt32BE(crc32(body));
    return Buffer.concat([head, body, crc]);
  };
  const header = Buffer.alloc(13);
  header.writeUInt32BE(width, 0);
  header.writeUInt32BE(height, 4);
  header.set([1, 0, 0, 0, 0], 8);
  const rows = Buffer.alloc((Math.ceil(width / 8) + 1) * height);
  return Buffer.concat([
    Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]),
    chunk('IHDR', header),
    chunk('IDAT', deflateSync(rows)),
    chunk('IEND', Buffer.alloc(0)),
  ]);
}

async function zipped(files: Record<string, string>): Promise<Buffer> {
  const archive = new ZipArchive();
  const chunks: Buffer[] = [];
  archive.on('data', (chunk: Buffer) => chunks.push(chunk));
  for (const [name, text] of Object.entries(files)) archive.append(text, { name });
  await archive.finalize();
  return Buffer.concat(chunks);
}

const CONTENT_TYPES = `<?xml version="1.0"?><Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types">
  <Override PartName="/word/document.xml" ContentType="application/vnd.openxmlformats-officedocument.wordprocessingml.document.main+xml"/></Types>`;
