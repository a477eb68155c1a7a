import { sql } from 'drizzle-orm';
import { at, rows, type Queries } from '../db/database.ts';
import { PERSON_TABLES } from '../db/person-tables.ts';
import { lockTrees } from './folders.ts';
import { noteAbout, withoutLog } from './log.ts';
import { destroy, giveBack, lockForPurge } from './purge.ts';

/**
 * Erasing a person: what is only about them, in every table of the schema, and their own work. Their row stays without a name, so that what
 * others have from them has somebody who did it. Like deleting for good it goes through the tables of others.
 */

/** What says who did something for others, or ends by itself. */
const STAYS = new Set(['carry_overs', 'uploads']);

/** Of these a person’s rows are only about them. */
const ABOUT = ['person_id', 'user_id'];

/** The folders that go with somebody: their desk with its Bin, and their places in hand-in boxes. */
const foldersOf = (id: string) =>
  sql`(select id from folders where owner_id = ${id}::uuid and parent_id is null
    union all select folder_id from places where person_id = ${id}::uuid)`;

/** What is theirs in folders of others: it stays with whoever the folder belongs to. */
const elsewhere = (id: string) =>
  sql`(select distinct on (i.id) i.id, f.owner_id from items i join placements p on p.item_id = i.id and p.binned_at is null
    join folders f on f.id = p.folder_id and f.owner_id <> i.owner_id where i.owner_id = ${id}::uuid order by i.id, p.id)`;

/** How many things go with a person, and with whom others stay. */
export async function erasureOf(db: Queries, id: string) {
  const [goes] = await rows<{ folders: number; items: number; handedIn: number; entries: number }>(
    db,
    sql`select (select count(*)::int from folders where owner_id = ${id}::uuid
        and (parent_id is not null or (select kind from people where id = ${id}::uuid) <> 'student')) as folders,
      (select count(*)::int from items where owner_id = ${id}::uuid and id not in (select e.id from ${elsewhere(id)} e)
        and not exists (select from placements p join folders f on f.id = p.folder_id where p.item_id = items.id and f.in_place)) as items,
      (select count(*)::int from placements p join folders f on f.id = p.folder_id join places l on l.folder_id = f.path[1]
        where l.person_id = ${id}::uuid and p.binned_at is null) as "handedIn",
      (select count(*)::int from entries where owner_id = ${id}::uuid) as entries`,
  );
  const stays = await rows<{ name: string; items: number }>(
    db,
    sql`select w.name, count(*)::int as items from ${elsewhere(id)} e join people w on w.id = e.owner_id
      group by w.id, w.name order by w.name collate natural_order, w.id limit 50`,
  );
  return { ...goes!, stays };
}

/**
 * Erases somebody who is locked and cannot come in any more; whoever reads of them from then on reads `name`. Resolves to the contents that
 * may have become unused.
 */
export async function erasePerson(
  tx: Queries,
  id: string,
  name: string,
  t: number,
): Promise<{ schoolId: string; hash: string }[]> {
  await withoutLog(tx);
  const tops = (await rows<{ id: string }>(tx, foldersOf(id))).map((folder) => folder.id);
  await lockTrees(tx, [id, ...tops]);
  await tx.execute(
    sql`update items set owner_id = e.owner_id from ${elsewhere(id)} e where items.id = e.id`,
  );
  const items = (
    await rows<{ id: string }>(tx, sql`select id from items where owner_id = ${id}::uuid`)
  ).map((item) => item.id);
  await lockForPurge(tx, tops, items);
  await giveBack(tx, tops, t);
  const hashes = await destroy(tx, tops, items);
  hashes.push(
    ...(await rows<{ schoolId: string; hash: string }>(
      tx,
      sql`select school_id as "schoolId", hash from tray_files where person_id = ${id}::uuid and hash is not null
        union select school_id, hash from dav_files where person_id = ${id}::uuid and hash is not null`,
    )),
  );
  const numbers = sql`(select number from people where id = ${id}::uuid)`;
  const given = sql`(select id from grants where person_id = ${id}::uuid)`;
  for (const statement of [
    sql`update opening_days set people = array_remove(people, ${numbers}) where ${numbers} = any (people)
      and school_id = (select school_id from people where id = ${id}::uuid)`,
    sql`delete from opening_days where people = '{}' and school_id = (select school_id from people where id = ${id}::uuid)`,
    sql`delete from mails where note_id in (select id from notes where grant_id in ${given})`,
    sql`delete from notes where grant_id in ${given}`,
    sql`delete from round_steps where round_id in (select id from rounds where person_id = ${id}::uuid)`,
  ])
    await tx.execute(statement);
  // What refers to other tables comes after them in the schema, so it goes first.
  for (const { name: table, who } of [...PERSON_TABLES].reverse())
    for (const column of who)
      if (ABOUT.includes(column) && !STAYS.has(table))
        await tx.execute(
          sql`delete from ${sql.identifier(table)} where ${sql.identifier(column)} = ${id}::uuid`,
        );
  await tx.execute(
    sql`update people set name = ${name}, email = null, email_verified = false, sign_in_name = null, external_id = null, language = null,
        image = null, digest = false, two_factor_enabled = false, erased_at = ${at(t)} where id = ${id}::uuid`,
  );
  // What was just done would say again how they could be reached.
  await tx.execute(sql`delete from log where person_id = ${id}::uuid`);
  await noteAbout(tx, 'erased', id);
  return hashes;
}
