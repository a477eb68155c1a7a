import type {
  ClassPage,
  EarlierEntry,
  EditedPage,
  FolderAudience,
  Thing,
} from '@sammlung/contract';
import { and, eq, isNull } from 'drizzle-orm';
import { afterAll, describe, expect, it } from 'vitest';
import { courseTeachers, grants, memberships } from '../src/db/schema/index.ts';
import { startServer, type Who } from './harness.ts';

const server = await startServer();
const { ask, call, refused, clock, world } = server;
afterAll(() => server.stop());

const classId = world.classA;
const HELD = { held: true, from: null, until: null };
const page = (who: Who = 'student in') => ask<ClassPage>(who, 'GET', `/api/class-pages/${classId}`);
const edited = () => ask<EditedPage>('owner', 'GET', `/api/class-pages/${classId}/edited`);
const folder = async (title: string, parentId: string | null = null) =>
  (await ask<{ id: string }>('owner', 'POST', '/api/folders', { parentId, title })).id;
const asFolder = (id: string): Thing => ({ kind: 'folder', id });
const put = (title: string, things: Thing[], more: object = {}, text = '') =>
  ask<{ id: string; appearances: string[] }>('owner', 'POST', '/api/entries', {
    ...{ title, text, things, on: [{ classId, ...more }] },
  });
const seesFolder = async (id: string, who: Who = 'student in') =>
  (await call(who, 'GET', `/api/folders/${id}`)).status === 200;
const titles = (entries: readonly { title: string }[]) => entries.map(({ title }) => title);
const everything = ({ top, loose, headings, rest }: ClassPage) =>
  titles([...top, ...loose, ...headings.flatMap(({ entries }) => entries), ...rest]);

