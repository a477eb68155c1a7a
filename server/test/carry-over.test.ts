import type {
  CarryOver,
  CarryPlan,
  CarryPreview,
  CarryYear,
  ClassPage,
  Contents,
  Courses,
  MadeLayout,
  PageText,
  StaleMark,
  Timing,
  Tree,
  YearProposal,
} from '@sammlung/contract';
import { sql } from 'drizzle-orm';
import { afterAll, describe, expect, it } from 'vitest';
import { mendHtml } from '../src/features/carry-over/marks.ts';
import { startServer } from './harness.ts';
import { shownPage } from './pages.ts';

const server = await startServer();
const { ask, call, db, refused, world } = server;
afterAll(() => server.stop());

/** The next year with the same classes; resolves to it, and to its classes A, B. */
async function nextYear() {
  const { courses, ...next } = await ask<YearProposal>(
    'office',
    'GET',
    `/api/years/${world.yearId}/next`,
  );
  const { id } = await ask<{ id: string }>('office', 'POST', '/api/years', {
    ...next,
    courses: courses
      .filter((course) => course.id === world.courseId)
      .map((course) => ({
        from: course.id,
        classes: course.classes.map((one) => ({ from: one.id, code: `${one.code}2` })),
      })),
  });
  const { courses: taught } = await ask<Courses>('owner', 'GET', '/api/courses');
  const classes = taught.find(({ yearId }) => yearId === id)!.classes;
  const [a, b] = ['A2', 'B2'].map((code) => classes.find((one) => one.code === code)!.id);
  return { year: id, a: a!, b: b! };
}
const { year, a, b } = await nextYear();
await ask('office', 'PUT', '/api/school-days', {
  days: [{ kind: 'off', title: 'Break', firstDay: '2027-10-18', lastDay: '2027-10-29' }],
});

const plan = (more: Partial<CarryPlan>): CarryPlan => ({
  ...{ from: world.yearId, to: year, folders: [], pages: [], boxes: [], names: [] },
  classes: [{ from: world.classA, to: [a] }],
  ...{ into: null, handOut: false, ...more },
});
const preview = (body: CarryPlan) =>
  ask<CarryPreview>('owner', 'POST', '/api/carry-over/preview', body);
async function carry(more: Partial<CarryPlan>): Promise<CarryOver> {
  const { id } = await ask<{ id: string }>('owner', 'POST', '/api/carry-over', plan(more));
  return ask('owner', 'GET', `/api/carry-over/${id}`);
}
const undo = (id: string) => ask('owner', 'DELETE', `/api/carry-over/${id}`);
const tree = async () => (await ask<Tree>('owner', 'GET', '/api/library/tree')).folders;
const contents = (folder: string) =>
  ask<Contents>('owner', 'GET', `/api/folders/${folder}/contents`);
/** All that people see of folders and things, and all that is there. */
const everything = async () =>
  (
    await db.execute(sql`
      select 'folder' as kind, id, title, parent_id::text as place, held, from_at from folders where binned_at is null
        and not exists (select from folders a where a.id = any (folders.path) and a.binned_at is not null)
      union all select 'placement', p.id, p.name_key, folder_id::text, p.held, p.from_at from placements p
        join folders f on f.id = p.folder_id where p.binned_at is null
          and not exists (select from folders a where a.id = any (f.path) and a.binned_at is not null)
      union all select 'grant', id, '', coalesce(folder_id, item_id)::text, false, from_at from grants where taken_back_at is null and not of_place
      union all select 'appearance', id, '', class_id::text, held, from_at from appearances where taken_back_at is null
      union all select 'box', id, title, class_id::text, false, ends_at from boxes where removed_at is null
      union all select 'heading', id, title, class_id::text, false, null from headings where removed_at is null
      order by kind, id`)
  ).rows;

