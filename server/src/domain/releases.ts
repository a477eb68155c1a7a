import type { Release, Released, Thing } from '@sammlung/contract';
import { groupBy } from '@sammlung/core';
import { and, eq, inArray, sql } from 'drizzle-orm';
import { rows, toDate, toIso, uuids, type Queries } from '../db/database.ts';
import { classes, classReleases, folders, placements } from '../db/schema/index.ts';
import { chunks } from '../platform/chunks.ts';
import { AppError } from '../platform/errors.ts';

/** When folders and placements are out, in general and for single classes: nothing else writes it. */

/** A thing with a release: in general, or for one class. */
export type Former = Released['before'][number];
type Columns = { held: boolean; fromAt: Date | null; untilAt: Date | null };

const TABLES = { folder: folders, placement: placements };
const COLUMNS = { folder: classReleases.folderId, placement: classReleases.placementId };

const toColumns = ({ held, from, until }: Release): Columns => ({
  held,
  fromAt: toDate(from),
  untilAt: toDate(until),
});
const toRelease = ({ held, fromAt, untilAt }: Columns): Release => ({
  held,
  from: toIso(fromAt),
  until: toIso(untilAt),
});

/** The release of a thing in general. */
export async function releaseOf(db: Queries, { kind, id }: Thing): Promise<Release> {
  const table = TABLES[kind];
  const [found] = await db.select().from(table).where(eq(table.id, id));
  return toRelease(found!);
}

/** The classes for which a thing has a release of its own, with that. */
export async function classReleasesOf(db: Queries, { kind, id }: Thing) {
  const found = await db
    .select({ release: classReleases, code: classes.code, colour: classes.colour })
    .from(classReleases)
    .innerJoin(classes, eq(classes.id, classReleases.classId))
    .where(eq(COLUMNS[kind], id));
  return found.map(({ release, code, colour }) => ({
    ...{ classId: release.classId, code, colour, release: toRelease(release) },
  }));
}

/** What release each thing has now: in general (no class), or its own for a class; null where it has none. */
export async function releasesNow(
  tx: Queries,
  things: readonly Thing[],
  classId: string | null,
): Promise<Former[]> {
  const found: Former[] = [];
  for (const kind of ['folder', 'placement'] as const) {
    const ids = things.filter((x) => x.kind === kind).map((x) => x.id);
    if (ids.length === 0) continue;
    if (classId === null) {
      const table = TABLES[kind];
      const general = await tx.select().from(table).where(inArray(table.id, ids));
      found.push(...general.map((n) => ({ kind, id: n.id, classId, release: toRelease(n) })));
    } else {
      const own = await tx
        .select()
        .from(classReleases)
        .where(and(inArray(COLUMNS[kind], ids), eq(classReleases.classId, classId)));
      const of = new Map(own.map((r) => [r.folderId ?? r.placementId, r]));
      found.push(
        ...ids.map((id) => {
          const known = of.get(id);
          return { kind, id, classId, release: known ? toRelease(known) : null };
        }),
      );
    }
  }
  return found;
}

/** Sets releases, in general or for classes; null takes a class's own away. Throws `audience-unknown`. */
export async function applyReleases(tx: Queries, schoolId: string, wanted: readonly Former[]) {
  const removed = wanted.flatMap(({ classId }) => classId ?? []);
  const known = await rows(
    tx,
    sql`select id from classes where id = any (${uuids(removed)}) and school_id = ${schoolId}::uuid`,
  );
  if (known.length < new Set(removed).size) throw new AppError('audience-unknown');
  // What is to have the same release, in general or for the same class, gets it by one statement.
  const alike = groupBy(wanted, ({ kind, classId, release: to }) =>
    JSON.stringify([kind, classId, to]),
  );
  for (const several of alike.values()) {
    const { kind, classId, release: to } = several[0]!;
    const ids = several.map(({ id }) => id);
    if (classId === null) {
      const general = toColumns(to ?? { held: false, from: null, until: null });
      await tx.update(TABLES[kind]).set(general).where(inArray(TABLES[kind].id, ids));
      continue;
    }
    if (!to) {
      await tx
        .delete(classReleases)
        .where(and(inArray(COLUMNS[kind], ids), eq(classReleases.classId, classId)));
      continue;
    }
    const { held, fromAt, untilAt } = toColumns(to);
    const column = kind === 'folder' ? sql`folder_id` : sql`placement_id`;
    await tx.execute(
      sql`insert into class_releases (school_id, class_id, ${column}, held, from_at, until_at)
        select distinct ${schoolId}::uuid, ${classId}::uuid, id, ${held}::boolean, ${fromAt}::timestamptz, ${untilAt}::timestamptz
        from unnest(${uuids(ids)}) id
        on conflict (${column}, class_id) do update
          set held = excluded.held, from_at = excluded.from_at, until_at = excluded.until_at`,
    );
  }
}

/** Gives things that have just been made releases of their own for classes. */
export async function addClassReleases(
  tx: Queries,
  schoolId: string,
  those: readonly (Thing & { classId: string; release: Release })[],
): Promise<void> {
  for (const chunk of chunks(those))
    await tx.insert(classReleases).values(
      chunk.map(({ kind, id, classId, release }) => ({
        ...{ schoolId, classId, ...toColumns(release) },
        ...(kind === 'folder' ? { folderId: id } : { placementId: id }),
      })),
    );
}