describe('the page of a class', () => {
  it('opens what an entry has for as long as it is there, and names nothing of drafts', async () => {
    const unit = await folder('Unit of the entry');
    const { appearances } = await put('Lesson 14', [asFolder(unit)], {}, 'Read pages 1 and 2.');
    const { loose } = await page();
    expect(loose[0]).toMatchObject({
      ...{ title: 'Lesson 14', text: 'Read pages 1 and 2.' },
      things: [{ kind: 'folder', id: unit, title: 'Unit of the entry' }],
    });
    expect(await seesFolder(unit)).toBe(true);
    expect(await seesFolder(unit, 'student out')).toBe(false);

    const at = `/api/appearances/${appearances[0]!}`;
    await ask('owner', 'PATCH', at, { release: HELD });
    expect(everything(await page())).not.toContain('Lesson 14');
    expect(await seesFolder(unit)).toBe(false);
    expect(titles((await edited()).entries)).toContain('Lesson 14');

    const from = new Date(clock.now + 60_000).toISOString();
    await ask('owner', 'PATCH', at, { release: { held: false, from, until: null } });
    expect(await seesFolder(unit)).toBe(false);
    clock.now += 61_000;
    expect(await seesFolder(unit)).toBe(true);
    expect(everything(await page())).toContain('Lesson 14');

    await ask('owner', 'DELETE', at);
    expect(await seesFolder(unit)).toBe(false);
    await ask('owner', 'POST', `${at}/restore`);
    expect(await seesFolder(unit)).toBe(true);
    await ask('owner', 'DELETE', at);
  });

  it('lists what the class has without an entry at its end, until it is under one', async () => {
    const scene = await server.scene();
    const rest = async () => (await page()).rest.map(({ id }) => id);
    expect(await rest()).toContain(scene.handed);
    const { appearances } = await put('The unit', [asFolder(scene.handed)]);
    expect(await rest()).not.toContain(scene.handed);
    // What was handed out by itself stays so when the entry goes.
    await ask('owner', 'DELETE', `/api/appearances/${appearances[0]!}`);
    expect(await rest()).toContain(scene.handed);
    expect(await seesFolder(scene.handed)).toBe(true);
  });

  it('has an entry changed and taken back on all pages that the teacher makes, and on no other', async () => {
    const [one, two] = [await server.scene(), await server.scene()];
    const unit = await folder('On several pages');
    const on = [one, two].map(({ classX }) => ({ classId: classX }));
    const { id, appearances } = await ask<{ id: string; appearances: string[] }>(
      ...(['owner', 'POST', '/api/entries'] as const),
      { title: 'Several', things: [asFolder(unit)], on },
    );
    const states = async () =>
      Promise.all(
        [one, two].map(async ({ classX }) => {
          const { entries } = await ask<EditedPage>(
            ...(['owner', 'GET', `/api/class-pages/${classX}/edited`] as const),
          );
          return entries.find(({ entryId }) => entryId === id)?.state ?? 'gone';
        }),
      );
    const at = `/api/entries/${id}/appearances`;
    const from = new Date(clock.now + 3_600_000).toISOString();
    const later = { held: false, from, until: null };
    const { before } = await ask<{ before: { appearanceId: string; release: object }[] }>(
      ...(['owner', 'PATCH', at] as const),
      { release: later },
    );
    expect(await states()).toEqual(['later', 'later']);
    expect(before.map(({ appearanceId }) => appearanceId).sort()).toEqual([...appearances].sort());
    for (const { release } of before)
      expect(release).toEqual({ held: false, from: null, until: null });

    // Of a course that they no longer teach nothing is changed.
    const taught = and(
      eq(courseTeachers.courseId, two.course),
      eq(courseTeachers.personId, world.ids.owner),
    );
    const rows = await server.db.delete(courseTeachers).where(taught).returning();
    await ask('owner', 'PATCH', at, { release: HELD });
    await server.db.insert(courseTeachers).values(rows);
    expect(await states()).toEqual(['held', 'later']);
    const { appearances: taken } = await ask<{ appearances: string[] }>('owner', 'DELETE', at);
    expect(await states()).toEqual(['gone', 'gone']);
    expect(taken).toHaveLength(2);
    await refused(await call('owner', 'DELETE', at), 404, 'not-found');
    await refused(await call('colleague', 'PATCH', at, { release: later }), 404, 'not-found');
  });

  it('may have a page of which nothing has been shown: it opens as soon as it is', async () => {
    const unit = await folder('Pages to be written');
    const { id } = await ask<{ id: string }>('owner', 'POST', '/api/pages', {
      ...{ folderId: unit, title: 'Frogs' },
    });
    const { appearances } = await put('Frogs', [{ kind: 'placement', id }], {}, 'Read it.');
    const shown = async () => (await page()).loose.find(({ title }) => title === 'Frogs')!.things;
    expect(await shown()).toEqual([]);
    await ask('owner', 'POST', `/api/placements/${id}/shown`, {
      ...{ html: '<p>Eleven.</p>', base: 0, after: null },
    });
    expect(await shown()).toMatchObject([{ id, title: 'Frogs' }]);
    await ask('owner', 'DELETE', `/api/appearances/${appearances[0]!}`);
  });

  it('puts an entry for several classes under the heading of the same title on each page', async () => {
    const [one, two, three] = [await server.scene(), await server.scene(), await server.scene()];
    const heading = async ({ classX }: typeof one, title: string) =>
      (await ask<{ id: string }>('owner', 'POST', `/api/class-pages/${classX}/headings`, { title }))
        .id;
    const first = await heading(one, 'Field days');
    const second = await heading(two, 'Field days');
    const on = [one, two, three].map(({ classX }) => ({ classId: classX, headingId: first }));
    await ask('owner', 'POST', '/api/entries', { title: 'Outside', text: 'Boots.', on });
    for (const [{ classX }, expected] of [
      [one, first],
      [two, second],
      [three, null],
    ] as const) {
      const { entries } = await ask<EditedPage>(
        ...(['owner', 'GET', `/api/class-pages/${classX}/edited`] as const),
      );
      expect(entries[0]).toMatchObject({ title: 'Outside', headingId: expected });
    }
    const theirs = await server.scene();
    const foreign = await heading(theirs, 'Field days');
    await server.db.delete(courseTeachers).where(eq(courseTeachers.courseId, theirs.course));
    const body = { title: 'Outside', on: [{ classId: one.classX, headingId: foreign }] };
    await refused(await call('owner', 'POST', '/api/entries', body), 404, 'not-found');
  });

  it('is for some members where that is said, and for nobody else', async () => {
    const unit = await folder('For one');
    const { appearances } = await put('For one of us', [asFolder(unit)], {
      people: [world.ids['student in']],
    });
    expect(everything(await page())).toContain('For one of us');
    expect(await seesFolder(unit)).toBe(true);
    const asClass = await ask<ClassPage>(
      'owner',
      'GET',
      `/api/as/class.${classId}/now/class-pages/${classId}`,
    );
    expect(everything(asClass)).not.toContain('For one of us');
    const body = { people: [world.ids['student out']] };
    const path = `/api/appearances/${appearances[0]!}`;
    await refused(await call('owner', 'PATCH', path, body), 422, 'audience-unknown');
    await ask('owner', 'DELETE', path);
  });

  it('is for a member only as long as they belong to the class', async () => {
    const scene = await server.scene();
    const unit = await folder('Until they leave');
    const { appearances } = await ask<{ appearances: string[] }>('owner', 'POST', '/api/entries', {
      ...{ title: 'For the pupil', things: [asFolder(unit)] },
      on: [{ classId: scene.classX, people: [scene.pupil] }],
    });
    const spans = () =>
      server.db
        .select({ until: grants.untilAt, takenBack: grants.takenBackAt })
        .from(grants)
        .where(eq(grants.appearanceId, appearances[0]!));
    expect(await spans()).toEqual([{ until: null, takenBack: null }]);
    const leaves = new Date(clock.now + 3_600_000);
    const membership = eq(memberships.id, scene.membership);
    await server.db.update(memberships).set({ untilAt: leaves }).where(membership);
    expect(await spans()).toEqual([{ until: leaves, takenBack: null }]);
    // With the class it goes, and comes back with it.
    await ask('owner', 'DELETE', `/api/classes/${scene.classX}`);
    expect((await spans()).filter(({ takenBack }) => takenBack === null)).toEqual([]);
    await ask('owner', 'POST', `/api/classes/${scene.classX}/restore`);
    expect(await spans()).toEqual([{ until: leaves, takenBack: null }]);
    // Shown again it is still theirs until then, and no longer where they have never belonged to it.
    const at = `/api/appearances/${appearances[0]!}`;
    await ask('owner', 'PATCH', at, { release: HELD });
    await ask('owner', 'PATCH', at, { release: { held: false, from: null, until: null } });
    expect(await spans()).toContainEqual({ until: leaves, takenBack: null });
    await server.db.delete(memberships).where(membership);
    expect((await spans()).filter(({ takenBack }) => takenBack === null)).toEqual([]);
  });

  it('has nothing that could not be opened: that is refused, and an entry goes without what is gone', async () => {
    const top = await folder('Held unit');
    const inner = await folder('Inner', top);
    await ask('owner', 'POST', '/api/releases', {
      things: [asFolder(top)],
      rules: [{ classId: null, release: HELD }],
    });
    const body = { title: 'Keys', things: [asFolder(inner)], on: [{ classId }] };
    await refused(await call('owner', 'POST', '/api/entries', body), 422, 'class-cannot-open');
    expect(titles((await edited()).entries)).not.toContain('Keys');
    // As a draft it is allowed; to show it is not.
    const { appearances } = await put('Keys', [asFolder(inner)], { release: HELD });
    const show = { release: { held: false, from: null, until: null } };
    const path = `/api/appearances/${appearances[0]!}`;
    await refused(await call('owner', 'PATCH', path, show), 422, 'class-cannot-open');
    await ask('owner', 'DELETE', path);

    const [kept, binned] = [await folder('Kept'), await folder('To the Bin')];
    const both = await put('Two things', [asFolder(kept), asFolder(binned)]);
    await ask('owner', 'POST', '/api/bin', { things: [asFolder(binned)] });
    const entry = (await page()).loose.find(({ title }) => title === 'Two things')!;
    expect(titles(entry.things)).toEqual(['Kept']);
    expect((await edited()).entries.find((e) => e.title === 'Two things')!.gone).toBe(1);
    await ask('owner', 'POST', '/api/bin', { things: [asFolder(kept)] });
    expect(everything(await page())).not.toContain('Two things');
    // It can be kept back all the same.
    await ask('owner', 'PATCH', `/api/appearances/${both.appearances[0]!}`, { release: HELD });
    expect((await edited()).entries.find((e) => e.title === 'Two things')!.state).toBe('held');
    await ask('owner', 'DELETE', `/api/appearances/${both.appearances[0]!}`);
  });

  it('has headings in an order, with entries in an order, and keeps some on top', async () => {
    const heading = async (title: string) =>
      (
        await ask<{ id: string }>('owner', 'POST', `/api/class-pages/${classId}/headings`, {
          title,
        })
      ).id;
    const [one, two] = [await heading('Profile'), await heading('Texture')];
    const first = await put('First', [], { headingId: one }, 'A');
    const second = await put('Second', [], { headingId: one }, 'B');
    const shelf = await put('Outline', [], { keepOnTop: true }, 'C');
    const shown = async () => {
      const { top, headings } = await page();
      return [titles(top), ...headings.map((h) => [h.title, ...titles(h.entries)])];
    };
    // The newest is on top, and a heading without anything does not show.
    expect(await shown()).toEqual([['Outline'], ['Profile', 'Second', 'First']]);
    const move = (id: string, body: object) =>
      ask('owner', 'POST', `/api/appearances/${id}/move`, body);
    await move(second.appearances[0]!, { headingId: one, before: null });
    expect(await shown()).toEqual([['Outline'], ['Profile', 'First', 'Second']]);
    await move(first.appearances[0]!, { headingId: two, before: null });
    await ask('owner', 'POST', `/api/headings/${two}/move`, { before: one });
    expect(await shown()).toEqual([['Outline'], ['Texture', 'First'], ['Profile', 'Second']]);
    await ask('owner', 'DELETE', `/api/headings/${two}`);
    expect(titles((await page()).loose)).toContain('First');
    await ask('owner', 'POST', `/api/headings/${two}/restore`);
    expect(await shown()).toEqual([['Outline'], ['Texture', 'First'], ['Profile', 'Second']]);
    const other = await server.scene();
    const body = { headingId: one, before: null };
    const elsewhere = await ask<{ appearances: string[] }>('owner', 'POST', '/api/entries', {
      ...{ title: 'Elsewhere', text: 'x', on: [{ classId: other.classX }] },
    });
    const path = `/api/appearances/${elsewhere.appearances[0]!}/move`;
    await refused(await call('owner', 'POST', path, body), 404, 'not-found');
    for (const { appearances } of [first, second, shelf])
      await ask('owner', 'DELETE', `/api/appearances/${appearances[0]!}`);
  });

  it('shares an entry with other pages: its words and things are the same, each page has its own time', async () => {
    const scene = await server.scene();
    const [unit, later] = [await folder('Shared'), await folder('Added later')];
    const { id, appearances } = await ask<{ id: string; appearances: string[] }>(
      'owner',
      'POST',
      '/api/entries',
      {
        ...{ title: 'For two', things: [asFolder(unit)] },
        on: [{ classId }, { classId: scene.classX, release: HELD }],
      },
    );
    await ask('owner', 'PATCH', `/api/entries/${id}`, {
      ...{ text: 'Changed', things: [asFolder(unit), asFolder(later)] },
    });
    expect(await seesFolder(later)).toBe(true);
    const rows = await ask<FolderAudience>('owner', 'GET', `/api/folders/${later}/audience`);
    const row = rows.rows.find((one) => one.id === classId)!;
    expect(row).toMatchObject({ state: 'out', here: null, byEntry: true });
    expect(rows.rows.find((one) => one.id === scene.classX)).toMatchObject({ state: 'none' });
    await ask('owner', 'PATCH', `/api/entries/${id}`, { things: [asFolder(later)] });
    expect(await seesFolder(unit)).toBe(false);
    const body = { on: [{ classId }] };
    const again = await call('owner', 'POST', `/api/entries/${id}/appearances`, body);
    await refused(again, 409, 'already-here');
    for (const appearance of appearances)
      await ask('owner', 'DELETE', `/api/appearances/${appearance}`);
  });

  it('tells nothing of its words to a colleague who looks as the class', async () => {
    const { appearances } = await put('Words of the owner', [], {}, 'For the class');
    await ask('colleague', 'POST', '/api/grants', {
      things: [
        asFolder(
          (
            await ask<{ id: string }>('colleague', 'POST', '/api/folders', {
              ...{ parentId: null, title: 'From a colleague' },
            })
          ).id,
        ),
      ],
      audiences: [{ kind: 'class', id: classId }],
    });
    const path = `/api/as/class.${classId}/now/class-pages/${classId}`;
    const seen = everything(await ask<ClassPage>('colleague', 'GET', path));
    expect(seen).toContain('From a colleague');
    expect(seen).not.toContain('Words of the owner');
    expect(everything(await ask<ClassPage>('owner', 'GET', path))).toContain('Words of the owner');
    await ask('owner', 'DELETE', `/api/appearances/${appearances[0]!}`);
  });

  it('offers entries of other pages to be used again, and not those that are there', async () => {
    const scene = await server.scene();
    const unit = await folder('Used twice');
    const { appearances } = await put('Soil 100% under_score', [asFolder(unit)], {}, 'Old words');
    const earlier = (words: string, at = scene.classX, who: Who = 'owner') =>
      ask<{ entries: EarlierEntry[]; to: unknown }>(
        who,
        'GET',
        `/api/class-pages/${at}/earlier?words=${encodeURIComponent(words)}`,
      );
    const { entries, to } = await earlier('100% UNDER_');
    expect(entries).toMatchObject([
      { title: 'Soil 100% under_score', text: 'Old words', code: 'A', year: '2026/27' },
    ]);
    expect(entries[0]!.things.map(({ id }) => id)).toEqual([unit]);
    expect(entries[0]!.from.classes).toEqual(['A']);
    expect(to).toMatchObject({ firstDay: '2026-08-31', lastDay: '2027-07-09' });
    expect((await earlier('100% UNDER_', classId)).entries).toEqual([]);
    expect((await earlier('under-')).entries).toEqual([]);
    // Also what was taken from the page can be used again.
    await ask('owner', 'DELETE', `/api/appearances/${appearances[0]!}`);
    expect((await earlier('100%', classId)).entries).toHaveLength(1);
  });

  it('has a current folder, proposed from where the class got something last', async () => {
    const scene = await server.scene();
    const unit = await folder('Unit of today', scene.handed);
    clock.now += 1000;
    await ask('owner', 'POST', '/api/links', { folderId: unit, url: 'https://a.example/' });
    expect(await edited()).toMatchObject({ currentFolder: null, proposedFolder: { id: unit } });
    const set = (currentFolderId: string | null, who: Who = 'owner') =>
      call(who, 'PATCH', `/api/class-pages/${classId}`, { currentFolderId });
    expect((await set(unit)).status).toBe(204);
    expect(await edited()).toMatchObject({
      currentFolder: { id: unit, title: 'Unit of today' },
      proposedFolder: null,
    });
    const foreign = await ask<{ id: string }>('colleague', 'POST', '/api/folders', {
      ...{ parentId: null, title: 'Of a colleague' },
    });
    await refused(await set(foreign.id), 404, 'not-found');
    await ask('owner', 'POST', '/api/bin', { things: [asFolder(unit)] });
    expect((await edited()).currentFolder).toBeNull();
    await set(null);
  });

  it('hands nothing more out to a class that its maker no longer teaches, and takes nothing from it', async () => {
    const scene = await server.scene();
    const [unit, more] = [await folder('Had before'), await folder('Had never')];
    const { id, appearances } = await ask<{ id: string; appearances: string[] }>(
      'owner',
      'POST',
      '/api/entries',
      {
        ...{ title: 'Two courses', things: [asFolder(unit)] },
        on: [{ classId }, { classId: scene.classX }],
      },
    );
    const taught = and(
      eq(courseTeachers.courseId, scene.course),
      eq(courseTeachers.personId, world.ids.owner),
    );
    await server.db.delete(courseTeachers).where(taught);
    await ask('owner', 'PATCH', `/api/entries/${id}`, { things: [asFolder(more)] });
    const handed = async (appearance: string) =>
      (
        await server.db
          .select({ folder: grants.folderId })
          .from(grants)
          .where(and(eq(grants.appearanceId, appearance), isNull(grants.takenBackAt)))
      ).map((grant) => grant.folder);
    expect(await handed(appearances[0]!)).toEqual([more]);
    expect(await handed(appearances[1]!)).toEqual([unit]);
    const path = `/api/appearances/${appearances[1]!}`;
    await refused(await call('owner', 'PATCH', path, { release: HELD }), 404, 'not-found');
    const body = { on: [{ classId: scene.classY }] };
    const put = await call('owner', 'POST', `/api/entries/${id}/appearances`, body);
    await refused(put, 404, 'not-found');
    await ask('owner', 'DELETE', `/api/appearances/${appearances[0]!}`);
  });

  it('hands out only what its maker may hand out, also when they undo', async () => {
    const unit = await folder('Not theirs');
    const body = { title: 'Taken', things: [asFolder(unit)], on: [{ classId }] };
    await refused(await call('colleague', 'POST', '/api/entries', body), 404, 'not-found');
    const { appearances } = await put('Once mine', [asFolder(unit)]);
    await ask('owner', 'DELETE', `/api/appearances/${appearances[0]!}`);
    await ask('owner', 'POST', '/api/bin', { things: [asFolder(unit)] });
    const path = `/api/appearances/${appearances[0]!}/restore`;
    await refused(await call('owner', 'POST', path), 404, 'not-found');
    expect(everything(await page())).not.toContain('Once mine');
  });
});
