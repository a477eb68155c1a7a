import { DavError } from './errors.ts';

/** One state that a program names: a lock, or the entity tag of a file; with `not`, one that must not be. */
export interface Condition {
  readonly not: boolean;
  readonly token?: string;
  readonly etag?: string;
}

/** Conditions that hold together, for the resource of this address; null for the one that the request is about. */
export interface ConditionList {
  readonly resource: string | null;
  readonly conditions: readonly Condition[];
}

/** So many conditions are looked at in one request: each may ask the database. */
const MOST = 50;

/** Reads an `If` header (RFC 4918, 10.4): one of the lists has to hold. Linear. Throws for what is none. */
export function parseIf(header: string): ConditionList[] {
  const lists: ConditionList[] = [];
  let resource: string | null = null;
  let at = 0;
  let count = 0;
  const skip = () => {
    while (header[at] === ' ' || header[at] === '\t') at += 1;
  };
  /** What is up to a character, which is passed over. */
  const until = (end: string): string => {
    const to = header.indexOf(end, at);
    if (to < 0) throw malformed();
    const found = header.slice(at, to);
    at = to + 1;
    return found;
  };
  const condition = (): Condition => {
    let not = false;
    if (/^not[ \t<["]/iu.test(header.slice(at, at + 4))) {
      not = true;
      at += 3;
      skip();
    }
    const opening = header[at];
    at += 1;
    if (opening === '<') return { not, token: until('>') };
    if (opening === '[') return { not, etag: until(']').trim() };
    throw malformed();
  };
  for (skip(); at < header.length; skip()) {
    if (header[at] === '<') {
      at += 1;
      resource = until('>');
      continue;
    }
    if (header[at] !== '(') throw malformed();
    at += 1;
    const conditions: Condition[] = [];
    for (skip(); header[at] !== ')'; skip()) conditions.push(condition());
    at += 1;
    if (conditions.length === 0) throw malformed();
    lists.push({ resource, conditions });
    count += conditions.length;
    if (count > MOST) throw new DavError(400, 'The If header has too many conditions.');
  }
  if (lists.length === 0) throw malformed();
  return lists;
}

const malformed = () => new DavError(400, 'The If header cannot be read.');

/** The locks that a header names, whether for or against: whoever knows a token may use it. */
export const tokensIn = (lists: readonly ConditionList[]) =>
  lists.flatMap(({ conditions }) => conditions.flatMap(({ token }) => token ?? []));
