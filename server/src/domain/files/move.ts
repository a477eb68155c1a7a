import type { ThingPosition, Move, Moved } from '@sammlung/contract';
import { nameKey, positionsBetween } from '@sammlung/core';
import { sql } from 'drizzle-orm';
import type { z } from 'zod';
import { rows, uuids, type Queries } from '../../db/database.ts';
import type { SeenFolder } from '../access/folders.ts';
import { Rights } from '../access/rights.ts';
import { folderNamesIn, lockTrees, ownBelow } from '../folders.ts';
import { comeNow, itemNamesIn } from '../placements.ts';
import { applyPositions, positionsIn } from '../positions.ts';
import { AppError } from '../../platform/errors.ts';
import type { Services } from '../../services.ts';
import type { SignedIn } from '../../platform/sessions.ts';

type Needs = Pick<Services, 'db' | 'now'>;
type Where = z.infer<typeof ThingPosition>;

/**
 * Moves folders and items into a folder, or to another place in the one they lie in. All of them or none. Returns
 * where each lay, for `moveBack`. Throws `name-taken` naming the thing, `into-itself`, `other-library`.
 */
export async function move({ db, now }: Needs, person: SignedIn, asked: Move): Promise<Moved> {
  return db.transaction(async (tx) => {
    const mover = new Mover(tx, person, now());
    const from = await mover.take(asked.things);
    for (const kind of ['folder', 'placement'] as const) {
      const moved = from.filter((thing) => thing.kind === kind);
      if (moved.length === 0) continue;
      // Folders stand before items: a place among the others says nothing about where this kind goes.
      const before = asked.before?.kind === kind ? asked.before.id : null;
      const stays = before === null && asked.before !== null;
      const leaving = stays ? moved.filter((thing) => thing.folderId !== asked.to) : moved;
      const positions = await mover.positionsFor(kind, asked.to, leaving, before);
      await mover.put(
        kind,
        leaving.map((thing, n) => ({ ...thing, folderId: asked.to, position: positions[n]! })),
      );
    }
    return { from };
  });
}

/** Puts things back where they lay: Undo of a move. */
export async function moveBack({ db, now }: Needs, person: SignedIn, from: readonly Where[]) {
  await db.transaction(async (tx) => {
    const mover = new Mover(tx, person, now());
    await mover.take(from);
    for (const kind of ['folder', 'placement'] as const)
      await mover.put(
        kind,
        from.filter((thing) => thing.kind === kind),
      );
  });
}

class Mover {
  private readonly rights: Rights;

  constructor(
    private readonly tx: Queries,
    private readonly person: SignedIn,
    private readonly t: number,
  ) {
    this.rights = new Rights(tx, person, t);
  }

  /** Where the things lie now, when the person may take each of them away. */
  async take(things: readonly { kind: Where['kind']; id: string }[]): Promise<Where[]> {
    const ids = (kind: Where['kind']) => [
      ...new Set(things.filter((thing) => thing.kind === kind).map((thing) => thing.id)),
    ];
    const taken = await this.rights.removableFolders(ids('folder'));
    await lockTrees(
      this.tx,
      taken.map(({ treeId }) => treeId),
    );
    const folders = await placesOfFolders(this.tx, ids('folder'));
    const placements = await this.rights.placements(ids('placement'));
    if (placements.some((placement) => placement.binned)) throw new AppError('not-found');
    return [
      ...folders,
      ...placements.map(({ id, folderId, position }) => ({
        kind: 'placement' as const,
        id,
        folderId,
        position,
      })),
    ];
  }

  /** Positions for the moved things in a folder, in front of `before` or at the end. */
  async positionsFor(
    kind: Where['kind'],
    to: string | null,
    moved: readonly Where[],
    before: string | null,
  ): Promise<number[]> {
    if (moved.length === 0) return [];
    const leaving = new Set(moved.map((thing) => thing.id));
    const there = await positionsIn(this.tx, kind, to, this.person.id);
    const siblings = there.filter((s) => !leaving.has(s.id));
    const at = before === null ? siblings.length : siblings.findIndex((s) => s.id === before);
    if (at < 0) throw new AppError('not-found');
    const between = () =>
      positionsBetween(
        siblings[at - 1]?.position ?? null,
        siblings[at]?.position ?? null,
        moved.length,
      );
    const found = between();
    if (found) return found;
    siblings.forEach((sibling, n) => (sibling.position = n + 1));
    await applyPositions(this.tx, kind, siblings, false);
    return between()!;
  }

