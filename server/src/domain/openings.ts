import { randomBytes } from 'node:crypto';
import { and, eq, sql, type SQL } from 'drizzle-orm';
import { at, rows, uuids, type Database, type Queries } from '../db/database.ts';
import { openings } from '../db/schema/index.ts';
import type { AccessParams, Viewer } from './access/access-sql.ts';
import { notePacked, schoolsToPack } from './schools.ts';

/**
 * How long is kept who has opened what; after that only counts stay. What came in before that is not shown as new any
 * more, since nobody knows whether it has been opened.
 */
const KEPT = sql`interval '1 year'`;

/** Whether what is at placement `p`, where it came at `since`, has not been opened in the state it has now. */
export const notOpened = (
  { me, t }: Pick<AccessParams, 'me' | 't'>,
  p: SQL,
  since: SQL,
): SQL => sql`(
  ${since} > ${t} - ${KEPT} and not exists (
    select from openings o where o.person_id = ${me} and o.placement_id = ${p}.id
      and o.version_id is not distinct from ${p}.version_id))`;

/** `opened`, a common table expression: all states that the viewer has opened, for `notOpenedOf`. */
export const openedTable = ({ me }: Pick<AccessParams, 'me'>): SQL => sql`opened as materialized (
  select placement_id, coalesce(version_id, placement_id) as state from openings where person_id = ${me})`;

/** The same as `notOpened`, for many placements: they are looked up in `opened`, which is read once. */
export const notOpenedOf = ({ t }: Pick<AccessParams, 't'>, p: SQL, since: SQL): SQL => sql`(
  ${since} > ${t} - ${KEPT}
  and (${p}.id, coalesce(${p}.version_id, ${p}.id)) not in (select placement_id, state from opened))`;

/** One state of what is at a placement. */
export interface Opened {
  readonly schoolId: string;
  readonly placementId: string;
  readonly versionId: string | null;
}

/** How many visitors of a thing are counted on one day: whoever makes up addresses fills no tables. */
const VISITORS_A_DAY = 10_000;

/**
 * Notes that somebody opened or downloaded these: a person at most once an hour, a visitor once a day, programs and whoever looks as
 * somebody else never. Nothing is kept of visitors where a school wants nothing recorded.
 */
export async function noteOpenings(
  db: Queries,
  viewer: Viewer,
  kind: 'opened' | 'downloaded',
  opened: readonly Opened[],
): Promise<void> {
  if (opened.length === 0 || viewer.only) return;
  const { personId, visitor, doorIds } = viewer;
  if (personId) await notePerson(db, personId, kind, opened);
  else if (visitor && doorIds[0]) await noteVisitor(db, visitor, doorIds[0], kind, opened);
}

const openedRows = (opened: readonly Opened[]): SQL => sql`unnest(
  ${uuids(opened.map((x) => x.schoolId))}, ${uuids(opened.map((x) => x.placementId))},
  ${sql.param(opened.map((x) => x.versionId))}::uuid[]) x (s, p, v)`;

async function notePerson(
  db: Queries,
  personId: string,
  kind: 'opened' | 'downloaded',
  opened: readonly Opened[],
) {
  await db.execute(sql`
    insert into openings (school_id, placement_id, version_id, person_id, kind)
    select x.s, x.p, x.v, ${personId}::uuid, ${kind}::opening_kind from ${openedRows(opened)}
    where not exists (
      select from openings o where o.placement_id = x.p and o.version_id is not distinct from x.v
        and o.person_id = ${personId}::uuid and o.kind = ${kind}::opening_kind and o.at > now() - interval '1 hour')`);
}

async function noteVisitor(
  db: Queries,
  visitor: string,
  doorId: string,
  kind: 'opened' | 'downloaded',
  opened: readonly Opened[],
) {
  await db.execute(sql`
    with salt as (
      insert into visitor_salts (day, salt) values ((now() at time zone 'utc')::date, ${randomBytes(16).toString('hex')})
      on conflict (day) do update set day = excluded.day returning salt)
    insert into openings (school_id, placement_id, version_id, door_id, visitor, kind)
    select x.s, x.p, x.v, ${doorId}::uuid, encode(sha256(convert_to(salt.salt || ${visitor}, 'UTF8')), 'hex'), ${kind}::opening_kind
    from ${openedRows(opened)} cross join salt join schools on schools.id = x.s and schools.reach <> 'nothing'
    where (select count(*) from (
      select from openings o where o.placement_id = x.p and o.person_id is null and o.at > now() - interval '1 day'
      limit ${VISITORS_A_DAY}) counted) < ${VISITORS_A_DAY}
    on conflict do nothing`);
}

/** Notes that what is at these placements, in the state it has, need not be shown as new to a person any more. */
export async function markOpenings(
  db: Queries,
  personId: string,
  t: number,
  opened: readonly Opened[],
): Promise<void> {
  await db.execute(sql`
    insert into openings (school_id, placement_id, version_id, person_id, kind, at)
    select x.s, x.p, x.v, ${personId}::uuid, 'marked', ${at(t)}
    from unnest(${uuids(opened.map((x) => x.schoolId))}, ${uuids(opened.map((x) => x.placementId))},
      ${sql.param(opened.map((x) => x.versionId))}::uuid[]) x (s, p, v)`);
}

/** Undoes a marking: what was marked at that instant is new again. */
export async function unmarkOpenings(db: Queries, personId: string, markedAt: Date): Promise<void> {
  await db
    .delete(openings)
    .where(
      and(eq(openings.personId, personId), eq(openings.kind, 'marked'), eq(openings.at, markedAt)),
    );
}

/**
 * Makes counts of openings that are older than a year, and forgets what told the visitors of past days apart. Resolves to how many were
 * older.
 */
export async function endOpenings(db: Queries, t: number): Promise<number> {
  const today = sql`(${at(t)} at time zone 'utc')::date`;
  await db.execute(sql`delete from visitor_salts where day < ${today}`);
  await db.execute(sql`delete from opening_days where day < (${at(t)} - ${KEPT})::date`);
  await db.execute(
    sql`update openings set visitor = null where visitor is not null and at < ${today}::timestamp at time zone 'utc'`,
  );
  const [found] = await rows<{ ended: number }>(
    db,
    sql`with ended as (delete from openings where at <= ${at(t)} - ${KEPT} returning *),
      counted as (
        insert into opening_counts (school_id, placement_id, version_id, kind, visitors, count)
        select school_id, placement_id, version_id, kind, door_id is not null, count(*)
        from ended group by 1, 2, 3, 4, 5
        on conflict on constraint opening_counts_once do update set count = opening_counts.count + excluded.count)
      select count(*)::int as ended from ended`,
  );
  return found!.ended;
}

/** Puts together by day what people have opened until today, where that has not been done. */
export async function packOpenings(db: Database, t: number): Promise<void> {
  for (const { id, timeZone, from, until } of await schoolsToPack(db, t))
    await db.transaction(async (tx) => {
      await tx.execute(sql`
        insert into opening_days (school_id, placement_id, version_id, kind, day, people)
        select o.school_id, o.placement_id, o.version_id, o.kind, (o.at at time zone ${timeZone})::date, array_agg(distinct p.number)
        from openings o join people p on p.id = o.person_id
        where o.school_id = ${id}::uuid and o.kind <> 'marked' and o.at < ${at(until)}
          and o.at >= ${from === null ? sql`'-infinity'::timestamptz` : at(from)}
        group by 1, 2, 3, 4, 5`);
      await notePacked(tx, id, until);
    });
}
