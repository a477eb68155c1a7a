import type { PlacementView, Thing } from '@sammlung/contract';

/** The part of the API that answers where somebody reads. */
export type Base = { readonly base: string };

/** The content of an item; with `version` only as long as that one is the newest. */
export function contentAddress(
  { base }: Base,
  placementId: string,
  as: 'inline' | 'attachment',
  version?: number | null,
) {
  const of = version ? `&of=${version}` : '';
  return `${base}/placements/${placementId}/content?as=${as}${of}`;
}

/** Everything in a folder as one archive. */
export function folderArchiveAddress({ base }: Base, folderId: string) {
  return `${base}/folders/${folderId}/archive`;
}

/** How many things one archive can be asked for by themselves. */
export const ARCHIVE_LIMIT = 200;

/** Several things as one archive; null when there are too many, or nothing. */
export function archiveAddress({ base }: Base, things: readonly Thing[]) {
  if (things.length === 0 || things.length > ARCHIVE_LIMIT) return null;
  return `${base}/archive?things=${things.map(({ kind, id }) => `${kind}.${id}`).join(',')}`;
}

/** The small picture of an item; `which` names its version, so that the browser may keep it. */
export function smallAddress({ base }: Base, placementId: string, which: string) {
  return `${base}/placements/${placementId}/small?of=${which}`;
}

/** What is shown in place of an item's content. */
export function shownAddress({ base }: Base, placementId: string, version: number | null) {
  return `${base}/placements/${placementId}/shown?of=${version}`;
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
