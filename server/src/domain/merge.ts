import { folderName, freeTitle } from '@sammlung/core';
import { sql } from 'drizzle-orm';
import { at, rows, type Queries } from '../db/database.ts';
import { PERSON_TABLES } from '../db/person-tables.ts';
import { folderNamesIn } from './folders.ts';
import { noteAbout, withoutLog } from './log.ts';
import { destroy, lockForPurge } from './purge.ts';

/**
 * Merging two records of one person: all that says the one says the other from then on, in every table of the schema. Like deleting for
 * good it goes through the tables of others, since it is done everywhere or not at all.
 */

interface Pair {
  /** The record that goes. */
  readonly from: string;
  /** The one that stays. */
  readonly to: string;
}

/** What is about accounts and sessions is decided by `joinSignIn`. */
const SIGN_IN = new Set(['credentials', 'sessions', 'two_factors']);

/** A place in a box of which the other record has one too becomes a folder in that one; an empty one goes. */
async function joinPlaces(tx: Queries, { from, to }: Pair, name: string) {
  const twice = await rows<{ gone: string; stays: string; empty: boolean }>(
    tx,
    sql`select g.folder_id as gone, s.folder_id as stays, not exists (select from folders where parent_id = g.folder_id)
        and not exists (select from placements where folder_id = g.folder_id) as empty
      from places g join places s on s.box_id = g.box_id and s.person_id = ${to}::uuid where g.person_id = ${from}::uuid`,
  );
  for (const { gone, stays, empty } of twice) {
    if (empty) {
      await lockForPurge(tx, [gone], []);
      await destroy(tx, [gone], []);
      continue;
    }
    await tx.execute(sql`delete from places where folder_id = ${gone}::uuid`);
    await tx.execute(sql`delete from grants where folder_id = ${gone}::uuid and of_place`);
    const taken = await folderNamesIn(tx, null, stays);
    const title = freeTitle(folderName(name) ?? '_', taken);
    await tx.execute(
      sql`update folders set parent_id = ${stays}::uuid, title = ${title} where id = ${gone}::uuid`,
    );
  }
  // Before the lists: whoever joins a class is given the places that they do not have.
  await tx.execute(sql`update places set person_id = ${to}::uuid where person_id = ${from}::uuid`);
  await tx.execute(
    sql`update grants set person_id = ${to}::uuid where person_id = ${from}::uuid and of_place`,
  );
}

/** What was handed out to both is handed out once: with the level and the span of both together; what is over does not count. */
async function joinGrants(tx: Queries, { from, to }: Pair, t: number) {
  const pairs = sql`(select g.id as gone, s.id as stays, s.level as level, s.from_at as from_at, s.until_at as until_at,
      g.level as other_level, g.from_at as other_from_at, g.until_at as other_until_at, s.until_at <= ${at(t)} as over,
      g.until_at <= ${at(t)} as other_over
    from grants g join grants s on s.person_id = ${to}::uuid and s.taken_back_at is null and not s.of_place
      and s.folder_id is not distinct from g.folder_id and s.item_id is not distinct from g.item_id
      and s.appearance_id is not distinct from g.appearance_id
    where g.person_id = ${from}::uuid and g.taken_back_at is null and not g.of_place)`;
  const found = await rows<{ gone: string }>(
    tx,
    sql`with pairs as materialized ${pairs}, noted as (
        update notes n set grant_id = p.stays from pairs p where n.grant_id = p.gone)
      update grants s set level = case when p.over then p.other_level when p.other_over then p.level else greatest(p.level, p.other_level) end,
        from_at = case when p.over then p.other_from_at when p.other_over then p.from_at
          when p.from_at is not null and p.other_from_at is not null then least(p.from_at, p.other_from_at) end,
        until_at = case when p.over then p.other_until_at when p.other_over then p.until_at
          when p.until_at is not null and p.other_until_at is not null then greatest(p.until_at, p.other_until_at) end
      from pairs p where s.id = p.stays returning p.gone`,
  );
  const gone = found.map((pair) => pair.gone);
  await tx.execute(sql`delete from grants where id = any (${sql.param(gone)}::uuid[])`);
}

/** Two spans in one class that meet are one. */
async function joinMemberships(tx: Queries, { to }: Pair) {
  const spans = sql`(select id, class_id, coalesce(from_at, '-infinity') as a, coalesce(until_at, 'infinity') as z
    from memberships where person_id = ${to}::uuid)`;
  await tx.execute(
    sql`with spans as materialized ${spans},
      begun as (select *, a > coalesce(max(z) over (partition by class_id order by a, id rows between unbounded preceding and 1 preceding), '-infinity')
        as begins from spans),
      runs as (select *, count(*) filter (where begins) over (partition by class_id order by a, id) as run from begun),
      joined as (select (array_agg(id order by a, id))[1] as id, min(a) as a, max(z) as z, array_agg(id) as all_ids from runs
        group by class_id, run having count(*) > 1),
      widened as (update memberships m set from_at = nullif(j.a, '-infinity'), until_at = nullif(j.z, 'infinity')
        from joined j where m.id = j.id)
      delete from memberships m using joined j where m.id = any (j.all_ids) and m.id <> j.id`,
  );
}

