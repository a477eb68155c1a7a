import { randomUUID } from 'node:crypto';
import { afterAll, describe, expect, it } from 'vitest';
import { courseTeachers } from '../src/db/schema/index.ts';
import { setClassPage } from '../src/domain/class-pages.ts';
import { addDoor, viewerThrough } from '../src/domain/doors.ts';
import { cardsSeen } from '../src/domain/access/cards.ts';
import { websiteOf } from '../src/features/class-page/website.ts';
import { newToken } from '../src/platform/tokens.ts';
import { pageOf } from '../src/features/class-page/reading.ts';
import { classesOf, handedFolders } from '../src/domain/access/reached.ts';
import { viewerOf } from '../src/domain/access/viewer.ts';
import {
  waysIn,
  Library,
  type HandingOut,
  type Span,
  type Viewer as CoreViewer,
} from '@sammlung/core';
import { belongs, opening, sees, type RandomSchool, type Spot } from '@sammlung/core/testing';
import { board } from '../src/features/board/service.ts';
import { found } from '../src/features/find/queries.ts';
import { staffFolders, whatCame } from '../src/features/receive/queries.ts';
import { thingsBelow } from '../src/domain/access/below.ts';
import { loadPeople } from '../src/domain/access/load-world.ts';
import { queueNote, unseenNotes } from '../src/domain/notes.ts';
import { sightName } from '../src/domain/live/live.ts';
import { audiencesOf, scheduledChanges } from '../src/domain/live/queries.ts';
import type { Mail } from '../src/platform/mail.ts';
import type { SignedIn } from '../src/platform/sessions.ts';
import { TEXTS } from '../src/platform/texts.ts';
import { scratchDatabase } from './database.ts';
import { asViewer, onRandomSchools, orNone } from './planting.ts';

const { db, close } = await scratchDatabase();
afterAll(close);

type Person = NonNullable<CoreViewer['person']>;
const HOUR = 3_600_000;
const ROSTER = new Set(['person', 'class', 'course']);

/** Whoever is signed in, without the doors they have come through. */
const people = ({ people: all, schoolId }: RandomSchool): Person[] =>
  all.map((person) => ({ ...person, schoolId }));
const alone = (person: Person): CoreViewer => ({ person, doors: [] });

const folderSpot = (folderId: string): Spot => ({ folderId, placementId: null });
const spotOf = ({ id, folderId }: { id: string; folderId: string }): Spot => ({
  folderId,
  placementId: id,
});
const sorted = (values: Iterable<string>) => [...values].sort();

/** Whether a folder itself is handed out now to somebody, by audiences of these kinds. */
const isHandedTo = (
  { data, now }: RandomSchool,
  person: Person,
  folderId: string,
  kinds: ReadonlySet<string>,
) =>
  data.handingsOut.some(
    (h) =>
      h.target.id === folderId &&
      kinds.has(h.audience.kind) &&
      (h.from === null || h.from <= now) &&
      (h.until === null || now < h.until) &&
      belongs(alone(person), h.audience, now).length > 0,
  );

/** Those of their classes by which somebody is told of a thing, and null where it is for them by name. */
function announcedBy({ data, now }: RandomSchool, person: Person, spot: Spot): (string | null)[] {
  const ways: [string | null, Person][] = [
    [null, { ...person, memberships: [] }],
    ...person.memberships.map((m): [string, Person] => [
      m.classId,
      { ...person, id: randomUUID(), memberships: [m] },
    ]),
  ];
  const told = ways.filter(([, one]) =>
    opening(data, alone(one), spot, now).some(({ audience }) => ROSTER.has(audience.kind)),
  );
  return [...new Set(told.map(([classId]) => classId))];
}

/** What is told to somebody: the placements, each with its ways, but for those in folders of their own and their own in hand-in boxes. */
function announced(school: RandomSchool, person: Person) {
  const owners = new Map(school.data.folders.map((f) => [f.id, f.ownerId]));
  return school.data.placements
    .filter((p) => (owners.get(p.folderId) ?? school.itemOwners.get(p.itemId)) !== person.id)
    .map((placement) => ({ placement, by: announcedBy(school, person, spotOf(placement)) }))
    .filter(({ by }) => by.length > 0);
}

