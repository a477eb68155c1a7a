import type { Colour, Thing } from '@sammlung/contract';
import { carriedKey, groupBy } from '@sammlung/core';
import type { Queries } from '../../db/database.ts';
import { carriedBefore } from '../../domain/carry-overs.ts';
import { headingsOf } from '../../domain/class-pages.ts';
import { mended, movedDates, type Moving } from './moving.ts';
import { entriesToCarry, headingsToCarry, type boxesToCarry } from './queries.ts';

/** Pages and boxes of classes, as they will be for the classes that take their place. */

export interface BoxToMake {
  readonly sourceId: string;
  readonly classId: string;
  readonly title: string;
  readonly text: string;
  readonly takesLate: boolean;
  readonly endsAt: Date | null;
  /** As it was. */
  readonly before: {
    readonly title: string;
    readonly text: string;
    readonly endsAt: number | null;
  };
}

export interface HeadingToMake {
  readonly sourceId: string;
  readonly classId: string;
  readonly title: string;
  readonly mark: string | null;
  readonly colour: Colour | null;
}

/** An entry on the page of a class: a draft, until somebody lets it go out. */
export interface EntryToMake {
  /** The appearance that it is made after. */
  readonly sourceId: string;
  readonly classId: string;
  /** Appearances with the same one show one entry. */
  readonly entry: string;
  /** The heading that it is under in the earlier year. */
  readonly headingId: string | null;
  readonly keepOnTop: boolean;
  readonly fromAt: Date | null;
  readonly untilAt: Date | null;
  readonly title: string;
  readonly text: string;
  readonly things: readonly Thing[];
  /** As it was. */
  readonly before: { readonly title: string; readonly text: string };
}

export interface PagesToMake {
  readonly headings: readonly HeadingToMake[];
  readonly entries: readonly EntryToMake[];
  /** Headings that are there, by class and by the one before them (`headingKey`). */
  readonly there: ReadonlyMap<string, string>;
  /** Entries for single students, which are left out. */
  readonly leftOut: number;
  /** Carried over before. */
  readonly known: number;
}

export const headingKey = (classId: string, sourceId: string) => `${classId} ${sourceId}`;

/** What was made before out of these, by class and source. */
async function knownOf(tx: Queries, personId: string, sources: readonly string[]) {
  const found = await carriedBefore(tx, personId, sources);
  return new Map(found.map((one) => [headingKey(one.key, one.sourceId), one]));
}

/** What is to be made of the pages that were chosen. */
export async function preparePages(
  tx: Queries,
  moving: Moving,
  made: (key: string) => string | undefined,
): Promise<PagesToMake> {
  const { asked, to, person } = moving;
  const headings = await headingsToCarry(tx, asked.pages);
  const entries = await entriesToCarry(tx, asked.pages);
  const known = await knownOf(tx, person.id, [
    ...headings.map(({ id }) => id),
    ...entries.map(({ id }) => id),
  ]);
  const there = new Map<string, string>();
  const fresh: HeadingToMake[] = [];
  const titles = new Map<string, Map<string, string>>();
  for (const classId of new Set(asked.pages.flatMap((id) => to.get(id)!)))
    titles.set(
      classId,
      new Map((await headingsOf(tx, classId)).map(({ id, title }) => [title, id])),
    );
  for (const { id, classId: of, title: before, mark, colour } of headings)
    for (const classId of to.get(of)!) {
      const key = headingKey(classId, id);
      const title = mended(moving, before, 60);
      const was = known.get(key);
      const same = was ? (was.binned ? undefined : was.madeId) : titles.get(classId)!.get(title);
      if (same) there.set(key, same);
      else if (!was) {
        fresh.push({ sourceId: id, classId, title, mark, colour });
        // Of two classes that become one, the second has the heading of the first.
        titles.get(classId)!.set(title, key);
      }
    }
  const whole = entries.filter(({ forSome }) => !forSome);
  const missing = whole.flatMap((entry) =>
    to
      .get(entry.classId)!
      .filter((classId) => !known.has(headingKey(classId, entry.id)))
      .map((classId) => ({ entry, classId })),
  );
  const seen = new Set<string>();
  return {
    headings: fresh,
    there,
    leftOut: entries.length - whole.length,
    known: whole.reduce((sum, { classId }) => sum + to.get(classId)!.length, 0) - missing.length,
    entries: missing.flatMap(({ entry, classId }) => {
      const things = entry.things.flatMap(({ kind, id }): Thing[] => {
        // Made for the class by itself, or for all of the year.
        const next = made(carriedKey(kind, classId, id)) ?? made(carriedKey(kind, asked.to, id));
        return next ? [{ kind, id: next }] : [];
      });
      const one = `${entry.entryId} ${things.map(({ id }) => id).join(' ')}`;
      // Of two classes that become one, what both had is there once.
      if (seen.has(`${classId} ${entry.entryId}`)) return [];
      seen.add(`${classId} ${entry.entryId}`);
      const { title, text, keepOnTop, headingId } = entry;
      return [
        {
          ...{ sourceId: entry.id, classId, entry: one, headingId, keepOnTop, things },
          ...movedDates(moving, entry),
          title: mended(moving, title, 120),
          text: mended(moving, text, 5000),
          before: { title, text },
        },
      ];
    }),
  };
}

/** What is to be made of these boxes. */
export async function prepareBoxes(
  tx: Queries,
  moving: Moving,
  found: Awaited<ReturnType<typeof boxesToCarry>>,
): Promise<BoxToMake[]> {
  const { to, person } = moving;
  const known = await knownOf(
    tx,
    person.id,
    found.map(({ id }) => id),
  );
  const made = found.flatMap(({ id, classId: of, title, text, endsAt, takesLate }) =>
    to
      .get(of)!
      .filter((classId) => !known.has(headingKey(classId, id)))
      .map((classId) => ({
        ...{ sourceId: id, classId, takesLate },
        title: mended(moving, title, 60),
        text: mended(moving, text, 5000),
        endsAt: movedDates(moving, { fromAt: endsAt, untilAt: null }).fromAt,
        before: { title, text, endsAt },
      })),
  );
  // Of two classes that become one, what both had is there once.
  return [...groupBy(made, (box) => `${box.classId} ${box.title}`).values()].map(([box]) => box!);
}
