import type { TrayRules } from '@sammlung/contract';
import {
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
import { classesTaught } from '../../domain/classes.ts';
import { trayRulesOf } from '../../domain/teacher-settings.ts';
import { AppError } from '../../platform/errors.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import { currentFoldersOf } from './queries.ts';

/** All that is known of a teacher when files are put in place. */
export interface Desk {
  readonly classes: readonly (TrayClass & { readonly colour: string })[];
  readonly folders: readonly TrayFolder[];
  readonly placed: readonly PlacedFile[];
  readonly rules: TrayRules;
}

/** Only teachers have a tray. */
export function requireTeacher(person: SignedIn): void {
  if (person.kind !== 'teacher') throw new AppError('not-found');
}

/** A teacher's classes, folders and files; of files those that are wanted, newest first. */
export async function deskOf(
  db: Queries,
  person: SignedIn,
  t: number,
  wanted: WantedFiles,
): Promise<Desk> {
  const taught = await classesTaught(db, person.id, t);
  const current = await currentFoldersOf(
    db,
    taught.map(({ id }) => id),
  );
  const others = [...new Set([...current.values(), ...wanted.folderIds])];
  const folders = await foldersWithClasses(db, person.id, others, t);
  return {
    classes: taught.map(({ id, code, colour, course, courseId }) => ({
      ...{ id, code, colour, course, courseId },
      currentFolderId: current.get(id) ?? null,
      lessons: [],
    })),
    folders,
    placed: await filesWithClasses(db, folders, person, wanted),
    rules: await rulesOf(db, person),
  };
}

/** The rules of a teacher, or those of the application. */
export async function rulesOf(db: Queries, person: SignedIn): Promise<TrayRules> {
  return {
    goesOut: GOES_OUT,
    titlePattern: TITLE_PATTERNS[person.language ?? 'en'],
    ...(await trayRulesOf(db, person.id)),
  };
}
