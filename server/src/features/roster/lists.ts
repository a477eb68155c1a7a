import type { ListPreview, ListUndo, ImportList, ImportedList } from '@sammlung/contract';
import {
  compareList,
  signInStem,
  type ComparedRow,
  type Membership as Belonging,
  type World,
} from '@sammlung/core';
import type { z } from 'zod';
import { toDate, toIso, type Queries } from '../../db/database.ts';
import { previewDifference } from '../../domain/access/preview-change.ts';
import {
  addMemberships,
  columnsOf,
  membershipsOfCourse,
  removeMemberships,
  spanOf,
  type NewMembership,
} from '../../domain/memberships.ts';
import { addPeople, changePerson } from '../../domain/people.ts';
import { requireManagedClass } from '../../domain/managed.ts';
import { AppError } from '../../platform/errors.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import type { Services } from '../../services.ts';
import {
  accountsOf,
  askToJoin,
  knownFor,
  withdrawRequests,
  type Account,
  type Joining,
} from './queries.ts';
import { currentMembers, endNow, giveDays, refuseReopening } from './members.ts';
import { readListIn } from './reading.ts';
import { noted } from './rights.ts';
import { freeSignInNames } from '../../domain/sign-ins.ts';
import { changesBy } from '../../domain/log.ts';
import { worldOf } from './world.ts';

type Needs = Pick<Services, 'db' | 'now'>;
type Taken = z.infer<typeof ImportList>;
type Undo = z.infer<typeof ListUndo>;

/** Reads a list and says what taking it would do. Throws `list-*` for what cannot be read. */
export async function previewList(
  { db, now, workers }: Needs & Pick<Services, 'workers'>,
  person: SignedIn,
  classId: string,
  bytes: Uint8Array,
  lastNameFirst: boolean,
): Promise<ListPreview> {
  const t = now();
  const { course } = await requireManagedClass(db, person, classId);
  const { rows: list, encoding } = await readListIn(workers, bytes, lastNameFirst);
  const { known, elsewhere } = await knownFor(db, person.schoolId, classId, course.id, list, t);
  const compared = compareList(list, known, elsewhere);
  const accounts = await accountsOf(
    db,
    person,
    compared.rows.flatMap((row) => row.person?.id ?? []),
  );
  const listed = compared.rows.map((row) => asItCanBeTaken(row, accounts));
  const membershipOf = new Map(
    known.flatMap((p) => (p.membershipId ? [[p.id, p.membershipId]] : [])),
  );
  const classesOf = new Map(known.map((p) => [p.id, p.otherClasses]));

  const { world, scope } = await worldOf(db, person.schoolId, {
    classIds: [classId],
    courseIds: [course.id],
  });
  const after = withJoining(world, listed, { classId, courseId: course.id }, person);
  return {
    encoding,
    rows: listed.map(({ person: found, doubts, faults, ...row }) => ({
      ...row,
      person: found && {
        id: found.id,
        name: found.name,
        // Of somebody who only has the name in common no address is told.
        email:
          accounts.get(found.id)?.managed || found.email?.toLowerCase() === row.email
            ? found.email
            : null,
        classes: [...(classesOf.get(found.id) ?? [])],
      },
      doubts: [...doubts],
      faults: [...faults],
    })),
    missing: compared.missing.flatMap((p) => {
      const membershipId = membershipOf.get(p.id);
      return membershipId ? [{ membershipId, name: p.name }] : [];
    }),
    consequences: await previewDifference(
      db,
      world,
      after,
      { schoolId: person.schoolId, words: [], scope },
      t,
    ),
  };
}

type ListedState = ListPreview['rows'][number]['state'];

/** A row in the state in which it will be taken: some are asked to join, and names of accounts in use stay. */
function asItCanBeTaken(
  row: ComparedRow,
  accounts: ReadonlyMap<string, Account>,
): Omit<ComparedRow, 'state'> & { state: ListedState; asks: boolean } {
  const account = row.person && accounts.get(row.person.id);
  const asks = account !== null && account?.managed === false && row.person?.member === false;
  const nameStays = account && (account.inUse || !account.managed);
  const onlyName = row.from === null && row.until === null;
  if (row.state === 'joins' && asks) return { ...row, state: 'asks', asks };
  if (row.state === 'changed' && nameStays && onlyName) return { ...row, state: 'stays', asks };
  return { ...row, asks };
}

/** The world in which everybody of whom the list is sure has joined. */
function withJoining(
  world: World,
  list: readonly (Omit<ComparedRow, 'state'> & { state: ListedState })[],
  { classId, courseId }: { classId: string; courseId: string },
  { schoolId, timeZone }: SignedIn,
): World {
  const joining = list.filter((row) => row.state === 'new' || row.state === 'joins');
  const byId = new Map(world.people.map((p) => [p.id, p]));
  for (const [n, row] of joining.entries()) {
    const id = row.person?.id ?? `new ${n}`;
    const known = byId.get(id) ?? { id, schoolId, staff: false, memberships: [] };
    const membership: Belonging = { classId, courseId, ...spanOf(row, timeZone) };
    byId.set(id, { ...known, memberships: [...known.memberships, membership] });
  }
  return { ...world, people: [...byId.values()] };
}

