import { etagOf as etagOfContent } from '../platform/send-stored.ts';
import type { DavLock } from '../domain/programs/locks.ts';
import type { DavProperty } from '../domain/programs/properties.ts';
import { hrefOf, pathKey } from './paths.ts';
import { covers, tokenOfLock } from './lock-paths.ts';
import { isLeaf, type DavNode } from './tree.ts';
import { DAV, element, nameElement, textElement, type Asked, type Property } from './xml.ts';

/** What a program is told of a thing: the properties of RFC 4918 and those that it has set itself. */

interface Facts {
  readonly size: number | null;
  readonly mediaType: string;
  readonly hash: string | null;
  /** Milliseconds; null where nothing is known of it. */
  readonly createdAt: number | null;
  readonly changedAt: number | null;
}

/** What is known of a file. A page is put together when it is fetched: how long it is then is not known before. */
function factsOf(node: DavNode): Facts | null {
  if (node.kind === 'item') {
    const { kind, size, mediaType, hash, createdAt, changedAt, url } = node.item;
    const times = { createdAt, changedAt };
    if (kind === 'link')
      return {
        size: Buffer.byteLength(linkFile(url ?? '')),
        mediaType: 'text/plain',
        hash: null,
        ...times,
      };
    if (kind === 'page') return { size: null, mediaType: 'text/html', hash, ...times };
    return { size, mediaType: mediaType ?? 'application/octet-stream', hash, ...times };
  }
  if (node.kind === 'tray-file') {
    const { size, mediaType, hash, arrivedAt } = node.file;
    const at = arrivedAt.getTime();
    return { size, mediaType, hash, createdAt: at, changedAt: at };
  }
  if (node.kind === 'dav-file') {
    const { size, mediaType, hash, changedAt } = node.file;
    const at = changedAt.getTime();
    return { size, mediaType, hash, createdAt: at, changedAt: at };
  }
  return null;
}

/** A web link as a file that systems open. */
export const linkFile = (url: string) => `[InternetShortcut]\r\nURL=${url}\r\n`;

/** The entity tag of a file; null for a folder. */
export function etagOf(node: DavNode): string | null {
  if (!isLeaf(node)) return null;
  const facts = factsOf(node)!;
  if (facts.hash !== null) return etagOfContent(facts.hash);
  return node.kind === 'item' ? `"${node.item.itemId}-${facts.changedAt}"` : '"empty"';
}

/** What is told of one thing. */
export interface Described {
  readonly names: readonly string[];
  readonly node: DavNode;
  readonly locks: readonly DavLock[];
  /** Those that programs have set. */
  readonly set: readonly DavProperty[];
  /** In bytes: how much the person has used, and how much is left. */
  readonly room: { readonly used: number; readonly left: number } | null;
}

type Live = (one: Described) => string | null;

const time = (at: number | null | undefined) => (at ? new Date(at) : null);
const LIVE: Readonly<Record<string, Live>> = {
  displayname: ({ names }) => textElement('displayname', names.at(-1) ?? 'Sammlung'),
  resourcetype: ({ node }) => element('resourcetype', isLeaf(node) ? '' : element('collection')),
  creationdate: ({ node }) => {
    const created =
      node.kind === 'folder' && node.createdAt > 0 ? node.createdAt : factsOf(node)?.createdAt;
    const at = time(created);
    return at && textElement('creationdate', at.toISOString());
  },
  getlastmodified: ({ node }) => {
    const at = time(factsOf(node)?.changedAt);
    return at && textElement('getlastmodified', at.toUTCString());
  },
  getcontentlength: ({ node }) => {
    const size = factsOf(node)?.size ?? null;
    return size === null ? null : textElement('getcontentlength', String(size));
  },
  getcontenttype: ({ node }) => {
    const facts = factsOf(node);
    return facts && textElement('getcontenttype', facts.mediaType);
  },
  getetag: ({ node }) => {
    const etag = etagOf(node);
    return etag && textElement('getetag', etag);
  },
  supportedlock: () => element('supportedlock', SUPPORTED_LOCKS),
  lockdiscovery: ({ names, locks }) => lockDiscovery(locks, names),
};
/** Told only where they are asked for by name (RFC 4331). */
const ROOM: Readonly<Record<string, Live>> = {
  'quota-available-bytes': ({ room }) =>
    room && textElement('quota-available-bytes', String(room.left)),
  'quota-used-bytes': ({ room }) => room && textElement('quota-used-bytes', String(room.used)),
};

export const asksForRoom = (asked: Asked) =>
  asked.what === 'some' &&
  asked.properties.some(({ namespace, name }) => namespace === DAV && name in ROOM);

const lockEntry = (scope: string) =>
  element(
    'lockentry',
    element('lockscope', element(scope)) + element('locktype', element('write')),
  );
const SUPPORTED_LOCKS = lockEntry('exclusive') + lockEntry('shared');

/** Which locks are on a path. */
export function lockDiscovery(locks: readonly DavLock[], names: readonly string[]): string {
  const key = pathKey(names);
  return element(
    'lockdiscovery',
    locks
      .filter((lock) => covers(lock, key))
      .map((lock) => activeLock(lock, names))
      .join(''),
  );
}

function activeLock(lock: DavLock, names: readonly string[]): string {
  const { exclusive, infinite, owner, endsAt, path } = lock;
  const root = names.slice(0, path === '' ? 0 : path.split('/').length);
  const seconds = Math.max(0, Math.round((endsAt.getTime() - Date.now()) / 1000));
  return element(
    'activelock',
    [
      element('locktype', element('write')),
      element('lockscope', element(exclusive ? 'exclusive' : 'shared')),
      textElement('depth', infinite ? 'infinity' : '0'),
      owner,
      textElement('timeout', `Second-${seconds}`),
      element('locktoken', textElement('href', tokenOfLock(lock))),
      element('lockroot', textElement('href', hrefOf(root, false))),
    ].join(''),
  );
}

/** Whether a property is one of ours, which programs cannot set. */
export const isLive = ({ namespace, name }: Property) =>
  namespace === DAV && (name in LIVE || name in ROOM);

/** What is said of a thing: properties by the status of each. */
export function propstats(asked: Asked, one: Described): { status: number; xml: string }[] {
  const own = one.set.map(({ xml }) => xml).join('');
  if (asked.what === 'names') {
    const live = Object.entries(LIVE).filter(([, tell]) => tell(one) !== null);
    const names = [...live.map(([name]) => ({ namespace: DAV, name })), ...one.set];
    return [{ status: 200, xml: names.map(nameElement).join('') }];
  }
  if (asked.what === 'all') {
    const live = Object.values(LIVE).map((tell) => tell(one) ?? '');
    return [{ status: 200, xml: live.join('') + own }];
  }
  const found: string[] = [];
  const missing: string[] = [];
  for (const property of asked.properties) {
    const xml = valueOf(property, one);
    if (xml === null) missing.push(nameElement(property));
    else found.push(xml);
  }
  return [
    { status: 200, xml: found.join('') },
    { status: 404, xml: missing.join('') },
  ];
}

function valueOf({ namespace, name }: Property, one: Described): string | null {
  const live = namespace === DAV ? (LIVE[name] ?? ROOM[name]) : undefined;
  if (live) return live(one);
  return one.set.find((x) => x.namespace === namespace && x.name === name)?.xml ?? null;
}
