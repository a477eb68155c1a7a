import type {
  Release,
  Round,
  RoundDone,
  RoundPreview,
  RoundRefusal,
  Rounds,
  RoundStep,
} from '@sammlung/contract';
import {
  afterRound,
  allows,
  confidentialWord,
  extensionOf,
  fileTitle,
  GOES_OUT_RULES,
  planRound,
  scheduledRelease,
  type PlacedFile,
  type RoundPlan,
  type RoundRow,
  type RoundStep as PlannedStep,
} from '@sammlung/core';
import type { z } from 'zod';
import { toIso, type Queries } from '../../db/database.ts';
import { loadWorld } from '../../domain/access/load-world.ts';
import { previewDifference } from '../../domain/access/preview-change.ts';
import { Rights, mayChangeItem } from '../../domain/access/rights.ts';
import { sweep } from '../../domain/contents.ts';
import { lockIntake } from '../../domain/files/put.ts';
import { addItem, addPlacement, binPlacements } from '../../domain/placements.ts';
import { destroy, lockForPurge } from '../../domain/purge.ts';
import { applyReleases, releasesNow, type Former } from '../../domain/releases.ts';
import { confidentialWords } from '../../domain/teacher-settings.ts';
import {
  addRound,
  addRoundStep,
  deleteRound,
  lockTray,
  placementsThere,
  requireTray,
  roundsOf,
  roundToUndo,
  waitingFiles,
  type RoundStepRow,
  type TrayFile,
} from '../../domain/tray.ts';
import { addVersion, itemsWithVersions, withdrawVersion } from '../../domain/versions.ts';
import { changesBy } from '../../domain/log.ts';
import { AppError } from '../../platform/errors.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import type { Services } from '../../services.ts';
import { deskOf, type Desk } from './desk.ts';
import { namesOf } from './queries.ts';

type Needs = Pick<Services, 'db' | 'now' | 'storage'>;
type Rows = z.output<typeof Round>['rows'];
/** So many rounds are listed at once. */
const ROUNDS = 20;

/** What putting files in place would do. */
export async function previewRound(
  { db, now }: Needs,
  person: SignedIn,
  rows: Rows,
): Promise<RoundPreview> {
  requireTray(person);
  const t = now();
  const planned = await plan(db, person, rows, t);
  const { schoolId } = person;
  const words = await confidentialWords(db, person.id);
  // Whoever only may add is told nothing about who sees the folder.
  const folderIds = (await new Rights(db, person, t).folders(foldersOf(planned.plan.steps), 'add'))
    .filter(({ right }) => allows(right, 'manage'))
    .map(({ id }) => id);
  const steps = planned.plan.steps.filter(({ folderId }) => folderIds.includes(folderId));
  const itemIds = [...new Set(steps.flatMap(({ itemId }) => itemId ?? []))];
  const scope = { folderIds, itemIds };
  const { world } = await loadWorld(db, schoolId, scope);
  const after = { ...world, library: afterRound(world.library, steps) };
  const consequences = await previewDifference(db, world, after, { schoolId, words, scope }, t);
  const named = consequences.audiences.some(({ kind, change }) => OPEN.has(kind) && change.asks);
  return {
    ...described(planned),
    consequences: {
      ...consequences,
      // What is new has no name in the library yet.
      confidential: named ? [...confidentialAmong(steps, words), ...consequences.confidential] : [],
    },
  };
}

/** Audiences of which nobody knows who they are. */
const OPEN: ReadonlySet<string> = new Set(['public', 'school', 'school-door']);

const confidentialAmong = (steps: readonly PlannedStep[], words: readonly string[]) =>
  steps.flatMap(({ title }) => {
    const word = confidentialWord(title, words);
    return word === null ? [] : [{ title, word }];
  });

/** Puts files in place: all that can be, at once. */
export async function putInPlace(
  { db, now }: Needs,
  person: SignedIn,
  rows: Rows,
): Promise<RoundDone> {
  requireTray(person);
  const t = now();
  return db.transaction(async (tx) => {
    await changesBy(tx, person, t);
    // As it is planned it stays until it is done.
    await lockTray(tx, person.id);
    for (const id of foldersOf(rows.flatMap(({ to }) => to))) await lockIntake(tx, id);
    const planned = await plan(tx, person, rows, t);
    const { steps, refused } = described(planned);
    const files = [...new Set(steps.map(({ fileId }) => fileId))];
    if (files.length === 0) throw new AppError('changed-since');
    const roundId = await addRound(tx, person, files, t);
    for (const made of await carryOut(tx, person, planned, t))
      await addRoundStep(tx, { ...made, roundId, schoolId: person.schoolId });
    return { roundId, files: files.length, refused };
  });
}

interface Planned {
  readonly plan: RoundPlan;
  readonly desk: Desk;
  readonly files: ReadonlyMap<string, TrayFile>;
  readonly rows: ReadonlyMap<string, Rows[number]>;
}

