import { allows } from '@sammlung/core';
import { sql } from 'drizzle-orm';
import { rows, uuids, type Queries } from '../../db/database.ts';
import { AppError } from '../../platform/errors.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import { foldersFor, requireRight, type SeenFolder, type SeenRight } from './folders.ts';
import { accessParams, waysInTable, seesPlacement, type Viewer } from './access-sql.ts';
import { viewerOf } from './viewer.ts';

/** An item where it lies, for whoever may take it away from there. */
export interface OwnPlacement {
  readonly id: string;
  readonly folderId: string;
  readonly itemId: string;
  readonly itemOwnerId: string;
  readonly title: string;
  readonly addedBy: string;
  readonly position: number;
  readonly binned: boolean;
  readonly folder: SeenFolder;
}

/** What one person may do at one instant; each folder is asked about once. */
export class Rights {
  /** Null for one that is not seen. */
  readonly #folders = new Map<string, SeenFolder | null>();

  private readonly viewer: Viewer;

  constructor(
    readonly db: Queries,
    private readonly person: SignedIn,
    at: number,
  ) {
    this.viewer = viewerOf(person, at);
  }

  /** The folder, when the person has at least the right `wanted` in it; throws as `folderFor` does. */
  async folder(id: string, wanted: SeenRight): Promise<SeenFolder> {
    return (await this.folders([id], wanted))[0]!;
  }

  /** The folders, in the order asked for, when the person has at least the right `wanted` in each. Throws as `folder` does. */
  async folders(ids: readonly string[], wanted: SeenRight): Promise<SeenFolder[]> {
    await this.#load(ids);
    return ids.map((id) => {
      const folder = this.#folders.get(id);
      if (!folder) throw new AppError('not-found');
      requireRight(folder, wanted);
      return folder;
    });
  }

  /** Asks about all folders that have not been asked about, at once. */
  async #load(ids: readonly string[]) {
    const missing = [...new Set(ids)].filter((id) => !this.#folders.has(id));
    if (missing.length === 0) return;
    const found = await foldersFor(this.db, this.viewer, missing);
    for (const id of missing) this.#folders.set(id, found.get(id) ?? null);
  }

  /**
   * The folder, when the person may change it: by managing it, or by having made it where they may add. A place of a hand-in box
   * follows its box. Throws as `folder` does.
   */
  async changeableFolder(id: string): Promise<SeenFolder> {
    const folder = await this.folder(id, 'add');
    const may = allows(folder.right, 'manage') || folder.createdBy === this.person.id;
    if (!may || folder.id === folder.placeId) throw new AppError('not-allowed');
    return folder;
  }

  /**
   * The folders, in the order asked for, when the person may take each away from where it lies: with all below it, so that
   * whoever only may add, and everybody in a place of a hand-in box, must have added all of that. Throws as `folder` does.
   */
  async removableFolders(ids: readonly string[]): Promise<SeenFolder[]> {
    await this.#load(ids);
    const found: SeenFolder[] = [];
    for (const id of ids) {
      const folder = await this.changeableFolder(id);
      const all = allows(folder.right, 'manage') && folder.placeId === null;
      if (!all && (await this.#holdsOthers(id))) throw new AppError('not-allowed');
      found.push(folder);
    }
    return found;
  }

  async #holdsOthers(folderId: string): Promise<boolean> {
    const me = sql`${this.person.id}::uuid`;
    const found = await rows(
      this.db,
      sql`select f.id from folders f where f.path @> array[${folderId}::uuid] and f.binned_at is null and (
        f.created_by <> ${me} or exists (
          select from placements p where p.folder_id = f.id and p.binned_at is null and p.added_by <> ${me})) limit 1`,
    );
    return found.length > 0;
  }

  /**
   * The folders, in the order asked for, when the person decides who sees each. What lies on a student's desk is nobody
   * else's to see, and what is in a place of a hand-in box is nobody's to hand out. Throws as `folder` does.
   */
  async decides(ids: readonly string[]): Promise<SeenFolder[]> {
    const found = await this.folders(ids, 'manage');
    this.#refuseUndecidable(found);
    return found;
  }

  /** The same for items, by placements of them. */
  async decidesItems(placementIds: readonly string[]): Promise<OwnPlacement[]> {
    const found = await this.items(placementIds);
    this.#refuseUndecidable(found.map(({ folder }) => folder));
    return found;
  }

  /** The placements, in the order asked for, when the person decides when each is seen. Throws as `placements` does. */
  async decidesPlacements(ids: readonly string[]): Promise<OwnPlacement[]> {
    const found = await this.placements(ids);
    if (found.some(({ binned }) => binned)) throw new AppError('not-found');
    this.#refuseUndecidable(found.map(({ folder }) => folder));
    return found;
  }

  #refuseUndecidable(folders: readonly SeenFolder[]) {
    if (folders.length > 0 && this.person.kind === 'student') throw new AppError('not-allowed');
    if (folders.some(({ placeId }) => placeId !== null)) throw new AppError('not-allowed');
  }

