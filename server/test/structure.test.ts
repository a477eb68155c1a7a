import type {
  Consequences,
  Contents,
  FolderView,
  MadePaths,
  Moved,
  Placed,
  PlacementView,
  Tree,
} from '@sammlung/contract';
import { afterAll, describe, expect, it } from 'vitest';
import { startServer, type Who } from './harness.ts';
import { uploader } from './upload.ts';

const server = await startServer();
const { ask, call, refused } = server;
const { add } = uploader(server);
afterAll(() => server.stop());

const folderThing = (id: string) => ({ kind: 'folder' as const, id });
const itemThing = (id: string) => ({ kind: 'placement' as const, id });
const make = async (title: string, parentId: string | null = null, who: Who = 'owner') =>
  (await ask<{ id: string }>(who, 'POST', '/api/folders', { parentId, title })).id;
const move = (things: object[], to: string | null, before: object | null = null) =>
  ask<Moved>('owner', 'POST', '/api/moves', { things, to, before });
const contents = (folder: string, query = '') =>
  ask<Contents>('owner', 'GET', `/api/folders/${folder}/contents${query}`);
const titles = async (folder: string, query = '') => {
  const { folders, items } = await contents(folder, query);
  return [...folders, ...items].map((row) => row.title);
};
const path = async (id: string) =>
  (await ask<FolderView>('owner', 'GET', `/api/folders/${id}`)).crumbs.map((c) => c.title);
let count = 0;
const unique = (word: string) => `${word} ${(count += 1)}`;

