import type { Colour, MyClasses, NewThings } from '@sammlung/contract';
import type { Services } from '../../platform/services.ts';
import type { Asker } from '../../platform/access/twin.ts';
import { digestOf } from './digest.ts';
import { classesOf, handedFolders, whatCame } from './queries.ts';

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
