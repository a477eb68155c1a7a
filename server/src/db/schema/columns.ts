import { sql } from 'drizzle-orm';
import {
  boolean,
  foreignKey,
  index,
  timestamp,
  unique,
  uuid,
  type AnyPgColumn,
} from 'drizzle-orm/pg-core';

/** Column makers and keys that every table group shares. */

export const id = () => uuid().primaryKey().defaultRandom();
export const schoolId = () => uuid().notNull();
export const instant = () => timestamp({ withTimezone: true, mode: 'date' });
export const createdAt = () => instant().notNull().defaultNow();

/** The release of a folder or placement; `until` lies after `from`. */
export const release = () => ({
  held: boolean().notNull().default(false),
  fromAt: instant(),
  untilAt: instant(),
});

/**
 * For finding what begins or ends at some time: all others, which are nearly all, are left out.
 * `name` is that of the table.
 */
export const spanIndexes = (
  name: string,
  table: { readonly fromAt: AnyPgColumn; readonly untilAt: AnyPgColumn },
) => [
  index(`${name}_from`)
    .on(table.fromAt)
    .where(sql`${table.fromAt} is not null`),
  index(`${name}_until`)
    .on(table.untilAt)
    .where(sql`${table.untilAt} is not null`),
];

interface TenantTable {
  readonly schoolId: AnyPgColumn;
  readonly id: AnyPgColumn;
}

/** The key to which tables of the same school refer: nothing can point into another school. */
export const tenantKey = (table: TenantTable) => unique().on(table.schoolId, table.id);

/** A reference that carries the school along. */
export const within = (
  table: { readonly schoolId: AnyPgColumn },
  column: AnyPgColumn,
  target: TenantTable,
) =>
  foreignKey({ columns: [table.schoolId, column], foreignColumns: [target.schoolId, target.id] });
