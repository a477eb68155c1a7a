import type {
  ClassPage,
  Contents,
  InTray,
  LessonsOfClass,
  Problem,
  Rounds,
  RoundDone,
  RoundPreview,
  Tray,
  TrayFile,
} from '@sammlung/contract';
import { eq, sql } from 'drizzle-orm';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { classPages } from '../src/db/schema/index.ts';
import { startServer, type Who } from './harness.ts';
import { uploader } from './upload.ts';

const server = await startServer();
const { ask, call, clock, world } = server;
const { send, addBytes } = uploader(server);
afterAll(() => server.stop());

const classId = world.classA;
/** The code of a refusal. */
const refused = async (...asked: Parameters<typeof call>) =>
  ((await (await call(...asked)).json()) as Problem).code;
let unit = '';
const folder = async (title: string, parentId: string | null = null) =>
  (await ask<{ id: string }>('owner', 'POST', '/api/folders', { parentId, title })).id;
const handOut = (folderId: string, id: string) =>
  ask('owner', 'POST', '/api/grants', {
    ...{ things: [{ kind: 'folder', id: folderId }], audiences: [{ kind: 'class', id }] },
    ...{ level: 'view', from: null, until: null },
  });
const drop = async (name: string, content: string, who: Who = 'owner') => {
  const uploadId = await send(who, 'tray', name, content, Buffer.byteLength(content));
  return (await ask<InTray>(who, 'POST', '/api/tray', { uploadId })).id;
};
const tray = (who: Who = 'owner') => ask<Tray>(who, 'GET', '/api/tray');
const file = async (id: string) => (await tray()).files.find((one) => one.id === id)!;
/** The row of a file as a screen sends it, with what is proposed. */
const row = ({ id, proposal, answer }: TrayFile, more: object = {}) => {
  const { title, lessonDate, to } = { ...proposal, ...answer };
  return { fileId: id, title, lessonDate, to, ...more };
};
const to = (folderId: string, goesOut = 'now', id: string | null = classId) => [
  { classId: id, folderId, goesOut },
];
const put = (...rows: object[]) => ask<RoundDone>('owner', 'POST', '/api/tray/rounds', { rows });
const preview = (...rows: object[]) =>
  ask<RoundPreview>('owner', 'POST', '/api/tray/preview', { rows });
const sees = async (folderId: string, who: Who = 'student in') => {
  const reply = await call(who, 'GET', `/api/folders/${folderId}/contents`);
  if (reply.status !== 200) return [];
  return ((await reply.json()) as Contents).items.map(({ title }) => title);
};