describe('what there is to carry over', () => {
  it('are the folders that the classes of a year have, each once, and those that are of the year', async () => {
    const scene = await server.scene();
    const { years } = await ask<{ years: CarryYear[] }>('owner', 'GET', '/api/carry-over');
    expect(years.map(({ label }) => label)).toEqual(['2027/28', '2026/27']);
    const [, old] = years;
    expect(old!.folders.filter(({ id }) => id === scene.handed)).toEqual([
      {
        ...{ id: scene.handed, title: 'Handed out', mark: null, classes: [world.classA] },
        ...{ folders: 1, things: 1, only: false },
      },
    ]);
    expect(old!.classes.map(({ code }) => code)).toContain('A');
    // Nobody else has them.
    await refused(await call('student in', 'GET', '/api/carry-over'), 404, 'not-found');
    const other = await ask<{ years: CarryYear[] }>('colleague', 'GET', '/api/carry-over');
    expect(other.years.flatMap(({ folders, classes }) => [...folders, ...classes])).toEqual([]);
  });
});

describe('carrying over', () => {
  it('makes the structure again, places files again and copies pages; nothing is handed out, and Undo leaves nothing', async () => {
    const scene = await server.scene();
    const page = await shownPage(server, scene.handed);
    const html = `<h2 data-day="2026-10-06">Tue 6 October 2026</h2><p>Until 9 October 2026, class A.</p><p data-placement="${scene.placement}"></p>`;
    await ask('owner', 'POST', `/api/placements/${page.id}/shown`, {
      ...{ html, base: 1, after: null },
    });
    await ask('owner', 'PATCH', `/api/folders/${scene.inner}`, { title: 'Plan 2026-27 A' });
    await ask('owner', 'POST', '/api/releases', {
      things: [{ kind: 'placement', id: scene.placement }],
      rules: [
        {
          classId: world.classA,
          release: { held: false, from: '2026-10-06T06:00:00.000Z', until: null },
        },
        { classId: null, release: { held: true, from: null, until: null } },
      ],
    });
    const before = await everything();
    const seen = await preview(plan({ folders: [scene.handed] }));
    expect(seen).toMatchObject({
      counts: { folders: 2, placements: 2, copies: 1, entries: 0, boxes: 0 },
      ...{ there: 0, removed: 0, sight: [], seenBy: [] },
      trees: [
        {
          ...{ folder: scene.handed, key: a, classes: [{ code: 'A2' }], more: 0 },
          rows: [
            { depth: 0, before: 'Handed out', after: 'Handed out', things: 1, there: null },
            { depth: 1, before: 'Plan 2026-27 A', after: 'Plan 2027-28 A2', things: 1 },
          ],
        },
      ],
    });
    const done = await carry({ folders: [scene.handed] });
    expect(done).toMatchObject({
      ...{ state: 'done', done: 4, total: 4, fault: null, undone: false, made: seen.counts },
      ...{ from: '2026/27', to: '2027/28' },
    });
    const made = (await tree()).filter(({ title }) => title === 'Handed out').at(-1)!;
    expect(made.parentId).toBeNull();
    const inner = (await tree()).find(({ parentId }) => parentId === made.id)!;
    expect(inner.title).toBe('Plan 2027-28 A2');
    const [copy] = (await contents(made.id)).items;
    expect(copy).toMatchObject({ kind: 'page', title: 'Page' });
    const [placed] = (await contents(inner.id)).items;
    expect(placed!.itemId).toBe(scene.itemId);
    // The page refers to what is beside it now.
    const text = () =>
      ask<PageText>('owner', 'GET', `/api/placements/${copy!.placementId}/page`).then(
        (one) => one.html,
      );
    expect(await text()).toBe(html.replace(scene.placement, placed!.placementId));
    // What was out for the class before is out for the one that takes its place, a year later.
    const release = { held: false, from: '2027-10-05T06:00:00.000Z', until: null };
    const timing = await ask<Timing>(
      'owner',
      'GET',
      `/api/placements/${placed!.placementId}/timing`,
    );
    expect(timing.general).toEqual(release);
    // Nobody has any of it.
    const after = await everything();
    const grants = (rows: typeof after) => rows.filter(({ kind }) => kind === 'grant');
    expect(grants(after)).toEqual(grants(before));

    // Again: nothing is missing.
    const again = await carry({ folders: [scene.handed] });
    expect(again.made).toMatchObject({ folders: 0, placements: 0 });
    expect(await everything()).toEqual(after);

    // What is out of date on the page is mended in one go, with its day.
    expect(done.marks).toBe(1);
    const { marks } = await ask<{ marks: StaleMark[] }>(
      'owner',
      'GET',
      `/api/carry-over/${done.id}/marks`,
    );
    expect(marks).toMatchObject([
      { place: 'text', title: 'Page', found: 'Tue 6 October 2026', proposed: 'Tue 5 October 2027' },
    ]);
    const settled = await ask('owner', 'POST', `/api/carry-over/${done.id}/marks`, {
      ...{ ids: null, mend: true },
    });
    expect(settled).toEqual({ settled: 1, left: 0 });
    expect((await ask<CarryOver>('owner', 'GET', `/api/carry-over/${done.id}`)).marks).toBe(0);
    expect(await text()).toMatch(
      /^<h2 data-day="2027-10-05">Tue 5 October 2027<\/h2><p>Until 8 October 2027, class A2\.<\/p>/u,
    );

    await undo(again.id);
    await undo(done.id);
    expect(await everything()).toEqual(before);
    await refused(
      await call('owner', 'DELETE', `/api/carry-over/${done.id}`),
      409,
      'changed-since',
    );
  });

  it('is for each class that takes the place of one, hands out where that is said, and tells what they will see', async () => {
    const scene = await server.scene();
    const body = {
      folders: [scene.handed],
      classes: [{ from: world.classA, to: [a, b] }],
      handOut: true,
    };
    const seen = await preview(plan(body));
    expect(seen.trees.map(({ key }) => key).sort()).toEqual([a, b].sort());
    expect(seen.sight.map(({ code, students, now }) => [code, students, now]).sort()).toEqual([
      ['A2', 0, 1],
      ['B2', 0, 1],
    ]);
    const done = await carry(body);
    const names = (await tree()).filter(({ title }) => title.startsWith('Handed out'));
    expect(names.slice(-2).map(({ title }) => title)).toEqual(['Handed out', 'Handed out 2']);
    const [grants] = (
      await db.execute(
        sql`select count(*)::int as n from grants where class_id in (${a}::uuid, ${b}::uuid) and taken_back_at is null`,
      )
    ).rows as { n: number }[];
    expect(grants!.n).toBe(2);
    await undo(done.id);
    const left = await db.execute(
      sql`select from grants where class_id in (${a}::uuid, ${b}::uuid) and taken_back_at is null`,
    );
    expect(left.rows).toEqual([]);
  });

  it('adds what is missing later, under whichever name the rest has by now, and leaves what was removed', async () => {
    const scene = await server.scene();
    const first = await carry({ folders: [scene.handed] });
    const made = (await tree()).filter(({ title }) => title === 'Handed out').at(-1)!;
    const inner = (await tree()).find(({ parentId }) => parentId === made.id)!;
    await ask('owner', 'PATCH', `/api/folders/${made.id}`, { title: 'Renamed' });
    await ask('owner', 'POST', '/api/bin', { things: [{ kind: 'folder', id: inner.id }] });
    await ask('owner', 'POST', '/api/folders', { parentId: scene.handed, title: 'Late' });
    const seen = await preview(plan({ folders: [scene.handed] }));
    expect(seen).toMatchObject({ there: 1, removed: 1, counts: { folders: 1, placements: 0 } });
    const second = await carry({ folders: [scene.handed] });
    const below = (await tree()).filter(({ parentId }) => parentId === made.id);
    expect(below.map(({ title }) => title)).toEqual(['Late']);
    // The first is undone by itself: what came later goes with the folder that it is in.
    await undo(second.id);
    expect((await tree()).filter(({ parentId }) => parentId === made.id)).toEqual([]);
    await undo(first.id);
    expect((await tree()).some(({ id }) => id === made.id)).toBe(false);
  });

  it('takes entries along as drafts, and boxes with their ends', async () => {
    const scene = await server.scene();
    const { id: heading } = await ask<{ id: string }>(
      'owner',
      'POST',
      `/api/class-pages/${world.classA}/headings`,
      { title: 'Autumn 2026', mark: null, colour: null },
    );
    const on = {
      ...{ classId: world.classA, headingId: heading, keepOnTop: true, people: null },
      release: { held: false, from: null, until: null },
    };
    await ask('owner', 'POST', '/api/entries', {
      ...{ title: 'Read until 9 October 2026', text: 'For class A.' },
      ...{ things: [{ kind: 'folder', id: scene.handed }], on: [on] },
    });
    await ask('owner', 'POST', '/api/entries', {
      ...{ title: 'For one', text: '', things: [] },
      on: [{ ...on, people: [world.ids['student in']] }],
    });
    const { ids } = await ask<{ ids: string[] }>('owner', 'POST', '/api/boxes', {
      ...{ title: 'Report', endsAt: '2026-10-20T10:00:00.000Z', classIds: [world.classA] },
    });
    const body = { folders: [scene.handed], pages: [world.classA], boxes: ids };
    const seen = await preview(plan(body));
    expect(seen).toMatchObject({
      counts: { headings: 1, entries: 1, boxes: 1 },
      leftOut: 1,
      words: [
        { before: 'Read until 9 October 2026', after: 'Read until 8 October 2027' },
        { before: 'For class A.', after: 'For class A2.' },
      ],
      ends: [{ title: 'Report', before: '2026-10-20T10:00:00.000Z' }],
    });
    const before = await everything();
    const done = await carry(body);
    const page = await ask<ClassPage>('owner', 'GET', `/api/class-pages/${a}/edited`);
    expect(JSON.stringify(page)).toContain('Read until 8 October 2027');
    // A Tuesday in the break becomes the next day with school.
    const { rows: ends } = await db.execute(
      sql`select to_json(ends_at) #>> '{}' as at from boxes where class_id = ${a}::uuid and removed_at is null`,
    );
    expect(ends).toEqual([{ at: '2027-11-01T10:00:00+00:00' }]);
    const { rows: appearing } = await db.execute(
      sql`select a.held, a.keep_on_top, h.title, t.folder_id from appearances a join headings h on h.id = a.heading_id
        join entry_things t on t.entry_id = a.entry_id where a.class_id = ${a}::uuid and a.taken_back_at is null`,
    );
    const made = (await tree()).filter(({ title }) => title === 'Handed out').at(-1)!;
    expect(appearing).toEqual([
      { held: true, keep_on_top: true, title: 'Autumn 2027', folder_id: made.id },
    ]);
    const again = await carry(body);
    expect(again.made).toMatchObject({ headings: 0, entries: 0, boxes: 0, folders: 0 });
    await undo(done.id);
    expect(await everything()).toEqual(before);
  });

  it('is refused for a year itself, a closed one, and for what is somebody else’s', async () => {
    const scene = await server.scene();
    const at = (who: 'owner' | 'colleague' | 'student in' | 'office', body: CarryPlan) =>
      call(who, 'POST', '/api/carry-over', body);
    await refused(await at('owner', plan({ to: world.yearId, classes: [] })), 422, 'same-year');
    await refused(
      await at('owner', plan({ classes: [{ from: world.classA, to: [world.classA] }] })),
      404,
      'not-found',
    );
    for (const who of ['colleague', 'student in', 'office'] as const)
      await refused(await at(who, plan({ folders: [scene.handed] })), 404, 'not-found');
    await refused(
      await at('owner', plan({ boxes: ['00000000-0000-4000-8000-000000000000'] })),
      404,
      'not-found',
    );
    await refused(await at('owner', plan({ pages: [world.classB] })), 404, 'not-found');
    await refused(
      await at('owner', plan({ names: [{ folder: scene.handed, key: a, title: 'a/b' }] })),
      422,
      'name-not-allowed',
    );
    await ask('office', 'PUT', `/api/years/${year}/closed`);
    await refused(await at('owner', plan({ folders: [scene.handed] })), 409, 'year-closed');
    await ask('office', 'DELETE', `/api/years/${year}/closed`);
    const done = await carry({ folders: [scene.handed] });
    for (const [method, path] of [
      ['GET', ''],
      ['DELETE', ''],
      ['GET', '/marks'],
    ] as const)
      await refused(
        await call('colleague', method, `/api/carry-over/${done.id}${path}`),
        404,
        'not-found',
      );
    await undo(done.id);
  });

  it('is undone no further than what was made is still one’s own', async () => {
    const scene = await server.scene();
    const done = await carry({ folders: [scene.handed], handOut: true });
    const to = await server.enrol('manages', 'teacher');
    const { id } = await ask<{ id: string }>(
      'office',
      'POST',
      `/api/people/${world.ids.owner}/hand-over`,
      { to },
    );
    const grants = () =>
      db.execute(sql`select from grants where class_id = ${a}::uuid and taken_back_at is null`);
    expect((await grants()).rows).toHaveLength(1);
    await undo(done.id);
    expect((await grants()).rows).toHaveLength(1);
    await ask('office', 'DELETE', `/api/hand-overs/${id}`);
    await db.execute(sql`update grants set taken_back_at = now() where class_id = ${a}::uuid`);
  });

  it('is done once by two who ask for the same at a time', async () => {
    const scene = await server.scene();
    const before = (await tree()).length;
    const both = await Promise.all([1, 2].map(() => carry({ folders: [scene.handed] })));
    expect(both.map(({ state }) => state)).toEqual(['done', 'done']);
    expect(both.map(({ made }) => made!.folders).sort()).toEqual([0, 2]);
    expect((await tree()).length).toBe(before + 2);
  });
});

