import type { Consequences, StructuralChange } from '@sammlung/contract';
import { afterChange, allows, asksFirst, consequence } from '@sammlung/core';
import { Rights } from '../../platform/access/rights.ts';
import { audienceNames } from '../../platform/access/tabs.ts';
import { told } from '../../platform/access/told.ts';
import { contentsBelow, loadWorld } from '../../platform/access/world.ts';
import type { Services } from '../../platform/services.ts';
import type { SignedIn } from '../../platform/sessions.ts';

/**
 * Who would gain or lose sight of what by a change to what lies where. Whoever only may add to a folder is told
 * nothing about its audience.
 */
export async function consequences(
  { db, now }: Pick<Services, 'db' | 'now'>,
  person: SignedIn,
  change: StructuralChange,
): Promise<Consequences> {
  const t = now();
  const rights = new Rights(db, person, t);
  const ids = (kind: 'folder' | 'placement') =>
    change.do === 'place' ? [] : change.things.filter((x) => x.kind === kind).map((x) => x.id);
  const targets = change.do === 'remove' ? [] : [change.to].flat().filter((id) => id !== null);
  const touched = [];
  for (const id of targets) touched.push(await rights.folder(id, 'add'));
  for (const id of ids('folder')) touched.push(await rights.folder(id, 'manage'));
  const placements =
    change.do === 'place'
      ? await rights.ownItems(change.placements)
      : await rights.placements(ids('placement'));
  for (const placement of placements) if ('folder' in placement) touched.push(placement.folder);
  if (touched.some((folder) => !allows(folder.right, 'manage')))
    return { audiences: [], asks: false };

  const below = await contentsBelow(db, ids('folder'));
  const { world, library } = await loadWorld(db, person.schoolId, {
    folderIds: [...new Set([...below.folderIds, ...touched.map((folder) => folder.id)])],
    itemIds: [...new Set([...below.itemIds, ...placements.map((p) => p.itemId)])],
  });
  const result = consequence(world, { ...world, library: afterChange(library, change) }, t);
  const names = await audienceNames(db, library);
  return {
    audiences: result.audiences.map((line) => {
      const { audience } = line;
      const kind =
        audience.kind === 'staff' || audience.kind === 'school' ? audience.kind : 'person';
      const name = names.get(audience.id) ?? { kind, label: '', colour: null };
      return { id: audience.id, ...name, change: told(line, false) };
    }),
    asks: asksFirst(result),
  };
}
