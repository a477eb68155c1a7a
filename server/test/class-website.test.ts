import type {
  ClassWebsite,
  Door,
  DoorState,
  Doors,
  EditedWebsite,
  Thing,
} from '@sammlung/contract';
import { eq } from 'drizzle-orm';
import { afterAll, describe, expect, it } from 'vitest';
import { classes, courseTeachers, years } from '../src/db/schema/index.ts';
import { startServer, type Who } from './harness.ts';

const server = await startServer();
const { ask, call, refused, clock, db, world } = server;
afterAll(() => server.stop());

const NOTHING = { headings: [], loose: false, texts: [], tells: 'nothing' };
const asFolder = (id: string): Thing => ({ kind: 'folder', id });
const folder = async (title: string, parentId: string | null = null) =>
  (await ask<{ id: string }>('owner', 'POST', '/api/folders', { parentId, title })).id;
const link = async (folderId: string, title: string) =>
  (
    await ask<{ id: string }>('owner', 'POST', '/api/links', {
      ...{ folderId, title, url: 'https://example.org/' },
    })
  ).id;
const openPublicly = (id: string, who: Who = 'owner') =>
  ask<Door>(who, 'POST', '/api/doors', { thing: asFolder(id), kind: 'public' });
const tokenOf = ({ address }: Pick<Door, 'address'>) => address.split('/').at(-1)!;

/** A class with a heading, under it an entry with a folder and a note, and under none an entry with a folder. */
async function made() {
  const { classX, pupil } = await server.scene();
  const [unit, field] = [
    await folder('Unit 1', await folder(classX)),
    await folder(`Field ${classX}`),
  ];
  const sheet = await link(unit, 'Sheet in the unit');
  const heading = await ask<{ id: string }>(
    'owner',
    'POST',
    `/api/class-pages/${classX}/headings`,
    {
      title: 'Soil',
    },
  );
  const put = async (title: string, things: Thing[], headingId: string | null, text = '') =>
    (
      await ask<{ id: string; appearances: string[] }>('owner', 'POST', '/api/entries', {
        ...{ title, text, things, on: [{ classId: classX, headingId }] },
      })
    ).appearances[0]!;
  const note = await put('Note', [], heading.id, 'Bring boots.');
  const lesson = await put('Lesson', [asFolder(unit)], heading.id, 'Read page 1.');
  const days = await put('Days', [asFolder(field)], null);
  const at = `/api/class-pages/${classX}/website`;
  const change = (body: object, who: Who = 'owner') =>
    ask<{ door: Door; opened: string[] }>(who, 'PUT', at, { ...NOTHING, ...body });
  const site = (token: string, who: Who = 'visitor without') =>
    ask<ClassWebsite>(who, 'GET', `/api/open/${token}/website`);
  const edited = () => ask<EditedWebsite>('owner', 'GET', at);
  const sees = async (token: string, folderId: string) =>
    (await call('visitor without', 'GET', `/api/open/${token}/folders/${folderId}`)).status === 200;
  const entries = { note, lesson, days };
  return {
    classX,
    pupil,
    heading: heading.id,
    unit,
    field,
    sheet,
    entries,
    put,
    change,
    site,
    edited,
    sees,
  };
}
const titles = ({ top, loose, headings }: ClassWebsite) =>
  [...top, ...loose, ...headings.flatMap(({ entries }) => entries)].map(({ title }) => title);

