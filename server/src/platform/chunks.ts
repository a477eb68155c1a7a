/** How many rows one statement puts in. */
const CHUNK = 500;

/** A list in parts that fit one statement each. */
export function* chunks<T>(list: readonly T[]): Generator<T[]> {
  for (let n = 0; n < list.length; n += CHUNK) yield list.slice(n, n + CHUNK);
}
