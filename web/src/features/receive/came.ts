import type { CameNews, NewThing, NewThings } from '@sammlung/contract';

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
    (a, b) => b.cameAt.localeCompare(a.cameAt) || a.title.localeCompare(b.title),
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

const count = <T>(list: readonly T[], holds: (one: T) => boolean) => list.filter(holds).length;
