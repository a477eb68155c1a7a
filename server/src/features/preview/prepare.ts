import { constants, mkdir, mkdtemp, open, readdir, readFile, rm, stat } from 'node:fs/promises';
import { join, resolve } from 'node:path';
import { fingerprint } from '@sammlung/core';
import { FORMS } from '../../platform/storage.ts';
import type { Services } from '../../services.ts';
import {
  CELLS,
  DRAWN,
  OFFICE,
  PICTURE,
  reachesOut,
  STRANGE_PICTURE,
  TEXT,
} from '../../domain/previews.ts';
import {
  canConfine,
  runProgram,
  type Bounds,
  type Files,
  type Paths,
  type Ran,
} from '../../platform/programs.ts';
import { OPENING } from '../../domain/contents.ts';
import { beginPreparing, endPreparing, noteText } from './queries.ts';

type Needs = Pick<Services, 'db' | 'storage' | 'settings'>;
type Fault = 'broken' | 'password' | 'too-large' | 'off';

const MB = 1024 * 1024;
const BOUNDS: Bounds = { seconds: 60, memory: 4096 * MB, fileSize: 300 * MB };
/** So much of a text can be found. */
const TEXT_LIMIT = 1 * MB;
/** A content is tried so often, counting tries that ended with the server. */
const TRIES = 3;
const SMALL = 480;
/** As high as a picture in a line of a list has to be on sharp screens; by height, since wide ones are cut at the sides. */
const LINE = 160;
const LARGE = 2400;

/** Why nothing could be made of a content. */
class Unfit extends Error {
  constructor(readonly fault: Fault) {
    super(fault);
  }
}

/** What was made of a content, as files in the work folder. */
interface Made {
  small?: { path: string; type: string };
  line?: { path: string; type: string };
  shown?: { path: string; type: string };
  text?: string;
}

/**
 * Makes what is needed to look at a content and to find it: a small picture, a form that browsers show where they do
 * not show the file itself, and its text. Every program that reads the file runs within bounds. Once made, it stays;
 * a content that is gone by then is left alone.
 */
