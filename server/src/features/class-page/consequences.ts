import type { Consequences, EntryStep, Thing } from '@sammlung/contract';
import type { z } from 'zod';
import type { Database, Queries } from '../../db/database.ts';
import { contentsBelow, loadWorld } from '../../domain/access/load-world.ts';
import { previewDifference } from '../../domain/access/preview-change.ts';
import { appearanceById, appearancesOf, thingsOf } from '../../domain/class-pages.ts';
import { confidentialWords } from '../../domain/teacher-settings.ts';
import { AppError } from '../../platform/errors.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import type { Services } from '../../services.ts';
import { itemsAt } from './queries.ts';
import {
  editAppearance,
  editEntry,
  editEverywhere,
  makeEntry,
  takeBackAppearance,
  takeBackEverywhere,
} from './service.ts';

type Needs = Pick<Services, 'db' | 'now'>;
type Step = z.infer<typeof EntryStep>;

/** Undoes what was done to find out what it means. */
class RolledBack extends Error {
  constructor(readonly found: Consequences) {
    super('Rolled back');
  }
}

/**
 * Who would gain or lose sight of what by something done with an entry: it is done, looked at, and undone before anybody sees it. Throws
 * as doing it does.
 */
export async function entryConsequences(
  { db, now }: Needs,
  person: SignedIn,
  step: Step,
): Promise<Consequences> {
  const t = now();
  const words = await confidentialWords(db, person.id);
  const found = await db
    .transaction(async (tx): Promise<Consequences> => {
      const concerned = await concernedBy(tx, step);
      const of = (kind: Thing['kind']) =>
        concerned.things.filter((thing) => thing.kind === kind).map(({ id }) => id);
      const below = await contentsBelow(tx, of('folder'));
      const items = await itemsAt(tx, of('placement'));
      const scope = {
        folderIds: below.folderIds,
        itemIds: [...new Set([...below.itemIds, ...items])],
      };
      const audiences = concerned.classIds.map((id) => ({ kind: 'class', id }));
      const world = async () => (await loadWorld(tx, person.schoolId, scope, audiences)).world;
      const before = await world();
      await take({ db: tx, now: () => t }, person, step);
      const { schoolId } = person;
      throw new RolledBack(
        await previewDifference(tx, before, await world(), { schoolId, words, scope }, t),
      );
    })
    .catch((error: unknown) => {
      if (error instanceof RolledBack) return error.found;
      throw error;
    });
  return found;
}

async function take(needs: { db: Database; now: () => number }, person: SignedIn, step: Step) {
  switch (step.do) {
    case 'make':
      return makeEntry(needs, person, { ...step, title: '…', text: '' });
    case 'things':
      return editEntry(needs, person, step.entry, { things: step.things });
    case 'set':
      return editAppearance(needs, person, step.appearance, step.change);
    case 'take-back':
      return takeBackAppearance(needs, person, step.appearance);
    case 'set-everywhere':
      return editEverywhere(needs, person, step.entry, step.change);
    case 'take-back-everywhere':
      return takeBackEverywhere(needs, person, step.entry);
  }
}

/** The things of the entry, before and after, and the classes on whose pages it is, or will be. */
async function concernedBy(
  db: Queries,
  step: Step,
): Promise<{ things: Thing[]; classIds: string[] }> {
  if (step.do === 'make')
    return { things: step.things, classIds: step.on.map(({ classId }) => classId) };
  const entryId =
    'entry' in step ? step.entry : (await appearanceById(db, step.appearance))?.entryId;
  if (!entryId) throw new AppError('not-found');
  const [things, appearances] = [await thingsOf(db, entryId), await appearancesOf(db, entryId)];
  return {
    things: step.do === 'things' ? [...things, ...step.things] : things,
    classIds: appearances.map(({ classId }) => classId),
  };
}
