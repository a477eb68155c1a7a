/** model.md read word by word, one thing and one instant at a time: what the tests hold core against. It uses nothing of core. */
import type {
  Audience,
  AudienceChange,
  Change,
  Consequence,
  HandingOut,
  Id,
  Instant,
  LibraryData,
  Release,
  ReleaseRule,
  ShownDoor,
  Span,
  Viewer,
} from '../src/index.ts';

type Person = NonNullable<Viewer['person']>;

const during = ({ from, until }: Span, t: Instant) =>
  !(from !== null && t < from) && !(until !== null && t >= until);

/** Whether a node's release lets it be seen: as it was set for the class, if it was, and in general otherwise. */
function out(rule: ReleaseRule, classId: Id | null, t: Instant): boolean {
  let release: Release = rule;
  for (const [id, own] of rule.perClass) if (id === classId) release = own;
  return !release.held && during(release, t);
}

/** How a viewer belongs to an audience at `t`: once for each class by which they do; staff asks for no release. */
export function belongs(
  viewer: Viewer,
  audience: Audience,
  t: Instant,
): { by: Id | null; due: boolean }[] {
  const { person } = viewer;
  const classes = (person?.memberships ?? []).filter((m) => during(m, t));
  const yes = (is: boolean | undefined, due = false) => (is ? [{ by: null, due }] : []);
  switch (audience.kind) {
    case 'person':
      return yes(person?.id === audience.id, person?.staff);
    case 'class':
      return classes
        .filter((m) => m.classId === audience.id)
        .map((m) => ({ by: m.classId, due: false }));
    case 'course':
      return classes
        .filter((m) => m.courseId === audience.id)
        .map((m) => ({ by: m.classId, due: false }));
    case 'teachers':
      return yes(person?.teaches?.includes(audience.id), true);
    case 'staff':
      return yes(person?.staff && person.schoolId === audience.id, true);
    case 'school':
      return yes(person?.schoolId === audience.id);
    case 'door':
      return yes(
        viewer.doors.some(
          (d) => d.id === audience.id && (d.kind === 'public' || d.schoolId === person?.schoolId),
        ),
      );
  }
}

/** A folder, or a placement in it. */
export interface Spot {
  readonly folderId: Id;
  readonly placementId: Id | null;
}

/** The handings out that let a viewer see a folder or placement at `t`, by rules 1 and 2. */
export function opening(data: LibraryData, viewer: Viewer, spot: Spot, t: Instant): HandingOut[] {
  const folder = data.folders.find((f) => f.id === spot.folderId);
  const path = (folder?.path ?? []).map((id) => data.folders.find((f) => f.id === id));
  const placement = data.placements.find((p) => p.id === spot.placementId);
  if (path.length === 0 || (spot.placementId !== null && !placement)) return [];
  if (path.some((f) => !f || f.binned) || placement?.binned) return [];
  const rules = [...path.map((f) => f!.release), ...(placement ? [placement.release] : [])];
  const closed = path.some((f) => f!.yearClosed);
  return data.handingsOut.filter((h) => {
    const concerns =
      h.target.kind === 'folder'
        ? path.some((f) => f!.id === h.target.id)
        : h.target.id === placement?.itemId;
    if (!concerns || !during(h, t)) return false;
    return belongs(viewer, h.audience, t).some(
      ({ by, due }) => due || (!closed && rules.every((rule) => out(rule, by, t))),
    );
  });
}

/** Whether a viewer sees a folder or placement at `t`: their own, or by what was handed out. */
export function sees(data: LibraryData, viewer: Viewer, spot: Spot, t: Instant): boolean {
  const folder = data.folders.find((f) => f.id === spot.folderId);
  const path = (folder?.path ?? []).map((id) => data.folders.find((f) => f.id === id));
  const placement = data.placements.find((p) => p.id === spot.placementId);
  const owns = viewer.person !== null && folder?.ownerId === viewer.person.id;
  if (!owns || (spot.placementId !== null && !placement))
    return opening(data, viewer, spot, t).length > 0;
  return path.every((f) => f && !f.binned) && !placement?.binned;
}

