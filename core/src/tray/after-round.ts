import { Library } from '../access.ts';
import type { Id, Placement, Release, ReleaseRule } from '../model.ts';
import type { RoundStep } from './plan.ts';

/** The library as it will be after a round; the input stays as it is. */
export function afterRound(before: Library, steps: readonly RoundStep[]): Library {
  const placements = new Map(before.data.placements.map((one) => [one.id, one]));
  for (const [n, { fileId, folderId, itemId, placementId, rules }] of steps.entries()) {
    const known = placementId === null ? undefined : placements.get(placementId);
    const placement: Placement = known ?? {
      id: `round ${n}`,
      folderId,
      itemId: itemId ?? `round ${fileId}`,
      binned: false,
      release: { held: false, from: null, until: null, perClass: new Map() },
    };
    placements.set(placement.id, { ...placement, release: withRules(placement.release, rules) });
  }
  return new Library({ ...before.data, placements: [...placements.values()] }, before);
}

function withRules(before: ReleaseRule, rules: RoundStep['rules']): ReleaseRule {
  const perClass = new Map<Id, Release>(before.perClass);
  let general: Release = before;
  for (const { classId, release } of rules)
    if (classId === null) general = release;
    else perClass.set(classId, release);
  const { held, from, until } = general;
  return { held, from, until, perClass };
}
