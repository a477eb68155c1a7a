import type { Colour, MyClasses, NewThings, SeenAs, StaffRoom } from '@sammlung/contract';
import { eq } from 'drizzle-orm';
import type { Queries } from '../../db/database.ts';
import { classes, people } from '../../db/schema/index.ts';
import type { Services } from '../../platform/services.ts';
import type { Asker } from '../../platform/access/twin.ts';
import { digestOf } from './digest.ts';
import { classesOf, handedFolders, staffFolders, whatCame } from './queries.ts';

type Needs = Pick<Services, 'db' | 'now'>;

/** How many of the newest things are shown. */
const SHOWN = 100;

export async function newThings({ db, now }: Needs, asker: Asker): Promise<NewThings> {
  const t = now();
  const [records, classes, digest] = await Promise.all([
    whatCame(db, asker, t, SHOWN),
    classesOf(db, asker, t),
    digestOf(db, asker.personId),
  ]);
  const things = records.map(({ folderId, folderTitle, classIds, cameAt, changedAt, ...row }) => ({
    ...row,
    folder: folderTitle === null ? null : { id: folderId, title: folderTitle },
    changedAt: new Date(changedAt).toISOString(),
    cameAt: new Date(cameAt).toISOString(),
    classes: classes
      .filter((c) => classIds.includes(c.id))
      .map(({ id, code, colour }) => ({ id, code, colour: colour as Colour })),
  }));
  return { things, unopened: things.filter((x) => !x.opened).length, digest };
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
