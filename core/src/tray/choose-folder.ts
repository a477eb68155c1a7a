import type { Id } from '../model.ts';
import type { ThingKind, TrayClass, TrayFolder } from './model.ts';
import type { ReadFile, Series } from './series.ts';
import { tokensOf } from './tokens.ts';
import { KIND_WORDS } from './words.ts';

/** The folders into which a teacher may put things, as a tree. */
export class Shelves {
  readonly #byId: ReadonlyMap<Id, TrayFolder>;
  readonly #below = new Map<Id, TrayFolder[]>();
  readonly #kinds = new Map<Id, ThingKind | null>();

  constructor(folders: readonly TrayFolder[]) {
    this.#byId = new Map(folders.map((folder) => [folder.id, folder]));
    for (const folder of folders)
      if (folder.parentId !== null)
        this.#below.set(folder.parentId, [...(this.#below.get(folder.parentId) ?? []), folder]);
  }

  get(id: Id): TrayFolder | undefined {
    return this.#byId.get(id);
  }
  below(id: Id): readonly TrayFolder[] {
    return this.#below.get(id) ?? [];
  }
  /** Whether a folder is another one, or lies in it. */
  isIn(id: Id, other: Id): boolean {
    for (let at = this.get(id); at; at = at.parentId === null ? undefined : this.get(at.parentId))
      if (at.id === other) return true;
    return false;
  }
  /** What is collected in a folder, as far as its title tells. */
  kindOf(folder: TrayFolder): ThingKind | null {
    const known = this.#kinds.get(folder.id);
    if (known !== undefined) return known;
    const words = tokensOf(folder.title).map(({ word }) => word);
    const kind = KIND_WORDS.find(([, all]) => words.some((word) => all.has(word)))?.[0] ?? null;
    this.#kinds.set(folder.id, kind);
    return kind;
  }
}

/**
 * Where a file goes for a class: to where the last of its series went, if that still goes on; else to the folder in the current
 * one that is for its kind; else to the current one; else to where the last lesson of the class is.
 */
export function chooseFolder(
  { id, currentFolderId }: TrayClass,
  { kind, number, likes }: { kind: ThingKind; number: number | null; likes: readonly ReadFile[] },
  series: Series,
  shelves: Shelves,
): Id | null {
  const current = currentFolderId === null ? undefined : shelves.get(currentFolderId);
  const mine = likes.find(({ file }) => file.classIds.includes(id));
  const last =
    mine ?? (kind === 'notes' ? undefined : series.recent(id).find((x) => x.kind === kind));
  const before = last && shelves.get(last.file.folderId);
  if (!current) {
    const lesson = series.recent(id).find((x) => x.kind === 'notes') ?? series.recent(id)[0];
    return before?.id ?? (lesson && shelves.get(lesson.file.folderId)?.id) ?? null;
  }
  // A name without a number is that of the same thing.
  if (before && mine && number === null && mine.number === null) return before.id;
  if (before && (kind !== 'notes' || mine)) {
    if (shelves.isIn(before.id, current.id)) return before.id;
    const unit = unitAbove(before, current, shelves);
    if (unit === null) return mine ? before.id : forKind(kind, current, shelves);
    // The same shelf in the unit that goes on now.
    if (before.id !== unit) {
      const same = shelves.below(current.id).find(({ title }) => title === before.title);
      if (same) return same.id;
    }
  }
  return forKind(kind, current, shelves);
}

function forKind(kind: ThingKind, current: TrayFolder, shelves: Shelves): Id {
  if (kind === 'other') return current.id;
  return (
    shelves.below(current.id).find((folder) => shelves.kindOf(folder) === kind)?.id ?? current.id
  );
}

/** The folder beside the current one in which a folder is: a unit of before. Null where it is elsewhere. */
function unitAbove(folder: TrayFolder, current: TrayFolder, shelves: Shelves): Id | null {
  if (current.parentId === null) return null;
  for (let at: TrayFolder | undefined = folder; at;) {
    if (at.parentId === current.parentId) return at.id;
    at = at.parentId === null ? undefined : shelves.get(at.parentId);
  }
  return null;
}
