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

/** Options of a query for what may have been asked for early: that is drawn at once, and not asked for again. */
export function perhapsEarly<T>(path: () => string) {
  const take = () => {
    const asked = early.get(path());
    early.delete(path());
    return asked;
  };
  let asked = take();
  const arrived = asked?.arrived as T | undefined;
  if (arrived !== undefined) asked = undefined;
  return {
    initialData: () => arrived,
    query: () => {
      const coming = asked?.coming as Promise<T> | undefined;
      asked = undefined;
      return coming ?? api<T>('GET', path());
    },
    staleTime: 0,
    refetchOnMount: arrived === undefined,
  };
}
