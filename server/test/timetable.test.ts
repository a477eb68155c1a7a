import type { CalendarLessons, PageDraft, SchoolDay, Timetable, Tray } from '@sammlung/contract';
import { afterAll, describe, expect, it } from 'vitest';
import { startServer } from './harness.ts';
import { uploader } from './upload.ts';

const server = await startServer();
const { ask, call, clock, world } = server;
const { send } = uploader(server);
afterAll(() => server.stop());

const calendar = (...events: string[]) =>
  [
    ...['BEGIN:VCALENDAR', 'VERSION:2.0', 'PRODID:-//Fennmoor//Test//EN'],
    ...events.map(
      (lines) =>
        `BEGIN:VEVENT\r\nUID:${lines.length}@test\r\nDTSTAMP:20260801T000000Z\r\n${lines}\r\nEND:VEVENT`,
    ),
    'END:VCALENDAR',
  ].join('\r\n');
const timetable = () => ask<Timetable>('owner', 'GET', '/api/timetable');
const lessonsOf = async (id: string) =>
  (await timetable()).classes.find((one) => one.id === id)!.lessons;

describe('the timetable', () => {
  it('is set class by class, each lesson once', async () => {
    const lessons = [
      { weekday: 2, period: 1 },
      { weekday: 4, period: 3 },
      { weekday: 2, period: 1 },
    ];
    await ask('owner', 'PUT', `/api/classes/${world.classA}/lessons`, { lessons });
    expect(await lessonsOf(world.classA)).toEqual(lessons.slice(0, 2));
    await ask('office', 'PUT', `/api/classes/${world.classA}/lessons`, { lessons: [] });
    expect(await lessonsOf(world.classA)).toEqual([]);
  });

  it('is read from a calendar, by the codes of classes, and changes nothing by itself', async () => {
    const text = calendar(
      'SUMMARY:A\r\nDTSTART;TZID=Europe/Amsterdam:20260901T081500\r\nRRULE:FREQ=WEEKLY;BYDAY=TU,TH',
      'SUMMARY:Class B in room 4\r\nDTSTART:20260902T084500Z\r\nRRULE:FREQ=WEEKLY',
      'SUMMARY:Staff meeting\r\nDTSTART:20260902T150000Z\r\nRRULE:FREQ=WEEKLY',
      'SUMMARY:B\r\nDTSTART;VALUE=DATE:20260903',
    );
    const found = await ask<CalendarLessons>('owner', 'POST', '/api/timetable/calendar', { text });
    expect(found.others).toBe(1);
    expect(Object.fromEntries(found.classes.map(({ id, lessons }) => [id, lessons]))).toEqual({
      [world.classA]: [
        { weekday: 2, period: 1 },
        { weekday: 4, period: 1 },
      ],
      [world.classB]: [{ weekday: 3, period: 2 }],
    });
    expect(await lessonsOf(world.classA)).toEqual([]);
    for (const bad of ['no calendar', 'BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nDTSTART:nonsense'])
      expect((await call('owner', 'POST', '/api/timetable/calendar', { text: bad })).status).toBe(
        422,
      );
  });

  it('has terms and days off by which things go out', async () => {
    const days: SchoolDay[] = [
      { kind: 'off', title: 'Long weekend', firstDay: '2026-11-26', lastDay: '2026-11-30' },
    ];
    const text = calendar(
      'SUMMARY:Winter break\r\nDTSTART;VALUE=DATE:20261219\r\nDTEND;VALUE=DATE:20270104',
    );
    const read = await ask<{ days: SchoolDay[] }>('office', 'POST', '/api/school-days/calendar', {
      text,
    });
    expect(read.days).toEqual([
      { kind: 'off', title: 'Winter break', firstDay: '2026-12-19', lastDay: '2027-01-03' },
    ]);
    // What never ends is read once, and days outside every year are kept: that year may come.
    const endless = calendar(
      'SUMMARY:Founding day\r\nDTSTART;VALUE=DATE:20360901\r\nRRULE:FREQ=SECONDLY',
    );
    const once = await ask<{ days: SchoolDay[] }>('office', 'POST', '/api/school-days/calendar', {
      text: endless,
    });
    const founding = { kind: 'off', title: 'Founding day' } as const;
    expect(once.days).toEqual([{ ...founding, firstDay: '2036-09-01', lastDay: '2036-09-01' }]);
    await ask('office', 'PUT', '/api/school-days', { days: [...days, ...once.days] });
    expect((await timetable()).days).toEqual(expect.arrayContaining(once.days));
    await ask('office', 'PUT', '/api/school-days', { days: [...days, ...read.days] });
    expect((await timetable()).days).toHaveLength(2);
    expect((await call('owner', 'PUT', '/api/school-days', { days })).status).toBe(404);
    const backwards = [{ ...days[0], lastDay: '2026-11-01' }];
    expect((await call('office', 'PUT', '/api/school-days', { days: backwards })).status).toBe(400);

    // A Wednesday; lessons on Mondays and Tuesdays, of which the first Monday is off.
    clock.now = Date.parse('2026-11-25T13:00:00Z');
    const lessons = [
      { weekday: 1, period: 1 },
      { weekday: 2, period: 1 },
    ];
    await ask('owner', 'PUT', `/api/classes/${world.classA}/lessons`, { lessons });
    const { id: folderId } = await ask<{ id: string }>('owner', 'POST', '/api/folders', {
      ...{ parentId: null, title: 'Unit of the timetable' },
    });
    await ask('owner', 'POST', '/api/grants', {
      ...{ things: [{ kind: 'folder', id: folderId }], level: 'view', from: null, until: null },
      audiences: [{ kind: 'class', id: world.classA }],
    });
    // What is written today on a page of the class belongs to its last lesson.
    const page = await ask<{ id: string }>('owner', 'POST', '/api/pages', {
      ...{ folderId, title: 'Log of the class' },
    });
    const draft = await ask<PageDraft>('owner', 'GET', `/api/placements/${page.id}/draft`);
    expect(draft.lessonDay).toBe('2026-11-24');
    const feed = await ask<{ address: string }>('owner', 'POST', '/api/feeds', { classId: null });
    const ics = await (await fetch(feed.address)).text();
    expect(ics).toContain('SUMMARY:Winter break');
    expect(ics).toMatch(/DTSTART;VALUE=DATE:20261219\r\nDTEND;VALUE=DATE:20270104/u);

    const uploadId = await send('owner', 'tray', 'A quiz 1 key.txt', 'worked answers', 14);
    await ask('owner', 'POST', '/api/tray', { uploadId });
    const { files } = await ask<Tray>('owner', 'GET', '/api/tray');
    expect(files[0]!.proposal).toMatchObject({ kind: 'key', lessonDate: '2026-11-24' });
    const { steps } = await ask<{ steps: { out: { from: string }[] }[] }>(
      'owner',
      'POST',
      '/api/tray/preview',
      {
        rows: [
          {
            ...{ fileId: files[0]!.id, title: 'Quiz 1, key', lessonDate: '2026-11-24' },
            to: [{ classId: world.classA, folderId, goesOut: 'next-lesson' }],
          },
        ],
      },
    );
    expect(steps[0]!.out[0]!.from.slice(0, 10)).toBe('2026-12-01');
  });
});
