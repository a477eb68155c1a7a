import { audienceName, waysInOverTime, type WayIn } from './audience.ts';
import type { World } from './consequence.ts';
import { groupBy } from './group.ts';
import type { Audience, Id, Instant, Placement } from './model.ts';
import { intersection, stretchesOf } from './spans.ts';

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
  const audiences = groupBy(handedOn(world, page, t), audienceName);
  const toThing = new Set(handedOn(world, thing, t).map(audienceName));
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
    const ways = waysInOverTime({ person, doors: [] }).filter(
      ({ span: { until } }) => until === null || until > t,
    );
    const through = ways.map(({ key }) => audienceName(key)).filter((name) => audiences.has(name));
    if (through.length === 0) continue;
    const sees = ways.some(({ key, span }) =>
      intersection(stretchesOf(span), seen(key)).some(({ until }) => until > t),
    );
    if (!sees) for (const name of new Set(through)) without.set(name, (without.get(name) ?? 0) + 1);
  }
  for (const [name, [audience]] of audiences)
    if (
      audience!.kind === 'door' &&
      !seen({ ...audience!, reading: null, exempt: false }).some(({ until }) => until > t)
    )
      without.set(name, null);
  return [...without].map(([name, people]) => ({
    audience: audiences.get(name)![0]!,
    people,
    handedOut: toThing.has(name),
  }));
}

/** To whom something is handed out, now or later, on the way to a site. */
function handedOn({ library }: World, { folderId, placement }: Site, t: Instant): Audience[] {
  const path = library.folders.get(folderId)?.path ?? [];
  return [...path, ...(placement ? [placement.itemId] : [])]
    .flatMap((id) => library.handingsOn(id))
    .filter(({ until }) => until === null || until > t)
    .map(({ audience }) => audience);
}