/** Every folder and item seen at `t`, each with the names of the audiences through which it is; no owner's right. */
function sight(data: LibraryData, viewer: Viewer | null, t: Instant): Map<string, Set<string>> {
  const seen = new Map<string, Set<string>>();
  const note = (thing: string, spot: Spot) => {
    for (const { audience } of viewer ? opening(data, viewer, spot, t) : [])
      seen.set(thing, (seen.get(thing) ?? new Set()).add(`${audience.kind} ${audience.id}`));
  };
  for (const { id } of data.folders) note(`folder ${id}`, { folderId: id, placementId: null });
  for (const p of data.placements)
    note(`item ${p.itemId}`, { folderId: p.folderId, placementId: p.id });
  return seen;
}

/** The library after a change, one thing after the other. */
export function naiveChange(before: LibraryData, change: Change): LibraryData {
  const folders = before.folders.map((f) => ({ ...f }));
  const placements = before.placements.map((p) => ({ ...p }));
  let handingsOut = [...before.handingsOut];
  const folderOf = (id: Id) => folders.find((f) => f.id === id)!;
  const placementOf = (id: Id) => placements.find((p) => p.id === id)!;
  switch (change.do) {
    case 'move': {
      const above = change.to === null ? [] : folderOf(change.to).path;
      for (const { kind, id } of change.things) {
        if (kind === 'placement' && change.to !== null) placementOf(id).folderId = change.to;
        // Nothing goes into itself.
        if (kind === 'placement' || above.includes(id)) continue;
        for (const folder of folders) {
          const at = folder.path.indexOf(id);
          if (at >= 0) folder.path = [...above, ...folder.path.slice(at)];
        }
      }
      break;
    }
    case 'place':
      for (const folderId of change.to)
        for (const { itemId } of change.placements.map(placementOf)) {
          if (placements.some((p) => p.folderId === folderId && p.itemId === itemId && !p.binned))
            continue;
          const release = { held: false, from: null, until: null, perClass: new Map() };
          placements.push({ id: 'new', folderId, itemId, binned: false, release });
        }
      break;
    case 'remove':
      for (const { kind, id } of change.things)
        (kind === 'folder' ? folderOf(id) : placementOf(id)).binned = true;
      break;
    case 'release':
      for (const { kind, id } of change.things) {
        const node = kind === 'folder' ? folderOf(id) : placementOf(id);
        const perClass = new Map(node.release.perClass);
        let { held, from, until }: Release = node.release;
        for (const { classId, release } of change.rules)
          if (classId === null)
            ({ held, from, until } = release ?? { held: false, from: null, until: null });
          else if (release === null) perClass.delete(classId);
          else perClass.set(classId, release);
        node.release = { held, from, until, perClass };
      }
      break;
    case 'hand-out':
      for (const { kind, id } of change.things)
        for (const audience of change.audiences) {
          const target =
            kind === 'folder'
              ? { kind, id }
              : { kind: 'item' as const, id: placementOf(id).itemId };
          handingsOut = handingsOut.filter(
            (h) =>
              h.appearanceId ||
              h.target.id !== target.id ||
              h.audience.kind !== audience.kind ||
              h.audience.id !== audience.id,
          );
          const { level, from, until } = change;
          handingsOut.push({ id: 'new', target, audience, level, from, until });
        }
      break;
    case 'take-back':
      handingsOut = handingsOut.filter(({ id }) => !change.handings.includes(id));
  }
  return { ...before, folders, placements, handingsOut };
}

/** One state of a school for `naiveConsequence`. */
export interface NaiveWorld {
  readonly data: LibraryData;
  readonly people: readonly Person[];
  readonly doors: readonly ShownDoor[];
}

