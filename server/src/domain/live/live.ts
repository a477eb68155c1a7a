import { audienceName, waysIn, type WayIn, type ShownDoor } from '@sammlung/core';
import type pg from 'pg';
import type { Database } from '../../db/database.ts';
import { loadPeople } from '../access/load-world.ts';
import type { Viewer } from '../access/access-sql.ts';
import { AppError } from '../../platform/errors.ts';
import { listen } from '../../platform/live/listen.ts';
import {
  audiencesEver,
  audiencesOf,
  sessionsThatHold,
  scheduledChanges,
  folderPaths,
  type LiveChange,
} from './queries.ts';
import type { Stream } from '../../platform/live/stream.ts';

/** What an open page shows, and how it is told of changes. */
export interface Watch {
  readonly stream: Stream;
  readonly viewer: Viewer;
  readonly sessionId: string | null;
  readonly schoolId: string;
  /** The doors through which the viewer came. */
  readonly doors: readonly ShownDoor[];
  /** The class whose website they came to. */
  readonly websiteOf: string | null;
  /** The folder on the screen; null for all that comes to this person. */
  readonly folderId: string | null;
  /** Whether it shows what is below the folder as well. */
  readonly below?: boolean;
  /**
   * Makes what is sent when the list in a folder has changed: once for all who see the same, so nothing in it may be of
   * the viewer alone. `folderIds` are the folders that have changed. Without it pages are only told to look again.
   */
  readonly news: {
    readonly event: string;
    /** Two watches with the same name are told the same. */
    readonly name: string;
    make(viewer: Viewer, folderIds: readonly string[]): Promise<object>;
  } | null;
}

export interface Live {
  /** Tells a page of changes until its stream ends. Resolves when nothing can be missed any more. */
  watch(watch: Watch): Promise<void>;
  /** Tells what has begun or ended by itself since it was last asked. */
  tick(): Promise<void>;
  /** How many pages are told. */
  watching(): number;
  close(): Promise<void>;
}

/** How long changes are gathered before they are told, in milliseconds. */
const GATHER = 30;
/** A page hears something at least this often, in milliseconds, so that it knows that it would. */
const BEAT = 20_000;
/** How often is looked for what begins or ends by itself; on the full minute, too. In milliseconds. */
const TICK = 10_000;
/** A page that comes later than this after a change (milliseconds) has loaded what it shows after it. */
const REMEMBERED = 10_000;
/** Pages that look again do so one after the other, so many milliseconds apart. */
const APART = 20;
/** Differing groups and folders up to which a change is told as it is; beyond it pages look again. */
const MOST_GROUPS = 60;
const MOST_FOLDERS = 8;

interface Watching {
  readonly watch: Watch;
  /** From the topmost folder to the one on the screen, whether the viewer may know of them or not. */
  path: readonly string[];
  /** What it was told last: a change that makes no difference to a page is not told, nor that there was one. */
  told: string;
}

/**
 * Tells open pages what has changed, whichever server process has changed it. Access is judged anew for each change:
 * pages are grouped by what they see, and each group's news is made by the queries that answer requests.
 */
