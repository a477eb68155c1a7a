import { api } from './api.ts';

/** What was asked for before the page that wants it was there, by path. */
const early = new Map<string, { coming: Promise<unknown>; arrived: unknown }>();

/** Asks for what a page is about to want, so that it comes while the page itself is still being loaded. */
export function askEarly(paths: readonly string[]): void {
  for (const path of paths) {
    if (early.has(path)) continue;
    const asked = { coming: api<unknown>('GET', path), arrived: undefined as unknown };
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

/** Options of a query for what may have been asked for early: that is drawn at once, and not asked for again. */
export function perhapsEarly<T>(path: () => string) {
  const asked = early.get(path());
  early.delete(path());
  const arrived = asked?.arrived as T | undefined;
  let coming = arrived === undefined ? (asked?.coming as Promise<T> | undefined) : undefined;
  return {
    initialData: () => arrived,
    query: () => {
      const first = coming;
      coming = undefined;
      return first ?? api<T>('GET', path());
    },
    staleTime: 0,
    refetchOnMount: arrived === undefined,
  };
}
