import type { Keep, Kept } from '@sammlung/contract';
import { viewerOf } from '../../domain/access/viewer.ts';
import { denialReason, doorOf, throughDoor, viewerThrough } from '../../domain/doors.ts';
import { folderFor } from '../../domain/access/folders.ts';
import { classesOf } from '../../domain/access/reached.ts';
import { placementSeen } from '../../domain/access/placements.ts';
import { AppError } from '../../platform/errors.ts';
import type { Viewer } from '../../domain/access/access-sql.ts';
import type { Services } from '../../services.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import type { FastifyRequest } from 'fastify';
import { noteNames, orderKept, putKept, removeKept, type NewKept } from '../../domain/kept.ts';
import { doorsKept, keptBy } from './queries.ts';

type Needs = Pick<Services, 'db' | 'now' | 'sign'>;
type Request = Pick<FastifyRequest, 'person' | 'cookies' | 'headers' | 'ip'>;

/** What somebody keeps at hand. What they cannot see now keeps the name they know, and has no way to it. */
export async function keptThings(
  { db, now }: Pick<Needs, 'db' | 'now'>,
  person: SignedIn,
): Promise<Kept> {
  const t = now();
  const shown = await doorsKept(db, person.id);
  /** Doors at the address under which something was kept, and those of them that open. */
  const tokens = new Map<string, string>();
  const open = new Set<string>();
  for (const { token, wordHash } of shown) {
    const found = token && (await doorOf(db, token));
    if (!found) continue;
    const reason = denialReason(found, person, t, found.door.wordHash === wordHash);
    // A new word is asked for at the door: until it has been given there, nothing of what lies behind is told.
    if (!reason || reason === 'word') tokens.set(found.door.id, token);
    if (reason) continue;
    const { viewer } = await viewerThrough(db, found, person, t);
    for (const id of viewer.doorIds) open.add(id);
  }
  const found = await keptBy(db, person.id, [...open], t);
  const seen = found.filter((thing) => thing.folderId ?? thing.placementId ?? thing.classId);
  await noteNames(
    db,
    seen.filter((thing) => thing.title !== thing.knownTitle || thing.mark !== thing.knownMark),
  );
  return {
    things: found.map(({ doorId, knownTitle, knownMark, ...thing }) => {
      const token = (doorId && tokens.get(doorId)) ?? null;
      if (seen.some(({ id }) => id === thing.id)) return { ...thing, token };
      const { id, kind, extension } = thing;
      const locked = doorId !== null && !open.has(doorId);
      return {
        ...{ id, kind, extension, title: knownTitle, mark: knownMark, classes: [] },
        ...{ folderId: null, placementId: null, classId: null, url: null, ownerName: null },
        token: locked ? token : null,
      };
    }),
  };
}

/** Keeps a folder, an item, or the page of a class, that the person sees; what is kept already stays where it is. */
export const keep = (needs: Needs, person: SignedIn, what: Keep) =>
  keepSeen(needs, person, viewerOf(person, needs.now()), what, null);

/**
 * The same for what is seen through a door: it is kept for the door's sake, since through a public one everybody is a
 * stranger.
 */
export async function keepAtDoor(
  needs: Needs,
  person: SignedIn,
  request: Request,
  token: string,
  what: Keep,
) {
  const { viewer, door } = await throughDoor(needs, request, token);
  return keepSeen(needs, person, viewer, what, {
    doorId: door.id,
    doorToken: token,
    doorWordHash: door.wordHash,
  });
}

async function keepSeen(
  { db, now }: Needs,
  person: SignedIn,
  seenAs: Viewer,
  what: Keep,
  door: Pick<NewKept, 'doorId' | 'doorToken' | 'doorWordHash'> | null,
): Promise<{ id: string }> {
  const target = await targetOf(db, person, seenAs, what);
  if (target.schoolId !== person.schoolId) throw new AppError('not-found');
  return putKept(db, {
    ...{ schoolId: person.schoolId, personId: person.id, ...door },
    ...{ folderId: target.folderId, itemId: target.itemId, classId: target.classId },
    ...{ title: target.title, mark: target.mark, createdAt: new Date(now()) },
  });
}

const NONE = { folderId: null, itemId: null, classId: null };

/** What is to be kept, as far as the viewer sees it. Throws `not-found`. */
async function targetOf(db: Needs['db'], person: SignedIn, viewer: Viewer, { kind, id }: Keep) {
  if (kind === 'folder') return { ...NONE, ...(await folderFor(db, viewer, id)), folderId: id };
  if (kind === 'placement')
    return { ...NONE, ...(await placementSeen(db, viewer, id)), folderId: null };
  const found = (await classesOf(db, viewer)).find((one) => one.id === id);
  if (!found) throw new AppError('not-found');
  const title = `${found.code} ${found.course}`;
  return { ...NONE, schoolId: person.schoolId, classId: id, title, mark: null };
}

/** Keeps something no longer. Throws `not-found` for what is not the person's. */
export async function unpin({ db }: Pick<Needs, 'db'>, person: SignedIn, id: string) {
  if (!(await removeKept(db, person.id, id))) throw new AppError('not-found');
}

export const arrangeKept = ({ db }: Pick<Needs, 'db'>, person: SignedIn, ids: readonly string[]) =>
  orderKept(db, person.id, ids);
