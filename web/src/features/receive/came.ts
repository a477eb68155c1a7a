import type { CameNews, NewThing, NewThings } from '@sammlung/contract';

/** So many things are shown at first, and so many more each time that older ones are asked for. */
export const STEP = 50;

type By = string | undefined;

/** Whether a thing came by a class, or for `me` by none; everything did without one. */
export function cameBy(thing: NewThing, by: By): boolean {
  if (by === undefined) return true;
  return by === 'me' ? thing.classes.length === 0 : thing.classes.some((c) => c.id === by);
}

/**
 * What is shown, with what has been told of some folders taken over: their things are now these, newest first, and
 * counted anew. Things older than what is shown stay out: nobody knows whether they were opened.
 */
export function withNews(shown: NewThings, news: CameNews, by: By): NewThings {
  const oldest = shown.more ? (shown.things.at(-1)?.cameAt ?? '') : '';
  const before = new Map(shown.things.map((thing) => [thing.itemId, thing]));
  const come = news.things
    .filter((thing) => cameBy(thing, by) && thing.cameAt >= oldest)
    .map((thing) => {
      const known = before.get(thing.itemId);
      return { ...thing, opened: known?.version === thing.version && known.opened };
    });
  const comeIds = new Set(come.map((thing) => thing.itemId));
  const gone = shown.things.filter(
    (thing) =>
      comeIds.has(thing.itemId) || (thing.folder && news.folderIds.includes(thing.folder.id)),
  );
  const things = [...come, ...shown.things.filter((thing) => !gone.includes(thing))].sort(
    (a, b) =>
      b.cameAt.localeCompare(a.cameAt) ||
      aToZ(a.folder?.title ?? '', b.folder?.title ?? '') ||
      aToZ(a.title, b.title),
  );
  const more = (holds: (thing: NewThing) => boolean) =>
    count(come, (x) => !x.opened && holds(x)) - count(gone, (x) => !x.opened && holds(x));
  return {
    ...shown,
    things,
    unopened: shown.unopened + more(() => true),
    classes: shown.classes.map((c) => ({
      ...c,
      unopened: c.unopened + more((thing) => cameBy(thing, c.id)),
    })),
    forMe: shown.forMe + more((thing) => cameBy(thing, 'me')),
  };
}

const aToZ = (a: string, b: string) => a.localeCompare(b, undefined, { numeric: true });
const count = <T>(list: readonly T[], holds: (one: T) => boolean) => list.filter(holds).length;

/** Things that came in one after the other out of the same folder by the same classes. */
export interface Run {
  readonly key: string;
  /** What all runs out of this folder by these classes have in common. */
  readonly from: string;
  readonly things: readonly NewThing[];
  /** How many more there are, which are not shown until they are asked for. */
  readonly folded: number;
}

/** A longer run than this is folded, with so many of its things still shown. */
const LONG = 8;
const SHOWN = 4;

/** The things of a day in runs; long ones are folded, unless where they are from is among the `unfolded`. */
export function runsOf(things: readonly NewThing[], unfolded: ReadonlySet<string>): Run[] {
  const runs: { from: string; things: NewThing[] }[] = [];
  for (const thing of things) {
    const from = [thing.folder?.id ?? '', ...thing.classes.map(({ id }) => id)].join();
    if (runs.at(-1)?.from === from) runs.at(-1)!.things.push(thing);
    else runs.push({ from, things: [thing] });
  }
  const seen = new Map<string, number>();
  return runs.map(({ from, things: all }) => {
    const nth = seen.get(from) ?? 0;
    seen.set(from, nth + 1);
    const long = all.length > LONG && all[0]!.folder !== null && !unfolded.has(from);
    return {
      key: `${from}/${nth}`,
      from,
      things: long ? all.slice(0, SHOWN) : all,
      folded: long ? all.length - SHOWN : 0,
    };
  });
}
