import type { CarryOver, CarryPlan, CarryPreview, CarryYear } from '@sammlung/contract';
import { groupBy, sightOfPlan } from '@sammlung/core';
import { toIso } from '../../db/database.ts';
import { loadLibrary } from '../../domain/access/load-library.ts';
import { audienceNames, folderTabs } from '../../domain/access/tabs.ts';
import { foldersOfYears } from '../../domain/access/year-folders.ts';
import { changeBox, boxById } from '../../domain/boxes.ts';
import {
  addCarryOver,
  carriedIn,
  carryOverBy,
  carryOversOf,
  changeCarryOver,
  forgetCarried,
  type CarryOverRecord,
} from '../../domain/carry-overs.ts';
import {
  appearanceById,
  changeAppearance,
  changeHeading,
  headingById,
} from '../../domain/class-pages.ts';
import { classesTaught } from '../../domain/classes.ts';
import { yearsOfSchool } from '../../domain/courses.ts';
import { binFolders, lockTree } from '../../domain/folders.ts';
import { applyAppearance, takeBackGrants } from '../../domain/grants.ts';
import { binPlacements } from '../../domain/placements.ts';
import { AppError } from '../../platform/errors.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import type { Services } from '../../services.ts';
import { checkPlan, prepare, type Prepared } from './prepare.ts';
import { rowsOf } from './preview.ts';
import { countOpenMarks, stillMade, taughtClasses, titlesOf } from './queries.ts';
import { carryOut } from './run.ts';

type Needs = Pick<Services, 'db' | 'now' | 'storage' | 'settings' | 'workers' | 'jobs'>;

export const CARRY_OVER = 'carry-over';
/** Earlier ones that are listed. */
const LISTED = 20;
/** Folders of which it is told who has them. */
const TOLD = 200;

/** What there is to carry over, and what was carried over. */
export async function carryStart(
  { db }: Pick<Needs, 'db'>,
  person: SignedIn,
): Promise<{ years: CarryYear[]; done: CarryOver[] }> {
  if (person.kind === 'student') throw new AppError('not-found');
  const [years, classes, folders, records] = await Promise.all([
    yearsOfSchool(db, person.schoolId),
    taughtClasses(db, person.id),
    foldersOfYears(db, person.id),
    carryOversOf(db, person.id, LISTED),
  ]);
  const classesOf = groupBy(classes, ({ yearId }) => yearId);
  const foldersOf = groupBy(folders, ({ yearId }) => yearId);
  return {
    years: years.map(({ closedAt, schoolId: _, ...year }) => ({
      ...year,
      closed: closedAt !== null,
      classes: (classesOf.get(year.id) ?? []).map(({ yearId: _, courseId: __, ...one }) => one),
      folders: (foldersOf.get(year.id) ?? []).map(({ yearId: _, ...one }) => one),
    })),
    done: await toDtos({ db }, person, records),
  };
}

async function toDtos(
  { db }: Pick<Needs, 'db'>,
  person: SignedIn,
  records: readonly CarryOverRecord[],
): Promise<CarryOver[]> {
  const marks = new Map(
    (
      await countOpenMarks(
        db,
        records.filter(({ undoneAt }) => undoneAt === null).map(({ id }) => id),
      )
    ).map(({ id, count }) => [id, count]),
  );
  const labels = new Map(
    (await yearsOfSchool(db, person.schoolId)).map(({ id, label }) => [id, label]),
  );
  return records.map((one) => ({
    id: one.id,
    from: labels.get(one.fromYearId)!,
    to: labels.get(one.toYearId)!,
    state: one.state,
    ...{ done: one.done, total: one.total, fault: one.fault },
    made: one.made as CarryOver['made'],
    marks: marks.get(one.id) ?? 0,
    at: toIso(one.createdAt)!,
    undone: one.undoneAt !== null,
  }));
}

/** What carrying over would do now. Throws as `prepare` does. */
export async function previewCarryOver(
  { db, now }: Pick<Needs, 'db' | 'now'>,
  person: SignedIn,
  asked: CarryPlan,
): Promise<CarryPreview> {
  const t = now();
  const prepared = await prepare(db, person, asked, t);
  const { plan, pages, boxes, counts } = prepared;
  const known = [...new Set([...prepared.known.values()].map(({ id }) => id))];
  const entries = new Map(pages.entries.map((entry) => [entry.entry, entry]));
  return {
    counts,
    there: plan.there + pages.known,
    removed: plan.removed,
    leftOut: pages.leftOut,
    trees: rowsOf(prepared, await titlesOf(db, known)),
    words: [...entries.values(), ...boxes]
      .flatMap(({ title, text, before }) => [
        { before: before.title, after: title },
        { before: before.text, after: text },
      ])
      .filter(({ before, after }) => before !== after)
      .slice(0, TOLD),
    ends: boxes.flatMap(({ title, endsAt, before }) =>
      endsAt && before.endsAt
        ? [{ title, before: toIso(before.endsAt)!, after: endsAt.toISOString() }]
        : [],
    ),
    sight: await sightsOf(db, prepared, t),
    seenBy: await seenBy(db, prepared, t),
  };
}

