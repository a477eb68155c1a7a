import type {
  CameNews,
  Colour,
  Mark,
  Marked,
  MyClasses,
  NewQuery,
  NewThing,
  NewThings,
  SeenAs,
  StaffRoom,
} from '@sammlung/contract';
import { and, eq } from 'drizzle-orm';
import type { Queries } from '../../db/database.ts';
import { classes, openings, people } from '../../db/schema/index.ts';
import type { z } from 'zod';
import type { Services } from '../../services.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import type { Asker } from '../../domain/access/access-sql.ts';
import { ownNotes } from './digest.ts';
import {
  classesOf,
  handedFolders,
  markCame,
  staffFolders,
  whatCame,
  type CameRecord,
} from './queries.ts';

type Needs = Pick<Services, 'db' | 'now'>;

export async function newThings(
  { db, now }: Needs,
  asker: Asker,
  { limit, by }: z.infer<typeof NewQuery>,
): Promise<NewThings> {
  const t = now();
  const [{ things: records, counts }, classes, own] = await Promise.all([
    whatCame(db, asker, t, { limit: limit + 1, by }),
    classesOf(db, asker, t),
    // Of somebody whom a teacher sees it as, only what comes from that teacher is shown.
    ownNotes(db, asker.only === undefined ? asker.personId : null),
  ]);
  return {
    things: toThings(records.slice(0, limit), classes),
    more: records.length > limit,
    unopened: counts.all,
    classes: classes.map((c) => ({ ...tabOf(c), unopened: counts.byClass?.[c.id] ?? 0 })),
    forMe: counts.me,
    ...own,
  };
}

type ClassRecord = Awaited<ReturnType<typeof classesOf>>[number];

const tabOf = ({ id, code, colour }: ClassRecord) => ({ id, code, colour: colour as Colour });

function toThings(records: readonly CameRecord[], classes: readonly ClassRecord[]): NewThing[] {
  return records.map(({ folderId, folderTitle, classIds, cameAt, changedAt, ...row }) => ({
    ...row,
    folder: folderTitle === null ? null : { id: folderId, title: folderTitle },
    changedAt: new Date(changedAt).toISOString(),
    cameAt: new Date(cameAt).toISOString(),
    classes: classes.filter((c) => classIds.includes(c.id)).map(tabOf),
  }));
}

/** How many things of the folders that have changed a page is told. */
const TOLD = 100;

/** What pages are told on which things come in: what there is now in the folders that have changed. */
export function cameNews({ db, now }: Needs) {
  return {
    event: 'came',
    name: 'came',
    async make(asker: Asker, folderIds: readonly string[]): Promise<CameNews> {
      const t = now();
      const [{ things: records }, classes] = await Promise.all([
        whatCame(db, asker, t, { limit: TOLD, within: folderIds }),
        classesOf(db, asker, t),
      ]);
      const things = toThings(records, classes).map((thing) => ({ ...thing, opened: false }));
      return { folderIds: [...folderIds], things };
    },
  };
}

/** Marks as seen what came in until then; `undoMark` takes it back by the instant that comes back. */
export async function markNew(
  { db, now }: Needs,
  person: SignedIn,
  { until, by }: z.infer<typeof Mark>,
): Promise<Marked> {
  const t = now();
  const asker = { personId: person.id, doorIds: [] };
  const count = await markCame(db, asker, t, { until: Date.parse(until), by });
  return { count, at: new Date(t).toISOString() };
}

export async function undoMark({ db }: Needs, person: SignedIn, at: string): Promise<void> {
  await db
    .delete(openings)
    .where(
      and(
        eq(openings.personId, person.id),
        eq(openings.kind, 'marked'),
        eq(openings.at, new Date(at)),
      ),
    );
}

export async function myClasses({ db, now }: Needs, asker: Asker): Promise<MyClasses> {
  const t = now();
  const [classes, folders] = await Promise.all([
    classesOf(db, asker, t),
    handedFolders(db, asker, t),
  ]);
  const of = (classId: string | null) => {
    const here = folders.filter((f) => f.classId === classId);
    return here
      .filter((f) => f.id === f.topId)
      .map((top) => ({
        ...top,
        folders: here.filter((f) => f.topId === top.id && f.id !== top.id),
      }));
  };
  return {
    classes: classes.map((c) => ({ ...c, colour: c.colour as Colour, folders: of(c.id) })),
    forMe: of(null),
  };
}

/** The folders that colleagues share with somebody who teaches. */
export async function staffRoom({ db, now }: Needs, asker: Asker): Promise<StaffRoom> {
  return { folders: await staffFolders(db, asker, now()) };
}

/** What whoever the teacher looks as is called: the code of a class, or a name; nothing for a visitor. */
export async function seenAs(db: Queries, { asClass, personId }: Asker): Promise<SeenAs> {
  if (asClass !== undefined) {
    const [found] = await db.select().from(classes).where(eq(classes.id, asClass));
    return { name: found!.code, staff: false };
  }
  if (personId === null) return { name: '', staff: false };
  const [found] = await db.select().from(people).where(eq(people.id, personId));
  return { name: found!.name, staff: found!.kind !== 'student' };
}
