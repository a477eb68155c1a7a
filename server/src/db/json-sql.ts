import { sql, type SQL } from 'drizzle-orm';
import { iso } from './database.ts';

/**
 * A field of a row: what it is called in JSON, how it is written there, and what it is. A `word` holds nothing that JSON would
 * escape (an id, a day, an enum); `text` may hold anything; an `instant` is a timestamp; `json` is JSON in text already.
 */
export type Field = readonly [
  name: string,
  as: 'word' | 'text' | 'number' | 'boolean' | 'instant' | 'json',
  value: SQL,
];

/** The fields as columns of a select. */
export function columns(fields: readonly Field[]): SQL {
  const list = fields.map(
    ([name, as, value]) => sql`${as === 'instant' ? iso(value) : value} as ${sql.identifier(name)}`,
  );
  return sql.join(list, sql`, `);
}

/**
 * The fields as one JSON object, in text; null is allowed for each. PostgreSQL's own functions look up the type of each value
 * anew, which takes longer than all else in a list of a few rows.
 */
export function jsonObject(fields: readonly Field[]): SQL {
  const parts = fields.map(([name, as, value], n) => {
    const key = sql.raw(`'${n === 0 ? '{' : ','}"${name}":'`);
    return sql`${key} || coalesce(${written(as, value)}, 'null')`;
  });
  return sql`(${sql.join(parts, sql` || `)} || '}')`;
}

/** JSON objects, in text, as one array in the order given. */
export function jsonArray(object: SQL, order: SQL): SQL {
  return sql`'[' || coalesce(string_agg(${object}, ',' order by ${order}), '') || ']'`;
}

function written(as: Field[1], value: SQL): SQL {
  switch (as) {
    case 'word':
      return sql`'"' || (${value})::text || '"'`;
    case 'text':
      return sql`to_json((${value})::text)::text`;
    case 'instant':
      return sql`'"' || ${iso(value)} || '"'`;
    default:
      return sql`(${value})::text`;
  }
}
