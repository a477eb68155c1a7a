import DataLoader from 'dataloader';
import { Placeholder, type SQL } from 'drizzle-orm';
import { dialect, execute, nameOf, type Queries } from './database.ts';

/** What a statement is asked with: a value for each of its placeholders. */
type Values = Readonly<Record<string, unknown>>;

/** How those who ask together are answered. */
export interface Gathering {
  /** How many by one run at most: more would wait for each other. */
  readonly most: number;
  /** How many runs are under way at most: whoever asks meanwhile is gathered for the next. */
  readonly runs: number;
}

/** For a statement that takes no longer than the way to the database and back. */
const QUICK: Gathering = { most: 25, runs: 2 };
/** For one that takes many times as long. */
export const LONG: Gathering = { most: 4, runs: 4 };

/**
 * A hand-written statement for the busiest paths, put together once. All who ask at the same moment are answered by one run of
 * it: a round trip costs more than most of these statements do. Each placeholder carries its type (`${placeholder}::uuid`).
 * In a transaction it is run for each by itself.
 */
export function statement<T extends Record<string, unknown>>(build: () => SQL, gathering = QUICK) {
  let known: Statement<T> | undefined;
  return (db: Queries, values: Values): Promise<T[]> => {
    known ??= new Statement<T>(build(), gathering);
    return known.ask(db, values);
  };
}

class Statement<T extends Record<string, unknown>> {
  readonly #text: string;
  readonly #name: string;
  /** The placeholders, and of which of them the values are arrays themselves. */
  readonly #columns: readonly { name: string; array: boolean }[];
  readonly #loaders = new WeakMap<Queries, DataLoader<Values, T[]>>();

  readonly #gathering: Gathering;

  constructor(one: SQL, gathering: Gathering) {
    this.#gathering = gathering;
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
    let loader = this.#loaders.get(db);
    if (!loader) {
      loader = gather(this.#gathering, (all) => this.#run(db, all));
      this.#loaders.set(db, loader);
    }
    return loader.load(values);
  }

  async #run(db: Queries, all: readonly Values[]): Promise<T[][]> {
    const params = this.#columns.map(({ name, array }) =>
      all.map((values) => {
        const value = values[name] ?? null;
        return array && value ? `{${(value as string[]).join(',')}}` : value;
      }),
    );
    const found = await execute<T & { place_: number }>(
      db,
      { sql: this.#text, params },
      this.#name,
    );
    const answers = all.map((): T[] => []);
    // The rows of one come in the order that the statement gives them.
    for (const { place_, ...row } of found) answers[place_]!.push(row as unknown as T);
    return answers;
  }
}

/** Gathers those who ask at the same moment, or while as many runs as may be are under way, and answers them together. */
function gather<T>(
  { most, runs }: Gathering,
  run: (all: readonly Values[]) => Promise<T[]>,
): DataLoader<Values, T> {
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
    maxBatchSize: most,
    batchScheduleFn(begin) {
      // Not before all that has arrived has been read.
      if (underWay < runs) setImmediate(begin);
      else waiting.push(begin);
    },
  });
}
