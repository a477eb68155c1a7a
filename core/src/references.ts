import { audienceName, waysInOverTime, type WayIn } from './audience.ts';
import type { World } from './consequence.ts';
import { groupBy } from './group.ts';
import type { Audience, HandingOut, Id, Instant, Placement } from './model.ts';
import { intersection, stretchesOf, stretchOf, union, type Stretches } from './spans.ts';

/** A folder, or a placement in it. */
export interface Site {
  readonly folderId: Id;
  readonly placement: Placement | null;
}

/** Readers of one thing who do not see another. */
export interface Unreached {
  readonly audience: Audience;
  /** How many; null at a door. */
  readonly people: number | null;
  /** Whether the other thing is handed out to this very audience, and is held back, or closed above. */
  readonly handedOut: boolean;
}

/**
 * Who gets `page`, whatever its release says, and does not see `thing` at `t` or at any later time, audience by audience. The
 * owners of both see them.
 */
export function unreached(world: World, page: Site, thing: Site, t: Instant): Unreached[] {
  const { library } = world;
  const audiences = groupBy(handedOn(world, page, t), ({ audience }) => audienceName(audience));
  const toThing = new Set(handedOn(world, thing, t).map(({ audience }) => audienceName(audience)));
  const known = new Map<string, ReturnType<typeof library.seenOn>>();
  const seen = (key: WayIn) => {
    const name = `${audienceName(key)}/${key.reading}/${key.exempt}`;
    const found = known.get(name) ?? library.seenOn(key, thing.folderId, thing.placement);
    known.set(name, found);
    return found;
  };
  const owners = [page, thing].map(({ folderId }) => library.folders.get(folderId)?.ownerId);
  const without = new Map<string, number | null>();
  for (const person of world.people) {
    if (owners.includes(person.id)) continue;
    const ways = waysInOverTime({ person, doors: [] });
    const later = (stretches: Stretches) => stretches.some(({ until }) => until > t);
    /** Those audiences of the page to which they belong at a time at which it is handed out. */
    const through = ways.flatMap(({ key, span }) => {
      const handed = audiences.get(audienceName(key));
      return handed && later(intersection(stretchesOf(span), union(handed.map(stretchOf))))
        ? [audienceName(key)]
        : [];
    });
    if (through.length === 0) continue;
    const sees = ways.some(({ key, span }) => later(intersection(stretchesOf(span), seen(key))));
    if (!sees) for (const name of new Set(through)) without.set(name, (without.get(name) ?? 0) + 1);
  }
  for (const [name, [handed]] of audiences) {
    const { audience } = handed!;
    const key = { ...audience, reading: null, exempt: false };
    if (audience.kind === 'door' && !seen(key).some(({ until }) => until > t))
      without.set(name, null);
  }
  return [...without].map(([name, people]) => ({
    audience: audiences.get(name)![0]!.audience,
    people,
    handedOut: toThing.has(name),
  }));
}

/** What is handed out, now or later, on the way to a site. */
function handedOn({ library }: World, { folderId, placement }: Site, t: Instant): HandingOut[] {
  const path = library.folders.get(folderId)?.path ?? [];
  return [...path, ...(placement ? [placement.itemId] : [])]
    .flatMap((id) => library.handingsOn(id))
    .filter(({ until }) => until === null || until > t);
}
