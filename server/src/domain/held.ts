import { getTableName, isTable, sql, type SQL } from 'drizzle-orm';
import { getTableConfig, type PgTable } from 'drizzle-orm/pg-core';
import { rows, type Queries } from '../db/database.ts';
import * as schema from '../db/schema/index.ts';

/** What is held about a person: each row that refers to them, of every table of the schema, so that a new one is not forgotten. */

/** What opens something, or is nothing without a secret: nobody is told it again. */
const SECRET = /password|secret|token|hash|codes|visitor/u;

/** What would tell of things that are not out yet, and perhaps never will be: they are not told of before they are. */
const NOT_YET: Readonly<Record<string, readonly string[]>> = {
  grants: ['person_id'],
  appearance_people: ['person_id'],
  log: ['person_id'],
};
/** Mails that wait say what comes; where their links lead may open something. */
const ONLY: Readonly<Record<string, SQL>> = { mails: sql`state = 'sent'` };
const UNTOLD: Readonly<Record<string, readonly string[]>> = { mails: ['path'] };

interface HeldTable {
  readonly name: string;
  readonly columns: readonly string[];
  /** Where it says who. */
  readonly who: readonly string[];
}

const tables: readonly HeldTable[] = Object.values(schema).flatMap((table): HeldTable[] => {
  if (!isTable(table)) return [];
  const { columns, foreignKeys } = getTableConfig(table as PgTable);
  const who = new Set(table === schema.people ? ['id'] : []);
  for (const key of foreignKeys) {
    const { columns: from, foreignColumns, foreignTable } = key.reference();
    if (foreignTable !== schema.people) continue;
    foreignColumns.forEach((column, n) => column.name === 'id' && who.add(nameIn(from[n]!)));
  }
  const name = getTableName(table);
  for (const column of NOT_YET[name] ?? []) who.delete(column);
  if (who.size === 0) return [];
  const told = columns
    .map(nameIn)
    .filter((column) => !SECRET.test(column) && !UNTOLD[name]?.includes(column));
  return [{ name, columns: told, who: [...who] }];
});

/** The name of a column in the database: `person_id`. */
function nameIn({ name, keyAsName }: { name: string; keyAsName: boolean }): string {
  return keyAsName ? name.replaceAll(/[A-Z]/gu, (letter) => `_${letter.toLowerCase()}`) : name;
}

const rowsOf = ({ name, who }: HeldTable, personId: string): SQL =>
  sql`${sql.identifier(name)} where ${ONLY[name] ?? sql`true`} and (${sql.join(
    who.map((column) => sql`${sql.identifier(column)} = ${personId}::uuid`),
    sql` or `,
  )})`;

/** The tables that hold something about a person. */
export async function tablesAbout(db: Queries, personId: string): Promise<string[]> {
  const found = await rows<{ name: string }>(
    db,
    sql.join(
      tables.map(
        (table) =>
          sql`select ${table.name}::text as name where exists (select from ${rowsOf(table, personId)})`,
      ),
      sql` union all `,
    ),
  );
  return found.map(({ name }) => name).sort();
}

/** The rows of one of these tables that are about a person, as JSON. */
export async function recordsAbout(db: Queries, name: string, personId: string): Promise<string> {
  const table = tables.find((one) => one.name === name)!;
  const columns = sql.join(
    table.columns.map((column) => sql.identifier(column)),
    sql`, `,
  );
  const found = await rows<{ row: string }>(
    db,
    sql`select row_to_json(x)::text as row from (select ${columns} from ${rowsOf(table, personId)}) x`,
  );
  return `[${found.map(({ row }) => row).join(',\n')}]\n`;
}
