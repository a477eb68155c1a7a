import type { Board, BoardAudience, BoardFolder, BoardSquare, TabKind } from '@sammlung/contract';
import { bestOf, chainState, groupBy, squares, type Square } from '@sammlung/core';
import type { z } from 'zod';
import { toIso } from '../../db/database.ts';
import { viewerOf } from '../../domain/access/viewer.ts';
import { loadLibrary } from '../../domain/access/load-library.ts';
import { audienceNames } from '../../domain/access/tabs.ts';
import { kindsOfDoors } from '../../domain/doors.ts';
import { classesTaught } from '../../domain/classes.ts';
import { AppError } from '../../platform/errors.ts';
import type { Services } from '../../services.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import { colleaguesOf, foldersDecided, headcounts, type FolderRecord } from './queries.ts';

type Needs = Pick<Services, 'db' | 'now'>;
type Kind = z.infer<typeof TabKind>;

/** Every folder the person decides about against every audience, as of an instant. */
export async function board(
  { db, now }: Needs,
  person: SignedIn,
  at: string | undefined,
): Promise<Board> {
  if (person.kind === 'student') throw new AppError('not-found');
  const t = at === undefined ? now() : Date.parse(at);
  const viewer = viewerOf(person, now());
  const walked = walk(await foldersDecided(db, viewer));
  const ids = walked.map((f) => f.id);
  const [library, taught] = await Promise.all([
    loadLibrary(db, { folderIds: ids, itemIds: [] }),
    classesTaught(db, person.id, t),
  ]);
  // What has ended leaves an empty square: it can be handed out again.
  const found = squares(library, ids, t).filter((s) => s.state !== 'ended' || s.here !== null);
  const handings = library.data.handingsOut;
  const doorKinds = await kindsOfDoors(
    db,
    handings.filter((h) => h.audience.kind === 'door').map((h) => h.audience.id),
  );
  const names = await audienceNames(db, handings);
  const columns = new Columns(person.schoolId, doorKinds);

  for (const c of taught) columns.add({ kind: 'class', id: c.id, label: c.code, colour: c.colour });
  for (const { audience, state } of found) {
    // A class of a closed year has no column of its own.
    if (state === 'ended') continue;
    const name = names.get(audience.id);
    if (audience.kind === 'class' || audience.kind === 'course' || audience.kind === 'person')
      columns.add({
        kind: audience.kind,
        id: audience.id,
        label: name?.label ?? '',
        colour: name?.colour ?? null,
      });
  }
  for (const kind of ['staff', 'school-door', 'public'] as const)
    columns.add({ kind, id: person.schoolId, label: '', colour: null });

  const of = (kind: Kind) => columns.list.filter((c) => c.kind === kind).map((c) => c.id);
  const [counts, colleagues] = await Promise.all([
    headcounts(db, person.schoolId, of('class'), of('course'), t),
    colleaguesOf(db, person.schoolId, person.id),
  ]);
  const people = ({ kind, id }: Omit<BoardAudience, 'people'>) => {
    if (kind === 'public') return null;
    if (kind === 'staff') return colleagues;
    return kind === 'person' ? 1 : (counts.get(id) ?? 0);
  };

  const perFolder = groupBy(found, (square) => square.folderId);
  return {
    at: new Date(t).toISOString(),
    audiences: columns.list.map((column) => ({ ...column, people: people(column) })),
    folders: walked.map((folder): BoardFolder => {
      // All that lies above counts, also what the person may not know of.
      const path = library.folders.get(folder.id)?.path ?? [];
      const rules = path.flatMap((id) => library.folders.get(id)?.release ?? []);
      return {
        ...folder,
        held: chainState(rules, null, t).state === 'held',
        squares: columns.merged(perFolder.get(folder.id) ?? []),
      };
    }),
  };
}

/** The folders from top to bottom, each with its depth; those that lie in none of the others stand at the top. */
function walk(found: readonly FolderRecord[]) {
  const known = new Set(found.map((f) => f.id));
  const children = groupBy(found, (f) =>
    f.parentId !== null && known.has(f.parentId) ? f.parentId : null,
  );
  const result: (FolderRecord & { depth: number })[] = [];
  const down = (parentId: string | null, depth: number) => {
    for (const folder of children.get(parentId) ?? []) {
      result.push({ ...folder, parentId, depth });
      down(folder.id, depth + 1);
    }
  };
  down(null, 0);
  return result;
}

/** The audiences that have a column; all doors of a kind share one, and the school has one with its doors. */
class Columns {
  readonly list: Omit<BoardAudience, 'people'>[] = [];
  readonly #places = new Map<string, number>();

  constructor(
    private readonly schoolId: string,
    private readonly doorKinds: ReadonlyMap<string, 'public' | 'school'>,
  ) {}

  add(column: Omit<BoardAudience, 'people'>) {
    const name = `${column.kind} ${column.id}`;
    if (this.#places.has(name)) return;
    this.#places.set(name, this.list.length);
    this.list.push(column);
  }

  /** The squares of one folder, one for each column that has any. */
  merged(found: readonly Square[]): BoardSquare[] {
    const perColumn = groupBy(found, (square) => this.#placeOf(square.audience));
    return [...perColumn].flatMap(([audience, several]) => {
      if (audience === undefined) return [];
      const shown = bestOf(several);
      const here = several.find((s) => s.here)?.here ?? null;
      return {
        audience,
        state: shown.state,
        from: toIso(shown.from),
        here: here && { id: here.id, level: here.level },
      };
    });
  }

  #placeOf({ kind, id }: Square['audience']): number | undefined {
    const shared =
      kind === 'door'
        ? this.doorKinds.get(id) === 'public'
          ? 'public'
          : 'school-door'
        : kind === 'school'
          ? 'school-door'
          : null;
    return this.#places.get(shared ? `${shared} ${this.schoolId}` : `${kind} ${id}`);
  }
}
