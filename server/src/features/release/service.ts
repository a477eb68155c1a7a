import type { Colour, Release, Released, Releasing, Thing, Timing } from '@sammlung/contract';
import { groupBy } from '@sammlung/core';
import { and, eq, inArray, sql } from 'drizzle-orm';
import { rows, toDate, toIso, uuids, type Queries } from '../../db/database.ts';
import { classes, classReleases, folders, placements } from '../../db/schema/index.ts';
import { Rights } from '../../domain/access/rights.ts';
import { classesTaught } from '../../domain/classes.ts';
import { AppError } from '../../platform/errors.ts';
import type { Services } from '../../services.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import { refuseEndBeforeStart } from '../../domain/spans.ts';

type Needs = Pick<Services, 'db' | 'now'>;
type Former = Released['before'][number];
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

/** The release of one thing, with the classes that can have one of their own: those of its owner, and those that do. */
export async function timingOf(
  { db, now }: Needs,
  person: SignedIn,
  thing: Thing,
): Promise<Timing> {
  const t = now();
  const [ownerId] = await mayTime(new Rights(db, person, t), [thing]);
  const table = TABLES[thing.kind];
  const [general] = await db.select().from(table).where(eq(table.id, thing.id));
  const own = await db
    .select({ release: classReleases, code: classes.code, colour: classes.colour })
    .from(classReleases)
    .innerJoin(classes, eq(classes.id, classReleases.classId))
    .where(eq(COLUMNS[thing.kind], thing.id));
  const taught = await classesTaught(db, ownerId!, t);
  const concerned = await handedTo(db, thing);
  const others = own.filter((o) => !taught.some((c) => c.id === o.release.classId));
  return {
    general: toRelease(general!),
    classes: [
      ...taught.filter((c) => concerned.has(c.id) || own.some((o) => o.release.classId === c.id)),
      ...others.map((o) => ({ id: o.release.classId, code: o.code, colour: o.colour })),
    ].map(({ id, code, colour }) => {
      const found = own.find((o) => o.release.classId === id);
      return {
        id,
        code,
        colour: colour as Colour,
        release: found ? toRelease(found.release) : null,
      };
    }),
  };
}

/** The classes to which the thing, or something above it, is handed out: by themselves or through their course. */
async function handedTo(db: Queries, { kind, id }: Thing): Promise<ReadonlySet<string>> {
  const found = await rows<{ id: string }>(
    db,
    sql`select c.id from grants g join classes c on c.id = g.class_id or c.course_id = g.course_id
      where g.taken_back_at is null and (
        g.folder_id in (
          select unnest(f.path) from folders f where f.id = ${
            kind === 'folder'
              ? sql`${id}::uuid`
              : sql`(select folder_id from placements where id = ${id}::uuid)`
          })
        or g.item_id = (select item_id from placements where id = ${id}::uuid))`,
  );
  return new Set(found.map((c) => c.id));
}

/** Sets releases; returns what was there before. Throws `ends-before-start` and `audience-unknown`. */
export async function release(
  { db, now }: Needs,
  person: SignedIn,
  { things, rules }: Releasing,
): Promise<Released> {
  for (const { release: wanted } of rules) if (wanted) refuseEndBeforeStart(wanted);
  return db.transaction(async (tx) => {
    const rights = new Rights(tx, person, now());
    await mayTime(rights, things);
    const before: Former[] = [];
    for (const { classId } of rules) before.push(...(await formerOf(tx, things, classId)));
    const wanted = rules.flatMap((rule) => things.map((thing) => ({ ...thing, ...rule })));
    await lay(tx, person.schoolId, wanted);
    return { before };
  });
}

/** Undo of `release`. */
export async function releaseBack({ db, now }: Needs, person: SignedIn, before: readonly Former[]) {
  for (const { release: wanted } of before) if (wanted) refuseEndBeforeStart(wanted);
  await db.transaction(async (tx) => {
    const rights = new Rights(tx, person, now());
    await mayTime(rights, before);
    await lay(tx, person.schoolId, before);
  });
}

/** Throws unless the person may decide when each thing is seen; resolves to whose libraries they lie in. */
async function mayTime(rights: Rights, things: readonly Thing[]): Promise<string[]> {
  const ids = (kind: Thing['kind']) => things.filter((x) => x.kind === kind).map((x) => x.id);
  const decided = await rights.decides(ids('folder'));
  const placed = await rights.placements(ids('placement'));
  if (placed.some((placement) => placement.binned)) throw new AppError('not-found');
  return [...decided, ...placed.map(({ folder }) => folder)].map(({ ownerId }) => ownerId);
}

async function formerOf(
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

async function lay(tx: Queries, schoolId: string, wanted: readonly Former[]) {
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
    await tx
      .delete(classReleases)
      .where(and(inArray(COLUMNS[kind], ids), eq(classReleases.classId, classId)));
    if (!to) continue;
    const { held, fromAt, untilAt } = toColumns(to);
    const column = kind === 'folder' ? sql`folder_id` : sql`placement_id`;
    await tx.execute(
      sql`insert into class_releases (school_id, class_id, ${column}, held, from_at, until_at)
        select distinct ${schoolId}::uuid, ${classId}::uuid, id, ${held}::boolean, ${fromAt}::timestamptz, ${untilAt}::timestamptz
        from unnest(${uuids(ids)}) id`,
    );
  }
}
