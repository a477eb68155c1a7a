/** Work in pieces, between which other work may be done; it returns what comes out. */
export type InPieces<T> = Generator<void, T, void>;

/** Does all the pieces at once. */
export function atOnce<T>(work: InPieces<T>): T {
  for (;;) {
    const { done, value } = work.next();
    if (done) return value;
  }
}