describe('moving', () => {
  it('takes folders with all below them and items along, and puts everything back', async () => {
    const [from, to] = [await make(unique('From')), await make(unique('To'))];
    const unit = await make('Unit', from);
    const below = await make('Below', unit);
    const { placementId } = await add('owner', from, 'Sheet.txt', unique('sheet'));
    const { from: lay } = await move([folderThing(unit), itemThing(placementId!)], to);
    expect((await path(below)).slice(1)).toEqual(['Unit', 'Below']);
    expect(await titles(to)).toEqual(['Unit', 'Sheet']);
    expect(await titles(from)).toEqual([]);

    await ask('owner', 'POST', '/api/moves/back', { from: lay });
    expect(await titles(from)).toEqual(['Unit', 'Sheet']);
    expect(await titles(to)).toEqual([]);
    expect(await path(below)).toHaveLength(3);
  });

  it('puts things in front of others, over and over, where positions run out too', async () => {
    const folder = await make(unique('By hand'));
    const ids: string[] = [];
    for (const name of ['a', 'b', 'c'])
      ids.push((await add('owner', folder, `${name}.txt`, unique(name))).placementId!);
    for (let n = 0; n < 60; n += 1)
      await move([itemThing(ids[n % 2 ? 0 : 2]!)], folder, itemThing(ids[1]!));
    expect(await titles(folder)).toEqual(['c', 'a', 'b']);
    await move([itemThing(ids[1]!), itemThing(ids[2]!)], folder, itemThing(ids[0]!));
    expect(await titles(folder)).toEqual(['b', 'c', 'a']);
    const units = [await make('Unit 1', folder), await make('Unit 2', folder)];
    await move([folderThing(units[1]!), itemThing(ids[0]!)], folder, folderThing(units[0]!));
    expect(await titles(folder)).toEqual(['Unit 2', 'Unit 1', 'b', 'c', 'a']);
  });

  it('refuses a folder in itself or below, also to two people at once', async () => {
    const [a, b] = [await make(unique('A')), await make(unique('B'))];
    const below = await make('Below', a);
    await refused(
      await call('owner', 'POST', '/api/moves', {
        things: [folderThing(a)],
        to: below,
        before: null,
      }),
      422,
      'into-itself',
    );
    await refused(
      await call('owner', 'POST', '/api/moves', { things: [folderThing(a)], to: a, before: null }),
      422,
      'into-itself',
    );
    for (let n = 0; n < 10; n += 1) {
      const replies = await Promise.all([
        call('owner', 'POST', '/api/moves', { things: [folderThing(a)], to: b, before: null }),
        call('owner', 'POST', '/api/moves', { things: [folderThing(b)], to: a, before: null }),
      ]);
      expect(replies.map((r) => r.status).sort()).toEqual([200, 422]);
      const { folders } = await ask<Tree>('owner', 'GET', '/api/library/tree');
      expect(folders.filter((f) => f.id === a || f.id === b)).toHaveLength(2);
      await move([folderThing(a)], null);
      await move([folderThing(b)], null);
    }
  });

  it('names what has a twin of case or Unicode form at the new place, and moves nothing', async () => {
    const [from, to] = [await make(unique('From')), await make(unique('To'))];
    await add('owner', to, 'BO\u0308DEN.txt', unique('one'));
    await make('Unit', to);
    const free = (await add('owner', from, 'Free.txt', unique('free'))).placementId!;
    const twin = (await add('owner', from, 'böden.txt', unique('two'))).placementId!;
    const unit = await make('UNIT', from);
    for (const [things, fault] of [
      [[itemThing(free), itemThing(twin)], 'böden'],
      [[itemThing(free), folderThing(unit)], 'UNIT'],
    ] as const) {
      const problem = await refused(
        await call('owner', 'POST', '/api/moves', { things, to, before: null }),
        409,
        'name-taken',
      );
      expect(problem.faults).toEqual([{ field: 'title', fault }]);
    }
    expect(await titles(from)).toEqual(['UNIT', 'Free', 'böden']);
  });

  it('keeps items out of the top, and libraries apart', async () => {
    const folder = await make(unique('Mine'));
    const { placementId } = await add('owner', folder, 'x.txt', unique('x'));
    await refused(
      await call('owner', 'POST', '/api/moves', {
        things: [itemThing(placementId!)],
        to: null,
        before: null,
      }),
      422,
      'no-items-on-top',
    );
    const theirs = await make(unique('Theirs'), null, 'colleague');
    await refused(
      await call('owner', 'POST', '/api/moves', {
        things: [folderThing(folder)],
        to: theirs,
        before: null,
      }),
      404,
      'not-found',
    );
  });

  it('two people who rename and move the same thing both get what they see', async () => {
    const [from, to] = [await make(unique('From')), await make(unique('To'))];
    const unit = await make('Unit', from);
    const replies = await Promise.all([
      call('owner', 'PATCH', `/api/folders/${unit}`, { title: 'Renamed' }),
      call('owner', 'POST', '/api/moves', { things: [folderThing(unit)], to, before: null }),
    ]);
    expect(replies.map((r) => r.status)).toEqual([204, 200]);
    expect(await titles(to)).toEqual(['Renamed']);
  });
});

describe('consequences of a change', () => {
  it('tell who gains by a move into a handed out folder, and who loses by one out of it', async () => {
    const scene = await server.scene();
    const mine = await make(unique('Mine'));
    const { placementId } = await add('owner', mine, 'New.txt', unique('new'));
    const told = (change: object) =>
      ask<Consequences>('owner', 'POST', '/api/consequences', change);
    const inward = await told({ do: 'move', things: [itemThing(placementId!)], to: scene.inner });
    expect(inward.audiences.map((a) => [a.kind, a.label, a.change.gains])).toEqual([
      ['class', 'A', { people: 1, items: 1, folders: 0 }],
      ['public', '', { people: null, items: 1, folders: 0 }],
    ]);
    expect(inward.asks).toBe(true);
    const placed = await told({ do: 'place', placements: [placementId], to: [scene.handed] });
    expect(placed.audiences).toEqual(inward.audiences);

    await ask('owner', 'DELETE', `/api/doors/${scene.door}`);
    expect(
      (await told({ do: 'move', things: [itemThing(placementId!)], to: scene.inner })).asks,
    ).toBe(false);
    const outward = await told({ do: 'move', things: [folderThing(scene.inner)], to: mine });
    expect(outward.audiences[0]?.change.loses).toEqual({ people: 1, items: 1, folders: 1 });
    expect(outward.asks).toBe(true);
    expect(await told({ do: 'remove', things: [folderThing(scene.inner)] })).toEqual(outward);
    expect(
      await told({ do: 'move', things: [folderThing(scene.inner)], to: scene.handed }),
    ).toEqual({ audiences: [], asks: false, confidential: [] });
  });
});