  /**
   * The placements, in the order asked for, when the person may change each: by managing its folder, or by having
   * added it to a folder to which they may add. Throws `not-found` for one that is not seen, `not-allowed` for one
   * that is.
   */
  async placements(ids: readonly string[]): Promise<OwnPlacement[]> {
    const found = await rows<Omit<OwnPlacement, 'folder'>>(
      this.db,
      sql`select p.id, p.folder_id as "folderId", p.item_id as "itemId", i.owner_id as "itemOwnerId",
          i.title, p.added_by as "addedBy", p.position, p.binned_at is not null as binned
        from placements p join items i on i.id = p.item_id where p.id = any (${uuids(ids)})`,
    );
    const byId = new Map(found.map((p) => [p.id, p]));
    await this.#load(found.map((p) => p.folderId));
    const result: OwnPlacement[] = [];
    for (const id of ids) {
      const placement = byId.get(id);
      if (!placement) throw new AppError('not-found');
      const folder = await this.folder(placement.folderId, 'view');
      const may =
        allows(folder.right, 'manage') ||
        (folder.right === 'add' &&
          (placement.addedBy === this.person.id ||
            // What a student was given in their place is theirs to work on.
            (folder.placeId !== null && placement.itemOwnerId === this.person.id)));
      if (!may) {
        // Who sees it learns that it may not be changed; to anybody else it is not there.
        if (!(await this.#sees(id))) throw new AppError('not-found');
        throw new AppError('not-allowed');
      }
      result.push({ ...placement, folder });
    }
    return result;
  }

  /** The placements of items that are the person's own, wherever they see them. Throws as `placements` does. */
  async ownItems(ids: readonly string[]): Promise<{ id: string; itemId: string; title: string }[]> {
    const params = accessParams(this.viewer);
    const found = await rows<{ id: string; itemId: string; title: string; ownerId: string }>(
      this.db,
      sql`with ${waysInTable(params)}
        select p.id, p.item_id as "itemId", i.title, i.owner_id as "ownerId"
        from placements p join folders f on f.id = p.folder_id join items i on i.id = p.item_id
        where p.id = any (${uuids(ids)}) and ${seesPlacement(sql`p`, sql`f`, params)}`,
    );
    if (found.length < new Set(ids).size) throw new AppError('not-found');
    if (found.some((p) => p.ownerId !== this.person.id)) throw new AppError('not-allowed');
    const byId = new Map(found.map((p) => [p.id, p]));
    return ids.map((id) => byId.get(id)!);
  }

  /** A placement whose item itself the person may change: their own, or one of the library they manage. */
  async item(placementId: string): Promise<OwnPlacement> {
    return (await this.items([placementId]))[0]!;
  }

  /** The same for several placements, in the order asked for. */
  async items(placementIds: readonly string[]): Promise<OwnPlacement[]> {
    const found = await this.placements(placementIds);
    for (const { binned, folder, itemOwnerId } of found) {
      if (binned) throw new AppError('not-found');
      if (!mayChangeItem(this.person.id, folder, itemOwnerId)) throw new AppError('not-allowed');
    }
    return found;
  }

  async #sees(placementId: string): Promise<boolean> {
    const params = accessParams(this.viewer);
    const found = await rows(
      this.db,
      sql`with ${waysInTable(params)} select p.id from placements p join folders f on f.id = p.folder_id
        where p.id = ${placementId}::uuid and ${seesPlacement(sql`p`, sql`f`, params)}`,
    );
    return found.length > 0;
  }
}

/** Whether somebody who may change a placement may also change its item, for all places where it lies. */
export function mayChangeItem(
  personId: string,
  folder: Pick<SeenFolder, 'right' | 'ownerId'>,
  itemOwnerId: string,
): boolean {
  return (
    itemOwnerId === personId || (allows(folder.right, 'manage') && folder.ownerId === itemOwnerId)
  );
}