/** The consequence of a change by looking at everybody, at everything, now and at each later instant named anywhere. */
export function naiveConsequence(before: NaiveWorld, after: NaiveWorld, t: Instant): Consequence {
  const worlds = [before, after];
  const instants = new Set<Instant>();
  const audiences = new Map<string, Audience>();
  const owners = new Set(worlds.flatMap((w) => w.data.folders.map((f) => f.ownerId)));
  const note = ({ from, until }: Span) =>
    [from, until].forEach((x) => x !== null && instants.add(x));
  for (const { data, people } of worlds) {
    for (const { release } of [...data.folders, ...data.placements]) {
      note(release);
      release.perClass.forEach(note);
    }
    for (const h of data.handingsOut) {
      note(h);
      audiences.set(`${h.audience.kind} ${h.audience.id}`, h.audience);
    }
    for (const person of people) person.memberships.forEach(note);
  }
  const moments = [t, ...[...instants].filter((x) => x > t).sort((a, b) => a - b)];

  /** Persons and doors, as a viewer of each world. */
  const parties: { counts: boolean; views: (Viewer | null)[] }[] = [];
  for (const id of new Set(worlds.flatMap((w) => w.people.map((p) => p.id))))
    if (!owners.has(id))
      parties.push({
        counts: true,
        views: worlds.map((w) => {
          const person = w.people.find((p) => p.id === id);
          return person ? { person, doors: [] } : null;
        }),
      });
  for (const id of new Set(worlds.flatMap((w) => w.doors.map((d) => d.id))))
    parties.push({
      counts: false,
      views: worlds.map((w) => {
        const door = w.doors.find((d) => d.id === id);
        return door ? { person: null, doors: [{ ...door, kind: 'public' }] } : null;
      }),
    });

  /** What each party sees at each moment in the world `there` and not in the other, through which audiences. */
  const surplus = (there: 0 | 1) =>
    parties.map(({ views }) =>
      moments.map((at) => {
        const seen = sight(worlds[there]!.data, views[there]!, at);
        for (const thing of sight(worlds[1 - there]!.data, views[1 - there]!, at).keys())
          seen.delete(thing);
        return seen;
      }),
    );
  const gained = surplus(1);
  const lost = surplus(0);

  const effects = (name: string, counted: boolean, all: typeof gained) => {
    const through = (seen: Map<string, Set<string>>) =>
      [...seen].filter(([, ways]) => ways.has(name)).map(([thing]) => thing);
    const known = new Set(all.flatMap((perMoment) => through(perMoment[0]!)));
    const sum = (things: Set<string>, concerned: number[]) => ({
      people: counted ? concerned.filter((n) => parties[n]!.counts).length : null,
      items: [...things].filter((x) => x.startsWith('item')).length,
      folders: [...things].filter((x) => x.startsWith('folder')).length,
    });
    const nowBy = all.flatMap((perMoment, n) => (through(perMoment[0]!).length > 0 ? [n] : []));
    const fresh = all.map((perMoment) =>
      perMoment.slice(1).map((seen) => through(seen).filter((x) => !known.has(x))),
    );
    const things = new Set(fresh.flat(2));
    const laterBy = fresh.flatMap((perMoment, n) => (perMoment.flat().length > 0 ? [n] : []));
    const first = moments.slice(1).find((_, m) => fresh.some((perMoment) => perMoment[m]!.length));
    return {
      now: nowBy.length > 0 ? sum(known, nowBy) : null,
      later: first === undefined ? null : { ...sum(things, laterBy), from: first },
    };
  };
  const lines = [...audiences].map(([name, audience]): AudienceChange => {
    const counted = audience.kind !== 'door';
    const gains = effects(name, counted, gained);
    const loses = effects(name, counted, lost);
    return {
      audience,
      gains: gains.now,
      loses: loses.now,
      gainsLater: gains.later,
      losesLater: loses.later,
    };
  });
  const people = (all: typeof gained) =>
    all.filter((perMoment, n) => parties[n]!.counts && perMoment[0]!.size > 0).length;
  return {
    audiences: lines.filter((l) => l.gains || l.loses || l.gainsLater || l.losesLater),
    peopleGaining: people(gained),
    peopleLosing: people(lost),
  };
}
