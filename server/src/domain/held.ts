import { sql, type SQL } from 'drizzle-orm';
import { rows, type Queries } from '../db/database.ts';
import { PERSON_TABLES } from '../db/person-tables.ts';

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

const tables: readonly HeldTable[] = PERSON_TABLES.flatMap(({ name, columns, who }) => {
  const told = columns.filter((column) => !SECRET.test(column) && !UNTOLD[name]?.includes(column));
  const where = [
    ...who.filter((column) => !NOT_YET[name]?.includes(column)),
    ...(name === 'people' ? ['id'] : []),
  ];
  return where.length === 0 ? [] : [{ name, columns: told, who: where }];
});

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