beforeAll(async () => {
  unit = await folder('2 Texture');
  await folder('3 Compost');
  await handOut(unit, classId);
  await ask('owner', 'PATCH', `/api/class-pages/${classId}`, { currentFolderId: unit });
});
describe('the tray', () => {
  it('keeps files to its teacher, and proposes where they go', async () => {
    const id = await drop('A lesson 14 liming.txt', 'Liming, and how much of it.');
    const found = await tray();
    expect(found.files).toMatchObject([
      {
        ...{ id, name: 'A lesson 14 liming.txt', extension: 'txt', answer: null, known: null },
        proposal: { kind: 'notes', title: 'Lesson 14, liming', sure: true },
      },
    ]);
    expect(found.files[0]!.proposal.to).toEqual([{ classId, folderId: unit, goesOut: 'now' }]);
    expect(found.classes.find((c) => c.id === classId)).toMatchObject({
      currentFolder: { id: unit },
      nextUnit: { title: '3 Compost' },
    });
    expect((await tray('colleague')).files).toEqual([]);
    for (const who of ['colleague', 'student in', 'office', 'other school'] as const)
      expect((await call(who, 'GET', `/api/tray/${id}/content`)).status).toBe(404);
    const content = await call('owner', 'GET', `/api/tray/${id}/content`);
    expect(await content.text()).toBe('Liming, and how much of it.');
    expect(await refused('student in', 'GET', '/api/tray')).toBe('not-found');
    expect(await sees(unit)).toEqual([]);
  });

  it('comes with what was decided before it did, and once however often it is sent', async () => {
    const content = 'What the board said.';
    const uploadId = await send('owner', 'tray', 'Board.txt', content, Buffer.byteLength(content));
    const body = { uploadId, answer: { title: 'Board, 30 Nov, 10.15' } };
    const { id } = await ask<InTray>('owner', 'POST', '/api/tray', body);
    expect(await ask<InTray>('owner', 'POST', '/api/tray', { uploadId })).toEqual({ id });
    expect((await file(id)).answer).toEqual(body.answer);
    await ask('owner', 'POST', '/api/tray/remove', { files: [id] });
  });

  it('puts a round in place, says before what that means, and takes all of it back', async () => {
    const [waiting] = (await tray()).files;
    const second = await drop('quiz 4 key.txt', 'Worked answers of quiz four.');
    const rows = [
      row(waiting!),
      { ...row(await file(second)), to: to(unit, 'next-school-day'), title: 'Quiz 4, key' },
    ];
    const before = await preview(...rows);
    expect(before.refused).toEqual([]);
    expect(before.steps).toMatchObject([
      { outcome: 'new', out: [{ classId, from: null, held: false }] },
      { outcome: 'new', out: [{ classId, held: false }] },
    ]);
    expect(before.consequences.audiences).toMatchObject([
      { kind: 'class', id: classId, change: { gains: { items: 1 }, gainsLater: { items: 1 } } },
    ]);
    // Nothing of the preview is left.
    expect(await sees(unit)).toEqual([]);
    expect((await tray()).files).toHaveLength(2);

    const { roundId, files } = await put(...rows);
    expect(files).toBe(2);
    expect(await sees(unit)).toEqual(['Lesson 14, liming']);
    expect((await tray()).files).toEqual([]);
    const { rounds } = await ask<Rounds>('owner', 'GET', '/api/tray/rounds');
    expect(rounds[0]!.steps.map(({ title, folder: at }) => [title, at?.title])).toEqual([
      ['Lesson 14, liming', '2 Texture'],
      ['Quiz 4, key', '2 Texture'],
    ]);
    const morning = Date.parse(before.steps[1]!.out[0]!.from!);
    const now = clock.now;
    clock.now = morning + 1000;
    expect(await sees(unit)).toEqual(['Lesson 14, liming', 'Quiz 4, key']);
    clock.now = now;

    for (const who of ['colleague', 'student in'] as const)
      expect((await call(who, 'POST', `/api/tray/rounds/${roundId}/back`)).status).toBe(404);
    await ask('owner', 'POST', `/api/tray/rounds/${roundId}/back`);
    expect(await sees(unit)).toEqual([]);
    expect((await tray()).files).toHaveLength(2);
    expect((await ask<Rounds>('owner', 'GET', '/api/tray/rounds')).rounds).toEqual([]);
    expect(await refused('owner', 'POST', `/api/tray/rounds/${roundId}/back`)).toBe('not-found');
  });

  it('never adds what the library has, and offers it for one more folder', async () => {
    const elsewhere = await folder('Elsewhere');
    await addBytes('owner', elsewhere, 'Rain table.txt', 'Rain of November');
    const id = await drop('rain again.txt', 'Rain of November');
    const found = await file(id);
    expect(found.known).toMatchObject({ title: 'Rain table', folder: { id: elsewhere } });
    const asked = { ...row(found), title: 'Rain', to: to(unit) };
    expect((await preview(asked)).refused).toMatchObject([
      { because: 'in-library', folder: { title: 'Elsewhere' } },
    ]);
    expect(await refused('owner', 'POST', '/api/tray/rounds', { rows: [asked] })).toBe(
      'changed-since',
    );
    const { roundId } = await put({ ...asked, again: true });
    expect(await sees(unit)).toContain('Rain table');
    await ask('owner', 'POST', `/api/tray/rounds/${roundId}/back`);
    expect(await sees(unit)).not.toContain('Rain table');
    expect(await sees(elsewhere, 'owner')).toEqual(['Rain table']);
    await ask('owner', 'POST', '/api/tray/remove', { files: [id] });
    expect((await tray()).files.some((one) => one.id === id)).toBe(false);
    await ask('owner', 'POST', '/api/tray/restore', { files: [id] });
    expect((await tray()).files.some((one) => one.id === id)).toBe(true);
    await ask('owner', 'POST', '/api/tray/remove', { files: [id] });
  });

  it('makes the next version of the same lesson, and undoes that', async () => {
    await addBytes('owner', unit, 'Soil log.txt', 'first state');
    const id = await drop('soil log.txt', 'second state');
    const asked = { ...row(await file(id)), title: 'Soil log', to: to(unit) };
    expect((await preview(asked)).steps).toMatchObject([{ outcome: 'version', title: 'Soil log' }]);
    const { roundId } = await put(asked);
    const versions = async () => {
      const { items } = await ask<Contents>('owner', 'GET', `/api/folders/${unit}/contents`);
      const { placementId } = items.find(({ title }) => title === 'Soil log')!;
      const view = await call(
        'owner',
        'GET',
        `/api/placements/${placementId}/content?as=attachment`,
      );
      return view.text();
    };
    expect(await versions()).toBe('second state');
    await ask('owner', 'POST', `/api/tray/rounds/${roundId}/back`);
    expect(await versions()).toBe('first state');
    await ask('owner', 'POST', '/api/tray/remove', { files: [id] });
  });

  it('lets a thing for one class out to no other class that sees the folder', async () => {
    await handOut(unit, world.classB);
    const id = await drop('for A alone.txt', 'Only for class A');
    await put({ ...row(await file(id)), title: 'For A alone', to: to(unit) });
    expect(await sees(unit)).toContain('For A alone');
    const { rest } = await ask<ClassPage>('student in', 'GET', `/api/class-pages/${classId}`);
    expect(rest.length).toBeGreaterThan(0);
    expect(await sees(unit, 'student out')).not.toContain('For A alone');
  });

  it('refuses what two windows do with one file, and whoever may not put things there', async () => {
    const id = await drop('twice.txt', 'in two windows');
    const asked = { ...row(await file(id)), title: 'Twice', to: to(unit) };
    await put(asked);
    expect(await refused('owner', 'POST', '/api/tray/rounds', { rows: [asked] })).toBe(
      'changed-since',
    );
    const theirs = (
      await ask<{ id: string }>('colleague', 'POST', '/api/folders', {
        parentId: null,
        title: 'Mine',
      })
    ).id;
    const other = await drop('elsewhere.txt', 'into the folder of somebody else');
    const wrong = { ...row(await file(other)), title: 'Wrong', to: to(theirs) };
    for (const path of ['preview', 'rounds'])
      expect(await refused('owner', 'POST', `/api/tray/${path}`, { rows: [wrong] })).toBe(
        'not-found',
      );
    await ask('owner', 'POST', '/api/tray/remove', { files: [other] });
  });

  it('keeps what was decided, and the rules of its teacher', async () => {
    const id = await drop('decided.txt', 'decided otherwise');
    const answer = { title: 'Decided', to: to(unit, 'held') };
    await ask('owner', 'PATCH', `/api/tray/${id}`, { answer });
    expect((await file(id)).answer).toEqual(answer);
    expect(await refused('colleague', 'PATCH', `/api/tray/${id}`, { answer })).toBe('not-found');
    const { rules } = await tray();
    const mine = { titlePattern: '{class} {n}', goesOut: { ...rules.goesOut, notes: 'held' } };
    await ask('owner', 'PUT', '/api/tray/rules', mine);
    expect((await tray()).rules).toEqual(mine);
    const wrong = { ...mine, titlePattern: '{unit}' };
    expect(await refused('owner', 'PUT', '/api/tray/rules', wrong)).toBe('pattern-not-allowed');
    await ask('owner', 'PUT', '/api/tray/rules', rules);
    await ask('owner', 'POST', '/api/tray/remove', { files: [id] });
  });

  it('tells nobody the name of a folder that a colleague has set', async () => {
    const theirs = (
      await ask<{ id: string }>('colleague', 'POST', '/api/folders', {
        ...{ parentId: null, title: 'Private unit 7' },
      })
    ).id;
    await server.db
      .update(classPages)
      .set({ currentFolderId: theirs })
      .where(eq(classPages.classId, classId));
    const found = await tray();
    expect(found.classes.find(({ id }) => id === classId)!.currentFolder).toBeNull();
    expect(JSON.stringify(found)).not.toContain('Private unit');
    const edited = await call('owner', 'GET', `/api/class-pages/${classId}/edited`);
    expect(await edited.text()).not.toContain('Private unit');
    const lessons = await call('owner', 'GET', `/api/folders/${unit}/lessons`);
    expect(await lessons.text()).not.toContain('Private unit');
    expect(await refused('owner', 'POST', '/api/tray/next-unit', { classId })).toBe('not-found');
    await ask('owner', 'PATCH', `/api/class-pages/${classId}`, { currentFolderId: unit });
  });

  it('does not take back what has become more since, nor takes names that are none', async () => {
    const id = await drop('grows.txt', 'the first state of it');
    const asked = { ...row(await file(id)), title: 'Grows', to: to(unit) };
    expect(
      await refused('owner', 'POST', '/api/tray/rounds', { rows: [{ ...asked, title: '...' }] }),
    ).toBe('file-name-empty');
    const { roundId } = await put(asked);
    await addBytes('owner', unit, 'Grows.txt', 'the second state of it');
    expect(await refused('owner', 'POST', `/api/tray/rounds/${roundId}/back`)).toBe(
      'changed-since',
    );
    expect(await sees(unit)).toContain('Grows');
  });

  it('takes 500 files in one round, and back', async () => {
    const { schoolId, ids } = world;
    await server.db.execute(sql`insert into blobs (school_id, hash, size)
      select ${schoolId}::uuid, encode(sha256(convert_to('many ' || n, 'UTF8')), 'hex'), 5 from generate_series(1, 500) n`);
    await server.db
      .execute(sql`insert into tray_files (school_id, person_id, name, hash, size, media_type, upload_id)
      select ${schoolId}::uuid, ${ids.owner}::uuid, 'Many ' || n || '.txt', encode(sha256(convert_to('many ' || n, 'UTF8')), 'hex'),
        5, 'text/plain', 'many ' || n from generate_series(1, 500) n`);
    const many = async () => (await tray()).files.filter(({ name }) => name.startsWith('Many'));
    const rows = (await many()).map((one, n) => ({
      ...{ fileId: one.id, title: `Many ${n}`, lessonDate: null },
      to: to(unit, n % 2 ? 'now' : 'held'),
    }));
    const before = await preview(...rows);
    expect([before.steps.length, before.refused.length]).toEqual([500, 0]);
    const { roundId } = await put(...rows);
    expect(await many()).toEqual([]);
    await ask('owner', 'POST', `/api/tray/rounds/${roundId}/back`);
    const files = (await many()).map(({ id }) => id);
    expect(files).toHaveLength(500);
    await ask('owner', 'POST', '/api/tray/remove', { files });
  }, 60_000);

  it('moves a class on to its next unit, which is made where it is not there', async () => {
    const next = await ask<{ id: string; title: string; before: string }>(
      'owner',
      'POST',
      '/api/tray/next-unit',
      { classId },
    );
    expect(next).toMatchObject({ title: '3 Compost', before: unit });
    const after = await ask<{ title: string }>('owner', 'POST', '/api/tray/next-unit', { classId });
    expect(after.title).toBe('4');
    await ask('owner', 'PATCH', `/api/class-pages/${classId}`, { currentFolderId: unit });
    const { classes } = await ask<{ classes: LessonsOfClass[] }>(
      'owner',
      'GET',
      `/api/folders/${unit}/lessons`,
    );
    expect(classes.map(({ code, here }) => [code, here])).toEqual([
      ['A', true],
      ['B', false],
    ]);
    expect(await refused('student in', 'POST', '/api/tray/next-unit', { classId })).toBe(
      'not-found',
    );
  });
});
