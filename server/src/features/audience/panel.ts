import type { AudienceRow, FolderAudience, Whence } from '@sammlung/contract';
import {
  asksFirst,
  audienceName,
  folderStandings,
  groupBy,
  handingConsequences,
  isOut,
  itemStandings,
  sameAudience,
  type Audience,
  type HandingOut,
  type InPieces,
  type Library,
  type ShownDoor,
  type World,
} from '@sammlung/core';
import { toIso } from '../../db/database.ts';
import { doorView } from '../../domain/doors.ts';
import { isNew, NEW_DOOR } from '../../domain/access/preview-change.ts';
import { folderFor, whence } from '../../domain/access/folders.ts';
import { toConsequence } from '../../domain/access/consequence-dto.ts';
import { audienceNames } from '../../domain/access/tabs.ts';
import type { Viewer } from '../../domain/access/access-sql.ts';
import { AppError } from '../../platform/errors.ts';
import type { Services } from '../../services.ts';
import { contentsBelow, loadWorld } from '../../domain/access/load-world.ts';
import type { loadLibrary } from '../../domain/access/load-library.ts';
import { inPieces } from '../../platform/pieces.ts';
import { classesTaught } from '../../domain/classes.ts';
import { itemsDirectlyIn } from './queries.ts';

type Needs = Pick<Services, 'db' | 'address'>;

/** Who sees a folder, who could, whence it comes, and what each change would do. For those who may manage it. */
export async function folderAudience(
  { db, address }: Needs,
  viewer: Viewer,
  folderId: string,
): Promise<FolderAudience> {
  const t = viewer.at;
  const folder = await folderFor(db, viewer, folderId, 'manage');
  // A place in a hand-in box is handed out to nobody.
  if (folder.ownerId === null) throw new AppError('not-allowed');
  const [scope, classes, direct] = await Promise.all([
    contentsBelow(db, [folderId]),
    classesTaught(db, folder.ownerId, t),
    itemsDirectlyIn(db, folderId),
  ]);
  const {
    world: before,
    library,
    people,
    doorRows,
  } = await loadWorld(
    db,
    folder.schoolId,
    scope,
    classes.map(({ id }) => ({ kind: 'class', id })),
  );
  const names = await audienceNames(db, library.data.handingsOut);
  const handings = groupBy(library.data.handingsOut, (h) => audienceName(h.audience));
  const standings = folderStandings(library, folderId, t);
  const named = whence(folder, library.titles.folders);
  const path = library.folders.get(folderId)?.path ?? [];

  const taught = new Set(classes.map((c) => c.id));
  const onPath = library.data.handingsOut.filter(
    (h) => path.includes(h.target.id) && !taught.has(h.audience.id) && h.audience.kind !== 'staff',
  );
  const others = onPath.filter(
    (h, n) =>
      h.audience.kind !== 'door' &&
      onPath.findIndex((x) => sameAudience(x.audience, h.audience)) === n,
  );
  /** The door of a kind that counts for the folder: its own, else one above, else one that is not there yet. */
  const doorAudience = (kind: 'public' | 'school'): Audience => {
    const open = onPath.filter((h) => doorRows.find((d) => d.id === h.audience.id)?.kind === kind);
    const found = open.find((h) => h.target.id === folderId) ?? open[0];
    return found?.audience ?? { kind: 'door', id: NEW_DOOR[kind] };
  };
  const staffCount = people.filter((p) => p.staff && p.id !== folder.ownerId).length;
  const has = (id: string) => standings.some((s) => s.audience.id === id);
  classes.sort((a, b) => Number(has(b.id)) - Number(has(a.id)));
  const shown: {
    audience: Audience;
    as: Pick<AudienceRow, 'kind' | 'label' | 'colour' | 'people'>;
  }[] = [
    ...classes.map((c) => ({
      audience: { kind: 'class' as const, id: c.id },
      as: { kind: 'class' as const, label: c.code, colour: c.colour, people: c.students },
    })),
    ...others.map(({ audience }) => {
      const name = names.get(audience.id);
      return {
        audience,
        as: {
          kind: name?.kind ?? (audience.kind as 'school'),
          label: name?.label ?? '',
          colour: name?.colour ?? null,
          people: people.filter((p) => reaches(audience, p, t)).length,
        },
      };
    }),
    {
      audience: { kind: 'staff', id: folder.schoolId },
      as: { kind: 'staff', label: '', colour: null, people: staffCount },
    },
    {
      audience: doorAudience('school'),
      as: { kind: 'school-door', label: '', colour: null, people: null },
    },
    {
      audience: doorAudience('public'),
      as: { kind: 'public', label: '', colour: null, people: null },
    },
  ];
  const onPathByEntry = new Set(
    library.data.handingsOut
      .filter((h) => h.appearanceId && path.includes(h.target.id))
      .map((h) => audienceName(h.audience)),
  );
  const hereOf = (audience: Audience) =>
    handings.get(audienceName(audience))?.find((h) => h.target.id === folderId && !h.appearanceId);
  const changes = shown.map(({ audience }) => ({
    audience,
    handingsOut: toggled(library, folderId, audience, hereOf(audience)),
  }));
  const results = await inPieces(
    handingConsequences(withNewDoors(before, folder.schoolId), folderId, changes, t),
  );
  const rows = shown.map(({ audience, as }, n): AudienceRow => {
    const standing = standings.find((s) => sameAudience(s.audience, audience));
    const here = hereOf(audience);
    const door = doorRows.find((d) => d.id === here?.id);
    const above = new Set(handings.get(audienceName(audience))?.map((h) => h.target.id));
    return {
      ...as,
      id: isNew(audience) ? folder.schoolId : audience.id,
      state: standing?.state ?? 'none',
      from: toIso(standing?.from ?? null),
      here: here
        ? {
            id: here.id,
            level: here.level,
            from: toIso(here.from),
            until: toIso(here.until),
            door: door ? doorView(address(), door) : null,
          }
        : null,
      above: path
        .slice(0, -1)
        .filter((id) => above.has(id))
        .map(named),
      byEntry: onPathByEntry.has(audienceName(audience)),
      change: toConsequence(results[n]!.audiences[0], asksFirst(results[n]!)),
    };
  });

  const students = await inPieces(countSeeing(library, people, folderId, t));
  return {
    students,
    classes: rows.filter((r) => r.kind === 'class' && r.state === 'out').length,
    ...releaseOf(library, path, t, named),
    rows,
    publicElsewhere: publicElsewhere(library, before.doors, folderId, direct, t, named),
  };
}

