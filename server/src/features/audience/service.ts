import type { Door, HandOut, NewDoor } from '@sammlung/contract';
import { eq } from 'drizzle-orm';
import type { z } from 'zod';
import { doors, grants } from '../../db/schema/index.ts';
import { doorAddress, newToken } from '../../platform/access/door.ts';
import { folderFor } from '../../platform/access/folder.ts';
import { AppError } from '../../platform/errors.ts';
import type { Services } from '../../platform/services.ts';
import type { SignedIn } from '../../platform/sessions.ts';

type Needs = Pick<Services, 'db' | 'now' | 'address'>;

/** The folder, when the person may decide who sees it. */
function managed({ db, now }: Needs, person: SignedIn, folderId: string) {
  return folderFor(db, { personId: person.id, doorIds: [] }, folderId, now(), 'manage');
}

export async function handOut(
  needs: Needs,
  person: SignedIn,
  { folderId, audience }: z.infer<typeof HandOut>,
) {
  const folder = await managed(needs, person, folderId);
  const { kind, id } = audience;
  if ((kind === 'staff' || kind === 'school') && id !== folder.schoolId)
    throw new AppError('audience-unknown');
  const [made] = await needs.db
    .insert(grants)
    .values({
      schoolId: folder.schoolId,
      folderId,
      audienceKind: kind,
      personId: kind === 'person' ? id : null,
      classId: kind === 'class' ? id : null,
      courseId: kind === 'course' ? id : null,
      createdBy: person.id,
      createdAt: new Date(needs.now()),
    })
    .returning({ id: grants.id });
  return made!;
}

export async function takeBack(needs: Needs, person: SignedIn, grantId: string) {
  await ownGrant(needs, person, grantId);
  await needs.db
    .update(grants)
    .set({ takenBackAt: new Date(needs.now()), takenBackBy: person.id })
    .where(eq(grants.id, grantId));
}

/** Undoes a taking back: the handing out is in force again as it was. */
export async function restoreGrant(needs: Needs, person: SignedIn, grantId: string) {
  await ownGrant(needs, person, grantId);
  await needs.db
    .update(grants)
    .set({ takenBackAt: null, takenBackBy: null })
    .where(eq(grants.id, grantId));
}

async function ownGrant(needs: Needs, person: SignedIn, grantId: string) {
  const [grant] = await needs.db.select().from(grants).where(eq(grants.id, grantId));
  await managedBehind(needs, person, grant?.folderId);
}

export async function openDoor(
  needs: Needs,
  person: SignedIn,
  { folderId, kind }: z.infer<typeof NewDoor>,
): Promise<Door> {
  const folder = await managed(needs, person, folderId);
  const token = newToken();
  const [made] = await needs.db
    .insert(doors)
    .values({
      schoolId: folder.schoolId,
      kind,
      token,
      folderId,
      createdBy: person.id,
      createdAt: new Date(needs.now()),
    })
    .returning({ id: doors.id });
  return { id: made!.id, address: doorAddress(needs.address(), token) };
}

/** Closes a door at once; its address leads to the wall from now on. */
export async function closeDoor(needs: Needs, person: SignedIn, doorId: string) {
  await ownDoor(needs, person, doorId);
  await needs.db
    .update(doors)
    .set({ closedAt: new Date(needs.now()) })
    .where(eq(doors.id, doorId));
}

/** Undoes a closing: the same address works again. */
export async function reopenDoor(needs: Needs, person: SignedIn, doorId: string): Promise<Door> {
  const door = await ownDoor(needs, person, doorId);
  await needs.db.update(doors).set({ closedAt: null }).where(eq(doors.id, doorId));
  return { id: doorId, address: doorAddress(needs.address(), door.token) };
}

async function ownDoor(needs: Needs, person: SignedIn, doorId: string) {
  const [door] = await needs.db.select().from(doors).where(eq(doors.id, doorId));
  await managedBehind(needs, person, door?.folderId);
  return door!;
}

/** For a handing out or a door named by its id: whoever does not manage its folder is not told that there is one. */
async function managedBehind(needs: Needs, person: SignedIn, folderId: string | null | undefined) {
  if (!folderId) throw new AppError('not-found');
  await managed(needs, person, folderId).catch((error: unknown) => {
    throw error instanceof AppError && error.code === 'not-allowed'
      ? new AppError('not-found')
      : error;
  });
}
