import type { FastifyRequest } from 'fastify';
import type { SignedIn } from '../platform/sessions.ts';
import type { Services } from '../services.ts';
import { locksOf, type DavLock } from '../domain/programs/locks.ts';
import { DavError, REASONS } from './errors.ts';
import { parseIf, tokensIn, type Condition, type ConditionList } from './if-header.ts';
import { covers, isBelow, lockOfToken } from './lock-paths.ts';
import { namesInHeader, namesOf, pathKey, pathOf } from './paths.ts';
import { Tree, type Found } from './tree.ts';
import { etagOf } from './properties.ts';

/** A body of XML has at most so many bytes. */
const XML_LIMIT = 256 << 10;
const READ_LIMIT = 8 << 20;

/** One request of a program: who sends it, about what, and under which conditions. */
export class DavRequest {
  readonly tree: Tree;
  readonly names: readonly string[];
  readonly #conditions: readonly ConditionList[];
  #locks: Promise<readonly DavLock[]> | null = null;

  constructor(
    readonly services: Services,
    readonly request: FastifyRequest,
    readonly person: SignedIn,
  ) {
    this.tree = new Tree(services, person, services.now());
    this.names = namesOf(pathOf(request.raw.url ?? ''));
    const header = request.headers['if'];
    this.#conditions = typeof header === 'string' ? parseIf(header) : [];
  }

  get t(): number {
    return this.tree.t;
  }

  header(name: string): string | undefined {
    const value = this.request.headers[name];
    return Array.isArray(value) ? value[0] : value;
  }

  find(names: readonly string[] = this.names): Promise<Found> {
    return this.tree.find(names);
  }

  /** The names in the `Destination` header. Throws where there is none. */
  destination(): string[] {
    const value = this.header('destination');
    if (value === undefined) throw new DavError(400, 'This says nothing of where it is to go.');
    return namesInHeader(value, this.request.host);
  }

  /** How deep the request goes; `infinity` where it does not say. Throws for other words. */
  depth(): '0' | '1' | 'infinity' {
    const value = (this.header('depth') ?? 'infinity').toLowerCase();
    if (value === '0' || value === '1' || value === 'infinity') return value;
    throw new DavError(400, 'The Depth header cannot be read.');
  }

  overwrites(): boolean {
    return (this.header('overwrite') ?? 'T').toUpperCase() !== 'F';
  }

  /** The body as text. Throws for one that is too large. */
  async xml(): Promise<string> {
    const pieces: Buffer[] = [];
    let size = 0;
    for await (const piece of this.request.raw as AsyncIterable<Buffer>) {
      size += piece.length;
      // Read to its end, as far as that is bearable: whoever still sends hears no answer.
      if (size > READ_LIMIT) break;
      if (size <= XML_LIMIT) pieces.push(piece);
    }
    if (size > XML_LIMIT) throw new DavError(413, 'The XML of this request is too long.');
    return Buffer.concat(pieces).toString('utf8');
  }

  /** The locks of this person that hold now. */
  locks(): Promise<readonly DavLock[]> {
    return (this.#locks ??= locksOf(this.services.db, this.person.id, this.t));
  }

  /** The tokens that the program shows. */
  shownTokens(): ReadonlySet<string> {
    return new Set(tokensIn(this.#conditions).flatMap((token) => lockOfToken(token) ?? []));
  }

  /**
   * Lets the request change things: its conditions hold, and no lock is in the way of what happens to these paths. `below`: with all in them;
   * `membership`: something comes into the folder or goes from it.
   */
  async requireChangeable(
    ...paths: readonly {
      readonly names: readonly string[];
      readonly below?: boolean;
      readonly membership?: boolean;
    }[]
  ): Promise<void> {
    await this.requireConditions();
    const locks = await this.locks();
    const shown = this.shownTokens();
    for (const { names, below = false, membership = false } of paths) {
      const key = pathKey(names);
      const parent = pathKey(names.slice(0, -1));
      const inTheWay = locks.filter(
        (lock) =>
          covers(lock, key) ||
          (below && isBelow(lock.path, key)) ||
          (membership && names.length > 0 && lock.path === parent),
      );
      // Of several shared locks one is enough.
      if (inTheWay.length > 0 && !inTheWay.some(({ token }) => shown.has(token)))
        throw new DavError(423, REASONS.locked, { condition: 'lock-token-submitted' });
      const others = inTheWay.filter(({ exclusive, token }) => exclusive && !shown.has(token));
      if (others.length > 0)
        throw new DavError(423, REASONS.locked, { condition: 'lock-token-submitted' });
    }
  }

  /** Throws unless one of the lists in the `If` header holds, where there is one. */
  async requireConditions(): Promise<void> {
    if (this.#conditions.length === 0) return;
    for (const list of this.#conditions) if (await this.#holds(list)) return;
    throw new DavError(412, 'It has changed in the meantime.');
  }

  async #holds({ resource, conditions }: ConditionList): Promise<boolean> {
    const names = resource === null ? this.names : namesInHeader(resource, this.request.host);
    for (const condition of conditions)
      if ((await this.#isTrue(names, condition)) === condition.not) return false;
    return true;
  }

  async #isTrue(names: readonly string[], { token, etag }: Condition): Promise<boolean> {
    if (token !== undefined) {
      const wanted = lockOfToken(token);
      const key = pathKey(names);
      return (await this.locks()).some((lock) => lock.token === wanted && covers(lock, key));
    }
    const { node } = await this.find(names);
    return node !== null && etagOf(node) === etag;
  }

  /** Throws unless what is there is in one of the states that the headers name (RFC 9110, 13). */
  requireState({ node }: Found): void {
    const etag = node && etagOf(node);
    const listed = (header: string) =>
      header.trim() === '*' ? node !== null : header.split(',').some((one) => one.trim() === etag);
    const wanted = this.header('if-match');
    const unwanted = this.header('if-none-match');
    if ((wanted && !listed(wanted)) || (unwanted && listed(unwanted)))
      throw new DavError(412, 'It has changed in the meantime.');
  }
}
