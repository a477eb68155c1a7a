import type { LayoutStart, MadeLayout, NewLayout } from '@sammlung/contract';
import {
  faultsIn,
  layOut,
  parseOutline,
  pathsOf,
  type LayoutParts,
  DEFAULT_PATTERN,
} from '@sammlung/core';
import { Rights } from '../../domain/access/rights.ts';
import { classesTaught } from '../../domain/classes.ts';
import { AppError } from '../../platform/errors.ts';
import { ensureFolderPaths } from '../../domain/folder-paths.ts';
import { changeFolder } from '../../domain/folders.ts';
import { handOutNew } from '../../domain/grants.ts';
import { layoutOf, setLayout } from '../../domain/teacher-settings.ts';
import type { Services } from '../../services.ts';
import type { SignedIn } from '../../platform/sessions.ts';

type Needs = Pick<Services, 'db' | 'now'>;

/** What a teacher who has set nothing yet begins with. */
const DEFAULTS = { pattern: DEFAULT_PATTERN, purpose: '', outline: '' };

/** A teacher's pattern and outline, and the classes to lay out for. */
export async function layoutStart({ db, now }: Needs, person: SignedIn): Promise<LayoutStart> {
  if (person.kind === 'student') throw new AppError('not-found');
  return {
    settings: (await layoutOf(db, person.id)) ?? DEFAULTS,
    teacher: lastName(person.name),
    classes: await classesTaught(db, person.id, now()),
  };
}

/**
 * Makes the folders of several classes at once, as far as they are missing, and hands each class's own folder out to
 * it where wanted. All or nothing. Throws `layout-faults` naming each name that cannot be used.
 */
export async function makeLayout(
  { db, now }: Needs,
  person: SignedIn,
  asked: NewLayout,
): Promise<MadeLayout> {
  if (person.kind === 'student') throw new AppError('not-allowed');
  const { pattern, purpose, outline: text, parentId } = asked;
  const outline = parseOutline(text);
  return db.transaction(async (tx) => {
    const parent =
      parentId === null ? null : await new Rights(tx, person, now()).folder(parentId, 'own');
    const known = await classesTaught(tx, person.id, now());
    const classes = asked.classIds.map((id) => known.find((c) => c.id === id));
    if (classes.some((c) => c === undefined)) throw new AppError('not-found');
    const laid = classes.map((c) => {
      const parts: LayoutParts = {
        year: c!.year,
        course: c!.course,
        class: c!.code,
        teacher: lastName(person.name),
        kind: purpose,
      };
      return { classId: c!.id, folder: layOut(parts, pattern, outline.lines) };
    });
    const faults = [
      ...faultsIn(laid.map((l) => l.folder)).map((f) => ({ field: f.title, fault: f.faults[0]! })),
      ...outline.faults.map((f) => ({ field: `line ${f.line}`, fault: f.fault })),
    ];
    if (faults.length > 0) throw new AppError('layout-faults', { faults });

    const paths = laid.map((l) => pathsOf([l.folder]));
    const ensured = await ensureFolderPaths(tx, person, parent, paths.flat());
    let at_ = 0;
    const folders = laid.map(({ classId, folder }, n) => {
      const folderId = ensured.ids[at_]!;
      at_ += paths[n]!.length;
      return { classId, folderId, title: folder.title };
    });
    // What is made for a class is of its year.
    for (const { classId, folderId } of folders)
      if (ensured.made.includes(folderId))
        await changeFolder(tx, folderId, {
          yearId: classes.find((c) => c!.id === classId)!.yearId,
        });
    const handed = asked.handOut ? await handOutNew(tx, person, folders) : [];
    await setLayout(tx, person, { pattern, purpose, outline: text });
    return { folders, count: ensured.count, made: ensured.made, grants: handed };
  });
}

function lastName(name: string): string {
  return name.split(' ').at(-1) ?? name;
}
