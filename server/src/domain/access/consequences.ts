import type { Change, Consequences } from '@sammlung/contract';
import { allows } from '@sammlung/core';
import { confidentialWords } from '../teacher-settings.ts';
import { previewChange } from './preview-change.ts';
import { decidableGrants, targetsOf } from '../grants.ts';
import { Rights } from './rights.ts';
import { contentsBelow, loadWorld } from './load-world.ts';
import type { Services } from '../../services.ts';
import type { SignedIn } from '../../platform/sessions.ts';

/**
 * Who would gain or lose sight of what by a change. Whoever only may add to a folder is told nothing about its
 * audience.
 */
export async function consequences(
  { db, now }: Pick<Services, 'db' | 'now'>,
  person: SignedIn,
  change: Change,
): Promise<Consequences> {
  const t = now();
  const rights = new Rights(db, person, t);
  const touched = await touchedBy(rights, change);
  if (touched === null) return { audiences: [], asks: false, confidential: [] };

  const below = await contentsBelow(db, touched.whole);
  const scope = {
    folderIds: [...new Set([...below.folderIds, ...touched.folderIds])],
    itemIds: [...new Set([...below.itemIds, ...touched.itemIds])],
  };
  const audiences = change.do === 'hand-out' ? change.audiences : [];
  const { world } = await loadWorld(db, person.schoolId, scope, audiences);
  const words = await confidentialWords(db, person.id);
  return previewChange(db, world, change, { schoolId: person.schoolId, words, scope }, t);
}

/** What a change concerns: folders with all below them (`whole`), folders as such, and items. Null: not to be told. */
async function touchedBy(rights: Rights, change: Change) {
  if (change.do === 'take-back' || change.do === 'hand-out') {
    const targets =
      change.do === 'take-back'
        ? await decidableGrants(rights, change.handings)
        : await targetsOf(rights, change.things);
    return {
      whole: targets.flatMap(({ folderId }) => folderId ?? []),
      folderIds: [],
      itemIds: targets.flatMap(({ itemId }) => itemId ?? []),
    };
  }
  const ids = (kind: 'folder' | 'placement') =>
    change.do === 'place' ? [] : change.things.filter((x) => x.kind === kind).map((x) => x.id);
  const targets =
    change.do === 'move' || change.do === 'place'
      ? [change.to].flat().filter((id) => id !== null)
      : [];
  const touched = [
    ...(await rights.folders(targets, 'add')),
    ...(await rights.folders(ids('folder'), 'manage')),
  ];
  const placements =
    change.do === 'place'
      ? await rights.ownItems(change.placements)
      : await rights.placements(ids('placement'));
  for (const placement of placements) if ('folder' in placement) touched.push(placement.folder);
  if (touched.some((folder) => !allows(folder.right, 'manage'))) return null;
  return {
    whole: ids('folder'),
    folderIds: touched.map((folder) => folder.id),
    itemIds: placements.map((p) => p.itemId),
  };
}
