import { createHash } from 'node:crypto';
import { fileURLToPath } from 'node:url';
import { sql, type AnyColumn, type Query, type SQL } from 'drizzle-orm';
import { drizzle, NodePgSession, type NodePgDatabase } from 'drizzle-orm/node-postgres';
import { PgDialect } from 'drizzle-orm/pg-core';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import pg from 'pg';
import * as schema from './schema/index.ts';

export type Database = NodePgDatabase<typeof schema>;
type Tables = NonNullable<Database['_']['schema']>;
/** A database or a transaction in it. */
export type Queries = Pick<Database, 'select' | 'insert' | 'update' | 'delete' | 'execute' | '_'>;

export const dialect = new PgDialect({ casing: 'snake_case' });

/** Connects to PostgreSQL; `close` ends the connections. */
export function openDatabase(url: string): { db: Database; pool: pg.Pool; close(): Promise<void> } {
  const pool = new pg.Pool({
    connectionString: url,
    max: 16,
    options: '-c plan_cache_mode=force_generic_plan',
  });
  // A connection that breaks is replaced by the next query; it must not end the process. The pool hears only of those that
  // nobody uses: under way, and between the statements of a transaction, each has to be listened to.
  const broke = (error: Error) => console.error(`A database connection broke: ${error.message}`);
  pool.on('error', () => undefined);
  pool.on('connect', (client) => client.on('error', broke));
  const db = drizzle(pool, { schema, casing: 'snake_case' });
  // drizzle's own keeps the connection for good when it breaks before the transaction has begun.
  db.transaction = async (work, config) => {
    const client = await pool.connect();
    try {
      const session = new NodePgSession<typeof schema, Tables>(client, dialect, undefined, {});
      return await session.transaction(work, config);
    } finally {
      client.release();
    }
  };
  return { db, pool, close: () => pool.end() };
}

/** Brings the tables to the newest state; starters that come at the same time wait for each other. */
export async function migrateDatabase(url: string): Promise<void> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  try {
    await client.query(`select pg_advisory_lock(hashtextextended('sammlung migrations', 0))`);
    const migrationsFolder = fileURLToPath(new URL('../../drizzle', import.meta.url));
    await migrate(drizzle(client), { migrationsFolder });
  } finally {
    await client.end();
  }
}

/**
 * The rows of a hand-written statement, typed by the caller who wrote its select list. Statements are prepared under
 * a name made from their text: the access rule takes the planner several times as long as the execution does.
 */
export function rows<T extends Record<string, unknown>>(db: Queries, text: SQL): Promise<T[]> {
  const query = dialect.sqlToQuery(text);
  return execute<T>(db, query, nameOf(query.sql));
}

/**
 * The same for a statement whose best plan depends on its values: it is planned at each call. Without knowing the words
 * that are looked for, say, the planner would rather read all of a large school than what one person sees.
 */
export function rowsByValues<T extends Record<string, unknown>>(
  db: Database,
  text: SQL,
): Promise<T[]> {
  return db.transaction(async (tx) => {
    await tx.execute(sql`set local plan_cache_mode = force_custom_plan`);
    return rows<T>(tx, text);
  });
}

/** The name under which a statement is prepared. */
export const nameOf = (text: string) => createHash('sha1').update(text).digest('hex');

/** Runs a statement, prepared under a name. */
export async function execute<T extends Record<string, unknown>>(
  db: Queries,
  query: Query,
  name: string,
): Promise<T[]> {
  const prepared = db._.session.prepareQuery(query, undefined, name, false);
  const result = (await prepared.execute()) as { rows: T[] };
  return result.rows;
}

/** An array parameter of ids. */
export function uuids(ids: readonly string[]): SQL {
  return sql`${sql.param([...ids])}::uuid[]`;
}

/** An instant (milliseconds) as a parameter. */
export function at(t: number): SQL {
  return sql`${new Date(t).toISOString()}::timestamptz`;
}

/** A timestamp read as the API writes instants. */
export function iso(column: SQL): SQL<string | null> {
  return sql<string | null>`to_char(${column} at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"')`;
}

/** What the API or core says of an instant, as the database's own date. */
export const toDate = (t: string | number | null): Date | null => (t === null ? null : new Date(t));

/** The other way: a date or milliseconds as the API writes instants. */
export const toIso = (t: Date | number | null): string | null =>
  t === null ? null : new Date(t).toISOString();

/** A timestamp read as milliseconds. */
export function ms(column: SQL | AnyColumn): SQL<number | null> {
  return sql<number | null>`(extract(epoch from ${column}) * 1000)::float8`;
}
