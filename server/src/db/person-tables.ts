import { getTableName, isTable, type SQL } from 'drizzle-orm';
import { getTableConfig, type PgTable } from 'drizzle-orm/pg-core';
import * as schema from './schema/index.ts';

/** A table with rows that say who: read from the schema, so that a new one is not forgotten. */
export interface PersonTable {
  readonly name: string;
  readonly columns: readonly string[];
  /** The columns that refer to a person. */
  readonly who: readonly string[];
  /** Of which columns no two rows have the same, among those for which `where` holds; where there is an expression among them, they are left out. */
  readonly unique: readonly {
    readonly columns: readonly string[];
    readonly where?: SQL | undefined;
  }[];
}

interface Named {
  readonly name: string;
  readonly keyAsName: boolean;
}

const isNamed = (column: object): column is Named => 'name' in column && 'keyAsName' in column;

/** The name of a column in the database: `person_id`. */
function nameIn({ name, keyAsName }: Named): string {
  return keyAsName ? name.replaceAll(/[A-Z]/gu, (letter) => `_${letter.toLowerCase()}`) : name;
}

export const PERSON_TABLES: readonly PersonTable[] = Object.values(schema).flatMap(
  (table): PersonTable[] => {
    if (!isTable(table)) return [];
    const { columns, foreignKeys, indexes, primaryKeys, uniqueConstraints } = getTableConfig(
      table as PgTable,
    );
    const who = new Set<string>();
    for (const key of foreignKeys) {
      const { columns: from, foreignColumns, foreignTable } = key.reference();
      if (foreignTable !== schema.people) continue;
      foreignColumns.forEach((column, n) => column.name === 'id' && who.add(nameIn(from[n]!)));
    }
    if (who.size === 0) return [];
    const keys: { columns: readonly object[]; where?: SQL | undefined }[] = [
      ...columns.filter(({ primary, isUnique }) => primary || isUnique).map((column) => [column]),
      ...primaryKeys.map((key) => key.columns),
      ...uniqueConstraints.map((constraint) => constraint.columns),
    ].map((key) => ({ columns: key }));
    for (const { config } of indexes)
      if (config.unique) keys.push({ columns: config.columns, where: config.where });
    const unique = keys.flatMap(({ columns: key, where }) =>
      key.every(isNamed) ? [{ columns: key.map(nameIn), where }] : [],
    );
    return [{ name: getTableName(table), columns: columns.map(nameIn), who: [...who], unique }];
  },
);