/**
 * Takes a list as it was looked at: makes accounts, lets people join, changes names and days, ends memberships. Whom the
 * person does not manage is asked to join; only accounts that are not in use get another name or a first address.
 */
export async function importList(
  { db, now }: Needs,
  person: SignedIn,
  classId: string,
  { rows: list, leaving }: Taken,
): Promise<ImportedList> {
  const t = now();
  return db.transaction(async (tx) => {
    await changesBy(tx, person, t);
    const { schoolId } = await requireManagedClass(tx, person, classId);
    for (const row of list)
      if (row.from !== null && row.until !== null && row.until <= row.from)
        throw new AppError('ends-before-start', { faults: [{ field: 'name', fault: row.name }] });
    const ids = [...new Set(list.flatMap((row) => row.personId ?? []))];
    const known = await accountsOf(tx, person, ids);
    if (known.size < ids.length) throw new AppError('audience-unknown');
    const made = await makeAccounts(tx, person, list);
    const there = await currentMembers(tx, classId, t);
    const before: Undo['before'] = [];
    const joining: NewMembership[] = [];
    const requests: Joining[] = [];
    for (const [n, row] of list.entries()) {
      const personId = row.personId ?? made[n]!;
      const days = columnsOf(row, person.timeZone);
      const member = there.get(personId);
      const account = known.get(personId);
      const renamed = account ? await nameAnew(tx, account, row) : false;
      if (!member) {
        const fromAt =
          days.fromAt ?? (days.untilAt && days.untilAt.getTime() <= t ? null : new Date(t));
        if (account && !account.managed) requests.push({ personId, ...days });
        else joining.push({ schoolId, classId, personId, ...days, fromAt, addedBy: noted(person) });
        continue;
      }
      const changed = days.fromAt !== null || days.untilAt !== null;
      if (!changed && !renamed) continue;
      before.push({
        membershipId: member.id,
        name: account?.name ?? row.name,
        from: toIso(member.fromAt),
        until: toIso(member.untilAt),
      });
      if (changed)
        await giveDays(tx, person, member.id, {
          fromAt: days.fromAt ?? member.fromAt,
          untilAt: days.untilAt ?? member.untilAt,
        });
    }
    const joined = await addMemberships(tx, joining);
    const asked = await askToJoin(tx, person, classId, requests, t);
    const left = await endNow(tx, person, classId, leaving, t);
    return {
      joined: joined.length,
      made: made.filter((id) => id !== null).length,
      changed: before.length,
      asked: asked.length,
      left: left.length,
      undo: { joined, asked, before: [...before, ...left] },
    };
  });
}

/**
 * Gives an account the name of a list, and its address where it had none: only one that the person manages and nobody
 * uses yet. Resolves to whether it has another name by it.
 */
async function nameAnew(
  tx: Queries,
  account: Account,
  { name, email }: { name: string; email: string | null },
): Promise<boolean> {
  if (!account.managed || account.inUse) return false;
  const first = account.email === null ? email : null;
  const renamed = account.name !== name;
  if (renamed || first !== null)
    await changePerson(tx, account.id, { name, ...(first !== null && { email: first }) });
  return renamed;
}

/** Accounts for the rows without one, in their order; null for the others. */
async function makeAccounts(
  tx: Queries,
  person: SignedIn,
  list: Taken['rows'],
): Promise<(string | null)[]> {
  const fresh = list.flatMap((row, n) => (row.personId === null ? [{ row, n }] : []));
  const names = await freeSignInNames(
    tx,
    fresh.map(({ row }) => (row.email === null ? (row.signInName ?? signInStem(row.name)) : null)),
  );
  const ids = await addPeople(
    tx,
    fresh.map(({ row }, n) => ({
      schoolId: person.schoolId,
      madeBy: noted(person),
      kind: 'student' as const,
      name: row.name,
      email: row.email,
      externalId: row.externalId,
      signInName: names[n],
    })),
  );
  const made: (string | null)[] = list.map(() => null);
  fresh.forEach(({ n: at }, n) => (made[at] = ids[n]!));
  return made;
}

/**
 * Undo of a list or a move: memberships and requests that it made are gone, the others are as they were. Accounts stay,
 * and names are changed back as a list may change them. It reaches no further than the course of the class.
 */
export async function undoList({ db, now }: Needs, person: SignedIn, classId: string, undo: Undo) {
  await db.transaction(async (tx) => {
    await changesBy(tx, person, now());
    const { courseId } = await requireManagedClass(tx, person, classId);
    await removeMemberships(tx, courseId, undo.joined);
    await withdrawRequests(tx, classId, undo.asked);
    const found = await membershipsOfCourse(
      tx,
      courseId,
      undo.before.map((was) => was.membershipId),
    );
    const members = new Map(found.map((member) => [member.id, member]));
    const accounts = await accountsOf(
      tx,
      person,
      found.map((member) => member.personId),
    );
    for (const { membershipId, name, from, until } of undo.before) {
      const member = members.get(membershipId);
      if (!member) throw new AppError('changed-since');
      const account = accounts.get(member.personId);
      const days = { fromAt: toDate(from), untilAt: toDate(until) };
      refuseReopening(person, member, account, days.untilAt, now());
      await giveDays(tx, person, membershipId, days);
      if (account) await nameAnew(tx, account, { name, email: null });
    }
  });
}
