/** How long what is remembered counts at most, in milliseconds. */
const LASTS = 10_000;
/** How many sessions are remembered at most. */
const MOST = 10_000;

/**
 * What a process remembers of sessions, so that not each reading asks the database who it is that reads. It is forgotten as
 * soon as something of it changes; what was read before a change, and arrives after it, is not remembered at all.
 */
export class SessionMemory<Person extends { readonly id: string; readonly schoolId: string }> {
  readonly #known = new Map<string, { person: Person; until: number }>();
  /** Grows with each change. */
  #changes = 0;
  #hears = false;

  /** Whether this process hears of changes; as long as it does not, it remembers nothing. */
  set hears(hears: boolean) {
    this.#hears = hears;
    this.forget();
  }

  get(cookie: string): Person | null {
    const found = this.#known.get(cookie);
    return found && Date.now() < found.until ? found.person : null;
  }

  /** Reads whose session it is and when (milliseconds) it ends, and remembers it. */
  async read(
    cookie: string,
    read: () => Promise<{ person: Person; endsAt: number } | null>,
  ): Promise<Person | null> {
    const before = this.#changes;
    const found = await read();
    if (!found) return null;
    const { person, endsAt } = found;
    if (this.#hears && this.#changes === before) {
      if (this.#known.size >= MOST) this.#known.clear();
      this.#known.set(cookie, { person, until: Math.min(Date.now() + LASTS, endsAt) });
    }
    return person;
  }

  /** Forgets the sessions of a person, or of a school; without an id all of them. */
  forget(id?: string): void {
    this.#changes += 1;
    if (id === undefined) this.#known.clear();
    else
      for (const [cookie, { person }] of this.#known)
        if (person.id === id || person.schoolId === id) this.#known.delete(cookie);
  }
}