/** Whoever has a password keeps it, and their second step; else they come in by the other’s. Accounts outside are all theirs. */
async function joinSignIn(tx: Queries, { from, to }: Pair) {
  const [has] = await rows<{ password: boolean }>(
    tx,
    sql`select exists (select from credentials where user_id = ${to}::uuid and provider_id = 'credential') as password`,
  );
  if (!has!.password) {
    await tx.execute(
      sql`delete from credentials where user_id = ${to}::uuid and provider_id = 'start'
        and exists (select from credentials where user_id = ${from}::uuid and provider_id in ('credential', 'start'))`,
    );
    await tx.execute(
      sql`update credentials set user_id = ${to}::uuid, account_id = ${to} where user_id = ${from}::uuid and provider_id in ('credential', 'start')`,
    );
    await tx.execute(
      sql`update two_factors set user_id = ${to}::uuid where user_id = ${from}::uuid`,
    );
    await tx.execute(
      sql`update people set two_factor_enabled = exists (select from two_factors where user_id = ${to}::uuid) where id = ${to}::uuid`,
    );
  }
  await tx.execute(
    sql`update credentials set user_id = ${to}::uuid where user_id = ${from}::uuid and provider_id not in ('credential', 'start')`,
  );
}

/** All that refers to the one refers to the other; of two rows that cannot both be there, the one that stays has its. */
async function joinRows(tx: Queries, { from, to }: Pair) {
  for (const { name, who, unique } of PERSON_TABLES) {
    if (SIGN_IN.has(name)) continue;
    const table = sql.identifier(name);
    for (const column of who) {
      const person = sql.identifier(column);
      for (const { columns, where } of unique.filter((key) => key.columns.includes(column))) {
        // Names of columns are those of the table that is nearest to them.
        const rowsOf = (id: string) => sql`${person} = ${id}::uuid and ${where ?? sql`true`}`;
        const others = columns
          .filter((other) => other !== column)
          .map((other) => sql.identifier(other));
        const key = sql.join([sql`true`, ...others], sql`, `);
        await tx.execute(
          sql`delete from ${table} where ${rowsOf(from)} and row(${key}) in (select ${key} from ${table} where ${rowsOf(to)})`,
        );
      }
      await tx.execute(
        sql`update ${table} set ${person} = ${to}::uuid where ${person} = ${from}::uuid`,
      );
    }
  }
}

/**
 * Makes two records of one person one; both are of one school and do the same work there, and are locked. What of the two says more stays:
 * an address or a number that only the other has. `from` is gone afterwards; what it had at the top of its library has been moved.
 */
export async function mergePeople(tx: Queries, pair: Pair, name: string, t: number): Promise<void> {
  const { from, to } = pair;
  await withoutLog(tx);
  await joinPlaces(tx, pair, name);
  await joinGrants(tx, pair, t);
  // One feed for each class and one for all: those of the record that stays go on.
  await tx.execute(
    sql`delete from feeds g using feeds s where g.person_id = ${from}::uuid and s.person_id = ${to}::uuid and g.closed_at is null and s.closed_at is null
      and g.class_id is not distinct from s.class_id`,
  );
  await tx.execute(
    sql`delete from mails where person_id = ${from}::uuid and state = 'waiting' and kind in ('invitation', 'password', 'account')`,
  );
  await joinRows(tx, pair);
  await joinMemberships(tx, pair);
  await joinSignIn(tx, pair);
  await tx.execute(
    sql`update opening_days set people = array(select distinct unnest(array_replace(people, g.number, s.number)))
      from people g, people s where g.id = ${from}::uuid and s.id = ${to}::uuid and opening_days.school_id = g.school_id
        and g.number = any (opening_days.people)`,
  );
  const [gone] = await rows<Record<string, unknown>>(
    tx,
    sql`delete from people where id = ${from}::uuid
      returning name, email, email_verified, sign_in_name, external_id, language, digest`,
  );
  await tx.execute(
    sql`update people set email = coalesce(email, ${gone!.email}), email_verified = case when email is null then ${gone!.email_verified} else email_verified end,
      sign_in_name = coalesce(sign_in_name, ${gone!.sign_in_name}), external_id = coalesce(external_id, ${gone!.external_id}),
      language = coalesce(language, ${gone!.language}), digest = digest or ${gone!.digest} where id = ${to}::uuid`,
  );
  await noteAbout(tx, 'merged', to, String(gone!.name));
}
