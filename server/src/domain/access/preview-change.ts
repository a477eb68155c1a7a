import type { Change, Consequences } from '@sammlung/contract';
import {
  afterChange,
  asksFirst,
  confidentialWord,
  consequence,
  type Audience,
  type AudienceChange,
  type Library,
  type ShownDoor,
  type World,
} from '@sammlung/core';
import { sql } from 'drizzle-orm';
import { rows, uuids, type Queries } from '../../db/database.ts';
import { audienceNames } from './tabs.ts';
import { inPieces } from '../../platform/pieces.ts';
import { toConsequence } from './consequence-dto.ts';
import type { Scope } from './load-world.ts';

/** The ids of doors that are not there yet, to tell what opening one would do. */
export const NEW_DOOR = { public: 'new public door', school: 'new school door' } as const;

/** A change in the words of core: doors to be opened become doors of the world after it. */
function toCoreChange(
  change: Change,
  schoolId: string,
): { change: Parameters<typeof afterChange>[1]; doors: ShownDoor[] } {
  const time = (iso: string | null) => (iso === null ? null : Date.parse(iso));
  const span = ({ from, until }: { from: string | null; until: string | null }) => ({
    from: time(from),
    until: time(until),
  });
  if (change.do === 'release') {
    const rules = change.rules.map(({ classId, release }) => ({
      classId,
      release: release && { held: release.held, ...span(release) },
    }));
    return { change: { ...change, rules }, doors: [] };
  }
  if (change.do !== 'hand-out') return { change, doors: [] };
  const doors: ShownDoor[] = [];
  const audiences = change.audiences.map(({ kind, id }): Audience => {
    if (kind !== 'public' && kind !== 'school-door') return { kind, id };
    const door = kind === 'public' ? ('public' as const) : ('school' as const);
    doors.push({ id: NEW_DOOR[door], kind: door, schoolId });
    return { kind: 'door', id: NEW_DOOR[door] };
  });
  return { change: { ...change, audiences, ...span(change) }, doors };
}

/** What a change does, as the API tells it: for every audience that gains or loses, by its name. */
export async function previewChange(
  db: Queries,
  before: World,
  asked: Change,
  context: { schoolId: string; words: readonly string[]; scope: Scope },
  t: number,
): Promise<Consequences> {
  const { change, doors } = toCoreChange(asked, context.schoolId);
  const after: World = {
    library: afterChange(before.library, change),
    people: before.people,
    doors: [...before.doors, ...doors],
  };
  return previewDifference(db, before, after, context, t);
}

/** The same for two states of the world. */
export async function previewDifference(
  db: Queries,
  before: World,
  after: World,
  { schoolId, words, scope }: { schoolId: string; words: readonly string[]; scope: Scope },
  t: number,
): Promise<Consequences> {
  const result = await inPieces(consequence(before, after, t));
  const handings = [...before.library.data.handingsOut, ...after.library.data.handingsOut];
  const names = await audienceNames(
    db,
    handings.filter((h) => !isNew(h.audience)),
  );
  const kindOf = (audience: Audience) => {
    if (audience.kind !== 'door' && audience.kind !== 'teachers') return audience.kind;
    const door = [...before.doors, ...after.doors].find((d) => d.id === audience.id);
    return door?.kind === 'public' ? ('public' as const) : ('school-door' as const);
  };
  return {
    audiences: result.audiences.flatMap((line) => {
      const { audience } = line;
      // What is due to those who teach a class is changed by nobody.
      if (audience.kind === 'teachers') return [];
      const name = names.get(audience.id) ?? { kind: kindOf(audience), label: '', colour: null };
      const id = isNew(audience) ? schoolId : audience.id;
      return [{ id, ...name, change: toConsequence(line, false) }];
    }),
    asks: asksFirst(result),
    confidential: result.audiences.some(opensWide)
      ? await confidentialIn(db, after.library, scope, words)
      : [],
  };
}

export const isNew = ({ id }: Audience) => id === NEW_DOOR.public || id === NEW_DOOR.school;

/** Whether more is open to all, or to the whole school, than before. */
function opensWide({ audience, gains, gainsLater }: AudienceChange): boolean {
  return (
    (audience.kind === 'door' || audience.kind === 'school') &&
    (gains !== null || gainsLater !== null)
  );
}

/** How many things that look confidential are named. */
const NAMED = 5;

async function confidentialIn(
  db: Queries,
  library: Library,
  { folderIds, itemIds }: Scope,
  words: readonly string[],
): Promise<Consequences['confidential']> {
  const named = await rows<{ title: string }>(
    db,
    sql`select title from (
        select title, 0 as rank from folders where id = any (${uuids(folderIds.filter((id) => library.folders.has(id)))})
        union all select title, 1 from items where id = any (${uuids(itemIds)})) found
      order by rank, title collate natural_order`,
  );
  return named
    .flatMap(({ title }) => {
      const word = confidentialWord(title, words);
      return word === null ? [] : [{ title, word }];
    })
    .slice(0, NAMED);
}
