import { randomInt } from 'node:crypto';
import type { Door, DoorChange, Doors, NewDoor } from '@sammlung/contract';
import { sayable } from '@sammlung/core';
import { hash, verify } from '@node-rs/argon2';
import QRCode from 'qrcode';
import type { z } from 'zod';
import { toDate, type Queries } from '../../db/database.ts';
import {
  addDoor,
  changeDoor as writeDoor,
  doorById,
  doorView,
  tokenOfShort,
  type DoorRow,
} from '../../domain/doors.ts';
import { openDoorsOf } from './queries.ts';
import { newToken } from '../../platform/tokens.ts';
import { decidableDoor, targetsOf } from '../../domain/grants.ts';
import { requireTaughtClass } from '../../domain/managed.ts';
import { AppError } from '../../platform/errors.ts';
import { Rights } from '../../domain/access/rights.ts';
import { changesBy } from '../../domain/log.ts';
import type { Services } from '../../services.ts';
import type { SignedIn } from '../../platform/sessions.ts';

type Needs = Pick<Services, 'db' | 'now' | 'address' | 'hashing'>;

/** Opens a door to a folder or item. Throws `already-handed-out` where one of its kind stands open. */
export async function openDoor(
  { db, now, address }: Needs,
  person: SignedIn,
  { thing, kind, until }: z.infer<typeof NewDoor>,
): Promise<Door> {
  const t = now();
  const [target] = await targetsOf(new Rights(db, person, t), [thing]);
  const door = await addDoor(db, {
    ...target!,
    kind,
    token: newToken(),
    untilAt: toDate(until),
    createdBy: person.id,
    createdAt: new Date(t),
  });
  return doorView(address(), door);
}

/** Closes a door at once; its address leads to the wall from now on. */
export async function closeDoor(needs: Needs, person: SignedIn, doorId: string) {
  await change(needs, person, doorId, { closedAt: new Date(needs.now()) });
}

/** Undoes a closing: the same address works again. */
export async function reopenDoor(needs: Needs, person: SignedIn, doorId: string): Promise<Door> {
  return change(needs, person, doorId, { closedAt: null });
}

/** Another end, word or address for a door. */
export async function changeDoor(
  needs: Needs,
  person: SignedIn,
  doorId: string,
  { until, word, short, renew, coverText, listed }: DoorChange,
): Promise<Door> {
  // Only whoever may change it has something hashed for it.
  if (word) await requireDecides(needs.db, person, doorId, needs.now());
  const wordHash = word && (await needs.hashing(() => hash(plainWord(word))));
  return change(needs, person, doorId, {
    ...(until !== undefined && { untilAt: toDate(until) }),
    ...(word !== undefined && { wordHash: wordHash || null }),
    ...(short !== undefined && { shortAddress: short ? await freeShort(needs.db) : null }),
    ...(coverText !== undefined && { coverText }),
    ...(listed !== undefined && { listed }),
    ...(renew && { token: newToken(), shortAddress: null }),
  });
}

/** Digits of a sayable address. With the words that makes eight million of them; guessing is slowed down. */
export const SHORT_DIGITS = 5;

async function freeShort(db: Needs['db']): Promise<string> {
  for (;;) {
    const made = sayable(randomInt, SHORT_DIGITS);
    if ((await tokenOfShort(db, made)) === null) return made;
  }
}

/** A word as it is compared: nobody minds capitals and spaces when it is said aloud. */
const plainWord = (word: string) => word.normalize('NFC').trim().toLowerCase();

/** Whether this is the word of the door. */
export async function passwordMatches(door: DoorRow, word: string): Promise<boolean> {
  return door.wordHash !== null && verify(door.wordHash, plainWord(word));
}

/** Every open door to what is the person's own, newest first. */
export async function doorsOf({ db, address }: Needs, person: SignedIn): Promise<Doors> {
  const found = await openDoorsOf(db, person.id);
  return {
    doors: found.map(({ door, title, placementId }) => ({
      ...doorView(address(), door),
      title,
      folderId: door.folderId,
      placementId,
      classId: door.classId,
    })),
  };
}

/** The code of a door's shortest address, as a picture to be printed. */
export async function codeOf(
  { db, now, address }: Needs,
  person: SignedIn,
  doorId: string,
  form: 'svg' | 'png',
): Promise<string | Buffer> {
  await requireDecides(db, person, doorId, now());
  const { shortAddress, address: whole } = doorView(address(), (await doorById(db, doorId))!);
  const options = { errorCorrectionLevel: 'M', margin: 2 } as const;
  return form === 'svg'
    ? QRCode.toString(shortAddress ?? whole, { ...options, type: 'svg' })
    : QRCode.toBuffer(shortAddress ?? whole, { ...options, width: 1024 });
}

/** Whoever decides about a door: as about what it opens, or as a teacher of the class whose website it opens. Throws `not-found`. */
async function requireDecides(db: Queries, person: SignedIn, doorId: string, t: number) {
  const door = await doorById(db, doorId);
  if (!door) throw new AppError('not-found');
  if (door.classId === null) await decidableDoor(new Rights(db, person, t), doorId);
  else await requireTaughtClass(db, person, door.classId);
}

async function change(
  { db, now, address }: Needs,
  person: SignedIn,
  doorId: string,
  values: Partial<DoorRow>,
): Promise<Door> {
  return db.transaction(async (tx) => {
    await changesBy(tx, person, now());
    await requireDecides(tx, person, doorId, now());
    return doorView(address(), await writeDoor(tx, doorId, values));
  });
}