export async function prepare(
  { db, storage, settings }: Needs,
  schoolId: string,
  hash: string,
  confined = canConfine(),
) {
  const row = await beginPreparing(db, schoolId, hash);
  if (!row) return;
  await mkdir(join(settings.data, 'work'), { recursive: true });
  const folder = await mkdtemp(join(settings.data, 'work', 'preview-'));
  try {
    const made =
      row.tries > TRIES
        ? new Unfit('too-large')
        : reachesOut(row.mediaType) && !confined && !settings.unconfined
          ? new Unfit('off')
          : await storage.lend({ schoolId, hash }, (path) =>
              make(path, resolve(folder), row.mediaType),
            );
    if (made instanceof Unfit) {
      await endPreparing(db, schoolId, hash, { state: 'failed', fault: made.fault });
      return;
    }
    for (const form of FORMS)
      if (made[form])
        await storage.putForm({ schoolId, hash, form }, await readMade(made[form].path));
    await db.transaction(async (tx) => {
      if (made.text !== undefined)
        await noteText(tx, {
          schoolId,
          hash,
          body: made.text,
          opening: made.text.trim().slice(0, OPENING),
          fingerprint: fingerprint(made.text),
        });
      await endPreparing(tx, schoolId, hash, {
        state: 'done',
        small: made.small?.type ?? null,
        shown: made.shown?.type ?? null,
      });
    });
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/** A file that a program has made, never what a link of its making leads to. */
export async function readMade(path: string) {
  return (await open(path, constants.O_RDONLY | constants.O_NOFOLLOW)).createReadStream();
}

async function make(content: string, folder: string, mediaType: string): Promise<Made | Unfit> {
  try {
    const made = await makeForms(content, folder, mediaType);
    return made.small ? { ...made, line: await lineOf(made.small.path, folder) } : made;
  } catch (error) {
    if (error instanceof Unfit) return error;
    throw error;
  }
}

async function makeForms(content: string, folder: string, mediaType: string): Promise<Made> {
  const office = OFFICE[mediaType];
  if (office) return await ofOffice(content, folder, office, mediaType);
  if (mediaType === 'application/pdf') return await ofPdf(content, folder);
  if (PICTURE.test(mediaType)) return await ofPicture(content, folder, mediaType);
  if (TEXT.test(mediaType)) return { text: await readText(content) };
  if (/^(audio|video)\//u.test(mediaType)) return await ofRecording(content, folder, mediaType);
  return {};
}

/** Throws Unfit when a program did not come to a good end; `password` tells what its complaint means. */
function expectGood(ran: Ran, password = /\bpassword\b/iu) {
  if (ran.code === 0) return;
  if (password.test(ran.stderr)) throw new Unfit('password');
  // Ended from outside: out of time, or of what it may write or compute.
  throw new Unfit(ran.overtime || ran.code === null ? 'too-large' : 'broken');
}

/** Throws Unfit when a program has not left this file in the folder, as a file and nothing else. */
async function expectFile(folder: string, name: string, otherwise: () => void = () => {}) {
  const found = (await readdir(folder, { withFileTypes: true })).find((x) => x.name === name);
  if (!found) otherwise();
  if (!found?.isFile()) throw new Unfit('broken');
  return join(folder, name);
}

async function ofPdf(pdf: string, folder: string): Promise<Made> {
  const files: Files = { folder, document: { path: pdf, name: 'given.pdf' } };
  const reading = await runProgram(
    'pdftotext',
    (at) => ['-enc', 'UTF-8', '-l', '400', at.document, `${at.folder}/text.txt`],
    files,
    BOUNDS,
  );
  expectGood(reading);
  const drawing = await runProgram(
    'pdftoppm',
    (at) => ['-jpeg', '-singlefile', '-scale-to', `${SMALL}`, at.document, `${at.folder}/small`],
    files,
    BOUNDS,
  );
  expectGood(drawing);
  return {
    small: { path: await expectFile(folder, 'small.jpg'), type: 'image/jpeg' },
    text: await readText(await expectFile(folder, 'text.txt')),
  };
}

async function ofOffice(
  content: string,
  folder: string,
  extension: string,
  mediaType: string,
): Promise<Made> {
  const ran = await runProgram(
    'soffice',
    (at) => [
      `-env:UserInstallation=file://${at.folder}/profile`,
      '--headless',
      '--norestore',
      '--nologo',
      '--nolockcheck',
      '--convert-to',
      'pdf',
      '--outdir',
      at.folder,
      at.document,
    ],
    { folder, document: { path: content, name: `file.${extension}` } },
    BOUNDS,
  );
  // It ends well even when it could not read the file; then there is no PDF.
  const pdf = await expectFile(folder, 'file.pdf', () => {
    if (mediaType === 'application/x-cfb') throw new Unfit('password');
    expectGood(ran);
  });
  const made = await ofPdf(pdf, folder);
  if (CELLS.has(extension)) made.small = await usedCells(pdf, folder);
  return { ...made, shown: { path: pdf, type: 'application/pdf' } };
}

/** A small picture of what is on the first sheet of paper, without the empty rest of it. */
async function usedCells(pdf: string, folder: string) {
  const files: Files = { folder, document: { path: pdf, name: 'given.pdf' } };
  const draw = (at: Paths) => [
    '-png',
    '-singlefile',
    '-r',
    '110',
    at.document,
    `${at.folder}/page`,
  ];
  expectGood(await runProgram('pdftoppm', draw, files, BOUNDS));
  const page = await expectFile(folder, 'page.png');
  const drawn: Files = { folder, document: { path: page, name: 'page.png' } };
  const found = await runProgram('vips', (at) => ['find_trim', at.document], drawn, BOUNDS);
  expectGood(found);
  const [left, top, width, height] = found.stdout.trim().split(/\s+/u).map(Number);
  // A sheet without anything on it is shown as it is.
  const used = width && height ? [left!, top!, width, height] : null;
  if (used) {
    const cut = (at: Paths) => ['crop', at.document, `${at.folder}/cut.png`, ...used.map(String)];
    expectGood(await runProgram('vips', cut, drawn, BOUNDS));
  }
  const picture = used ? await expectFile(folder, 'cut.png') : page;
  return thumbnail(picture, folder, 'small', `${SMALL}x${SMALL}>`);
}

async function ofPicture(content: string, folder: string, mediaType: string): Promise<Made> {
  // What is drawn has no size of its own; pixels are never made more.
  const within = (size: number) => `${size}x${size}${mediaType === DRAWN ? '' : '>'}`;
  const small = await thumbnail(content, folder, 'small', within(SMALL));
  return STRANGE_PICTURE.test(mediaType)
    ? { small, shown: await thumbnail(content, folder, 'shown', within(LARGE)) }
    : { small };
}

/** A picture, no larger than `size` (in the form of vipsthumbnail), as JPEG on white. */
function thumbnail(content: string, folder: string, name: string, size: string) {
  return scaled(content, folder, size, `${name}.jpg`, 'Q=82,strip,background=255', 'image/jpeg');
}

/** A small picture once more, for a line of a list. */
function lineOf(small: string, folder: string) {
  return scaled(small, folder, `x${LINE}>`, 'line.webp', 'Q=60,strip', 'image/webp');
}

async function scaled(
  picture: string,
  folder: string,
  size: string,
  name: string,
  options: string,
  type: string,
) {
  const ran = await runProgram(
    'vipsthumbnail',
    (at) => [at.document, '-s', size, '-o', `${at.folder}/${name}[${options}]`],
    { folder, document: { path: picture, name: 'picture' } },
    BOUNDS,
  );
  expectGood(ran);
  return { path: await expectFile(folder, name), type };
}

/** The waves of a sound, a frame of a video. */
async function ofRecording(content: string, folder: string, mediaType: string): Promise<Made> {
  const waves = `aformat=channel_layouts=mono,showwavespic=s=${SMALL}x200:colors=#12535a`;
  const ran = await runProgram(
    'ffmpeg',
    (at) => {
      const quiet = ['-v', 'error', '-nostdin', '-y', '-protocol_whitelist', 'file'];
      const path = `${at.folder}/small.png`;
      return mediaType.startsWith('audio/')
        ? [
            ...quiet,
            ...['-t', '600', '-i', at.document, '-filter_complex', waves],
            ...['-frames:v', '1', path],
          ]
        : [
            ...quiet,
            ...['-i', at.document, '-vf', `thumbnail=25,scale=${SMALL}:-2`],
            ...['-frames:v', '1', path],
          ];
    },
    { folder, document: { path: content, name: 'recording' } },
    BOUNDS,
  );
  expectGood(ran);
  return { small: { path: await expectFile(folder, 'small.png'), type: 'image/png' } };
}

/** The beginning of a text file: UTF-8, or what older systems write. */
async function readText(path: string): Promise<string> {
  const { size } = await stat(path);
  const bytes = size <= TEXT_LIMIT ? await readFile(path) : await beginning(path);
  // A character may be cut at the end; characters that PostgreSQL cannot keep are left out.
  return decode(bytes).replaceAll('\u0000', '').slice(0, TEXT_LIMIT);
}

async function beginning(path: string): Promise<Buffer> {
  const file = await open(path);
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(TEXT_LIMIT), 0, TEXT_LIMIT, 0);
    return buffer.subarray(0, bytesRead);
  } finally {
    await file.close();
  }
}

function decode(bytes: Buffer): string {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return new TextDecoder('utf-16le').decode(bytes);
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes, { stream: true });
  } catch (error) {
    if (error instanceof TypeError) return new TextDecoder('windows-1252').decode(bytes);
    throw error;
  }
}