/** How many students see the folder. */
function* countSeeing(
  library: Library,
  people: World['people'],
  folderId: string,
  t: number,
): InPieces<number> {
  let count = 0;
  for (const person of people.filter((p) => !p.staff)) {
    if (library.seesFolder({ person, doors: [] }, folderId, t)) count += 1;
    yield;
  }
  return count;
}

/** When the last folder of a path is out, and the first one above it that closes it now. */
function releaseOf(
  library: Awaited<ReturnType<typeof loadLibrary>>,
  path: readonly string[],
  t: number,
  named: (folderId: string) => Whence,
): Pick<FolderAudience, 'release' | 'releaseClasses' | 'closedBy'> {
  const folders = path.flatMap((id) => library.folders.get(id) ?? []);
  const { held, from, until, perClass } = folders.at(-1)!.release;
  const closing = folders.slice(0, -1).find((f) => !isOut(f.release, null, t));
  return {
    release: { held, from: toIso(from), until: toIso(until) },
    releaseClasses: perClass.size,
    closedBy: closing ? named(closing.id) : null,
  };
}

function reaches(audience: Audience, person: World['people'][number], t: number): boolean {
  if (audience.kind === 'person') return person.id === audience.id;
  if (audience.kind === 'school') return true;
  return person.memberships.some(
    (m) =>
      (m.classId === audience.id || m.courseId === audience.id) &&
      (m.from === null || m.from <= t) &&
      (m.until === null || t < m.until),
  );
}

function withNewDoors(world: World, schoolId: string): World {
  const fresh = (['public', 'school'] as const).map((kind) => ({
    id: NEW_DOOR[kind],
    kind,
    schoolId,
  }));
  return { ...world, doors: [...world.doors, ...fresh] };
}

/** What is handed out once the folder is handed out to an audience; or taken back, where it was handed out here. */
function toggled(
  { data }: Library,
  folderId: string,
  audience: Audience,
  here: HandingOut | undefined,
): HandingOut[] {
  if (here) return data.handingsOut.filter((h) => h !== here);
  const target = { kind: 'folder' as const, id: folderId };
  return [
    ...data.handingsOut,
    { id: 'new', target, audience, level: 'view', from: null, until: null },
  ];
}

/** Items of the folder that are open to all because they also lie in another, public folder. */
function publicElsewhere(
  library: Awaited<ReturnType<typeof loadLibrary>>,
  knownDoors: readonly ShownDoor[],
  folderId: string,
  direct: readonly { placementId: string; itemId: string; title: string }[],
  t: number,
  named: (folderId: string) => Whence,
): FolderAudience['publicElsewhere'] {
  const isPublic = (audience: Audience) =>
    knownDoors.some((d) => d.kind === 'public' && d.id === audience.id);
  if (folderStandings(library, folderId, t).some((s) => s.state === 'out' && isPublic(s.audience)))
    return [];
  return direct.flatMap(({ placementId, itemId, title }) => {
    const open = itemStandings(library, itemId, t).find(
      (s) => s.state === 'out' && isPublic(s.audience),
    );
    if (!open || open.through.target.kind !== 'folder') return [];
    return [{ placementId, title, folder: named(open.through.target.id) }];
  });
}