describe('on random schools', () => {
  it('finding finds every thing that is seen, once, and nothing else', async () => {
    let hits = 0;
    await onRandomSchools(db, 60, async (tx, school) => {
      const { data, now } = school;
      for (const person of people(school)) {
        // What a class hands in is not found among what its teachers have: it is gone through in its box.
        const seen = (spot: Spot) =>
          sees(data, { person: { ...person, teaches: [] }, doors: [] }, spot, now);
        const records = await found(tx, viewerOf(person, now), { words: 'sheet' }, 1000);
        const of = (kind: string) => records.filter((hit) => hit.kind === kind);
        expect(sorted(of('folder').map(({ id }) => id))).toEqual(
          sorted(data.folders.map(({ id }) => id).filter((id) => seen(folderSpot(id)))),
        );
        const places = data.placements.filter((p) => seen(spotOf(p)));
        expect(sorted(of('placement').map(({ itemId }) => itemId!))).toEqual(
          sorted(new Set(places.map(({ itemId }) => itemId))),
        );
        for (const { id } of of('placement')) expect(places.map((p) => p.id)).toContain(id);
        for (const { where } of records)
          for (const { id } of where) expect(seen(folderSpot(id))).toBe(true);
        hits += records.length;
      }
    });
    expect(hits).toBeGreaterThan(300);
  });

  it('New has what was handed out by roster, each item once, under all classes by which it came', async () => {
    let items = 0;
    let several = 0;
    await onRandomSchools(db, 100, async (tx, school) => {
      for (const person of people(school)) {
        const told = announced(school, person);
        const viewer = viewerOf(person, school.now);
        const came = await whatCame(tx, viewer, { limit: 1000 });
        const things = came.things.read();
        const mine = (await classesOf(tx, viewer)).map(({ id }) => id);
        const itemIds = new Set(told.map(({ placement }) => placement.itemId));
        expect(sorted(things.map(({ itemId }) => itemId))).toEqual(sorted(itemIds));
        const byItem = (itemId: string) =>
          new Set(told.filter((x) => x.placement.itemId === itemId).flatMap(({ by }) => by));
        for (const thing of things) {
          const place = told.find(({ placement }) => placement.id === thing.placementId)!;
          expect(place.placement.itemId).toBe(thing.itemId);
          const classIds = mine.filter((id) => byItem(thing.itemId).has(id));
          expect(thing.classes.map(({ id }) => id)).toEqual(classIds);
          // The folder is named where somebody is told of it too, and not only of the item.
          const spot = folderSpot(place.placement.folderId);
          const named = announcedBy(school, person, spot).some((id) => place.by.includes(id));
          expect(thing.folder !== null).toBe(named);
          if (classIds.length > 1) several += 1;
        }
        const under = (id: string) => things.filter(({ itemId }) => byItem(itemId).has(id));
        const alone = things.filter(({ itemId }) => [...byItem(itemId)].every((id) => id === null));
        expect(came.counts).toEqual({ unopened: things.length, forMe: alone.length });
        expect(came.classes.read().map(({ id, unopened }) => [id, unopened])).toEqual(
          mine.map((id) => [id, under(id).length]),
        );
        // So says the feed of a class.
        for (const by of mine) {
          const narrowed = await whatCame(tx, viewer, { limit: 1000, by });
          expect(narrowed.things.read()).toEqual(under(by));
        }
        items += things.length;
      }
    });
    expect(items).toBeGreaterThan(20);
    expect(several).toBeGreaterThan(0);
  });

  it('My classes has the topmost folders handed out and those in them, with how much is in each', async () => {
    let folders = 0;
    await onRandomSchools(db, 100, async (tx, school) => {
      const { data, now } = school;
      for (const person of people(school)) {
        const told = announced(school, person);
        const seenBy = new Map(
          data.folders
            .filter((f) => f.ownerId !== person.id)
            .map((f) => [f.id, announcedBy(school, person, folderSpot(f.id))]),
        );
        const handedHere = (folderId: string, classId: string | null) => {
          const one = classId
            ? {
                ...person,
                id: randomUUID(),
                memberships: person.memberships.filter((m) => m.classId === classId),
              }
            : { ...person, memberships: [] };
          return isHandedTo(school, one, folderId, ROSTER);
        };
        const expected = new Set<string>();
        for (const { id, path } of data.folders.filter((f) => f.ownerId !== null))
          for (const by of seenBy.get(id) ?? []) {
            if (!handedHere(id, by) || path.slice(0, -1).some((above) => handedHere(above, by)))
              continue;
            const shown = data.folders.filter(
              (f) => f.id === id || (f.path.at(-2) === id && seenBy.get(f.id)?.includes(by)),
            );
            for (const f of shown) {
              const items = told.filter(
                (x) =>
                  x.by.includes(by) &&
                  data.folders.find((y) => y.id === x.placement.folderId)!.path.includes(f.id),
              );
              expected.add(`${f.id} under ${id} by ${by}: ${items.length}`);
            }
          }
        const listed = await handedFolders(tx, viewerOf(person, now));
        expect(
          sorted(listed.map((f) => `${f.id} under ${f.topId} by ${f.classId}: ${f.items}`)),
        ).toEqual(sorted(expected));
        folders += listed.length;
      }
    });
    expect(folders).toBeGreaterThan(20);
  });

  it('the page of a class has all that the class has, nothing else, and nothing that does not open', async () => {
    let things = 0;
    let inEntries = 0;
    await onRandomSchools(db, 100, async (tx, school) => {
      const { data, now } = school;
      for (const person of people(school)) {
        const viewer = viewerOf(person, now);
        const told = announced(school, person);
        for (const { id: classId } of await classesOf(tx, viewer)) {
          const page = await pageOf(tx, viewer, classId);
          const entries = [...page.top, ...page.loose, ...page.headings.flatMap((h) => h.entries)];
          const cards = [...entries.flatMap((entry) => entry.things), ...page.rest];
          for (const { kind, id } of cards) {
            const placement = data.placements.find((p) => p.id === id);
            const spot = kind === 'folder' ? folderSpot(id) : spotOf(placement!);
            expect(sees(data, alone(person), spot, now)).toBe(true);
          }
          // Whatever came by the class is on it, or in a folder that is.
          const folders = new Set(cards.filter((c) => c.kind === 'folder').map((c) => c.id));
          const items = new Set(
            cards.flatMap((c) => data.placements.find((p) => p.id === c.id)?.itemId ?? []),
          );
          const missing = told.filter(
            ({ placement, by }) =>
              by.includes(classId) &&
              !items.has(placement.itemId) &&
              !data.folders
                .find((f) => f.id === placement.folderId)!
                .path.some((id) => folders.has(id)),
          );
          expect(missing).toEqual([]);
          expect(entries.filter((e) => e.things.length === 0)).toEqual([]);
          things += cards.length;
          inEntries += entries.length;
        }
      }
    });
    expect(things).toBeGreaterThan(50);
    expect(inEntries).toBeGreaterThan(2);
  });

  it('the website of a class has what its teachers have opened of its entries, and leads to nothing else', async () => {
    let shown = 0;
    let hidden = 0;
    await onRandomSchools(db, 100, async (tx, school) => {
      const { data, now, schoolId, doors } = school;
      const inForce = ({ from, until }: Span) =>
        (from === null || from <= now) && (until === null || now < until);
      const [teacher] = school.people as [RandomSchool['people'][number]];
      await tx
        .insert(courseTeachers)
        .values(school.courses.map((courseId) => ({ schoolId, courseId, personId: teacher.id })))
        .onConflictDoNothing();
      const onPages = data.handingsOut.filter((h) => h.appearanceId && inForce(h));
      const isPublic = (id: string) => doors.some((d) => d.id === id && d.kind === 'public');
      const known = new Set(
        data.handingsOut.flatMap((h) => (isPublic(h.audience.id) ? [h.target.id] : [])),
      );
      // Half of what is in entries has a public door of its own.
      const opened: HandingOut[] = [];
      for (const [n, { target }] of onPages.entries()) {
        if (n % 2 > 0 || known.has(target.id)) continue;
        known.add(target.id);
        const { id } = await addDoor(tx, {
          ...{ schoolId, kind: 'public', token: newToken(), createdBy: teacher.id },
          ...(target.kind === 'folder' ? { folderId: target.id } : { itemId: target.id }),
        });
        const audience = { kind: 'door' as const, id };
        opened.push({ id, target, audience, level: 'view', from: null, until: null });
      }
      const all = { ...data, handingsOut: [...data.handingsOut, ...opened] };
      const publicDoors = [
        ...doors.filter(({ kind }) => kind === 'public').map(({ id }) => id),
        ...opened.map(({ id }) => id),
      ];
      for (const { id: classId } of school.classes) {
        await setClassPage(tx, { id: classId, schoolId }, { websiteLoose: true });
        const entries = onPages.filter((h) => h.audience.id === classId);
        const through = publicDoors.filter((door) =>
          all.handingsOut.some(
            (h) =>
              h.audience.id === door &&
              inForce(h) &&
              entries.some(({ target }) => target.id === h.target.id),
          ),
        );
        const visitor: CoreViewer = {
          person: null,
          doors: through.map((id) => ({ id, kind: 'public', schoolId })),
        };
        const folders = data.folders
          .filter(({ id }) => sees(all, visitor, folderSpot(id), now))
          .map(({ id }) => id);
        const placements = data.placements
          .filter((p) => sees(all, visitor, spotOf(p), now))
          .map(({ id }) => id);
        const door = await addDoor(tx, {
          ...{ schoolId, classId, kind: 'public', token: newToken(), createdBy: teacher.id },
        });
        const found = { door, schoolName: '', over: false };
        const { viewer } = await viewerThrough(tx, found, null, now);
        const cards = await cardsSeen(tx, viewer, [
          ...data.folders.map(({ id }) => ({ kind: 'folder' as const, id })),
          ...data.placements.map(({ id }) => ({ kind: 'placement' as const, id })),
        ]);
        expect(sorted(cards.map(({ id }) => id))).toEqual(sorted([...folders, ...placements]));

        const { loose } = await websiteOf(tx, { viewer, door });
        const things = entries.flatMap(({ target }) =>
          target.kind === 'folder'
            ? target.id
            : (data.placements.find(({ itemId }) => itemId === target.id)?.id ?? []),
        );
        const visible = things.filter((id) => folders.includes(id) || placements.includes(id));
        expect(sorted(loose.flatMap((entry) => entry.things.map(({ id }) => id)))).toEqual(
          sorted(visible),
        );
        shown += visible.length;
        hidden += things.length - visible.length;
      }
    });
    expect(shown).toBeGreaterThan(0);
    expect(hidden).toBeGreaterThan(0);
  });

  it('the staff room has the topmost folders of others, with the right there is in them', async () => {
    let folders = 0;
    await onRandomSchools(db, 100, async (tx, school) => {
      const { data, now } = school;
      const library = new Library(data);
      for (const person of people(school)) {
        const roots = data.folders.filter(
          (f) =>
            f.ownerId !== null &&
            f.ownerId !== person.id &&
            isHandedTo(school, person, f.id, new Set(['staff', 'person'])),
        );
        const topmost = roots.filter(
          (f) =>
            library.rightIn(alone(person), f.id, now) !== 'none' &&
            !roots.some((a) => a.id !== f.id && f.path.includes(a.id)),
        );
        const listed = await staffFolders(tx, viewerOf(person, now));
        expect(sorted(listed.map((f) => `${f.id} ${f.right}`))).toEqual(
          sorted(topmost.map((f) => `${f.id} ${library.rightIn(alone(person), f.id, now)}`)),
        );
        folders += listed.length;
      }
    });
    expect(folders).toBeGreaterThan(10);
  });

  it('what is taken along, copied or in a feed is all that is seen below, and there is nothing else', async () => {
    let taken = 0;
    await onRandomSchools(db, 60, async (tx, school) => {
      const { data, now } = school;
      for (const viewer of school.viewers)
        for (const { id } of data.folders) {
          const below = data.folders.filter((f) => f.path.includes(id));
          const folders = below
            .map((f) => f.id)
            .filter((folderId) => sees(data, viewer, folderSpot(folderId), now));
          const things = await orNone(
            thingsBelow(tx, asViewer(viewer, now), [{ kind: 'folder', id }]),
          );
          expect(things !== null).toBe(folders.includes(id));
          if (!things) continue;
          const items = data.placements.filter(
            (p) => folders.includes(p.folderId) && sees(data, viewer, spotOf(p), now),
          );
          expect(sorted(things.folders.map((f) => f.id))).toEqual(sorted(folders));
          expect(sorted(things.items.map((i) => i.placementId))).toEqual(
            sorted(items.map((p) => p.id)),
          );
          taken += items.length;
        }
    });
    expect(taken).toBeGreaterThan(200);
  });

  it('the board has the folders somebody decides about, says “out” where the audience sees them, and “here” where it was handed to', async () => {
    const count = { out: 0, otherwise: 0, here: 0, above: 0 };
    await onRandomSchools(db, 100, async (tx, school) => {
      const { data, now, schoolId } = school;
      const library = new Library(data);
      for (const person of people(school).filter((one) => one.staff)) {
        const { kind } = school.people.find(({ id }) => id === person.id)!;
        const shown = await board({ db: tx, now: () => now }, signedIn(person, kind), undefined);
        const decides = data.folders.filter(
          (f) =>
            f.ownerId !== null &&
            ['own', 'manage'].includes(library.rightIn(alone(person), f.id, now)),
        );
        expect(sorted(shown.folders.map((f) => f.id))).toEqual(sorted(decides.map((f) => f.id)));
        const kinds = new Map(school.doors.map((d) => [d.id, d.kind]));
        for (const { id, squares } of shown.folders)
          for (const [n, column] of shown.audiences.entries()) {
            const square = squares.find(({ audience }) => audience === n);
            const belongsTo = (h: { kind: string; id: string }) => {
              if (column.kind === 'public') return kinds.get(h.id) === 'public';
              if (column.kind === 'school-door')
                return h.kind === 'school' || kinds.get(h.id) === 'school';
              return h.kind === column.kind && h.id === column.id;
            };
            const out = membersOf(school, column).some((viewer) =>
              opening(data, viewer, folderSpot(id), now).some((h) => belongsTo(h.audience)),
            );
            expect(`${column.kind} ${square?.state === 'out'}`).toBe(`${column.kind} ${out}`);
            const here = data.handingsOut.some(
              (h) => h.target.id === id && !h.appearanceId && belongsTo(h.audience),
            );
            expect(`${column.kind} ${Boolean(square?.here)}`).toBe(`${column.kind} ${here}`);
            if (out) count.out += 1;
            else if (square) count.otherwise += 1;
            if (here) count.here += 1;
            else if (square) count.above += 1;
          }
        const headcount = new Map(shown.audiences.map((a) => [`${a.kind} ${a.id}`, a.people]));
        for (const { id: classId } of school.classes) {
          const members = people(school).filter(
            (one) => belongs(alone(one), { kind: 'class', id: classId }, now).length > 0,
          );
          const told = headcount.get(`class ${classId}`);
          if (told !== undefined) expect(told).toBe(members.length);
        }
        expect(headcount.get(`staff ${schoolId}`)).toBe(2);
      }
    });
    for (const [what, times] of Object.entries(count)) expect(times, what).toBeGreaterThan(5);
  });

  it('pages that are told the same show the same', async () => {
    let same = 0;
    let others = 0;
    await onRandomSchools(db, 100, async (tx, school) => {
      const { data, now } = school;
      for (const { id } of data.folders) {
        const audiences = await audiencesOf(tx, id);
        const told = new Map<string, string>();
        for (const viewer of school.viewers) {
          const name = sightName('folder', waysIn(viewer, now), audiences);
          if (name === null) continue;
          const shows = sightIn(school, viewer, id, now);
          if (told.has(name)) {
            expect(shows).toBe(told.get(name));
            same += 1;
          } else if (shows !== '') others += 1;
          told.set(name, shows);
        }
      }
    });
    expect(same).toBeGreaterThan(30);
    expect(others).toBeGreaterThan(30);
  });

  it('whatever begins or ends by itself is noticed on every page on which it shows', async () => {
    let changes = 0;
    await onRandomSchools(db, 100, async (tx, school) => {
      const { data, now } = school;
      const later = now + 2 * HOUR;
      const scheduled = await scheduledChanges(tx, now, later);
      const of = (what: string) =>
        scheduled.filter((change) => change.what === what).map(({ id }) => id);
      const turned = data.folders.filter((f) => [...of('folder'), ...of('below')].includes(f.id));
      const lists = new Set(turned.flatMap((f) => [f.id, f.path.at(-2)]));
      for (const viewer of school.viewers)
        for (const { id, path } of data.folders) {
          if (sightIn(school, viewer, id, now) === sightIn(school, viewer, id, later)) continue;
          const noticed =
            lists.has(id) ||
            of('below').some((above) => path.includes(above)) ||
            of('person').includes(viewer.person?.id ?? '') ||
            viewer.doors.some((door) => of('door').includes(door.id));
          expect(noticed).toBe(true);
          changes += 1;
        }
    });
    expect(changes).toBeGreaterThan(10);
  });

  it('people are loaded with all their classes, and with how long', async () => {
    await onRandomSchools(db, 20, async (tx, school) => {
      const loaded = await loadPeople(
        tx,
        school.people.map(({ id }) => id),
      );
      const named = (all: readonly Person[]) =>
        new Map(
          all.map(({ id, schoolId, staff, memberships }) => [
            id,
            {
              schoolId,
              staff,
              memberships: memberships
                .map((m) => JSON.stringify([m.classId, m.courseId, m.from, m.until]))
                .sort(),
            },
          ]),
        );
      expect(named(loaded)).toEqual(named(people(school)));
    });
  });

  it('cover notes go to everybody who is handed something, and wait until they see it', async () => {
    const count = { sent: 0, waiting: 0 };
    await onRandomSchools(db, 60, async (tx, school) => {
      const { data, now } = school;
      const sender = school.people[0]!.id;
      for (const h of data.handingsOut.filter(
        ({ audience, ofPlace }) =>
          !ofPlace && (ROSTER.has(audience.kind) || audience.kind === 'staff'),
      )) {
        const { mails, post } = stubPost();
        await queueNote(post, tx, signedIn(personOf(school, sender), 'teacher'), [h.id], NOTE, now);
        const start = Math.max(now, h.from ?? now);
        const reached = people(school).filter(
          (one) => one.id !== sender && belongs(alone(one), h.audience, start).length > 0,
        );
        const to = mails.map(({ personId }) => personId!);
        expect(sorted(to)).toEqual(sorted(reached.map(({ id }) => id)));
        const due = mails.map((mail, n) => ({
          ...{ id: randomUUID(), noteId: null, path: null, ...mail },
          personId: to[n]!,
        }));
        const waiting = await unseenNotes(tx, due, now);
        const spots =
          h.target.kind === 'folder'
            ? [folderSpot(h.target.id)]
            : data.placements.filter((p) => p.itemId === h.target.id).map(spotOf);
        for (const mail of due) {
          const viewer = alone(personOf(school, mail.personId));
          const seen = spots.some((spot) => sees(data, viewer, spot, now));
          const over = h.until !== null && h.until <= now;
          expect(waiting.has(mail.id)).toBe(over || !seen);
          count[waiting.has(mail.id) ? 'waiting' : 'sent'] += 1;
        }
      }
    });
    for (const [what, times] of Object.entries(count)) expect(times, what).toBeGreaterThan(10);
  });
});

