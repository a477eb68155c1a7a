import {
  folderStandings,
  itemStandings,
  type Audience,
  type HandingOut,
  type Library,
  type Standing,
} from '@sammlung/core';
import type { Tab } from '@sammlung/contract';
import { inArray } from 'drizzle-orm';
import { toIso, type Queries } from '../../db/database.ts';
import { classes, courses, doors, people } from '../../db/schema/index.ts';

type Name = Pick<Tab, 'kind' | 'label' | 'colour'>;
export type Names = ReadonlyMap<string, Name>;

/** What the audiences of handings out are called, by audience id. */
export async function audienceNames(
  db: Queries,
  handingsOut: readonly HandingOut[],
): Promise<Names> {
  const ids = (kind: string) => [
    ...new Set(handingsOut.filter((h) => h.audience.kind === kind).map((h) => h.audience.id)),
  ];
  const names = new Map<string, Name>();
  const [classIds, courseIds, personIds, doorIds] = ['class', 'course', 'person', 'door'].map(
    ids,
  ) as [string[], string[], string[], string[]];
  if (classIds.length > 0)
    for (const c of await db.select().from(classes).where(inArray(classes.id, classIds)))
      names.set(c.id, { kind: 'class', label: c.code, colour: c.colour });
  if (courseIds.length > 0)
    for (const c of await db.select().from(courses).where(inArray(courses.id, courseIds)))
      names.set(c.id, { kind: 'course', label: c.title, colour: c.colour });
  if (personIds.length > 0)
    for (const p of await db.select().from(people).where(inArray(people.id, personIds)))
      names.set(p.id, { kind: 'person', label: p.name, colour: null });
  if (doorIds.length > 0)
    for (const d of await db.select().from(doors).where(inArray(doors.id, doorIds)))
      names.set(d.id, {
        kind: d.kind === 'public' ? 'public' : 'school-door',
        label: '',
        colour: null,
      });
  return names;
}

/** What an audience is called; staff and school the screen words itself. */
export const audienceName = (names: Names, { kind, id }: Audience): Name =>
  names.get(id) ?? { kind: kind as 'staff' | 'school', label: '', colour: null };

export function folderTabs(library: Library, names: Names, folderId: string, t: number): Tab[] {
  return tabs(folderStandings(library, folderId, t), names);
}

export function itemTabs(library: Library, names: Names, itemId: string, t: number): Tab[] {
  return tabs(itemStandings(library, itemId, t), names);
}

const ORDER: Tab['kind'][] = [
  'class',
  'course',
  'person',
  'staff',
  'school',
  'school-door',
  'public',
];

/** Classes first, by code; all public doors make one tab. What has ended has no tab. */
function tabs(standings: readonly Standing[], names: Names): Tab[] {
  const found = standings
    .filter((s) => s.state !== 'ended')
    .map(({ audience, state, from }): Tab => {
      return { id: audience.id, ...audienceName(names, audience), state, from: toIso(from) };
    })
    .sort(
      (a, b) => ORDER.indexOf(a.kind) - ORDER.indexOf(b.kind) || a.label.localeCompare(b.label),
    );
  return found.filter(
    (tab, n) => tab.kind !== 'public' || found.findIndex((x) => x.kind === 'public') === n,
  );
}
