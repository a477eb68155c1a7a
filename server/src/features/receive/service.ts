import type {
  CameNews,
  Mark,
  Marked,
  MyClasses,
  NewQuery,
  NewThings,
  SeenAs,
  StaffRoom,
} from '@sammlung/contract';
import type { Queries } from '../../db/database.ts';
import type { z } from 'zod';
import type { Services } from '../../services.ts';
import { Json } from '../../platform/json.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import { classById } from '../../domain/courses.ts';
import { markOpenings, unmarkOpenings } from '../../domain/openings.ts';
import { viewerOf } from '../../domain/access/viewer.ts';
import { classesOf, handedFolders } from '../../domain/access/reached.ts';
import type { Viewer } from '../../domain/access/access-sql.ts';
import { nameOf, ownNotes, staffFolders, unopenedUntil, whatCame } from './queries.ts';

type Needs = Pick<Services, 'db' | 'now'>;

export async function newThings(
  db: Queries,
  viewer: Viewer,
  wanted: z.infer<typeof NewQuery>,
): Promise<Json<NewThings>> {
  const [{ things, classes, more, counts }, own] = await Promise.all([
    whatCame(db, viewer, wanted),
    // Of somebody whom a teacher sees it as, only what comes from that teacher is shown.
    ownNotes(db, viewer.only === undefined ? viewer.personId : null),
  ]);
  const rest = JSON.stringify({ more, ...counts, ...own });
  return new Json(`{"things":${things.text},"classes":${classes.text},${rest.slice(1)}`);
}

/** How many things of the folders that have changed a page is told. */
const TOLD = 100;

/** What pages are told on which things come in: what there is now in the folders that have changed. */
export function cameNews(db: Queries) {
  return {
    event: 'came',
    name: 'came',
    async make(viewer: Viewer, folderIds: readonly string[]): Promise<CameNews> {
      const came = await whatCame(db, viewer, { limit: TOLD, within: folderIds });
      const things = came.things.read().map((thing) => ({ ...thing, opened: false }));
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
  const viewer = viewerOf(person, t);
  const fresh = await unopenedUntil(db, viewer, { until: Date.parse(until), by });
  await markOpenings(db, person.id, t, fresh);
  return { count: fresh.length, at: new Date(t).toISOString() };
}

export async function undoMark({ db }: Needs, person: SignedIn, at: string): Promise<void> {
  await unmarkOpenings(db, person.id, new Date(at));
}

export async function myClasses(db: Queries, viewer: Viewer): Promise<MyClasses> {
  const [classes, folders] = await Promise.all([classesOf(db, viewer), handedFolders(db, viewer)]);
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
    classes: classes.map((c) => ({ ...c, folders: of(c.id) })),
    forMe: of(null),
  };
}

/** The folders that colleagues share with somebody who teaches. */
export async function staffRoom(db: Queries, viewer: Viewer): Promise<StaffRoom> {
  return { folders: await staffFolders(db, viewer) };
}

/** What whoever the teacher looks as is called: the code of a class, or a name; nothing for a visitor. */
export async function seenAs(db: Queries, { asClass, personId }: Viewer): Promise<SeenAs> {
  if (asClass !== undefined) {
    return { name: (await classById(db, asClass))!.code, staff: false };
  }
  if (personId === null) return { name: '', staff: false };
  return nameOf(db, personId);
}