/** What a round does, by the tray and the library as they are. */
async function plan(tx: Queries, person: SignedIn, rows: Rows, t: number): Promise<Planned> {
  const wanted = new Set(rows.map(({ fileId }) => fileId));
  const files = new Map(
    (await waitingFiles(tx, person.id))
      .filter(({ id }) => wanted.has(id))
      .map((file) => [file.id, file]),
  );
  // Another window has put one in place, or taken it out.
  if (files.size < rows.length) throw new AppError('changed-since');
  const folderIds = foldersOf(rows.flatMap(({ to }) => to));
  await new Rights(tx, person, t).folders(folderIds, 'add');
  const hashes = [...files.values()].flatMap(({ hash }) => hash ?? []);
  const desk = await deskOf(tx, person, t, { hashes, folderIds, newest: 0 });
  const school = { zone: person.timeZone, days: desk.days };
  const planRows = rows.map((row): RoundRow => {
    const file = files.get(row.fileId)!;
    const title = fileTitle(row.title, extensionOf(file.name).length + 1);
    if (title === null) throw new AppError('file-name-empty');
    return {
      ...{ fileId: row.fileId, again: row.again, versionOf: row.versionOf },
      hash: file.hash!,
      title,
      extension: extensionOf(file.name),
      to: row.to.map(({ classId, folderId, goesOut }) => ({
        ...{ classId, folderId },
        release: scheduledRelease(
          ruleOrInstant(goesOut),
          {
            lessonDate: row.lessonDate ?? '',
            lessons: desk.classes.find(({ id }) => id === classId)?.lessons ?? [],
            now: t,
          },
          school,
        ),
      })),
    };
  });
  return {
    plan: planRound(planRows, desk.placed, desk.folders),
    desk,
    files,
    rows: new Map(rows.map((row) => [row.fileId, row])),
  };
}

const ruleOrInstant = (goesOut: string) =>
  GOES_OUT_RULES.find((rule) => rule === goesOut) ?? Date.parse(goesOut);

/** The folders that something concerns, always in the same order, so that two who lock them do not wait for each other. */
const foldersOf = (some: readonly { readonly folderId: string }[]) =>
  [...new Set(some.map(({ folderId }) => folderId))].sort();

type Made = Omit<RoundStepRow, 'id' | 'roundId' | 'schoolId'>;

/** Does what was planned. Throws `name-taken` where something came into a folder meanwhile, and as `Rights` does. */
async function carryOut(
  tx: Queries,
  person: SignedIn,
  { plan: { steps }, files, rows }: Planned,
  t: number,
): Promise<Made[]> {
  const { schoolId, id: personId } = person;
  const rights = new Rights(tx, person, t);
  const made: Made[] = [];
  const putting = { schoolId, addedBy: personId, addedAt: new Date(t) };
  /** The items that the round has made, by their files. */
  const items = new Map<string, string>();
  for (const step of steps) {
    const { fileId, folderId, outcome, title, classIds } = step;
    const file = files.get(fileId)!;
    const itemId =
      step.itemId ??
      items.get(fileId) ??
      (await makeItem(tx, person, file, step, rows.get(fileId)!, t));
    items.set(fileId, itemId);
    const placementId =
      step.placementId ??
      made.find((x) => x.itemId === itemId && x.folderId === folderId)?.placementId ??
      (await addPlacement(tx, { ...putting, folderId, itemId }));
    if (step.placementId !== null) await rights.placements([step.placementId]);
    let versionId: string | null = null;
    if (outcome === 'version') {
      const [placement] = await rights.placements([placementId]);
      const { folder, itemOwnerId } = placement!;
      if (!mayChangeItem(personId, folder, itemOwnerId)) throw new AppError('not-allowed');
      versionId = await addVersion(tx, itemId, versionFacts(person, file, t));
    }
    const rules = step.rules.map(({ classId, release }): Former => {
      return { kind: 'placement', id: placementId, classId, release: toRelease(release) };
    });
    const before: Former[] = [];
    // What is new has no release yet, and goes away with its placement.
    if (step.placementId !== null)
      for (const { classId } of rules)
        before.push(...(await releasesNow(tx, [{ kind: 'placement', id: placementId }], classId)));
    if (step.placementId !== null || !rules.every(isOutNow))
      await applyReleases(tx, schoolId, rules);
    made.push({
      ...{ trayFileId: fileId, outcome, title, folderId, itemId, placementId, versionId },
      ...{ classIds: [...classIds], rules, before },
    });
  }
  return made;
}

/** Whether a rule says what is so without one. */
const isOutNow = ({ classId, release }: Former) =>
  classId === null && release !== null && !release.held && !release.from && !release.until;

const toRelease = ({ held, from, until }: PlannedStep['rules'][number]['release']): Release => ({
  ...{ held, from: toIso(from), until: toIso(until) },
});

const versionFacts = ({ schoolId, id }: SignedIn, file: TrayFile, t: number) => ({
  ...{ schoolId, hash: file.hash!, size: file.size, mediaType: file.mediaType },
  ...{ originalName: file.name, createdBy: id, createdAt: new Date(t) },
});

