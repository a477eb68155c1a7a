import { api } from './api.ts';

/** What was asked for before the page that wants it was there, by path. */
const early = new Map<string, { coming: Promise<unknown>; arrived?: unknown }>();

/** Asks for what a page is about to want, so that it comes while the page itself is still being loaded. */
export function askEarly(paths: readonly string[]): void {
  for (const path of paths) {
    if (early.has(path)) continue;
    const asked = { coming: api('GET', path), arrived: undefined as unknown };
    early.set(path, asked);
    asked.coming.then(
      (data) => (asked.arrived = data),
      // The page asks again, and says what is wrong.
      () => early.delete(path),
    );
  }
}

/** Resolves when all of it has arrived, or is no longer worth waiting for. */
export async function arriving(patienceMs: number): Promise<void> {
  const late = new Promise((resolve) => setTimeout(resolve, patienceMs));
  await Promise.race([Promise.allSettled([...early.values()].map((x) => x.coming)), late]);
}

/** For when another page is shown, or somebody else has come. */
export function dropEarly(): void {
  early.clear();
}

/** Options of a query for what may have been asked for early: drawn at once, and not asked for again. */
export function perhapsEarly<T>(path: () => string) {
  const take = (holds: (asked: { arrived?: unknown }) => boolean) => {
    const asked = early.get(path());
    if (!asked || !holds(asked)) return undefined;
    early.delete(path());
    return asked;
  };
  return {
    initialData: () => take(({ arrived }) => arrived !== undefined)?.arrived as T | undefined,
    query: () => (take(() => true)?.coming as Promise<T> | undefined) ?? api<T>('GET', path()),
    // Long enough for what has just arrived.
    staleTime: 500,
  };
}