const NOTE = { body: 'Read this', copyToSender: false };

function personOf(school: RandomSchool, id: string): Person {
  return people(school).find((one) => one.id === id)!;
}

function signedIn({ id, schoolId }: Person, kind: SignedIn['kind']): SignedIn {
  const school = { schoolId, schoolName: 'Random', timeZone: 'UTC', sample: false };
  return { id, kind, name: id, language: null, sessionId: randomUUID(), ...school };
}

/** A post that keeps what is queued. */
function stubPost() {
  const mails: Mail[] = [];
  const post = {
    words: () => TEXTS.en,
    queue: (_: unknown, queued: readonly Mail[]) => Promise.resolve(void mails.push(...queued)),
    soon: () => Promise.resolve(),
    sendDue: () => Promise.resolve(0),
    close: () => undefined,
  };
  return { mails, post };
}

/** What somebody sees in a folder: what is in it, and the folders directly in it. */
function sightIn({ data }: RandomSchool, viewer: CoreViewer, folderId: string, t: number): string {
  const spots = [
    ...data.folders.filter((f) => f.path.at(-2) === folderId).map((f) => folderSpot(f.id)),
    ...data.placements.filter((p) => p.folderId === folderId).map(spotOf),
  ];
  return spots
    .filter((spot) => sees(data, viewer, spot, t))
    .map(({ folderId: id, placementId }) => placementId ?? id)
    .join();
}

/** People who are nothing but members of an audience of the board: one for each way of being that. */
function membersOf(school: RandomSchool, { kind, id }: { kind: string; id: string }): CoreViewer[] {
  const nobody = { id: randomUUID(), schoolId: school.schoolId, staff: false, memberships: [] };
  const always = { from: null, until: null };
  switch (kind) {
    case 'class':
    case 'course':
      return school.classes
        .filter((c) => (kind === 'class' ? c.id : c.courseId) === id)
        .map((c) =>
          alone({ ...nobody, memberships: [{ classId: c.id, courseId: c.courseId, ...always }] }),
        );
    case 'person':
      return [alone({ ...personOf(school, id), memberships: [] })];
    case 'staff':
      return [alone({ ...nobody, staff: true })];
    default:
      return [{ person: nobody, doors: school.doors }];
  }
}
