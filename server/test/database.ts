import { randomUUID } from 'node:crypto';
import { sql } from 'drizzle-orm';
import { inject } from 'vitest';
import { openDatabase } from '../src/db/database.ts';

/** A database of its own with all tables, copied from the template; `close` removes it. */
export async function scratchDatabase() {
  const base = inject('databaseUrl');
  const name = `t_${randomUUID().replaceAll('-', '')}`;
  const urlOf = (database: string) => base.replace(/\/[^/]*$/u, `/${database}`);
  const statement = async (text: string) => {
    const { db, close } = openDatabase(base);
    await db.execute(sql.raw(text));
    await close();
  };
  await statement(`create database ${name} template sammlung_template`);
  const opened = openDatabase(urlOf(name));
  return {
    ...opened,
    url: urlOf(name),
    async close() {
      await opened.close();
      await statement(`drop database ${name} with (force)`);
    },
  };
}
