import type { Library } from './access.ts';
import { audienceName } from './audience.ts';
import { groupBy } from './group.ts';
import type { InPieces } from './pieces.ts';
import type { Folder, HandingOut, Id, Placement, ReleaseRule } from './model.ts';

/** How many things are looked at in one piece. */
const PIECE = 500;

/** What the names of items begin with. */
const ITEM = 'item:';

/** Where a thing lies: a folder as itself, or a placement in a folder. */
export interface Place {
  readonly folderId: Id;
  readonly placement: Placement | null;
}

/**
 * Things that lie alike in two states of a library: below the same holds, dates and handings out in each of them. Nobody
 * ever sees some of them and not the others, so one look stands for all.
 */
export interface AlikeThings {
  readonly itemIds: readonly Id[];
  readonly folders: number;
  /** Where one of them lies in each state; nowhere: it cannot be seen. */
  readonly before: readonly Place[];
  readonly after: readonly Place[];
}

/**
 * All folders and items of both states in groups of things that lie alike. What lies in the folder `apart`, or below,
 * never shares a group with what does not: more may be handed out there. Work grows with the number of things.
 */
export function* groupAlike(
  before: Library,
  after: Library,
  apart: Id | null = null,
): InPieces<readonly AlikeThings[]> {
  const marksBefore = yield* marksOf(before, apart);
  const marksAfter = before === after ? marksBefore : yield* marksOf(after, apart);
  const nowhere = { mark: '', places: [] };
  const groups = new Map<
    string,
    Omit<AlikeThings, 'folders'> & { folders: number; itemIds: Id[] }
  >();
  const names = new Set([...marksBefore.keys(), ...marksAfter.keys()]);
  for (const name of names) {
    const was = marksBefore.get(name) ?? nowhere;
    const is = marksAfter.get(name) ?? nowhere;
    const group = groups.get(`${was.mark}>${is.mark}`) ?? {
      itemIds: [],
      folders: 0,
      before: was.places,
      after: is.places,
    };
    groups.set(`${was.mark}>${is.mark}`, group);
    if (name.startsWith(ITEM)) group.itemIds.push(name.slice(ITEM.length));
    else group.folders += 1;
  }
  yield;
  return [...groups.values()];
}

/** For each thing that may be seen, by `folder:<id>` or `item:<id>`: a mark that things have in common which lie alike. */
function* marksOf(
  library: Library,
  apart: Id | null,
): InPieces<ReadonlyMap<string, { mark: string; places: Place[] }>> {
  const numbers = new Map<string, number>();
  const short = (mark: string) => {
    const number = numbers.get(mark) ?? numbers.size;
    numbers.set(mark, number);
    return String(number);
  };
  /** The marks of folders; null where one on the path is in the Bin or unknown. */
  const folderMarks = new Map<Id, string | null>();
  const markOf = (path: readonly Id[]): string | null => {
    const id = path.at(-1);
    if (id === undefined) return 'top';
    const known = folderMarks.get(id);
    if (known !== undefined) return known;
    const folder = library.folders.get(id);
    const above = markOf(path.slice(0, -1));
    const own = folder && ownMark(folder, library.handingsOn(id), id === apart);
    const mark =
      !folder || folder.binned || above === null
        ? null
        : own === ''
          ? above
          : short(`${above}/${own}`);
    folderMarks.set(id, mark);
    return mark;
  };

  const found = new Map<string, { mark: string; places: Place[] }>();
  for (const { id, path } of library.data.folders) {
    const mark = markOf(path);
    if (mark !== null)
      found.set(`folder:${id}`, { mark, places: [{ folderId: id, placement: null }] });
  }
  yield;
  for (const [itemId, several] of groupBy(library.data.placements, (p) => p.itemId)) {
    const places = several.flatMap((placement) => {
      const { folderId, binned, release } = placement;
      const above = binned ? null : markOf(library.folders.get(folderId)?.path ?? [folderId]);
      if (above === null) return [];
      const own = releaseMark(release);
      return [{ folderId, placement, mark: own === '' ? above : short(`${above}|${own}`) }];
    });
    if (places.length === 0) continue;
    const marks = [...new Set(places.map((p) => p.mark))].sort();
    const handed = handingsMark(library.handingsOn(itemId));
    const mark = marks.length === 1 && handed === '' ? marks[0]! : short(`${marks}#${handed}`);
    found.set(`${ITEM}${itemId}`, { mark, places });
    if (found.size % PIECE === 0) yield;
  }
  return found;
}

function ownMark(folder: Folder, handings: readonly HandingOut[], apart: boolean): string {
  const flags = `${folder.yearClosed ? 'closed' : ''}${apart ? 'apart' : ''}`;
  const parts = [flags, releaseMark(folder.release), handingsMark(handings)];
  return parts.some((part) => part !== '') ? parts.join('~') : '';
}

function releaseMark({ perClass, ...general }: ReleaseRule): string {
  const of = (r: Omit<ReleaseRule, 'perClass'>) => `${r.held} ${r.from} ${r.until}`;
  const always = !general.held && general.from === null && general.until === null;
  if (always && perClass.size === 0) return '';
  const own = [...perClass].map(([classId, release]) => `${classId} ${of(release)}`);
  return [of(general), ...own.sort()].join();
}

function handingsMark(handings: readonly HandingOut[]): string {
  return handings
    .map(({ audience, from, until }) => `${audienceName(audience)} ${from} ${until}`)
    .sort()
    .join();
}