/** What the classes would see to which the new folders are handed out. */
async function sightsOf(
  db: Needs['db'],
  { plan, handings, classes, person }: Prepared,
  t: number,
): Promise<CarryPreview['sight']> {
  const perClass = groupBy(handings, ({ classId }) => classId);
  if (perClass.size === 0) return [];
  const students = new Map(
    (await classesTaught(db, person.id, t)).map((one) => [one.id, one.students]),
  );
  return [...perClass].map(([id, those]) => {
    const { code, colour, course } = classes.get(id)!;
    const handed = new Set(those.map(({ folderId }) => folderId));
    return {
      ...{ id, code, colour, course, students: students.get(id) ?? 0 },
      ...sightOfPlan(plan, id, handed, t),
    };
  });
}

/** Who has the folders, there already, into which something comes. */
async function seenBy(
  db: Needs['db'],
  { asked, plan }: Prepared,
  t: number,
): Promise<CarryPreview['seenBy']> {
  const made = new Set(plan.folders.map(({ id }) => id));
  const into = new Set([
    ...plan.folders.flatMap(({ parentId }) => parentId ?? asked.into ?? []),
    ...plan.placements.map(({ folderId }) => folderId),
  ]);
  const folderIds = [...into].filter((id) => !made.has(id)).slice(0, TOLD);
  if (folderIds.length === 0) return [];
  const library = await loadLibrary(db, { folderIds, itemIds: [] });
  const names = await audienceNames(db, library.data.handingsOut);
  const tabs = folderIds.flatMap((id) => folderTabs(library, names, id, t));
  return [...new Map(tabs.map((tab) => [`${tab.kind} ${tab.id}`, tab])).values()];
}

/** Begins to carry over. Throws as `checkPlan` does. */
export async function beginCarryOver(
  needs: Needs,
  person: SignedIn,
  asked: CarryPlan,
): Promise<{ id: string }> {
  const { db, now, jobs } = needs;
  const t = now();
  const { from, into } = (await checkPlan(db, person, asked, t)).moving;
  const { schoolId, id: personId } = person;
  const id = await addCarryOver(db, {
    ...{ schoolId, personId, fromYearId: asked.from, toYearId: asked.to, plan: asked },
    frames: { from, to: into },
    createdAt: new Date(t),
  });
  if (jobs) await jobs.send(CARRY_OVER, { id }, id);
  else await carryOut(needs, id);
  return { id };
}

/** How far it is. */
export async function carryOverNow(
  { db }: Pick<Needs, 'db'>,
  person: SignedIn,
  id: string,
): Promise<CarryOver> {
  const record = await carryOverBy(db, person.id, id);
  if (!record) throw new AppError('not-found');
  return (await toDtos({ db }, person, [record]))[0]!;
}

/**
 * Undoes it, as far as the person has a right to what was made by now: folders and things go to the Bin, what was handed out is taken back, headings,
 * entries and boxes are removed. Throws `changed-since` where there is nothing to undo.
 */
export async function undoCarryOver(
  { db, now }: Pick<Needs, 'db' | 'now'>,
  person: SignedIn,
  id: string,
): Promise<void> {
  const t = now();
  const by = { personId: person.id, t };
  const binned = { binnedAt: new Date(t), binnedBy: person.id };
  await db.transaction(async (tx) => {
    await lockTree(tx, person.id);
    const record = await carryOverBy(tx, person.id, id, true);
    if (!record) throw new AppError('not-found');
    if (record.state !== 'done' || record.undoneAt) throw new AppError('changed-since');
    const made = await carriedIn(tx, id);
    const { folders, placements, grants } = await stillMade(tx, person.id, record);
    await takeBackGrants(tx, grants, by);
    await binFolders(tx, folders, binned);
    await binPlacements(tx, placements, binned);
    const taught = new Set((await classesTaught(tx, person.id, t)).map((one) => one.id));
    const own = made.filter(({ key }) => taught.has(key));
    for (const { kind, madeId } of own) {
      if (kind === 'heading' && (await headingById(tx, madeId)))
        await changeHeading(tx, madeId, { removedAt: new Date(t) });
      if (kind === 'box' && (await boxById(tx, madeId)))
        await changeBox(tx, madeId, { removedAt: new Date(t) });
      const appearance = kind === 'appearance' ? await appearanceById(tx, madeId) : null;
      if (!appearance || appearance.takenBackAt) continue;
      await changeAppearance(tx, appearance, { takenBackAt: new Date(t), takenBackBy: person.id });
      await applyAppearance(tx, madeId, by);
    }
    await forgetCarried(tx, id);
    await changeCarryOver(tx, id, { undoneAt: new Date(t) });
  });
}