export function startLive(needs: {
  db: Database;
  pool: pg.Pool;
  now: () => number;
  note: (error: unknown) => void;
}): Live {
  const { db, pool, now, note } = needs;
  const watching = new Set<Watching>();
  const recent: { change: LiveChange; at: number }[] = [];
  let gathered: LiveChange[] = [];
  let gathering: NodeJS.Timeout | undefined;
  let ticking: NodeJS.Timeout | undefined;
  let beating: NodeJS.Timeout | undefined;
  let listening: ReturnType<typeof listen> | null = null;
  let telling = Promise.resolve();
  let ticked = now();

  function hear(text: string) {
    const [what, schoolId, id] = text.split(' ') as [LiveChange['what'], string, string];
    take([{ what, schoolId, id }]);
  }

  function take(changes: readonly LiveChange[]) {
    const at = Date.now();
    while (recent[0] && recent[0].at < at - REMEMBERED) recent.shift();
    recent.push(...changes.map((change) => ({ change, at })));
    if (gathered.length === 0 && changes.length > 0)
      gathering = setTimeout(() => (telling = telling.then(tellGathered)), GATHER);
    gathered.push(...changes);
  }

  async function tellGathered() {
    const changes = gathered;
    gathered = [];
    if (watching.size === 0) return;
    try {
      await tell(changes);
    } catch (error) {
      // Nobody knows who has been told: all look for themselves.
      note(error);
      inTurn([...watching], 'changed');
    }
  }

  async function tell(changes: readonly LiveChange[]) {
    const all = await endStale([...watching]);
    const ids = (what: LiveChange['what']) =>
      new Set(changes.filter((change) => change.what === what).map((change) => change.id));
    const [doors, people, schools] = [ids('door'), ids('person'), ids('school')];
    const pages = ids('class');
    const lie = await folderPaths(db, [...ids('folder'), ...ids('below')]);
    const below = lie.filter((f) =>
      changes.some((change) => change.what === 'below' && change.id === f.id),
    );
    const changed = new Set(lie.flatMap((f) => (f.parentId ? [f.id, f.parentId] : [f.id])));

    const again = new Set<Watching>();
    const inFolder = new Map<string, Watching[]>();
    const coming: Watching[] = [];
    for (const one of all) {
      const { viewer, schoolId, folderId, websiteOf } = one.watch;
      if (schools.has(schoolId) || people.has(viewer.personId ?? '')) again.add(one);
      else if (one.watch.doors.some(({ id }) => doors.has(id)) || pages.has(websiteOf ?? '')) {
        // A word or an end may be another one, or what is on the website: the page has to come again.
        one.watch.stream.send('changed', '{"wait":0}');
        one.watch.stream.end();
      } else if (!folderId) coming.push(one);
      else if (one.watch.below && lie.some((f) => f.path.includes(folderId))) again.add(one);
      else if (changed.has(folderId) || below.some((f) => one.path.includes(f.id)))
        inFolder.set(folderId, [...(inFolder.get(folderId) ?? []), one]);
    }
    if (below.length > 0)
      for (const { id, path } of await folderPaths(db, [...inFolder.keys()]))
        for (const one of inFolder.get(id) ?? []) one.path = path;

    for (const [folderId, ones] of inFolder)
      for (const one of await tellGroups(ones, await audiencesOf(db, folderId), [folderId]))
        again.add(one);
    if (pages.size > 0)
      for (const [one, keys] of await keysByWatch(coming))
        if (keys.some(({ kind, id }) => kind === 'class' && pages.has(id))) again.add(one);
    if (coming.length > 0) {
      const listed = [...ids('folder')];
      for (const one of await tellComing(coming, listed, below)) again.add(one);
    }
    inTurn([...again], 'changed');
  }

  /** Pages on which things come in. Resolves to those that have to look again. */
  async function tellComing(
    ones: readonly Watching[],
    listed: readonly string[],
    below: readonly { id: string }[],
  ): Promise<Watching[]> {
    const ever = await Promise.all(
      below.slice(0, MOST_FOLDERS).map((f) => audiencesEver(db, f.id)),
    );
    const reached = below.length > MOST_FOLDERS ? null : new Set(ever.flatMap((a) => [...a]));
    const current = await Promise.all(
      listed.slice(0, MOST_FOLDERS).map((id) => audiencesOf(db, id)),
    );
    const audiences = new Set(current.flatMap((a) => [...a]).filter(announced));
    const keys = await keysByWatch(ones);
    const concerned = (one: Watching) =>
      reached === null || keys.get(one)!.some((key) => reached.has(audienceName(key)));
    const again = ones.filter(concerned);
    const others = ones.filter(
      (one) => !concerned(one) && keys.get(one)!.some((key) => audiences.has(audienceName(key))),
    );
    if (listed.length > MOST_FOLDERS) return [...again, ...others];
    const untold = await tellGroups(others, audiences, listed);
    const told = others.filter((one) => !untold.includes(one));
    inTurn(told, 'counts');
    return [...again, ...untold];
  }

  /** Sends each group of those who see the same its news. Resolves to those that have to look again. */
  async function tellGroups(
    ones: readonly Watching[],
    audiences: ReadonlySet<string>,
    folderIds: readonly string[],
  ): Promise<Watching[]> {
    const again: Watching[] = [];
    const groups = new Map<string, Watching[]>();
    const keys = await keysByWatch(ones);
    for (const one of ones) {
      const { news } = one.watch;
      const name = news && sightName(news.name, keys.get(one)!, audiences);
      if (name === null) again.push(one);
      else groups.set(name, [...(groups.get(name) ?? []), one]);
    }
    if (groups.size > MOST_GROUPS) return [...again, ...[...groups.values()].flat()];
    const made: { group: Watching[]; json: string }[] = [];
    for (const group of groups.values()) {
      const { news, viewer } = group[0]!.watch;
      try {
        made.push({
          group,
          json: JSON.stringify(await news!.make({ ...viewer, at: now() }, folderIds)),
        });
      } catch (error) {
        if (!(error instanceof AppError)) throw error;
        again.push(...group);
      }
    }
    // A session may have ended while the news were made: whoever holds one now held it when they were true.
    const holding = new Set(await endStale(made.flatMap(({ group }) => group)));
    for (const { group, json } of made)
      for (const one of group.filter((each) => holding.has(each))) {
        if (one.told !== json) one.watch.stream.send(one.watch.news!.event, json);
        one.told = json;
      }
    return again;
  }

  async function keysByWatch(ones: readonly Watching[]) {
    const ids = new Set(ones.flatMap((one) => one.watch.viewer.personId ?? []));
    const people = new Map((await loadPeople(db, [...ids])).map((p) => [p.id, p]));
    return new Map(
      ones.map((one) => {
        const { viewer, doors } = one.watch;
        const person = people.get(viewer.personId ?? '') ?? null;
        return [one, waysIn({ person, doors: [...doors] }, now())];
      }),
    );
  }

  /** Those whose session still holds; the others are ended. */
  async function endStale(ones: Watching[]): Promise<Watching[]> {
    const holding = await sessionsThatHold(db, [
      ...new Set(ones.flatMap((one) => one.watch.sessionId ?? [])),
    ]);
    const stale = ones.filter(
      ({ watch: { sessionId } }) => sessionId !== null && !holding.has(sessionId),
    );
    for (const one of stale) one.watch.stream.end();
    return ones.filter((one) => !stale.includes(one));
  }

  /** Tells pages to load what they show (`changed`) or what they have counted, each at its own moment. */
  function inTurn(ones: readonly Watching[], event: 'changed' | 'counts') {
    ones.forEach((one, n) => {
      one.watch.stream.send(event, `{"wait":${n * APART}}`);
      // What it loads now is not what it was told: the next news are news, whatever they say.
      if (event === 'changed') one.told = '';
    });
  }

  async function tick() {
    const to = now();
    // When the database does not answer, the same span is asked for again next time.
    if (watching.size > 0 && to > ticked) take(await scheduledChanges(db, ticked, to));
    ticked = to;
  }

  function tickLater() {
    const wait = TICK - (Date.now() % TICK) + 20;
    ticking = setTimeout(() => void tick().catch(note).finally(tickLater), wait).unref();
  }

  function start() {
    ticked = now();
    tickLater();
    beating = setInterval(() => {
      for (const { watch } of watching) watch.stream.send('beat', '{}');
    }, BEAT).unref();
    const missed = () => inTurn([...watching], 'changed');
    return listen(pool, 'live', hear, missed, note);
  }

  return {
    async watch(watch) {
      listening ??= start();
      await listening.ready;
      const [lie] = watch.folderId ? await folderPaths(db, [watch.folderId]) : [];
      const one: Watching = { watch, path: lie?.path ?? [], told: '' };
      watching.add(one);
      void watch.stream.ended.then(() => watching.delete(one));
      // What has changed while the page was loading, it may not have seen.
      const since = Date.now() - REMEMBERED;
      const stale = recent.some(
        ({ change, at }) => at > since && change.schoolId === watch.schoolId,
      );
      watch.stream.send('here', JSON.stringify({ stale }));
    },
    tick,
    watching: () => watching.size,
    async close() {
      for (const timer of [gathering, ticking, beating]) clearTimeout(timer);
      for (const { watch } of watching) watch.stream.end();
      await telling;
      await listening?.stop();
    },
  };
}

/**
 * What pages have in common that are told the same: the news they want, and those ways in which their reader is reached
 * that decide about what they show (`audiences`). Null for those who look for themselves: who is not reached, and staff,
 * who see tabs and have rights that others have not, and are few.
 */
export function sightName(
  news: string,
  keys: readonly WayIn[],
  audiences: ReadonlySet<string>,
): string | null {
  const held = keys.filter((key) => audiences.has(audienceName(key)));
  if (held.length === 0 || keys.some((key) => key.exempt)) return null;
  return [news, ...held.map((key) => `${audienceName(key)} ${key.reading}`).sort()].join();
}

/** Audiences by roster: what is handed out to them shows among what came in. School and doors do not. */
function announced(name: string): boolean {
  return /^(person|class|course):/u.test(name);
}
