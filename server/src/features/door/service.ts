import type { Door, NewDoor } from '@sammlung/contract';
import { eq } from 'drizzle-orm';
import type { z } from 'zod';
import { doors } from '../../db/schema/index.ts';
import { doorView, newToken } from '../../platform/access/door.ts';
import { handingsBehind, targetsOf } from '../../platform/access/handings.ts';
import { Rights } from '../../platform/access/rights.ts';
import type { Services } from '../../platform/services.ts';
import type { SignedIn } from '../../platform/sessions.ts';

type Needs = Pick<Services, 'db' | 'now' | 'address'>;
type DoorRow = typeof doors.$inferSelect;

/** Opens a door to a folder or item. Throws `already-handed-out` where one of its kind stands open. */
export async function openDoor(
  { db, now, address }: Needs,
  person: SignedIn,
  { thing, kind, until }: z.infer<typeof NewDoor>,
): Promise<Door> {
  const t = now();
  const [target] = await targetsOf(new Rights(db, person, t), [thing]);
  const [made] = await db
    .insert(doors)
    .values({
      ...target!,
      kind,
      token: newToken(),
      untilAt: until === null ? null : new Date(until),
      createdBy: person.id,
      createdAt: new Date(t),
    })
    .returning();
  return doorView(address(), made!);
}

/** Closes a door at once; its address leads to the wall from now on. */
export async function closeDoor(needs: Needs, person: SignedIn, doorId: string) {
  await change(needs, person, doorId, { closedAt: new Date(needs.now()) });
}

/** Undoes a closing: the same address works again. */
export async function reopenDoor(needs: Needs, person: SignedIn, doorId: string): Promise<Door> {
  return change(needs, person, doorId, { closedAt: null });
}

async function change(
  { db, now, address }: Needs,
  person: SignedIn,
  doorId: string,
  values: Partial<DoorRow>,
): Promise<Door> {
  return db.transaction(async (tx) => {
    await handingsBehind(new Rights(tx, person, now()), [doorId]);
    const [door] = await tx.update(doors).set(values).where(eq(doors.id, doorId)).returning();
    return doorView(address(), door!);
  });
}