describe('the website of a class', () => {
  it('shows what visitors can open under the chosen headings, and nothing else of the page', async () => {
    const { heading, unit, field, sheet, change, site, edited, sees, classX } = await made();
    const { door } = await change({});
    const token = tokenOf(door);
    expect(await ask<DoorState>('visitor without', 'GET', `/api/open/${token}`)).toMatchObject({
      ...{ state: 'open', website: true, folderId: null, placementId: null },
    });
    expect(await site(token)).toMatchObject({ id: classX, top: [], loose: [], headings: [] });
    expect(await sees(token, unit)).toBe(false);

    // A heading by itself opens nothing.
    await change({ headings: [heading] });
    expect(titles(await site(token))).toEqual([]);
    expect((await edited()).entries.flatMap(({ things }) => things)).toMatchObject([
      ...[
        { id: field, state: 'closed' },
        { id: unit, state: 'closed' },
      ],
    ]);

    const { opened } = await change({ headings: [heading], open: [asFolder(unit)] });
    expect(opened).toHaveLength(1);
    const { headings } = await site(token);
    expect(headings).toMatchObject([
      { title: 'Soil', entries: [{ title: 'Lesson', text: '', things: [{ id: unit }] }] },
    ]);
    expect(await sees(token, unit)).toBe(true);
    expect(
      (await call('visitor without', 'GET', `/api/open/${token}/placements/${sheet}`)).status,
    ).toBe(200);
    expect(await sees(token, field)).toBe(false);

    // Whoever closes the address of the folder takes it from the website as well.
    await ask('owner', 'DELETE', `/api/doors/${opened[0]!}`);
    expect(titles(await site(token))).toEqual([]);
    expect(await sees(token, unit)).toBe(false);
    await ask('owner', 'POST', `/api/doors/${opened[0]!}/reopen`);
    expect(await sees(token, unit)).toBe(true);

    // So does whoever takes the heading from it, though the folder keeps its own address.
    await change({});
    expect(await sees(token, unit)).toBe(false);
    await ask('owner', 'DELETE', `/api/doors/${door.id}`);
    await refused(
      await call('visitor without', 'GET', `/api/open/${token}/website`),
      404,
      'not-found',
    );
  });

  it('shows words only where they were opened, and says of the rest what it may', async () => {
    const { heading, entries, unit, change, site } = await made();
    const headings = [heading];
    const { door } = await change({ headings, texts: [entries.note], open: [asFolder(unit)] });
    const token = tokenOf(door);
    const before = await site(token);
    expect(before.headings[0]!.entries.map(({ title, text }) => [title, text])).toEqual([
      ['Lesson', ''],
      ['Note', 'Bring boots.'],
    ]);
    expect(before.signedIn).toBe(null);
    await change({ headings, texts: [entries.note], tells: 'number' });
    expect((await site(token)).signedIn).toEqual({ entries: 1, titles: [] });
    await change({ headings, tells: 'titles' });
    expect((await site(token)).signedIn).toEqual({ entries: 2, titles: ['Note'] });
    await change({ loose: true, tells: 'titles' });
    expect((await site(token)).signedIn).toEqual({ entries: 3, titles: ['Soil', 'Days'] });
    expect(JSON.stringify(await site(token))).not.toContain('boots');
  });

  it('has no draft, nothing for some members, nothing before its time, and nothing that is held back', async () => {
    const { heading, entries, unit, change, site, sees, pupil } = await made();
    const { door } = await change({
      ...{ headings: [heading], texts: Object.values(entries), open: [asFolder(unit)] },
    });
    const token = tokenOf(door);
    const at = `/api/appearances/${entries.lesson}`;
    const out = { held: false, from: null, until: null };
    expect(await sees(token, unit)).toBe(true);
    await ask('owner', 'PATCH', at, { release: { ...out, held: true } });
    expect(titles(await site(token))).toEqual(['Note']);
    expect(await sees(token, unit)).toBe(false);
    const from = new Date(clock.now + 60_000).toISOString();
    await ask('owner', 'PATCH', at, { release: { ...out, from } });
    expect(await sees(token, unit)).toBe(false);
    clock.now += 61_000;
    expect(await sees(token, unit)).toBe(true);
    await ask('owner', 'PATCH', at, { people: [pupil] });
    expect(await sees(token, unit)).toBe(false);
    await ask('owner', 'PATCH', at, { people: null });
    expect(await sees(token, unit)).toBe(true);
    await ask('owner', 'POST', '/api/bin', { things: [asFolder(unit)] });
    expect(
      (await site(token)).headings[0]!.entries.map(({ title, things }) => [title, things.length]),
    ).toEqual([
      ['Lesson', 0],
      ['Note', 0],
    ]);
  });

  it('leads to nothing above or beside what is on it, though that has an address of its own', async () => {
    const { heading, change, put, site, sees } = await made();
    const above = await folder('Everything of mine');
    const inner = await folder('Only this', above);
    await openPublicly(above);
    await put('Inner', [asFolder(inner)], heading);
    const token = tokenOf((await change({ headings: [heading] })).door);
    expect(titles(await site(token))).not.toContain('Inner');
    await change({ headings: [heading], open: [asFolder(inner)] });
    expect(titles(await site(token))).toContain('Inner');
    expect(await sees(token, inner)).toBe(true);
    expect(await sees(token, above)).toBe(false);
    const reply = await call('visitor without', 'GET', `/api/open/${token}/folders/${inner}`);
    expect(await reply.text()).not.toContain('Everything of mine');
  });

  it('makes nothing known that a colleague opened for somebody else, or with a password', async () => {
    const { heading, change, put, site, sees, edited } = await made();
    const theirs = await folder('For a partner firm');
    const { id, address } = await openPublicly(theirs);
    const word = await ask<Door>('owner', 'PATCH', `/api/doors/${id}`, { word: 'larch' });
    expect(word.hasWord).toBe(true);
    await put('Partner', [asFolder(theirs)], heading);
    const token = tokenOf((await change({ headings: [heading] })).door);
    expect(await sees(token, theirs)).toBe(false);
    expect(titles(await site(token))).not.toContain('Partner');
    const state = async () =>
      (await edited()).entries.flatMap(({ things }) => things).find((one) => one.id === theirs)!
        .state;
    expect(await state()).toBe('other');
    await ask('owner', 'PATCH', `/api/doors/${id}`, { word: '' });
    expect(await sees(token, theirs)).toBe(true);
    // As if a colleague had made the address who does not teach the class.
    await db.execute(
      `update doors set created_by = '${world.ids.colleague}' where token = '${address.split('/').at(-1)!}'`,
    );
    expect(await sees(token, theirs)).toBe(false);
    expect(await state()).toBe('other');
  });

  it('is made by those alone who teach the class, and opens only what they decide about', async () => {
    const { heading, change, classX, site } = await made();
    const at = `/api/class-pages/${classX}/website`;
    for (const who of ['colleague', 'office', 'student in', 'other school'] as const) {
      await refused(await call(who, 'PUT', at, NOTHING), 404, 'not-found');
      await refused(await call(who, 'GET', at), 404, 'not-found');
    }
    const foreign = (
      await ask<{ id: string }>('colleague', 'POST', '/api/folders', {
        ...{ parentId: null, title: 'A colleague’s' },
      })
    ).id;
    await refused(
      await call('owner', 'PUT', at, { ...NOTHING, open: [asFolder(foreign)] }),
      404,
      'not-found',
    );
    // Nothing of a change that is refused has happened.
    expect((await ask<EditedWebsite>('owner', 'GET', at)).door).toBe(null);
    const { door } = await change({ headings: [heading] });
    for (const who of ['colleague', 'office', 'student in', 'other school'] as const) {
      await refused(
        await call(who, 'PATCH', `/api/doors/${door.id}`, { listed: true }),
        404,
        'not-found',
      );
      await refused(await call(who, 'DELETE', `/api/doors/${door.id}`), 404, 'not-found');
    }
    // A heading of another class is none of this one.
    const other = await made();
    await change({ headings: [other.heading] });
    expect((await other.edited()).headings[0]!.onWebsite).toBe(false);
    expect(titles(await site(tokenOf(door)))).toEqual([]);
  });

  it('has one address, however many open it at a time, and none once the class or its year is over', async () => {
    const { change, edited, classX } = await made();
    const [one, two] = await Promise.all([change({}), change({})]);
    expect(one.door.id).toBe(two.door.id);
    const token = tokenOf(one.door);
    const state = async () => ask<DoorState>('visitor without', 'GET', `/api/open/${token}`);
    expect((await edited()).door?.id).toBe(one.door.id);
    const { doors } = await ask<Doors>('owner', 'GET', '/api/doors');
    expect(doors.find(({ id }) => id === one.door.id)).toMatchObject({ classId: classX });
    const [{ yearId }] = (await db.select().from(classes).where(eq(classes.id, classX))) as [
      typeof classes.$inferSelect,
    ];
    await db
      .update(years)
      .set({ closedAt: new Date(clock.now) })
      .where(eq(years.id, yearId));
    expect(await state()).toMatchObject({ state: 'wall', reason: 'closed', ask: null });
    await db.update(years).set({ closedAt: null }).where(eq(years.id, yearId));
    expect(await state()).toMatchObject({ state: 'open' });
    await db
      .update(classes)
      .set({ removedAt: new Date(clock.now) })
      .where(eq(classes.id, classX));
    expect(await state()).toMatchObject({ state: 'wall', reason: 'closed', ask: null });
    await refused(
      await call('student in', 'POST', `/api/open/${token}/requests`, {}),
      404,
      'not-found',
    );
  });

  it('for people at the school asks them to sign in, and shows what is open to them', async () => {
    const { heading, unit, change, site, sees } = await made();
    const { door } = await change({ kind: 'school', headings: [heading], open: [asFolder(unit)] });
    const token = tokenOf(door);
    expect(door.kind).toBe('school');
    expect(await sees(token, unit)).toBe(false);
    expect(await ask<DoorState>('visitor without', 'GET', `/api/open/${token}`)).toMatchObject({
      ...{ state: 'wall', reason: 'sign-in', ask: null },
    });
    await refused(
      await call('other school', 'GET', `/api/open/${token}/website`),
      404,
      'not-found',
    );
    expect(titles(await site(token, 'student out'))).toEqual(['Lesson']);
  });

  it('can be kept a folder of, which opens again from there as long as it is on it', async () => {
    const { heading, unit, change } = await made();
    const body = { headings: [heading], open: [asFolder(unit)] };
    const token = tokenOf((await change(body)).door);
    await ask('student out', 'POST', `/api/open/${token}/kept`, asFolder(unit));
    const kept = async () =>
      (
        await ask<{ things: { title: string; folderId: string | null }[] }>(
          'student out',
          'GET',
          '/api/kept',
        )
      ).things.find(({ title }) => title === 'Unit 1');
    expect(await kept()).toMatchObject({ folderId: unit, token });
    await change({});
    expect(await kept()).toMatchObject({ folderId: null });
  });

  it('is known to feed readers and to other websites by its title and address alone', async () => {
    const { heading, unit, change, classX } = await made();
    const { door } = await change({ headings: [heading], open: [asFolder(unit)], tells: 'titles' });
    const token = tokenOf(door);
    const feed = await call('visitor without', 'GET', `/api/open/${token}/atom.xml`);
    expect(await feed.text()).toContain('Sheet in the unit');
    const oembed = (more = '') => `/api/oembed?url=${encodeURIComponent(door.address)}${more}`;
    const reply = await ask<{ title: string; html: string; width: number; height: number }>(
      ...(['visitor without', 'GET', oembed('&maxwidth=320&maxheight=9000')] as const),
    );
    const { course, code } = await ask<{ course: string; code: string }>(
      ...(['owner', 'GET', `/api/class-pages/${classX}/edited`] as const),
    );
    expect(reply).toMatchObject({ title: `${course} ${code}`, width: 320, height: 480 });
    expect(reply.html).toContain(`/embed/${token}"`);
    await refused(await call('visitor without', 'GET', oembed('&format=xml')), 501, 'json-only');
    for (const url of [
      `${door.address.replace(token, `${token}x`)}`,
      `https://elsewhere.example/open/${token}`,
      'javascript:alert(1)',
      'not an address',
    ])
      await refused(
        await call('visitor without', 'GET', `/api/oembed?url=${encodeURIComponent(url)}`),
        404,
        'not-found',
      );
    await ask('owner', 'PATCH', `/api/doors/${door.id}`, { word: 'larch' });
    await refused(await call('visitor without', 'GET', oembed()), 404, 'not-found');
  });

  it('goes on when a teacher leaves the course, without what they opened', async () => {
    const { heading, unit, change, sees, classX } = await made();
    const token = tokenOf((await change({ headings: [heading], open: [asFolder(unit)] })).door);
    expect(await sees(token, unit)).toBe(true);
    const [{ courseId }] = (await db.select().from(classes).where(eq(classes.id, classX))) as [
      typeof classes.$inferSelect,
    ];
    await db.delete(courseTeachers).where(eq(courseTeachers.courseId, courseId));
    expect(await sees(token, unit)).toBe(false);
  });
});
