import type {
  ClassPage,
  Contents,
  FolderView,
  ItemRow,
  Kept,
  KeptThing,
  PlacementView,
} from '@sammlung/contract';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import {
  updateDevice,
  noteHere,
  NotNow,
  readState,
  type DeviceState,
} from '../src/app/device/copies.ts';
import { AS_OF, keyOf } from '../src/app/device/keys.ts';

vi.stubGlobal('location', { origin: 'https://school.example' });

const DATE = 'Thu, 26 Nov 2026 08:00:00 GMT';

/** A browser's cache of so many bytes. */
class Device {
  readonly held = new Map<string, Response>();
  room = Infinity;

  async match(key: string) {
    return this.held.get(key)?.clone();
  }
  async put(key: string, reply: Response) {
    const { byteLength } = await reply.clone().arrayBuffer();
    if (byteLength > this.room) throw new DOMException('no room', 'QuotaExceededError');
    this.room -= byteLength;
    this.held.set(key, reply);
  }
  async delete(key: string) {
    return this.held.delete(key);
  }
  async keys() {
    return [...this.held.keys()].map((url) => ({ url }) as Request);
  }
  has = (address: string) => this.held.has(keyOf(address));
}

const row = (placementId: string, more: Partial<ItemRow> = {}): ItemRow => ({
  placementId,
  itemId: `item-${placementId}`,
  kind: 'file',
  title: placementId,
  extension: 'pdf',
  mediaType: 'application/pdf',
  size: 10,
  version: 1,
  lessonDate: null,
  changedAt: '2026-11-20T08:00:00Z',
  url: null,
  keepOnTop: false,
  small: null,
  opening: null,
  opened: false,
  ...more,
});
const view = (of: ItemRow, more: Partial<PlacementView> = {}): PlacementView => ({
  ...of,
  folderId: 'folder',
  description: '',
  preview: null,
  mayChange: false,
  placeId: null,
  crumbs: [],
  ...more,
});
const kept = (more: Partial<KeptThing> = {}) =>
  ({
    id: 'kept',
    folderId: 'folder',
    placementId: null,
    token: null,
    url: null,
    ...more,
  }) as KeptThing;

/** A server with one folder of files, and what was asked of it. */
class School {
  things: KeptThing[] = [kept()];
  rows: ItemRow[] = [row('a'), row('b')];
  views = new Map<string, Partial<PlacementView>>();
  /** What pages say. */
  pages = new Map<string, string>();
  asked: string[] = [];
  /** What it has been told of as opened. */
  opened: string[] = [];
  /** Who has signed in. */
  person = 'mina';
  /** Answers in place of the school. */
  instead: (address: string) => Response | null = () => null;

  ask = async (address: string, method = 'GET'): Promise<Response> => {
    this.asked.push(address);
    const own = this.instead(address);
    if (own) return own;
    if (method === 'PUT') {
      this.opened.push(address);
      return new Response(null, { status: 204, headers: { date: DATE } });
    }
    const json = (body: unknown) => Response.json(body, { headers: { date: DATE } });
    if (address === '/api/session') return json({ person: { id: this.person } });
    if (address === '/api/kept') return json({ things: this.things } satisfies Kept);
    const [, placement, part] = /\/placements\/([^/]+)(.*)/u.exec(address) ?? [];
    const found = this.rows.find((one) => one.placementId === placement);
    if (found) {
      if (part === '/page')
        return json({ html: this.pages.get(found.placementId)!, version: found.version! });
      if (part) return new Response('0123456789', { headers: { date: DATE } });
      return json(view(found, this.views.get(found.placementId)));
    }
    if (/\/folders\/folder\/contents/u.test(address))
      return json({ folders: [], items: this.rows, next: null } satisfies Contents);
    if (address.endsWith('/folders/folder')) return json({ id: 'folder' } as FolderView);
    if (address.startsWith('/api/open/') && address.split('/').length === 4) return json({});
    return new Response('{}', { status: 404 });
  };
}

let device: Device;
let school: School;
let states: DeviceState[];
const go = () =>
  updateDevice(device as unknown as Cache, 'mina', school.ask, (state) => states.push(state));
const last = () => states.at(-1)!.things['kept'];

beforeEach(() => {
  device = new Device();
  school = new School();
  states = [];
});

