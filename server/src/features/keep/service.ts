import type { Keep, Kept } from '@sammlung/contract';
import { and, eq, inArray, sql } from 'drizzle-orm';
import { doors, kept } from '../../db/schema/index.ts';
import { barred, doorOf, throughDoor, wordGiven } from '../../platform/access/door.ts';
import { folderFor } from '../../platform/access/folder.ts';
import { placementSeen } from '../../platform/access/placement.ts';
import { AppError } from '../../platform/errors.ts';
import type { Services } from '../../platform/services.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import type { FastifyRequest } from 'fastify';
import { keptBy, noteNames, orderKept } from './queries.ts';

type Needs = Pick<Services, 'db' | 'now' | 'sign'>;
type Asking = Pick<FastifyRequest, 'person' | 'headers'>;

/** What somebody keeps at hand. What they cannot see now keeps the name they know, and has no way to it. */
export async function keptThings(
  { db, now, sign }: Needs,
  person: SignedIn,
  request: Asking,
): Promise<Kept> {
  const t = now();
  const shown = await db
    .select({ token: doors.token })
    .from(kept)
    .innerJoin(doors, eq(doors.id, kept.doorId))
    .where(eq(kept.personId, person.id));
  const open = new Map<string, string>();
  for (const { token } of shown) {
    const found = await doorOf(db, token);
    // A word that has to be said again is asked for at the door.
    const reason = found && barred(found, person, t, wordGiven(sign, found, request, t));
    if (found && (!reason || reason === 'word')) open.set(found.door.id, token);
  }
  const found = await keptBy(db, person.id, [...open.keys()], t);
  const seen = found.filter((thing) => thing.folderId ?? thing.placementId);
  await noteNames(
    db,
    seen.filter((thing) => thing.title !== thing.knownTitle || thing.mark !== thing.knownMark),
  );
  return {
    things: found.map(({ doorId, knownTitle, knownMark, ...thing }) => {
      if (seen.some(({ id }) => id === thing.id))
        return { ...thing, token: (doorId && open.get(doorId)) ?? null };
      const { id, kind, extension } = thing;
      return {
        ...{ id, kind, extension, title: knownTitle, mark: knownMark, classes: [] },
        ...{ folderId: null, placementId: null, url: null, token: null, ownerName: null },
      };
    }),
  };
}

/** Keeps a folder, or an item, that the person sees; what is kept already stays where it is. */
export async function keep(
  needs: Needs,
  person: SignedIn,
  request: Asking,
  { kind, id, token }: Keep,
): Promise<{ id: string }> {
  const { db, now } = needs;
  const t = now();
  const through = token === undefined ? null : await throughDoor(needs, request, token);
  const asker = { personId: person.id, doorIds: through ? [through.door.id] : [] };
  // Through a public door anybody is a stranger: what is kept there is kept for the door's sake.
  const seenAs = through?.asker ?? asker;
  const target =
    kind === 'folder'
      ? { ...(await folderFor(db, seenAs, id, t)), folderId: id, itemId: null }
      : { ...(await placementSeen(db, seenAs, id, t)), folderId: null };
  if (target.schoolId !== person.schoolId) throw new AppError('not-found');
  const what = target.folderId
    ? eq(kept.folderId, target.folderId)
    : eq(kept.itemId, target.itemId!);
  const [known] = await db
    .select({ id: kept.id })
    .from(kept)
    .where(and(eq(kept.personId, person.id), what));
  if (known) return known;
  const [made] = await db
    .insert(kept)
    .values({
      schoolId: person.schoolId,
      personId: person.id,
      folderId: target.folderId,
      itemId: target.itemId,
      doorId: through?.door.id ?? null,
      title: target.title,
      mark: target.mark,
      // The newest stands first.
      position: sql`coalesce((select min(position) from kept where person_id = ${person.id}::uuid), 0) - 1`,
      createdAt: new Date(t),
    })
    .returning({ id: kept.id });
  return made!;
}

/** Keeps something no longer. Throws `not-found` for what is not the person's. */
export async function letGo({ db }: Pick<Needs, 'db'>, person: SignedIn, id: string) {
  const gone = await db
    .delete(kept)
    .where(and(inArray(kept.id, [id]), eq(kept.personId, person.id)))
    .returning({ id: kept.id });
  if (gone.length === 0) throw new AppError('not-found');
}

export const arrangeKept = ({ db }: Pick<Needs, 'db'>, person: SignedIn, ids: readonly string[]) =>
  orderKept(db, person.id, ids);