it('is of the year of its class where it was laid out for that; else that is set, but for years that are closed', async () => {
  const { folders } = await ask<MadeLayout>('owner', 'POST', '/api/layout', {
    ...{ pattern: 'Of {class}', purpose: '', outline: 'Unit', parentId: null },
    ...{ classIds: [a], handOut: false },
  });
  const path = `/api/folders/${folders[0]!.folderId}/year`;
  const now = () => ask<{ year: { id: string } | null }>('owner', 'GET', path);
  expect((await now()).year?.id).toBe(year);
  await ask('owner', 'PUT', path, { yearId: null });
  expect((await now()).year).toBeNull();
  await ask('owner', 'PUT', path, { yearId: year });
  await ask('office', 'PUT', `/api/years/${year}/closed`);
  expect(await now()).toMatchObject({
    year: { id: year, closed: true },
    years: [{ id: world.yearId, label: '2026/27' }],
  });
  await refused(await call('owner', 'PUT', path, { yearId: null }), 409, 'year-closed');
  await refused(await call('owner', 'PUT', path, { yearId: world.classA }), 404, 'not-found');
  await ask('office', 'DELETE', `/api/years/${year}/closed`);
});

it('mends the text of a page, and the days that its headings begin', () => {
  const from = { firstDay: '2025-09-01', lastDay: '2026-07-31', classes: ['A'] };
  const into = { firstDay: '2026-09-01', lastDay: '2027-07-31', classes: ['B'] };
  expect(
    mendHtml(
      '<h2 data-day="2025-10-07">Tue 7 October 2025</h2><p>Class A, <strong>2025/26</strong>.</p><h2>A</h2>',
      from,
      into,
    ),
  ).toBe(
    '<h2 data-day="2026-10-06">Tue 6 October 2026</h2><p>Class B, <strong>2026/27</strong>.</p><h2>B</h2>',
  );
});