describe('what a student keeps, on the device', () => {
  it('is brought whole, as of the time of the server', async () => {
    await go();
    expect(last()).toEqual({ asOf: '2026-11-26T08:00:00.000Z', files: 2, here: 2, full: false });
    for (const address of [
      '/api/session',
      '/api/kept',
      '/api/folders/folder',
      '/api/folders/folder/contents',
      '/api/folders/folder/contents?order=newest',
      '/api/placements/a',
      '/api/placements/a/content?as=inline&of=1',
    ])
      expect(device.has(address), address).toBe(true);
    expect(await readState(device as unknown as Cache)).toEqual(states.at(-1));
  });

  it('is not fetched again while it has not changed, also when it was opened', async () => {
    await go();
    school.rows[0] = { ...school.rows[0]!, opened: true };
    school.asked = [];
    await go();
    expect(school.asked.filter((address) => address.includes('/placements/'))).toEqual([]);
    expect(last()!.here).toBe(2);
  });

  it('has pages with their pictures, and of a newer text what is on it', async () => {
    const [before, after] = ['ab', 'cd'].map((pair) => pair.repeat(32));
    const page = row('p', { kind: 'page', extension: '', mediaType: 'text/html' });
    school.rows = [page];
    school.pages.set('p', `<p>One</p><img src="pictures/${before}" alt="">`);
    await go();
    expect(last()).toMatchObject({ files: 1, here: 1 });
    expect(device.has('/api/placements/p/page')).toBe(true);
    expect(device.has(`/api/placements/p/pictures/${before}`)).toBe(true);
    school.asked = [];
    await go();
    expect(school.asked.filter((address) => address.includes('/placements/'))).toEqual([]);
    expect(device.has(`/api/placements/p/pictures/${before}`)).toBe(true);
    school.rows = [{ ...page, version: 2 }];
    school.pages.set('p', `<p>Two</p><img src="pictures/${after}" alt="">`);
    await go();
    expect(device.has(`/api/placements/p/pictures/${before}`)).toBe(false);
    expect(device.has(`/api/placements/p/pictures/${after}`)).toBe(true);
    const text = await device.match(keyOf('/api/placements/p/page'));
    expect(await text!.json()).toMatchObject({ version: 2 });
  });

  it('has a newer version in place of the older', async () => {
    await go();
    school.rows[0] = row('a', { version: 2 });
    await go();
    expect(device.has('/api/placements/a/content?as=inline&of=2')).toBe(true);
    expect(device.has('/api/placements/a/content?as=inline&of=1')).toBe(false);
  });

  it('loses what was taken away, and what is kept no longer', async () => {
    await go();
    school.rows.pop();
    await go();
    expect(device.has('/api/placements/b')).toBe(false);
    expect(device.has('/api/placements/b/content?as=inline&of=1')).toBe(false);
    school.things = [kept({ folderId: null })];
    await go();
    expect([...device.held.keys()].map((key) => new URL(key).pathname).sort()).toEqual([
      '/api/kept',
      '/api/session',
      '/on-this-device',
    ]);
  });

  it('takes the form that the server made, and nothing of what cannot be read in place', async () => {
    school.rows = [row('a', { extension: 'docx', mediaType: 'application/msword', small: '1' })];
    school.views.set('a', {
      preview: { state: 'done', fault: null, shown: 'application/pdf' },
      small: '1',
    });
    school.rows.push(row('b', { extension: 'zip', mediaType: 'application/zip' }));
    school.rows.push(row('c', { kind: 'link', url: 'https://example.org' }));
    await go();
    expect(last()).toMatchObject({ files: 1, here: 1 });
    expect(device.has('/api/placements/a/shown?of=1')).toBe(true);
    expect(device.has('/api/placements/a/small?of=1')).toBe(true);
    expect(device.has('/api/placements/a/small?of=1&as=line')).toBe(true);
    expect(device.has('/api/placements/b/content?as=inline&of=1')).toBe(false);
    expect(device.has('/api/placements/c')).toBe(false);
  });

  it('has of a class page what is on it: folders, files and the page itself', async () => {
    const thing = (kind: 'folder' | 'placement', id: string, itemKind: 'file' | 'link' | null) =>
      ({ kind, id, itemKind }) as ClassPage['rest'][number];
    const entry = (...things: ClassPage['rest']) => ({ things }) as ClassPage['top'][number];
    school.rows.push(row('c'), row('d', { kind: 'link', url: 'https://example.org' }));
    const page = {
      top: [entry(thing('placement', 'c', 'file'))],
      loose: [],
      headings: [{ entries: [entry(thing('placement', 'd', 'link'))] }],
      rest: [thing('folder', 'folder', null)],
    } as unknown as ClassPage;
    school.things = [kept({ folderId: null, classId: 'soil' })];
    school.instead = (address) =>
      address === '/api/class-pages/soil' ? Response.json(page, { headers: { date: DATE } }) : null;
    await go();
    for (const address of [
      '/api/class-pages/soil',
      '/api/folders/folder/contents',
      '/api/placements/a/content?as=inline&of=1',
      '/api/placements/c/content?as=inline&of=1',
    ])
      expect(device.has(address), address).toBe(true);
    expect(device.has('/api/placements/d')).toBe(false);
    expect(last()).toMatchObject({ asOf: '2026-11-26T08:00:00.000Z', full: false });
  });

  it('is at an address of its own where it was kept at a door', async () => {
    school.things = [kept({ token: 'tok' })];
    await go();
    expect(last()).toMatchObject({ files: 2, here: 2 });
    expect(device.has('/api/open/tok')).toBe(true);
    expect(device.has('/api/open/tok/placements/b/content?as=inline&of=1')).toBe(true);
    expect(device.has('/api/folders/folder')).toBe(false);
  });

  it('says for how many files there is no room, and keeps the others', async () => {
    await go();
    school.rows = ['a', 'b', 'c', 'd'].map((name) => row(name));
    device.put = async (key, reply) => {
      if (key.includes('/content?')) throw new DOMException('no room', 'QuotaExceededError');
      await Device.prototype.put.call(device, key, reply);
    };
    await go();
    expect(last()).toMatchObject({ files: 4, here: 2, full: true });
    expect(device.has('/api/placements/a/content?as=inline&of=1')).toBe(true);
  });

  it('knows whose it is when there was no room for anything', async () => {
    device.room = 60;
    await go();
    expect(last()).toMatchObject({ files: 2, here: 0, full: true });
    expect(await readState(device as unknown as Cache)).toMatchObject({ person: 'mina' });
  });

  it('takes nothing of somebody else who has signed in meanwhile', async () => {
    await go();
    const before = [...device.held.keys()];
    school.person = 'priya';
    school.rows = [row('private')];
    await expect(go()).rejects.toThrow(NotNow);
    expect([...device.held.keys()]).toEqual(before);
  });

  it.each([
    [
      'the connection is lost',
      () => {
        throw new TypeError('Failed to fetch');
      },
    ],
    [
      'the connection is lost in the middle of a reply',
      () =>
        new Response(
          new ReadableStream({ start: (reply) => reply.error(new TypeError('network error')) }),
        ),
    ],
    [
      'what is under way is given up',
      () => {
        throw new DOMException('given up', 'AbortError');
      },
    ],
    ['the server is being started', () => new Response('', { status: 502 })],
    ['the session has ended', () => new Response('', { status: 401 })],
    ['the device answers for the server', () => Response.json({}, { headers: { [AS_OF]: DATE } })],
  ])('stays as it is when %s', async (_, instead) => {
    await go();
    const before = [...device.held.keys()];
    school.rows = [];
    school.instead = (address) => (address === '/api/folders/folder/contents' ? instead() : null);
    await expect(go()).rejects.toThrow(NotNow);
    expect([...device.held.keys()]).toEqual(before);
  });

  it('tells later what was opened without a connection: once, and in nobody else’s name', async () => {
    const [A, B] = ['/api/placements/a/opened', '/api/placements/b/opened'];
    const note = (placementId: string) => noteHere(device as unknown as Cache, placementId);
    await go();
    for (const placementId of ['a', 'b', 'a']) await note(placementId);
    school.person = 'priya';
    await expect(go()).rejects.toThrow(NotNow);
    expect(school.opened).toEqual([]);
    school.person = 'mina';
    school.instead = (address) =>
      address.endsWith('b/opened') ? new Response('', { status: 503 }) : null;
    await expect(go()).rejects.toThrow(NotNow);
    expect(school.opened).toEqual([A]);
    // What was taken back meanwhile need not be told of.
    school.instead = (address) => (address === A ? new Response('{}', { status: 404 }) : null);
    await go();
    expect(school.opened).toEqual([A, B]);
    await go();
    expect(school.opened).toEqual([A, B]);
    // Where there is no room for a note, nothing is lost but the note.
    device.room = 0;
    await note('b');
    device.room = Infinity;
    await go();
    expect(school.opened).toEqual([A, B]);
  });
});
