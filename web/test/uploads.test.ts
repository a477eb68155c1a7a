// @vitest-environment jsdom
import 'fake-indexeddb/auto';
import type { PlacedUpload } from '@sammlung/contract';
import { createPinia, setActivePinia } from 'pinia';
import { DetailedError } from 'tus-js-client';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { ApiError, OfflineError } from '../src/app/api/api.ts';
import { hashFile } from '../src/app/uploads/hash.ts';
import {
  storeTransfer,
  storedTransfers,
  deleteStored,
} from '../src/app/uploads/stored-transfers.ts';
import type { Transfer } from '../src/app/uploads/transfer.ts';
import { useUploads } from '../src/app/uploads/uploads.ts';

const session = vi.hoisted(() => ({ person: { id: 'me' }, signInAgain: vi.fn() }));
vi.mock('@pinia/colada', () => ({ useQueryCache: () => ({ invalidateQueries: vi.fn() }) }));
vi.mock('../src/app/session/session.ts', () => ({ useSession: () => session }));
vi.mock('../src/app/uploads/hash.ts', () => ({ hashFile: vi.fn() }));

/** An upload that the test lets succeed or fail. */
interface Sending {
  readonly file: File;
  readonly name: string;
  aborted: boolean | null;
  arrives(): void;
  fails(error: Error): void;
  progress(bytes: number): void;
}
const sendings = vi.hoisted((): Sending[] => []);
vi.mock('tus-js-client', async (original) => {
  const { DetailedError } = await original<typeof import('tus-js-client')>();
  class Upload {
    url: string | null = null;
    readonly sending: Sending;
    constructor(file: File, options: import('tus-js-client').UploadOptions) {
      const name = options.metadata!.filename!;
      this.sending = {
        file,
        name,
        aborted: null,
        arrives: () => {
          this.url = `/api/uploads/${name}`;
          options.onSuccess!({ lastResponse: undefined as never });
        },
        fails: (error) => options.onError!(error),
        progress: (bytes) => options.onProgress!(bytes, file.size),
      };
    }
    findPreviousUploads = () => Promise.resolve([]);
    start = () => void sendings.push(this.sending);
    abort = (terminate = false) => Promise.resolve(void (this.sending.aborted = terminate));
  }
  return { DetailedError, Upload };
});

/** The server: what it answers to a request, and what it was asked. */
const asked: { path: string; body: unknown }[] = [];
let limits = { uploadLimit: 1000, used: 0, quota: 1000 };
let known: number[] = [];
const refuse = (code: string, status: number) =>
  Response.json(
    { code, status },
    { status, headers: { 'content-type': 'application/problem+json' } },
  );
let answers: Record<string, (body: never) => Response> = {};

function server(path: string, init?: RequestInit): Promise<Response> {
  const body: unknown = init?.body ? JSON.parse(init.body as string) : undefined;
  asked.push({ path, body });
  const answer = answers[path];
  if (answer) return Promise.resolve(answer(body as never));
  if (path === '/api/intake') return Promise.resolve(Response.json(limits));
  if (path === '/api/intake/look') return Promise.resolve(Response.json({ known }));
  const { uploadId } = body as { uploadId: string };
  return Promise.resolve(Response.json({ uploadId, name: uploadId, outcome: 'new', version: 1 }));
}

const FOLDER = { id: 'folder', title: 'Folder' };
const fileOf = (name: string, size = 10) =>
  new File(['x'.repeat(size)], name, { lastModified: 1_700_000_000_000 });
// jsdom has it not.
Blob.prototype.arrayBuffer = async () => new ArrayBuffer(1);
const refusal = (status: number, code: string) => {
  const reply = { getStatus: () => status, getBody: () => JSON.stringify({ code, status }) };
  return Object.assign(new DetailedError('no'), { originalResponse: reply });
};
let uploads: ReturnType<typeof useUploads>;
const add = (...files: File[]) => uploads.add(files.map((file) => ({ file, folder: FOLDER })));
const stateOf = (name: string) => uploads.transfers.find((x) => x.name === name)?.state;
const one = (name: string) => uploads.transfers.find((x) => x.name === name)!;
const codeOf = ({ error }: Transfer) => (error as ApiError).problem?.code;
/** The upload of a file, once its bytes are being sent. */
const sent = (name: string) =>
  vi.waitUntil(() => sendings.find((sending) => sending.name === name && !sending.aborted));
const state = (name: string, wanted: string) =>
  vi.waitUntil(() => stateOf(name) === wanted, { interval: 5 });

