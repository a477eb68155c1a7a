import type { EntryStep } from '@sammlung/contract';
import fc from 'fast-check';
import type { z } from 'zod';
import { EntryStep as Step } from '@sammlung/contract';
import { afterAll, describe, expect, it } from 'vitest';
import type { Database } from '../src/db/database.ts';
import { courseTeachers } from '../src/db/schema/index.ts';
import { cardsSeen } from '../src/domain/access/cards.ts';
import { entryConsequences } from '../src/features/class-page/consequences.ts';
import {
  editAppearance,
  makeEntry,
  takeBackAppearance,
} from '../src/features/class-page/service.ts';
import { AppError } from '../src/platform/errors.ts';
import type { SignedIn } from '../src/platform/sessions.ts';
import { scratchDatabase } from './database.ts';
import { asViewer, onRandomSchools } from './planting.ts';

const { db, close } = await scratchDatabase();
afterAll(close);

class Undone extends Error {}

/** Does something, and undoes it; null where it is refused. */
async function tried<T>(tx: Database, run: (tx: Database) => Promise<T>): Promise<T | null> {
  let result: T | null = null;
  await tx
    .transaction(async (inner) => {
      result = await run(inner);
      throw new Undone();
    })
    .catch((error: unknown) => {
      if (!(error instanceof Undone) && !(error instanceof AppError)) throw error;
    });
  return result;
}

async function take(
  needs: { db: Database; now: () => number },
  by: SignedIn,
  step: z.infer<typeof Step>,
) {
  if (step.do === 'make') await makeEntry(needs, by, { ...step, title: 'Lesson', text: '' });
  if (step.do === 'set') await editAppearance(needs, by, step.appearance, step.change);
  if (step.do === 'take-back') await takeBackAppearance(needs, by, step.appearance);
}

describe('what a preview of something done with an entry says', () => {
  it('is what people then see more, and less, on random schools', async () => {
    const counts = { gains: 0, loses: 0, none: 0, refused: 0 };
    const pick = fc.sample(fc.nat(), 4000);
    await onRandomSchools(db, 60, async (tx, school) => {
      const { data, now, schoolId } = school;
      const teacher = school.people[0]!;
      const by = { ...teacher, schoolId, sessionId: teacher.id } as unknown as SignedIn;
      await tx
        .insert(courseTeachers)
        .values(school.courses.map((courseId) => ({ schoolId, courseId, personId: teacher.id })))
        .onConflictDoNothing();
      const any = <T>(list: readonly T[]) => list[pick.pop()! % Math.max(1, list.length)];
      const own = data.folders.filter(({ ownerId }) => ownerId === teacher.id);
      const inOwn = data.placements.filter((p) => own.some(({ id }) => id === p.folderId));
      const [folder, placement] = [any(own), any(inOwn)];
      const time = (t: number) => new Date(t).toISOString();
      const hour = 3_600_000;
      const releases = [
        { held: false, from: null, until: null },
        { held: false, from: time(now - hour), until: time(now + hour) },
        { held: false, from: time(now + hour), until: null },
        { held: true, from: null, until: null },
      ];
      const appearances = data.handingsOut.flatMap(({ appearanceId }) => appearanceId ?? []);
      const steps: EntryStep[] = [
        ...(folder
          ? [
              {
                do: 'make' as const,
                things: [
                  { kind: 'folder' as const, id: folder.id },
                  ...(placement ? [{ kind: 'placement' as const, id: placement.id }] : []),
                ],
                on: school.classes.map(({ id: classId }) => ({ classId, release: any(releases) })),
              },
            ]
          : []),
        ...appearances.slice(0, 2).flatMap((appearance) => [
          { do: 'take-back' as const, appearance },
          { do: 'set' as const, appearance, change: { release: any(releases)! } },
        ]),
      ];
      const things = [
        ...data.folders.map(({ id }) => ({ kind: 'folder' as const, id })),
        ...data.placements.map(({ id }) => ({ kind: 'placement' as const, id })),
      ];
      // A consequence counts items: whoever sees one in another place still has not lost it.
      const itemOf = new Map(data.placements.map(({ id, itemId }) => [id, itemId]));
      const sights = async (at: Database) => {
        const seen = new Set<string>();
        for (const person of school.people) {
          const viewer = asViewer({ person: { ...person, schoolId }, doors: [] }, now);
          for (const { id } of await cardsSeen(at, viewer, things))
            seen.add(`${person.id} ${itemOf.get(id) ?? id}`);
        }
        return seen;
      };
      const before = await sights(tx);
      for (const one of steps) {
        const step = Step.parse(one);
        const needs = (at: Database) => ({ db: at, now: () => now });
        const said = await tried(tx, (at) => entryConsequences(needs(at), by, step));
        const after = await tried(tx, async (at) => {
          await take(needs(at), by, step);
          return sights(at);
        });
        expect(said === null).toBe(after === null);
        if (!said || !after) {
          counts.refused += 1;
          continue;
        }
        const gains = [...after].some((one) => !before.has(one));
        const loses = [...before].some((one) => !after.has(one));
        expect({
          gains: said.audiences.some(({ change }) => change.gains !== null),
          loses: said.audiences.some(({ change }) => change.loses !== null),
        }).toEqual({ gains, loses });
        if (gains) counts.gains += 1;
        if (loses) counts.loses += 1;
        if (!gains && !loses) counts.none += 1;
      }
      // Nothing of what was only asked about is left.
      expect(await sights(tx)).toEqual(before);
    });
    for (const [what, count] of Object.entries(counts)) expect(count, what).toBeGreaterThan(0);
  });
});
