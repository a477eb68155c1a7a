/** The values of a list by what `keyOf` says of each, in the order they stand. */
export function groupBy<K, V>(values: Iterable<V>, keyOf: (value: V) => K): Map<K, V[]> {
  const groups = new Map<K, V[]>();
  for (const value of values) {
    const key = keyOf(value);
    const known = groups.get(key);
    if (known) known.push(value);
    else groups.set(key, [value]);
  }
  return groups;
}
