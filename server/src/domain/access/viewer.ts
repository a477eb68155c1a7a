import type { Viewer } from './access-sql.ts';

/** Somebody who has signed in, as themselves: no doors count. */
export function viewerOf(
  person: { readonly id: string },
  at: number,
): Viewer & { personId: string } {
  return { personId: person.id, doorIds: [], at };
}
