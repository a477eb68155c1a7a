import type { ClassPage, EditedPage, PageThing, Thing, ThingCard } from '@sammlung/contract';
import { releaseState } from '@sammlung/core';
import { toIso, type Queries } from '../../db/database.ts';
import type { Viewer } from '../../domain/access/access-sql.ts';
import { cardsSeen, toCard } from '../../domain/access/cards.ts';
import { foldersFor } from '../../domain/access/folders.ts';
import { classesOf, handedFolders, handedItems, unopenedIn } from '../../domain/access/reached.ts';
import { viewerOf } from '../../domain/access/viewer.ts';
import { classesTaught } from '../../domain/classes.ts';
import { headingsOf } from '../../domain/class-pages.ts';
import { foldersWithClasses } from '../../domain/access/class-reach.ts';
import { foldersOfLastLessons } from '../../domain/last-lesson.ts';
import { requireTaughtClass } from '../../domain/managed.ts';
import { doorToWebsite } from '../../domain/doors.ts';
import { AppError } from '../../platform/errors.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import type { Services } from '../../services.ts';
import { arrange } from './arrange.ts';
import {
  entriesEarlier,
  entriesEdited,
  entriesSeen,
  handedAlone,
  membersNow,
  settingsOf,
  type SeenEntry,
  yearOfClass,
} from './queries.ts';

const folderThing = (id: string): Thing => ({ kind: 'folder', id });
const itemThing = (id: string): Thing => ({ kind: 'placement', id });

/**
 * The page of a class for somebody who belongs to it. Of an entry only those things are there that they see; one of which nothing is
 * left and that says nothing is not there. What the class has without an entry follows at the end, so that nothing is missing. Throws
 * `not-found` unless it is a class of theirs.
 */
export async function pageOf(db: Queries, viewer: Viewer, classId: string): Promise<ClassPage> {
  const classes = await classesOf(db, viewer);
  const here = classes.find(({ id }) => id === classId);
  if (!here) throw new AppError('not-found');
  const [settings, headings, entries, folders, items] = await Promise.all([
    settingsOf(db, classId),
    headingsOf(db, classId),
    entriesSeen(db, viewer, classId),
    handedFolders(db, viewer),
    handedItems(db, viewer),
  ]);
  const handed = [
    ...folders.flatMap((f) => (f.classId === classId && f.topId === f.id ? folderThing(f.id) : [])),
    ...items.flatMap((i) => (i.classId === classId ? itemThing(i.id) : [])),
  ];
  const all = [...handed, ...entries.flatMap(({ things }) => things)];
  const ids = (kind: Thing['kind']) => all.filter((x) => x.kind === kind).map((x) => x.id);
  const [cards, unopened] = await Promise.all([
    cardsSeen(db, viewer, all),
    unopenedIn(db, viewer, { folders: ids('folder'), placements: ids('placement') }),
  ]);
  const seen = new Map(
    cards.map((card): [string, PageThing] => [
      card.id,
      { ...toCard(card), unopened: unopened.get(card.id) ?? 0 },
    ]),
  );
  const { shown, ...arranged } = arrange(headings, entries, seen);
  const inEntries = new Set(shown.flatMap(({ things }) => things.map(({ id }) => id)));
  return {
    ...{ id: here.id, code: here.code, colour: here.colour, course: here.course },
    teachers: here.teachers,
    numbered: settings.numbered,
    ...arranged,
    rest: handed.flatMap(({ id }) => (inEntries.has(id) ? [] : (seen.get(id) ?? []))),
    classes: classes.map(({ id, code, colour }) => ({ id, code, colour })),
  };
}

/** The page of a class for those who make it. Throws `not-found` unless the person teaches the class. */
export async function editedPage(
  { db, now }: Pick<Services, 'db' | 'now'>,
  person: SignedIn,
  classId: string,
): Promise<EditedPage> {
  const t = now();
  const { code, colour, course } = await requireTaughtClass(db, person, classId);
  const [settings, last, headings, entries, handed, members, classes, door] = await Promise.all([
    settingsOf(db, classId),
    foldersWithClasses(db, person.id, [], t).then((folders) =>
      foldersOfLastLessons(db, folders, [classId]),
    ),
    headingsOf(db, classId),
    entriesEdited(db, classId),
    handedAlone(db, classId),
    membersNow(db, classId, t, null),
    classesTaught(db, person.id, t),
    doorToWebsite(db, classId),
  ]);
  const taught = new Set(classes.map(({ id }) => id));
  // A colleague may have set a folder of their own.
  const seen = await foldersFor(
    db,
    viewerOf(person, t),
    settings.folder ? [settings.folder.id] : [],
  );
  const proposed = last.get(classId);
  const current = settings.folder && seen.has(settings.folder.id) ? settings.folder : null;
  const all = [...handed, ...entries.flatMap(({ things }) => things)];
  const cards = new Map<string, ThingCard>(
    (await cardsSeen(db, viewerOf(person, t), all)).map((card) => [card.id, toCard(card)]),
  );
  const thingsIn = (things: SeenEntry['things']) => things.flatMap(({ id }) => cards.get(id) ?? []);
  const inEntries = new Set(entries.flatMap(({ things }) => things.map(({ id }) => id)));
  return {
    ...{ id: classId, code, colour, course: course.title },
    numbered: settings.numbered,
    currentFolder: current,
    proposedFolder: current || !proposed ? null : { id: proposed.id, title: proposed.title },
    headings: headings.map(({ id, title, mark, colour: own, onWebsite }) => ({
      ...{ id, title, mark, colour: own, onWebsite },
    })),
    website: door?.kind ?? null,
    entries: entries.map((entry) => {
      const { appearanceId, entryId, title, text, at, headingId, keepOnTop, people } = entry;
      const { held, from, until } = entry;
      const things = thingsIn(entry.things);
      return {
        ...{ appearanceId, entryId, title, text, at, headingId, keepOnTop, people, things },
        release: { held, from: toIso(from), until: toIso(until) },
        state: releaseState({ held, from, until }, t),
        gone: entry.things.length - things.length,
        mayChange: entry.ownerId === person.id || entry.alsoOn.every(({ id }) => taught.has(id)),
        alsoOn: entry.alsoOn.map(({ id, code: other, colour: own }) => ({
          ...{ id, code: other, colour: own },
        })),
      };
    }),
    members,
    rest: thingsIn(handed).filter(({ id }) => !inEntries.has(id)),
    classes: classes.map((c) => ({ id: c.id, code: c.code, colour: c.colour })),
  };
}

/** Entries that can be used again on the page of a class, with what may be out of date in them. */
export async function earlierEntries(
  { db, now }: Pick<Services, 'db' | 'now'>,
  person: SignedIn,
  classId: string,
  words: string,
) {
  const { code } = await requireTaughtClass(db, person, classId);
  const [found, year] = await Promise.all([
    entriesEarlier(db, person.id, classId, words),
    yearOfClass(db, classId),
  ]);
  const viewer = viewerOf(person, now());
  const cards = new Map(
    (
      await cardsSeen(
        db,
        viewer,
        found.flatMap(({ things }) => things),
      )
    ).map((card) => [card.id, toCard(card)]),
  );
  return {
    entries: found.map(({ things, firstDay, lastDay, classes, ...entry }) => ({
      ...entry,
      things: things.flatMap(({ id }) => cards.get(id) ?? []),
      from: { firstDay, lastDay, classes },
    })),
    to: { ...year, classes: [code] },
  };
}