beforeEach(async () => {
  setActivePinia(createPinia());
  vi.stubGlobal('fetch', server);
  for (const [key] of await storedTransfers()) await deleteStored(key);
  [sendings, asked].forEach((list) => (list.length = 0));
  limits = { uploadLimit: 1000, used: 0, quota: 1000 };
  [known, answers] = [[], {}];
  session.signInAgain.mockReset();
  vi.mocked(hashFile).mockReset();
  uploads = useUploads();
});
afterEach(() => vi.unstubAllGlobals());

describe('files on their way in', () => {
  it('go four at a time, each making room for the next', async () => {
    add(...['a', 'b', 'c', 'd', 'e', 'f'].map((name) => fileOf(name)));
    await sent('d');
    expect(sendings.map(({ name }) => name)).toEqual(['a', 'b', 'c', 'd']);
    expect([stateOf('e'), uploads.running.length]).toEqual(['waiting', 6]);
    (await sent('b')).arrives();
    await sent('e');
    expect(stateOf('f')).toBe('waiting');
    await state('b', 'done');
    expect(asked.filter(({ path }) => path.endsWith('/files'))).toEqual([
      { path: '/api/folders/folder/files', body: { uploadId: 'b', batch: one('a').batch } },
    ]);
  });

  it('are sent in the natural order of their names; what is added later is another batch', async () => {
    add(...['Sheet 10', 'Sheet 2', 'Answers'].map((name) => fileOf(name)));
    add(fileOf('Again'));
    expect(uploads.transfers.map(({ name }) => name)).toEqual([
      ...['Answers', 'Sheet 2', 'Sheet 10'],
      'Again',
    ]);
    expect(one('Sheet 2').batch).toBe(one('Answers').batch);
    expect(one('Again').batch).not.toBe(one('Answers').batch);
  });

  it('count what has been sent of all', async () => {
    add(fileOf('a', 100), fileOf('b', 300));
    (await sent('b')).progress(120);
    (await sent('a')).arrives();
    await state('a', 'done');
    expect([uploads.sent, uploads.total]).toEqual([220, 400]);
  });

  it('fail alone, with what the server says, and go on when asked to', async () => {
    add(fileOf('a'), fileOf('b'));
    (await sent('a')).fails(refusal(507, 'disk-full'));
    await state('a', 'failed');
    expect(codeOf(one('a'))).toBe('disk-full');
    (await sent('b')).arrives();
    await state('b', 'done');
    sendings.length = 0;
    uploads.again(one('a'));
    (await sent('a')).arrives();
    await state('a', 'done');
    expect(one('a').error).toBeNull();
  });

  it.each([
    ['empty-file', fileOf('none', 0)],
    ['file-name-empty', fileOf('  ')],
    ['file-too-large', fileOf('large', 501)],
    ['quota-full', fileOf('much', 401)],
  ])('that the server would refuse (%s) are not sent', async (code, file) => {
    limits = { uploadLimit: 500, used: 600, quota: 1000 };
    add(file);
    await state(file.name, 'failed');
    expect(codeOf(one(file.name))).toBe(code);
    expect(sendings).toEqual([]);
  });

  it('whose content the library has are not sent, and take no room', async () => {
    limits = { ...limits, used: 1000 };
    known = [10];
    vi.mocked(hashFile).mockResolvedValue('abc');
    answers['/api/folders/folder/known'] = () =>
      Response.json({ uploadId: 'u', name: 'a', outcome: 'placed', version: 1 });
    add(fileOf('a'));
    await state('a', 'done');
    expect(one('a').result?.outcome).toBe('placed');
    const { batch } = one('a');
    expect(asked.at(-1)?.body).toEqual({ name: 'a', hash: 'abc', batch });
    expect(sendings).toEqual([]);
  });

  it('that have only the size of something known are sent', async () => {
    known = [10];
    vi.mocked(hashFile).mockResolvedValue('abc');
    answers['/api/folders/folder/known'] = () => refuse('not-found', 404);
    add(fileOf('a'));
    (await sent('a')).arrives();
    await state('a', 'done');
  });

  it('can be stopped, also while they are looked up, and go on', async () => {
    known = [10];
    let hashed = (_: string) => {};
    vi.mocked(hashFile).mockImplementation(() => new Promise((resolve) => (hashed = resolve)));
    answers['/api/folders/folder/known'] = () => refuse('not-found', 404);
    add(fileOf('a'));
    await vi.waitUntil(() => vi.mocked(hashFile).mock.calls.length > 0);
    await uploads.stop(one('a'));
    hashed('abc');
    await vi.waitUntil(() => asked.some(({ path }) => path.endsWith('/known')));
    vi.mocked(hashFile).mockResolvedValue('abc');
    expect([stateOf('a'), sendings.length]).toEqual(['stopped', 0]);
    uploads.againAll();
    const sending = await sent('a');
    await uploads.stopAll();
    expect([sending.aborted, stateOf('a')]).toEqual([false, 'stopped']);
    expect(await storedTransfers()).toHaveLength(1);
  });

  it('wait for the person to sign in again, and then go on', async () => {
    add(fileOf('a'));
    let back = () => {};
    session.signInAgain.mockReturnValue(new Promise<void>((resolve) => (back = resolve)));
    (await sent('a')).fails(refusal(401, 'signed-out'));
    await vi.waitUntil(() => session.signInAgain.mock.calls.length > 0);
    expect([stateOf('a'), sendings.length]).toEqual(['sending', 1]);
    back();
    await vi.waitUntil(() => sendings.length === 2);
    sendings[1]!.arrives();
    await state('a', 'done');
  });

  it('go on by themselves when the connection is back, those that were refused do not', async () => {
    add(fileOf('a'), fileOf('b', 501));
    limits = { ...limits, uploadLimit: 500 };
    (await sent('a')).fails(new DetailedError('gone'));
    await state('a', 'failed');
    await state('b', 'failed');
    expect(one('a').error).toBeInstanceOf(OfflineError);
    sendings.length = 0;
    window.dispatchEvent(new Event('online'));
    (await sent('a')).arrives();
    await state('a', 'done');
    expect(stateOf('b')).toBe('failed');
  });
});