async function makeItem(
  tx: Queries,
  person: SignedIn,
  file: TrayFile,
  { title }: PlannedStep,
  { lessonDate }: Rows[number],
  t: number,
): Promise<string> {
  const { schoolId, id: ownerId } = person;
  const itemId = await addItem(tx, {
    ...{ schoolId, ownerId, kind: 'file', title, extension: extensionOf(file.name), lessonDate },
    createdAt: new Date(t),
  });
  await addVersion(tx, itemId, versionFacts(person, file, t));
  return itemId;
}

/** Takes back what a round has put in place, as far as nobody has gone on with it since. Throws `changed-since`. */
export async function takeBackRound(
  { db, now, storage }: Needs,
  person: SignedIn,
  roundId: string,
): Promise<void> {
  requireTray(person);
  const t = now();
  const unused = await db.transaction(async (tx) => {
    await changesBy(tx, person, t);
    await lockTray(tx, person.id);
    const steps = await roundToUndo(tx, person.id, roundId, t);
    const rights = new Rights(tx, person, t);
    const there = await placementsThere(
      tx,
      steps.map(({ placementId }) => placementId),
    );
    if (steps.some(({ placementId }) => !there.has(placementId)))
      throw new AppError('changed-since');
    await rights.placements(steps.map(({ placementId }) => placementId));
    const binned = { binnedAt: new Date(t), binnedBy: person.id };
    const stays = steps.filter(({ outcome }) => outcome === 'version' || outcome === 'opened');
    for (const { versionId } of stays) if (versionId) await withdrawVersion(tx, versionId);
    await applyReleases(
      tx,
      person.schoolId,
      stays.flatMap(({ before }) => before),
    );
    const goes = steps.filter((step) => !stays.includes(step));
    await binPlacements(
      tx,
      goes.map(({ placementId }) => placementId),
      binned,
    );
    const dead = goes.flatMap(({ outcome, itemId }) => (outcome === 'new' ? itemId : []));
    await lockForPurge(tx, [], dead);
    // What has become more since is not thrown away.
    if ((await itemsWithVersions(tx, dead)).length > 0) throw new AppError('changed-since');
    const hashes = await destroy(tx, [], dead);
    await deleteRound(tx, person.id, roundId);
    return hashes;
  });
  await sweep(db, storage, unused);
}

function described({ plan: { steps, refused }, desk }: Planned): {
  steps: RoundStep[];
  refused: RoundRefusal[];
} {
  const placed = new Map(desk.placed.map((file) => [file.placementId, file]));
  return {
    steps: steps.map(({ fileId, outcome, title, folderId, rules, classIds }) => ({
      ...{ fileId, outcome, title, folderId },
      out: outOf(rules, classIds),
    })),
    refused: refused.map(({ fileId, classId, because, placementId }) => ({
      ...{ fileId, classId, because },
      folder: folderOfPlaced(placementId === null ? undefined : placed.get(placementId), desk),
    })),
  };
}

function folderOfPlaced(file: PlacedFile | undefined, { folders }: Desk): RoundRefusal['folder'] {
  const found = file && folders.find(({ id }) => id === file.folderId);
  return found ? { id: found.id, title: found.title } : null;
}

/** When something goes out to each class, by the releases that were set. */
function outOf(
  rules: readonly {
    classId: string | null;
    release: { held: boolean; from: number | string | null } | null;
  }[],
  classIds: readonly string[],
): RoundStep['out'] {
  const general = rules.find(({ classId }) => classId === null)?.release;
  return classIds.map((classId) => {
    const own = rules.find((rule) => rule.classId === classId)?.release ?? general;
    const from = own?.from ?? null;
    return {
      classId,
      held: own?.held ?? false,
      from: from === null ? null : new Date(from).toISOString(),
    };
  });
}

/** What was put in place before an instant, newest first. */
export async function listRounds(
  { db, now }: Needs,
  person: SignedIn,
  before: string | null,
): Promise<Rounds> {
  requireTray(person);
  const until = before === null ? now() + 1 : Date.parse(before);
  const found = await roundsOf(db, person.id, until, ROUNDS);
  const steps = found.flatMap((round) => round.steps);
  const names = await namesOf(db, {
    folderIds: steps.map(({ folderId }) => folderId),
    classIds: steps.flatMap(({ classIds }) => classIds),
  });
  const there = await placementsThere(
    db,
    steps.map(({ placementId }) => placementId),
  );
  return {
    rounds: found.map((round) => ({
      id: round.id,
      at: round.at.toISOString(),
      steps: round.steps.map((step) => ({
        fileId: step.trayFileId,
        ...{ outcome: step.outcome, title: step.title },
        out: outOf(step.rules, step.classIds),
        folder: names.folders.get(step.folderId) ?? null,
        placementId: there.has(step.placementId) ? step.placementId : null,
        classes: step.classIds.flatMap((id) => names.classes.get(id) ?? []),
      })),
    })),
    before: found.length < ROUNDS ? null : found.at(-1)!.at.toISOString(),
  };
}