  /** Writes the new places, each of which the person may add to. */
  async put(kind: Where['kind'], things: readonly Where[]) {
    if (things.length === 0) return;
    const across = { in: [] as string[], out: [] as string[] };
    for (const to of new Set(things.map((thing) => thing.folderId))) {
      const here = things.filter((thing) => thing.folderId === to);
      const way = await this.#admit(kind, to, here);
      if (way) across[way].push(...here.map(({ id }) => id));
    }
    const [comes, goes] = [across.in.length > 0, across.out.length > 0];
    if (comes && kind === 'folder') await ownBelow(this.tx, across.in, null);
    await applyPositions(this.tx, kind, things, true);
    if (goes) await ownBelow(this.tx, across.out, this.person.id);
    const now = { addedBy: this.person.id, addedAt: new Date(this.t) };
    if (comes) await comeNow(this.tx, kind, across.in, now);
  }

  /**
   * Whether things that a student moves go `in`to their place of a hand-in box, or `out` of it again; null for a move within a
   * library or place. Throws `other-library` for any other.
   */
  #across(from: readonly string[], target: SeenFolder | null): 'in' | 'out' | null {
    const to = target?.treeId ?? this.person.id;
    if (from.every((treeId) => treeId === to)) return null;
    const mine = this.person.kind === 'student' && from.every((treeId) => treeId === from[0]);
    if (mine && from[0] === this.person.id && target?.placeId) return 'in';
    if (mine && from[0] !== this.person.id && to === this.person.id) return 'out';
    throw new AppError('other-library');
  }

  /** Throws where things may not go to a folder; resolves to what `#across` says of them. */
  async #admit(kind: Where['kind'], to: string | null, things: readonly Where[]) {
    const target = to === null ? null : await this.rights.folder(to, 'add');
    const treeId = target?.treeId ?? this.person.id;
    const ids = things.map((thing) => thing.id);
    if (kind === 'folder') {
      // Students have one folder of their own, the desk; all else of theirs lies in it.
      if (to === null && this.person.kind === 'student') throw new AppError('not-allowed');
      const moved = await this.rights.removableFolders(ids);
      const across = this.#across(
        moved.map((folder) => folder.treeId),
        target,
      );
      this.#refuseNamesTaken(
        await foldersComing(this.tx, ids, to),
        await folderNamesIn(this.tx, target ? target.ownerId : this.person.id, to),
      );
      return across;
    }
    if (to === null) throw new AppError('no-items-on-top');
    const moved = await this.rights.placements(ids);
    for (const placement of moved)
      if (placement.itemOwnerId !== this.person.id && placement.folder.treeId !== treeId)
        throw new AppError('other-library');
    const there = await itemNamesIn(this.tx, to);
    this.#refuseNamesTaken(await itemsComing(this.tx, ids, to), new Set(there.keys()));
    const into =
      target !== null &&
      target.placeId !== null &&
      moved.some(({ folder }) => folder.treeId !== treeId);
    return into ? 'in' : null;
  }

  /** Throws `name-taken`, naming it, for something that comes in under the name of something that is there. */
  #refuseNamesTaken(
    coming: readonly { title: string; key: string }[],
    there: ReadonlySet<string>,
  ): void {
    const taken = new Set(there);
    for (const { title, key } of coming) {
      if (taken.has(key) || taken.has(nameKey(title)))
        throw new AppError('name-taken', { faults: [{ field: 'title', fault: title }] });
      taken.add(key);
    }
  }
}

/** Folders with what they are called, by the keys of their names: those that would come into `to` from elsewhere. */
function foldersComing(tx: Queries, ids: readonly string[], to: string | null) {
  return rows<{ title: string; key: string }>(
    tx,
    sql`select f.title, f.name_key as key from folders f
      where f.id = any (${uuids(ids)}) and f.parent_id is distinct from ${to}::uuid`,
  );
}

/** The same for items by their placements. */
function itemsComing(tx: Queries, placementIds: readonly string[], to: string) {
  return rows<{ title: string; key: string }>(
    tx,
    sql`select i.title, p.name_key as key from placements p join items i on i.id = p.item_id
      where p.id = any (${uuids(placementIds)}) and p.folder_id <> ${to}::uuid`,
  );
}

/** Where these folders are, in this order. */
function placesOfFolders(tx: Queries, ids: readonly string[]) {
  return rows<{ kind: 'folder'; id: string; folderId: string | null; position: number }>(
    tx,
    sql`select 'folder' as kind, id, parent_id as "folderId", position
      from folders where id = any (${uuids(ids)})
      order by array_position(${uuids(ids)}, id)`,
  );
}
