import type { HandedUndo, RosterAudience, Thing } from '@sammlung/contract';
import { and, eq, inArray, isNull, or, sql, type SQL } from 'drizzle-orm';
import { rows, toDate, toIso, uuids, type Queries } from '../../db/database.ts';
import { grants } from '../../db/schema/index.ts';
import { AppError } from '../errors.ts';
import type { Rights } from './rights.ts';

/** What was or will be handed out: one of the two is null. */
export type Target = {
  readonly schoolId: string;
  readonly folderId: string | null;
  readonly itemId: string | null;
};

/** What handing these things out concerns, when the person may decide who sees each. Throws as `Rights` does. */
export async function targetsOf(rights: Rights, things: readonly Thing[]): Promise<Target[]> {
  const found: Target[] = [];
  for (const { kind, id } of things) {
    if (kind === 'folder') {
      const { schoolId } = await rights.decides(id);
      found.push({ schoolId, folderId: id, itemId: null });
    } else {
      const { itemId, folder } = await rights.decidesItem(id);
      found.push({ schoolId: folder.schoolId, folderId: null, itemId });
    }
  }
  return found;
}

/**
 * Handings out and doors by their ids, taken back ones too, when the person may decide about each. Whoever may not is
 * not told that there is one: `not-found` for all.
 */
export async function handingsBehind(
  rights: Rights,
  ids: readonly string[],
): Promise<(Target & { id: string })[]> {
  const wanted = [...new Set(ids)];
  const found = await rows<Target & { id: string; placementId: string | null }>(
    rights.db,
    sql`select h.id, h.school_id as "schoolId", h.folder_id as "folderId", h.item_id as "itemId", (
          ${firstPlace(sql`h.item_id`)}) as "placementId"
      from (select id, school_id, folder_id, item_id from grants union all
        select id, school_id, folder_id, item_id from doors) h
      where h.id = any (${uuids(wanted)})`,
  );
  if (found.length < wanted.length) throw new AppError('not-found');
  for (const { folderId, placementId } of found) {
    const things: Thing[] = folderId
      ? [{ kind: 'folder', id: folderId }]
      : placementId
        ? [{ kind: 'placement', id: placementId }]
        : [];
    if (things.length === 0) throw new AppError('not-found');
    await targetsOf(rights, things).catch((error: unknown) => {
      throw error instanceof AppError && error.code === 'not-allowed'
        ? new AppError('not-found')
        : error;
    });
  }
  return found;
}

/** The placement by which an item is opened where only the item is known: its oldest one. */
export function firstPlace(itemId: SQL): SQL {
  return sql`select place.id from placements place
    where place.item_id = ${itemId} and place.binned_at is null order by place.added_at limit 1`;
}

/** Where in the application a folder, or else an item, is opened: the rows are called by their aliases. */
export function pathTo(folder: SQL, item: SQL): SQL {
  return sql`case when ${folder}.id is not null then '/folder/' || ${folder}.id
    else '/item/' || (${firstPlace(sql`${item}.id`)}) end`;
}

/** When a handing out is in force, and what it allows, as the API writes it. */
export type Terms = HandedUndo['changed'][number]['before'];

/**
 * Hands targets out to audiences. What an audience has already gets the new terms, as core foretells it; what it has
 * under the same terms stays as it is. Throws `audience-unknown` for staff or school of another school.
 */
export async function putGrants(
  tx: Queries,
  targets: readonly Target[],
  audiences: readonly RosterAudience[],
  { level, from, until }: Terms,
  by: { readonly personId: string; readonly t: number },
): Promise<HandedUndo & { already: number }> {
  await refuseRemoved(
    tx,
    audiences.map((a) => a.id),
  );
  const wanted = targets.flatMap(({ schoolId, folderId, itemId }) =>
    audiences.map(({ kind, id }) => {
      if ((kind === 'staff' || kind === 'school') && id !== schoolId)
        throw new AppError('audience-unknown');
      return {
        schoolId,
        folderId,
        itemId,
        audienceKind: kind,
        personId: kind === 'person' ? id : null,
        classId: kind === 'class' ? id : null,
        courseId: kind === 'course' ? id : null,
        level,
        fromAt: toDate(from),
        untilAt: toDate(until),
        createdBy: by.personId,
        createdAt: new Date(by.t),
      };
    }),
  );
  const made = await tx
    .insert(grants)
    .values(wanted)
    .onConflictDoNothing()
    .returning({ id: grants.id });
  const ids = made.map(({ id }) => id);
  if (ids.length === wanted.length) return { made: ids, changed: [], already: 0 };
  const ofTargets = or(
    inArray(
      grants.folderId,
      targets.flatMap((x) => x.folderId ?? []),
    ),
    inArray(
      grants.itemId,
      targets.flatMap((x) => x.itemId ?? []),
    ),
  );
  const ofAudiences = or(
    ...audiences.map((a) => and(eq(grants.audienceKind, a.kind), eq(grants.audienceId, a.id))),
  );
  const known = await tx
    .select()
    .from(grants)
    .where(and(isNull(grants.takenBackAt), ofTargets, ofAudiences))
    .for('update');
  const changed = known
    .filter((g) => !ids.includes(g.id))
    .map((g) => ({
      id: g.id,
      before: { level: g.level, from: toIso(g.fromAt), until: toIso(g.untilAt) },
    }))
    .filter(
      ({ before }) =>
        before.level !== level || !sameTime(before.from, from) || !sameTime(before.until, until),
    );
  if (changed.length > 0)
    await tx
      .update(grants)
      .set({ level, fromAt: toDate(from), untilAt: toDate(until) })
      .where(
        inArray(
          grants.id,
          changed.map(({ id }) => id),
        ),
      );
  return { made: ids, changed, already: wanted.length - ids.length - changed.length };
}

const sameTime = (a: string | null, b: string | null) =>
  toDate(a)?.getTime() === toDate(b)?.getTime();

/** Whether every class and course of these is one that is there, for `audience-unknown`. */
export async function refuseRemoved(db: Queries, audienceIds: readonly string[]): Promise<void> {
  const removed = await rows(
    db,
    sql`select id from classes where id = any (${uuids(audienceIds)}) and removed_at is not null
      union all select id from courses where id = any (${uuids(audienceIds)}) and removed_at is not null`,
  );
  if (removed.length > 0) throw new AppError('audience-unknown');
}
