import { randomInt } from 'node:crypto';
import type { Queries } from '../../db/database.ts';
import { signInNamesOn } from './queries.ts';

/** A sign-in name that nobody has for each stem: with a number behind it. */
export async function freeSignInNames(
  tx: Queries,
  stems: readonly (string | null)[],
): Promise<(string | null)[]> {
  const taken = new Set(
    await signInNamesOn(
      tx,
      stems.filter((stem) => stem !== null),
    ),
  );
  return stems.map((stem) => {
    if (stem === null) return null;
    for (let digits = 2; ; digits += 1) {
      for (let tries = 0; tries < 20; tries += 1) {
        const name = `${stem}${randomInt(10 ** (digits - 1), 10 ** digits)}`;
        if (taken.has(name)) continue;
        taken.add(name);
        return name;
      }
    }
  });
}
