import DataLoader from 'dataloader';
import { Placeholder, type SQL } from 'drizzle-orm';
import { dialect, execute, nameOf, type Queries } from './database.ts';

/** What a statement is asked with: a value for each of its placeholders. */
type Values = Readonly<Record<string, unknown>>;

/** How many are answered by one run at most. More would wait for each other, while other connections are free. */
const MOST = 25;
/** How many runs of a statement are under way at most, so that others find a connection. */
const AT_ONCE = 2;

/**
 * A hand-written statement for the busiest paths, put together once. All who ask at the same moment are answered by one run of
 * it: a round trip costs more than most of these statements do. Each placeholder carries its type (`${placeholder}::uuid`).
 * In a transaction it is run for each by itself.
 */
export function statement<T extends Record<string, unknown>>(build: () => SQL) {
  let known: Statement<T> | undefined;
  return (db: Queries, values: Values): Promise<T[]> => {
    known ??= new Statement<T>(build());
    return known.ask(db, values);
  };
}

class Statement<T extends Record<string, unknown>> {
  readonly #text: string;
  readonly #name: string;
  /** The placeholders, and of which of them the values are arrays themselves. */
  readonly #columns: readonly { name: string; array: boolean }[];
  readonly #gates = new WeakMap<Queries, DataLoader<Values, T[]>>();

  constructor(one: SQL) {
    const query = dialect.sqlToQuery(one);
    const types = new Map<string, string>();
    const text = query.sql.replace(/\$(\d+)(?:::(\w+(?:\[\])?))?/gu, (_, place: string, type) => {
      const param = query.params[Number(place) - 1];
      if (!(param instanceof Placeholder) || !type)
        throw new Error(`$${place} is no placeholder with a type: ${query.sql}`);
      types.set(param.name, type);
      return type.endsWith('[]') ? `asked."${param.name}"::${type}` : `asked."${param.name}"`;
    });
    this.#columns = [...types].map(([name, type]) => ({ name, array: type.endsWith('[]') }));
    const given = [...types.values()].map(
      (type, n) => `$${n + 1}::${type.endsWith('[]') ? 'text' : type}[]`,
    );
    const names = [...types.keys()].map((name) => `"${name}", `);
    this.#text = `select (asked.place_ - 1)::int as place_, one.*
      from unnest(${given.join(', ')}) with ordinality asked (${names.join('')}place_) cross join lateral (${text}) one`;
    this.#name = nameOf(this.#text);
  }

  ask(db: Queries, values: Values): Promise<T[]> {
    if (!('$client' in db)) return this.#run(db, [values]).then(([rows]) => rows!);
    let gate = this.#gates.get(db);
    if (!gate) {
      gate = gather((all) => this.#run(db, all));
      this.#gates.set(db, gate);
    }
    return gate.load(values);
  }

  async #run(db: Queries, all: readonly Values[]): Promise<T[][]> {
    const params = this.#columns.map(({ name, array }) =>
      all.map((values) => {
        const value = values[name] ?? null;
        return array && value ? `{${(value as string[]).join(',')}}` : value;
      }),
    );
    const found = await execute<T & { place_: number }>(db, { sql: this.#text, params }, this.#name);
    const answers = all.map((): T[] => []);
    // The rows of one come in the order that the statement gives them.
    for (const { place_, ...row } of found) answers[place_]!.push(row as unknown as T);
    return answers;
  }
}

/** Answers those who ask together: whoever asks while as many runs as may be are under way is gathered for the next. */
function gather<T>(run: (all: readonly Values[]) => Promise<T[]>): DataLoader<Values, T> {
  let underWay = 0;
  const waiting: (() => void)[] = [];
  async function answer(all: readonly Values[]) {
    underWay += 1;
    try {
      return await run(all);
    } finally {
      underWay -= 1;
      waiting.shift()?.();
    }
  }
  return new DataLoader<Values, T>(answer, {
    cache: false,
    maxBatchSize: MOST,
    batchScheduleFn(begin) {
      // Not before all that has arrived has been read.
      if (underWay < AT_ONCE) setImmediate(begin);
      else waiting.push(begin);
    },
  });
}
