import type { Colour, Released, Releasing, Thing, Timing } from '@sammlung/contract';
import { Rights } from '../../domain/access/rights.ts';
import { classesTaught } from '../../domain/classes.ts';
import { applyReleases, classReleasesOf, releaseOf, releasesNow } from '../../domain/releases.ts';
import type { Services } from '../../services.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import { classesHandedTo } from './queries.ts';
import { refuseEndBeforeStart } from '../../domain/spans.ts';
import { changesBy } from '../../domain/log.ts';

type Needs = Pick<Services, 'db' | 'now'>;
type Former = Released['before'][number];

/** The release of one thing, with the classes that can have one of their own: those of its owner, and those that do. */
export async function timingOf(
  { db, now }: Needs,
  person: SignedIn,
  thing: Thing,
): Promise<Timing> {
  const t = now();
  const [ownerId] = await mayTime(new Rights(db, person, t), [thing]);
  const general = await releaseOf(db, thing);
  const own = await classReleasesOf(db, thing);
  const taught = await classesTaught(db, ownerId!, t);
  const concerned = await classesHandedTo(db, thing);
  const others = own.filter((o) => !taught.some((c) => c.id === o.classId));
  return {
    general,
    classes: [
      ...taught.filter((c) => concerned.has(c.id) || own.some((o) => o.classId === c.id)),
      ...others.map((o) => ({ id: o.classId, code: o.code, colour: o.colour })),
    ].map(({ id, code, colour }) => {
      return {
        id,
        code,
        colour: colour as Colour,
        release: own.find((o) => o.classId === id)?.release ?? null,
      };
    }),
  };
}

/** Sets releases; returns what was there before. Throws `ends-before-start` and `audience-unknown`. */
export async function release(
  { db, now }: Needs,
  person: SignedIn,
  { things, rules }: Releasing,
): Promise<Released> {
  for (const { release: wanted } of rules) if (wanted) refuseEndBeforeStart(wanted);
  return db.transaction(async (tx) => {
    await changesBy(tx, person, now());
    const rights = new Rights(tx, person, now());
    await mayTime(rights, things);
    const before: Former[] = [];
    for (const { classId } of rules) before.push(...(await releasesNow(tx, things, classId)));
    const wanted = rules.flatMap((rule) => things.map((thing) => ({ ...thing, ...rule })));
    await applyReleases(tx, person.schoolId, wanted);
    return { before };
  });
}

/** Undo of `release`. */
export async function releaseBack({ db, now }: Needs, person: SignedIn, before: readonly Former[]) {
  for (const { release: wanted } of before) if (wanted) refuseEndBeforeStart(wanted);
  await db.transaction(async (tx) => {
    await changesBy(tx, person, now());
    const rights = new Rights(tx, person, now());
    await mayTime(rights, before);
    await applyReleases(tx, person.schoolId, before);
  });
}

/** Throws unless the person may decide when each thing is seen; resolves to whose libraries they lie in. */
async function mayTime(rights: Rights, things: readonly Thing[]): Promise<string[]> {
  const ids = (kind: Thing['kind']) => things.filter((x) => x.kind === kind).map((x) => x.id);
  const decided = await rights.decides(ids('folder'));
  const placed = await rights.decidesPlacements(ids('placement'));
  return [...decided, ...placed.map(({ folder }) => folder)].map(({ treeId }) => treeId);
}