describe('after a reload', () => {
  const noted = (name: string, given: object = {}) =>
    storeTransfer(`sammlung/${name}`, {
      name,
      size: 10,
      lastModified: 1,
      personId: 'me',
      folder: FOLDER,
      batch: 'together',
      file: fileOf(name),
      ...given,
    });

  it('files go on; those that were not kept are asked for, and only the same ones taken', async () => {
    await noted('kept');
    await noted('large', { file: null });
    await noted('theirs', { personId: 'somebody else' });
    await uploads.goOn();
    await sent('kept');
    expect(uploads.transfers.map(({ name, state }) => [name, state])).toEqual([
      ['kept', 'sending'],
      ['large', 'lost'],
    ]);
    expect(uploads.found(one('large'), fileOf('other'))).toBe(false);
    expect(uploads.found(one('large'), fileOf('large', 11))).toBe(false);
    expect(stateOf('large')).toBe('lost');
    expect(uploads.found(one('large'), fileOf('large'))).toBe(true);
    await sent('large');
  });

  it('nothing is left of what arrived or was given up', async () => {
    add(fileOf('a'), fileOf('b'));
    await vi.waitUntil(async () => (await storedTransfers()).length === 2);
    (await sent('a')).arrives();
    await state('a', 'done');
    const b = await sent('b');
    await uploads.forget(one('b'));
    expect(b.aborted).toBe(true);
    expect(await storedTransfers()).toEqual([]);
    expect(uploads.transfers.map(({ name }) => name)).toEqual(['a']);
  });
});

describe('dropped folders', () => {
  it('are made first, empty ones too, and each file goes into its own', async () => {
    answers['/api/paths'] = ({ paths }: { paths: string[][] }) =>
      Response.json({ ids: paths.map((path) => `id of ${path.join('/')}`) });
    const folders = [['Unit 1'], ['Unit 1', 'Keys'], ['Empty']];
    const files = [
      { file: fileOf('a'), path: ['Unit 1', 'Keys'] },
      { file: fileOf('b'), path: [] },
    ];
    expect(await uploads.addDropped({ files, folders } as never, FOLDER)).toBe(3);
    expect(asked[0]).toEqual({ path: '/api/paths', body: { parentId: 'folder', paths: folders } });
    expect(uploads.transfers.map(({ name, folder }) => [name, folder.id])).toEqual([
      ['a', 'id of Unit 1/Keys'],
      ['b', 'folder'],
    ]);
    expect(uploads.preparing).toBe(false);
  });
});

describe('a file that became a version', () => {
  it('can be decided about otherwise', async () => {
    const version: PlacedUpload = {
      uploadId: 'u',
      name: 'a',
      outcome: 'version',
      version: 2,
    } as PlacedUpload;
    answers['/api/folders/folder/files'] = () => Response.json(version);
    answers['/api/placed/u'] = () => Response.json({ ...version, outcome: 'new', name: 'a 2' });
    add(fileOf('a'));
    (await sent('a')).arrives();
    await state('a', 'done');
    expect(uploads.versions).toHaveLength(1);
    await uploads.instead(one('a'), 'both');
    expect(one('a').result).toMatchObject({ outcome: 'new', name: 'a 2' });
    expect(uploads.versions).toHaveLength(0);
  });
});
