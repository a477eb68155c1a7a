/** How many rows one statement puts in. */
const CHUNK = 500;

/** A list in parts of this size, that fit one statement each. */
export function* chunks<T>(list: readonly T[], size = CHUNK): Generator<T[]> {
  for (let n = 0; n < list.length; n += size) yield list.slice(n, n + size);
}
