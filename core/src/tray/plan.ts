import { freeFileTitle } from '../intake.ts';
import { nameKey, withExtension } from '../naming.ts';
import type { Id, Release } from '../model.ts';
import type { PlacedFile, TrayFolder } from './model.ts';

/** What was decided for a file of the tray. */
export interface RoundRow {
  readonly fileId: Id;
  /** SHA-256. */
  readonly hash: string;
  readonly title: string;
  readonly extension: string;
  readonly to: readonly RoundDestination[];
  /** Whether it is to be put in place although the library has it: the same thing in one more place. */
  readonly again: boolean;
  /** Of nearly the same text, or of the same lesson: it is to be the next version of this item. */
  readonly versionOf: Id | null;
}

export interface RoundDestination {
  /** Null: for whoever sees the folder. */
  readonly classId: Id | null;
  readonly folderId: Id;
  readonly release: Release;
}

/** One thing that a round does. */
export interface RoundStep {
  readonly fileId: Id;
  readonly folderId: Id;
  /**
   * `new`: the file becomes an item; `placed`: an item that is there, or that the round made of this file, is put into the folder;
   * `version`: the next version of an item; `opened`: what is in the folder goes out to more classes.
   */
  readonly outcome: 'new' | 'placed' | 'version' | 'opened';
  /** Null for what the round makes of the file. */
  readonly itemId: Id | null;
  readonly placementId: Id | null;
  readonly title: string;
  /** The releases that are set: in general (no class), or for one. */
  readonly rules: readonly { readonly classId: Id | null; readonly release: Release }[];
  /** The classes to which it goes out by this step. */
  readonly classIds: readonly Id[];
}

/** Why something is not done. */
export interface Refusal {
  readonly fileId: Id;
  readonly classId: Id | null;
  /**
   * `in-library`: the library has this content, and nobody said that it is to be placed again; `has-it`: the class has it; `in-round`: another
   * file of the round has the same content; `not-for-class`: the folder is not handed out to the class; `no-place`: it has nowhere to go.
   */
  readonly because: 'in-library' | 'has-it' | 'in-round' | 'not-for-class' | 'no-place';
  /** Where it is. */
  readonly placementId: Id | null;
}

export interface RoundPlan {
  readonly steps: readonly RoundStep[];
  readonly refused: readonly Refusal[];
}

/**
 * What a round does: every file to its classes, and no content to a class that has it already. A file that is refused for one class still
 * goes to the others. Of the library it is told every file with one of these hashes, and every one in the folders of the round.
 */
export function planRound(
  rows: readonly RoundRow[],
  placed: readonly PlacedFile[],
  folders: readonly TrayFolder[],
): RoundPlan {
  const round = new Round(placed, folders);
  for (const row of rows) round.take(row);
  return { steps: round.steps, refused: round.refused };
}

/** A file in its place, as it is or as the round will have made it. */
type Lying = Pick<PlacedFile, 'folderId' | 'title' | 'extension' | 'own'> & {
  itemId: Id;
  placementId: Id | null;
  hash: string;
  classIds: readonly Id[];
};

class Round {
  readonly steps: RoundStep[] = [];
  readonly refused: Refusal[] = [];
  readonly #lying: Lying[];
  readonly #folders: ReadonlyMap<Id, TrayFolder>;
  readonly #hashes = new Set<string>();

  constructor(placed: readonly PlacedFile[], folders: readonly TrayFolder[]) {
    this.#lying = placed.map((file) => ({ ...file }));
    this.#folders = new Map(folders.map((folder) => [folder.id, folder]));
  }

  take(row: RoundRow): void {
    const { fileId, hash } = row;
    const refuse = (because: Refusal['because'], more: Partial<Refusal> = {}) =>
      this.refused.push({ fileId, classId: null, placementId: null, because, ...more });
    if (this.#hashes.has(hash)) return void refuse('in-round');
    this.#hashes.add(hash);
    if (row.to.length === 0) return void refuse('no-place');
    const known = this.#lying.find((x) => x.hash === hash);
    if (known && !row.again) return void refuse('in-library', { placementId: known.placementId });
    for (const folderId of new Set(row.to.map((to) => to.folderId))) {
      const folder = this.#folders.get(folderId);
      if (!folder) {
        refuse('no-place');
        continue;
      }
      const fitting = row.to
        .filter((to) => to.folderId === folderId)
        .filter(({ classId }) => {
          if (classId === null || folder.classIds.includes(classId)) return true;
          refuse('not-for-class', { classId });
          return false;
        });
      const wanted = fitting.filter(({ classId }) => {
        const reached = classId === null ? folder.classIds : [classId];
        const has = this.#lying.find(
          (x) => x.hash === hash && x.classIds.some((id) => reached.includes(id)),
        );
        if (has) refuse('has-it', { classId, placementId: has.placementId });
        return !has;
      });
      if (wanted.length > 0) this.#put(row, folder, wanted);
    }
  }

