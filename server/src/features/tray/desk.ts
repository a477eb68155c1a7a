import type { Colour, SchoolDay, TrayRules } from '@sammlung/contract';
import {
  allows,
  GOES_OUT,
  TITLE_PATTERNS,
  type PlacedFile,
  type TrayClass,
  type TrayFolder,
} from '@sammlung/core';
import type { Queries } from '../../db/database.ts';
import {
  filesWithClasses,
  foldersWithClasses,
  type WantedFiles,
} from '../../domain/access/class-reach.ts';
import { foldersFor, type SeenFolder } from '../../domain/access/folders.ts';
import { viewerOf } from '../../domain/access/viewer.ts';
import { classesTaught } from '../../domain/classes.ts';
import { lessonsOf, schoolDaysOf } from '../../domain/timetable.ts';
import { trayRulesOf } from '../../domain/teacher-settings.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import { currentFoldersOf } from './queries.ts';

/** All that is known of a teacher when files are put in place. */
export interface Desk {
  readonly classes: readonly (TrayClass & { readonly colour: Colour })[];
  readonly folders: readonly TrayFolder[];
  readonly placed: readonly PlacedFile[];
  readonly rules: TrayRules;
  /** The terms and days off of the school. */
  readonly days: readonly SchoolDay[];
}

/** A teacher's classes, folders and files; of files those that are wanted, newest first. */
export async function deskOf(
  db: Queries,
  person: SignedIn,
  t: number,
  wanted: WantedFiles,
): Promise<Desk> {
  const taught = await classesTaught(db, person.id, t);
  const current = await currentFolders(
    db,
    person,
    taught.map(({ id }) => id),
    t,
  );
  const lessons = await lessonsOf(
    db,
    taught.map(({ id }) => id),
  );
  const others = [...new Set([...[...current.values()].map(({ id }) => id), ...wanted.folderIds])];
  const folders = await foldersWithClasses(db, person.id, others, t);
  return {
    classes: taught.map(({ id, code, colour, course, courseId }) => ({
      ...{ id, code, colour, course, courseId },
      currentFolderId: current.get(id)?.id ?? null,
      lessons: lessons.get(id) ?? [],
    })),
    folders,
    placed: await filesWithClasses(db, folders, person, wanted),
    rules: await rulesOf(db, person),
    days: await schoolDaysOf(db, person.schoolId),
  };
}

/** The current folders of classes, as far as the person may put something there: a colleague may have set one of their own. */
export async function currentFolders(
  db: Queries,
  person: SignedIn,
  classIds: readonly string[],
  t: number,
): Promise<ReadonlyMap<string, SeenFolder>> {
  const set = await currentFoldersOf(db, classIds);
  const seen = await foldersFor(db, viewerOf(person, t), [...new Set(set.values())]);
  return new Map(
    [...set].flatMap(([classId, folderId]) => {
      const folder = seen.get(folderId);
      return folder && allows(folder.right, 'add') ? [[classId, folder] as const] : [];
    }),
  );
}

/** The rules of a teacher, or those of the application. */
export async function rulesOf(db: Queries, person: SignedIn): Promise<TrayRules> {
  return {
    goesOut: GOES_OUT,
    titlePattern: TITLE_PATTERNS[person.language ?? 'en'],
    ...(await trayRulesOf(db, person.id)),
  };
}
