import type {
  PlacementView,
  Routes,
  ScopedRoutes,
  ScopePrefix,
  Sent,
  Thing,
} from '@sammlung/contract';

export type RouteKey = keyof Routes & string;
export type ScopedKey = keyof ScopedRoutes & string;

/** What is given for a route: it may be left out where nothing in it has to be there. */
export type Given<M, K extends keyof M> = One<{ [N in keyof M]: Optional<Sent<M[N]>> }, K>;
/** Of that, what its address is made of. */
type GivenAddress<M, K extends keyof M> = One<
  { [N in keyof M]: Optional<Pick<Sent<M[N]>, keyof Sent<M[N]> & ('params' | 'query')>> },
  K
>;
type Optional<T> = object extends T ? [sent?: T] : [sent: T];
/** `M[K]`, so that the compiler does not look through all of `M` wherever it checks one of them. */
type One<M, K extends keyof M> = [K] extends [keyof M] ? M[K] : unknown[];

/** The address of a route, with its parameters and query filled in. */
export function address<K extends RouteKey>(key: K, ...[sent]: GivenAddress<Routes, K>): string {
  return fill(key, sent);
}

/** The address of a route in a scope, which begins with `base`: `/api`, or where a door's things are read. */
export function addressAt<K extends ScopedKey>(
  base: string,
  key: K,
  ...[sent]: GivenAddress<ScopedRoutes, K>
): string {
  return base + fill(key, sent);
}

/** Where the things of a scope are read. */
export function baseOf(scope: ScopePrefix, params: Readonly<Record<string, string>>): string {
  return fill(`GET ${scope}`, { params });
}

/** The path of a route key, `GET /api/folders/:folder`, for whatever is sent to it. */
export function fill(key: string, sent: unknown = {}): string {
  const { params, query } = sent as Record<'params' | 'query', Record<string, unknown> | undefined>;
  const path = key
    .slice(key.indexOf(' ') + 1)
    .replaceAll(/:(\w+)/gu, (_, name: string) => encodeURIComponent(String(params?.[name])));
  const search = new URLSearchParams(
    Object.entries(query ?? {}).flatMap(([name, value]) =>
      value === undefined || value === null ? [] : [[name, String(value)]],
    ),
  );
  return search.size > 0 ? `${path}?${search}` : path;
}

/** The body of what is sent to a route; undefined where it has none. */
export const bodyOf = (sent: unknown) => (sent as { body?: unknown } | undefined)?.body;

/** The part of the API that answers where somebody reads. */
export type Base = { readonly base: string };

/** The content of an item; with `of` only as long as that is the number of its newest version. */
export function contentAddress(
  { base }: Base,
  placement: string,
  as: 'inline' | 'attachment',
  of?: number | null,
) {
  const query = { as, of: of ?? undefined };
  return addressAt(base, 'GET /placements/:placement/content', { params: { placement }, query });
}

/** An earlier version of a file, for those who may change it. */
export function versionAddress(placement: string, version: string, as: 'inline' | 'attachment') {
  const query = { as, version };
  return address('GET /api/placements/:placement/content', { params: { placement }, query });
}

/** Everything in a folder as one archive. */
export function folderArchiveAddress({ base }: Base, folder: string) {
  return addressAt(base, 'GET /folders/:folder/archive', { params: { folder } });
}

/** How many things one archive can be asked for by themselves. */
export const ARCHIVE_LIMIT = 200;

/** Several things as one archive; null when there are too many, or nothing. */
export function archiveAddress({ base }: Base, chosen: readonly Thing[]) {
  if (chosen.length === 0 || chosen.length > ARCHIVE_LIMIT) return null;
  const things = chosen.map(({ kind, id }) => `${kind}.${id}`).join(',');
  return addressAt(base, 'GET /archive', { query: { things } });
}

/** The small picture of an item, for a tile or a line; `of` names its version, so that the browser may keep it. */
export function smallAddress({ base }: Base, placement: string, of: string, as?: 'line') {
  return addressAt(base, 'GET /placements/:placement/small', {
    params: { placement },
    query: { of, as },
  });
}

/** What is shown in place of an item's content. */
export function shownAddress({ base }: Base, placement: string, version: number | null) {
  return addressAt(base, 'GET /placements/:placement/shown', {
    params: { placement },
    query: { of: String(version) },
  });
}

/** What is read of an item in place: the form that the server has made of it, or its own content. */
export function readAddress(
  place: Base,
  { placementId, preview, version }: Pick<PlacementView, 'placementId' | 'preview' | 'version'>,
) {
  return preview?.shown
    ? shownAddress(place, placementId, version)
    : contentAddress(place, placementId, 'inline', version);
}

/** A picture on a page. */
export function pictureAddress(base: string, placement: string, hash: string) {
  return addressAt(base, 'GET /placements/:placement/pictures/:hash', {
    params: { placement, hash },
  });
}

const PICTURE = /<img src="pictures\/([0-9a-f]{64})"/gu;

/** The pictures on a page, by their SHA-256. */
export const picturesOn = (html: string) => [...html.matchAll(PICTURE)].map(([, hash]) => hash!);

/** The same HTML of a page, with its pictures where they are found. */
export const pictureAddresses = (base: string, placement: string, html: string) =>
  html.replaceAll(
    PICTURE,
    (_, hash: string) => `<img loading="lazy" src="${pictureAddress(base, placement, hash)}"`,
  );