  #put(row: RoundRow, folder: TrayFolder, wanted: readonly RoundDestination[]) {
    const { fileId, hash, extension } = row;
    const classIds = reachOf(folder, wanted);
    const here = this.#lying.filter((x) => x.folderId === folder.id);
    const same = here.find((x) => x.own && x.hash === hash);
    if (same) {
      // It is here for others: from now on for these as well.
      const rules = wanted.map(({ classId, release }) => ({ classId, release }));
      this.steps.push({
        ...{ fileId, folderId: folder.id, outcome: 'opened', title: same.title, rules, classIds },
        ...{ itemId: idOf(same), placementId: same.placementId },
      });
      same.classIds = [...same.classIds, ...classIds];
      return;
    }
    const earlier = this.#earlier(row, here, classIds);
    if (earlier) {
      const { placementId, title } = earlier;
      // Whoever has it in another place has the new version there.
      const all = this.#lying.filter((x) => x.itemId === earlier.itemId);
      const more = classIds.filter((id) => !all.some((x) => x.classIds.includes(id)));
      const rules = wanted
        .filter(({ classId }) => classId !== null && more.includes(classId))
        .map(({ classId, release }) => ({ classId, release }));
      this.steps.push({
        ...{ fileId, folderId: folder.id, outcome: 'version', title, rules, classIds },
        ...{ itemId: idOf(earlier), placementId },
      });
      for (const x of this.#lying) if (x.itemId === earlier.itemId) x.hash = hash;
      earlier.classIds = [...earlier.classIds, ...more];
      return;
    }
    const known = this.#lying.find((x) => x.own && x.hash === hash);
    const title = freeTitleIn(here, known?.title ?? row.title, extension);
    // The same thing has one title everywhere; where that is taken, it cannot be put.
    if (known && title !== known.title) {
      this.refused.push({ fileId, classId: null, because: 'no-place', placementId: null });
      return;
    }
    const rules = rulesFor(folder, wanted);
    this.steps.push({
      ...{ fileId, folderId: folder.id, outcome: known ? 'placed' : 'new', title, rules, classIds },
      ...{ itemId: known ? idOf(known) : null, placementId: null },
    });
    this.#lying.push({
      itemId: known?.itemId ?? madeOf(fileId),
      ...{ placementId: null, folderId: folder.id, title, extension, hash, classIds },
      own: true,
    });
  }

  /**
   * What this file is the next version of: the one that was said, or the file of this name, if it is for none but these classes wherever it is,
   * and none of them, nor any other, would come to have the content twice.
   */
  #earlier(row: RoundRow, here: readonly Lying[], classIds: readonly Id[]): Lying | null {
    const key = nameKey(withExtension(row.title, row.extension));
    const found = here.find(
      (x) =>
        x.own &&
        (row.versionOf === null
          ? nameKey(withExtension(x.title, x.extension)) === key
          : x.itemId === row.versionOf),
    );
    if (!found) return null;
    const all = this.#lying.filter((x) => x.itemId === found.itemId);
    const reached = all.flatMap((x) => x.classIds);
    const wider = reached.some((id) => !classIds.includes(id)) && row.versionOf === null;
    const twice = this.#lying.some(
      (x) => x.hash === row.hash && x.classIds.some((id) => reached.includes(id)),
    );
    return wider || twice ? null : found;
  }
}

/** Items that a round makes have no id yet. */
const madeOf = (fileId: Id) => `made of ${fileId}`;
const idOf = ({ itemId, placementId }: Lying) =>
  placementId === null && itemId.startsWith('made of ') ? null : itemId;

/** To which classes something goes out in a folder. */
function reachOf(folder: TrayFolder, wanted: readonly RoundDestination[]): Id[] {
  return [
    ...new Set(wanted.flatMap(({ classId }) => (classId === null ? folder.classIds : [classId]))),
  ];
}

/** The releases by which a thing in a folder goes out to these classes, each at its time, and to no other that sees the folder. */
function rulesFor(folder: TrayFolder, wanted: readonly RoundDestination[]): RoundStep['rules'] {
  const [first] = wanted;
  const open = wanted.find(({ classId }) => classId === null);
  if (open) return [{ classId: null, release: open.release }];
  const all = folder.classIds.every((id) => wanted.some(({ classId }) => classId === id));
  const alike = wanted.every(({ release }) => sameRelease(release, first!.release));
  if (all && alike) return [{ classId: null, release: first!.release }];
  return [
    { classId: null, release: { held: true, from: null, until: null } },
    ...wanted.map(({ classId, release }) => ({ classId, release })),
  ];
}

const sameRelease = (a: Release, b: Release) =>
  a.held === b.held && a.from === b.from && a.until === b.until;

/** A title that nothing in the folder has: the one given, or that with a number. */
function freeTitleIn(here: readonly Lying[], title: string, extension: string): string {
  const taken = new Set(here.map((x) => nameKey(withExtension(x.title, x.extension))));
  return freeFileTitle({ title, extension }, taken);
}