describe('names, marks and dates', () => {
  it('renames, marks, colours and arranges a folder', async () => {
    const id = await make(unique('Plain'));
    await ask('owner', 'PATCH', `/api/folders/${id}`, {
      title: 'Böden',
      mark: '👩🏽‍🌾',
      colour: 'plum',
      order: 'a_to_z',
      display: 'tiles',
      keepOnTop: true,
    });
    expect(await ask('owner', 'GET', `/api/folders/${id}`)).toMatchObject({
      title: 'Böden',
      mark: '👩🏽‍🌾',
      colour: 'plum',
      order: 'a_to_z',
      display: 'tiles',
      keepOnTop: true,
    });
    await ask('owner', 'PATCH', `/api/folders/${id}`, { mark: null });
    expect(await ask('owner', 'GET', `/api/folders/${id}`)).toMatchObject({
      mark: null,
      title: 'Böden',
    });
    for (const mark of ['ab', '🌱🌱', 'x', '<b>', ''])
      await refused(
        await call('owner', 'PATCH', `/api/folders/${id}`, { mark }),
        400,
        'bad-request',
      );
    await make('Taken');
    await refused(
      await call('owner', 'PATCH', `/api/folders/${id}`, { title: 'TAKEN' }),
      409,
      'name-taken',
    );
    for (const title of ['', '..', 'a/b', 'con', 'x'.repeat(61), 'a\u202Eb'])
      await refused(
        await call('owner', 'PATCH', `/api/folders/${id}`, { title }),
        422,
        'name-not-allowed',
      );
  });

  it('guesses the lesson date from a name, takes another one, and orders by it', async () => {
    const folder = await make(unique('Dates'));
    const early = await add('owner', folder, 'Notes 2026-03-02.txt', unique('a'));
    const late = await add('owner', folder, 'Board 5 May 2026.txt', unique('b'));
    const none = await add('owner', folder, 'Plain.txt', unique('c'));
    const view = (id: string | null) => ask<PlacementView>('owner', 'GET', `/api/placements/${id}`);
    expect((await view(early.placementId)).lessonDate).toBe('2026-03-02');
    expect((await view(late.placementId)).lessonDate).toBe('2026-05-05');
    expect((await view(none.placementId)).lessonDate).toBeNull();
    await ask('owner', 'PATCH', `/api/placements/${none.placementId}`, {
      lessonDate: '2026-04-01',
      keepOnTop: false,
    });
    expect(await titles(folder, '?order=lesson_date')).toEqual([
      'Board 5 May 2026',
      'Plain',
      'Notes 2026-03-02',
    ]);
    await ask('owner', 'PATCH', `/api/placements/${early.placementId}`, { keepOnTop: true });
    expect(await titles(folder, '?order=lesson_date')).toEqual([
      'Notes 2026-03-02',
      'Board 5 May 2026',
      'Plain',
    ]);
    expect((await contents(folder)).total).toBe(3);
    await refused(
      await call('owner', 'PATCH', `/api/placements/${none.placementId}`, {
        lessonDate: '2026-02-30',
      }),
      400,
      'bad-request',
    );
  });

  it('orders A to Z as people count, page by page', async () => {
    const folder = await make(unique('A to Z'));
    for (const name of ['10 x', '2 x', 'äpfel', 'Apfel', '1 x', 'Zoo'])
      await add('owner', folder, `${name}.txt`, unique(name));
    const seen: string[] = [];
    let after = '';
    do {
      const page = await contents(folder, `?order=a_to_z&limit=2${after}`);
      seen.push(...page.items.map((i) => i.title));
      after = page.next ? `&after=${page.next}` : '';
    } while (after);
    expect(seen).toEqual(['1 x', '2 x', '10 x', 'Apfel', 'äpfel', 'Zoo']);
  });
});

