import type { FolderChange, PlacementChange, Thing } from '@sammlung/contract';
import { api } from './api/api.ts';

/** Changes facts of a folder, or of an item where it lies. */
export const changeThing = ({ kind, id }: Thing, facts: FolderChange | PlacementChange) =>
  kind === 'folder'
    ? api('PATCH /api/folders/:folder', { params: { folder: id }, body: facts })
    : api('PATCH /api/placements/:placement', { params: { placement: id }, body: facts });

/** Removes things of one kind. */
export const removeThings = (kind: Thing['kind'], ids: readonly string[]) =>
  api('POST /api/bin', { body: { things: ids.map((id): Thing => ({ kind, id })) } });
