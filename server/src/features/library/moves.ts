import type { Lay, Move, Moved } from '@sammlung/contract';
import { nameKey, positionsBetween } from '@sammlung/core';
import { sql, type SQL } from 'drizzle-orm';
import type { z } from 'zod';
import { rows, uuids, type Queries } from '../../db/database.ts';
import { lockTree, Rights } from '../../domain/access/rights.ts';
import { AppError } from '../../platform/errors.ts';
import type { Services } from '../../services.ts';
import type { SignedIn } from '../../platform/sessions.ts';

type Needs = Pick<Services, 'db' | 'now'>;
type Where = z.infer<typeof Lay>;

/**
 * Moves folders and items into a folder, or to another place in the one they lie in. All of them or none. Returns
 * where each lay, for `moveBack`. Throws `name-taken` naming the thing, `into-itself`, `other-library`.
 */
export async function move({ db, now }: Needs, person: SignedIn, asked: Move): Promise<Moved> {
  return db.transaction(async (tx) => {
    const mover = new Mover(tx, person, new Rights(tx, person, now()));
    const from = await mover.take(asked.things);
    for (const kind of ['folder', 'placement'] as const) {
      const moved = from.filter((thing) => thing.kind === kind);
      if (moved.length === 0) continue;
      // Folders stand before items: a place among the others says nothing about where this kind goes.
      const before = asked.before?.kind === kind ? asked.before.id : null;
      const stays = before === null && asked.before !== null;
      const leaving = stays ? moved.filter((thing) => thing.folderId !== asked.to) : moved;
      const positions = await mover.room(kind, asked.to, leaving, before);
      await mover.lay(
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
    const mover = new Mover(tx, person, new Rights(tx, person, now()));
    await mover.take(from);
    for (const kind of ['folder', 'placement'] as const)
      await mover.lay(
        kind,
        from.filter((thing) => thing.kind === kind),
      );
  });
}

class Mover {
  constructor(
    private readonly tx: Queries,
    private readonly person: SignedIn,
    private readonly rights: Rights,
  ) {}

  /** Where the things lie now, when the person may take each of them away. */
  async take(things: readonly { kind: Where['kind']; id: string }[]): Promise<Where[]> {
    const ids = (kind: Where['kind']) => [
      ...new Set(things.filter((thing) => thing.kind === kind).map((thing) => thing.id)),
    ];
    const owners = new Set<string>();
    for (const { ownerId } of await this.rights.removableFolders(ids('folder')))
      owners.add(ownerId);
    for (const owner of [...owners].sort()) await lockTree(this.tx, owner);
    const folders = await rows<Where>(
      this.tx,
      sql`select 'folder' as kind, id, parent_id as "folderId", position
        from folders where id = any (${uuids(ids('folder'))})
        order by array_position(${uuids(ids('folder'))}, id)`,
    );
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
  async room(
    kind: Where['kind'],
    to: string | null,
    moved: readonly Where[],
    before: string | null,
  ): Promise<number[]> {
    if (moved.length === 0) return [];
    const leaving = new Set(moved.map((thing) => thing.id));
    const siblings = (await this.#siblings(kind, to)).filter((s) => !leaving.has(s.id));
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
    await this.#write(kind, siblings);
    return between()!;
  }

  /** Writes the new places, each of which the person may add to. */
  async lay(kind: Where['kind'], things: readonly Where[]) {
    if (things.length === 0) return;
    for (const to of new Set(things.map((thing) => thing.folderId))) {
      const here = things.filter((thing) => thing.folderId === to);
      await this.#admit(kind, to, here);
    }
    await this.#write(kind, things);
    await this.tx.execute(
      kind === 'folder'
        ? sql`update folders f set parent_id = m.to_ from ${values(things)}
            where f.id = m.id and f.parent_id is distinct from m.to_`
        : sql`update placements p set folder_id = m.to_ from ${values(things)}
            where p.id = m.id and p.folder_id <> m.to_`,
    );
  }

  async #admit(kind: Where['kind'], to: string | null, things: readonly Where[]) {
    const target = to === null ? null : await this.rights.folder(to, 'add');
    const ownerId = target?.ownerId ?? this.person.id;
    const ids = things.map((thing) => thing.id);
    if (kind === 'folder') {
      // Students have one folder of their own, the desk; all else of theirs lies in it.
      if (to === null && this.person.kind === 'student') throw new AppError('not-allowed');
      const moved = await this.rights.removableFolders(ids);
      if (moved.some((folder) => folder.ownerId !== ownerId)) throw new AppError('other-library');
      await this.#refuseTwins(
        sql`select f.title, f.name_key as key from folders f
          where f.id = any (${uuids(ids)}) and f.parent_id is distinct from ${to}::uuid`,
        sql`select b.name_key as key from folders b where b.parent_id is not distinct from ${to}::uuid
          and b.owner_id = ${ownerId}::uuid and b.binned_at is null`,
      );
      return;
    }
    if (to === null) throw new AppError('no-items-on-top');
    for (const placement of await this.rights.placements(ids))
      if (placement.itemOwnerId !== this.person.id && placement.folder.ownerId !== ownerId)
        throw new AppError('other-library');
    await this.#refuseTwins(
      sql`select i.title, p.name_key as key from placements p join items i on i.id = p.item_id
        where p.id = any (${uuids(ids)}) and p.folder_id <> ${to}::uuid`,
      sql`select b.name_key as key from placements b where b.folder_id = ${to}::uuid and b.binned_at is null`,
    );
  }

  /** Throws `name-taken`, naming it, for something that comes in under the name of something that is there. */
  async #refuseTwins(coming: SQL, lying: SQL) {
    const newcomers = await rows<{ title: string; key: string }>(this.tx, coming);
    if (newcomers.length === 0) return;
    const there = await rows<{ key: string }>(this.tx, lying);
    const taken = new Set(there.map(({ key }) => key));
    for (const { title, key } of newcomers) {
      if (taken.has(key) || taken.has(nameKey(title)))
        throw new AppError('name-taken', { faults: [{ field: 'title', fault: title }] });
      taken.add(key);
    }
  }

  async #siblings(kind: Where['kind'], to: string | null) {
    return rows<{ id: string; position: number }>(
      this.tx,
      kind === 'folder'
        ? sql`select id, position from folders
            where parent_id is not distinct from ${to}::uuid and binned_at is null
              and (${to}::uuid is not null or owner_id = ${this.person.id}::uuid)
            order by position, title collate natural_order, id`
        : sql`select id, position from placements where folder_id = ${to}::uuid and binned_at is null
            order by position, id`,
    );
  }

  async #write(kind: Where['kind'], things: readonly { id: string; position: number }[]) {
    const table = kind === 'folder' ? sql`folders` : sql`placements`;
    await this.tx.execute(
      sql`update ${table} t set position = m.position from ${values(things)} where t.id = m.id`,
    );
  }
}

/** Rows `m (id, to_, position)` for a statement. */
function values(
  things: readonly { id: string; position: number; folderId?: string | null }[],
): SQL {
  const to = things.map((thing) => thing.folderId ?? null);
  return sql`unnest(${uuids(things.map((thing) => thing.id))}, ${sql.param(to)}::uuid[],
    ${sql.param(things.map((thing) => thing.position))}::float8[]) m (id, to_, position)`;
}