describe('several places, links, and folders in folders', () => {
  it('puts items into several folders at once and leaves out where they lie', async () => {
    const [a, b, c] = [await make(unique('A')), await make(unique('B')), await make(unique('C'))];
    const one = (await add('owner', a, 'One.txt', unique('one'))).placementId!;
    const two = (await add('owner', a, 'Two.txt', unique('two'))).placementId!;
    const placed = await ask<Placed>('owner', 'POST', '/api/placements', {
      placements: [one, two],
      to: [a, b, c],
    });
    expect(placed).toMatchObject({ already: 2, made: { length: 4 } });
    expect((await contents(c)).items[0]?.alsoIn?.map((x) => x.id).sort()).toEqual([a, b].sort());
    await ask('owner', 'PATCH', `/api/placements/${placed.made[0]}`, { title: 'Renamed' });
    expect(await titles(a)).toEqual(['Renamed', 'Two']);
  });

  it('names a link by its address, keeps names apart, takes web addresses only', async () => {
    const folder = await make(unique('Links'));
    const link = (body: object) =>
      call('owner', 'POST', '/api/links', { folderId: folder, ...body });
    expect((await link({ url: 'https://a.example/soil-map' })).status).toBe(201);
    expect((await link({ url: 'https://b.example/soil-map' })).status).toBe(201);
    expect(await titles(folder)).toEqual(['soil map', 'soil map 2']);
    await refused(await link({ url: 'https://c.example/', title: 'Soil Map' }), 409, 'name-taken');
    for (const url of ['javascript:alert(1)', 'file:///etc/passwd', 'x', 'data:text/html,x'])
      await refused(await link({ url }), 400, 'bad-request');
  });

  it('makes dropped folders 20 deep, the empty ones too, and twice changes nothing', async () => {
    const parentId = await make(unique('Dropped'));
    const deep = Array.from({ length: 20 }, (_, n) => `L${n}`);
    const paths = [deep, ['Empty'], ['L0', 'what? is: this'], ['l0', 'Second'], ['con']];
    const grow = () => ask<MadePaths>('owner', 'POST', '/api/paths', { parentId, paths });
    const first = await grow();
    expect(first.count).toBe(20 + 1 + 1 + 1 + 1);
    expect(first.made).toHaveLength(3);
    expect(await titles(parentId)).toEqual(['L0', 'Empty', '_con']);
    expect(await path(first.ids[0]!)).toHaveLength(21);
    expect(await path(first.ids[2]!)).toContain('what- is- this');
    const second = await grow();
    expect(second).toEqual({ ids: first.ids, made: [], count: 0 });
    await refused(
      await call('owner', 'POST', '/api/paths', { parentId, paths: [['..']] }),
      422,
      'name-not-allowed',
    );
  });

  it('a thousand siblings that differ in case and form only are one folder', async () => {
    const parentId = await make(unique('Twins'));
    const twins = Array.from({ length: 1000 }, (_, n) => [
      [...'bodenbreite'].map((c, k) => ((n >> k) & 1 ? c.toUpperCase() : c)).join('') +
        (n % 2 ? 'o\u0308' : 'ö'),
    ]);
    const made = await ask<MadePaths>('owner', 'POST', '/api/paths', { parentId, paths: twins });
    expect(made.count).toBe(1);
    expect(new Set(made.ids).size).toBe(1);
  });
});
