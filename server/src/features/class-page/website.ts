import type {
  ClassWebsite,
  EditedWebsite,
  Thing,
  WebsiteChange,
  WebsiteDone,
  WebsiteThing,
} from '@sammlung/contract';
import type { z } from 'zod';
import type { Queries } from '../../db/database.ts';
import { cardsSeen, decidedBy, toCard } from '../../domain/access/cards.ts';
import { Rights } from '../../domain/access/rights.ts';
import type { Scoped } from '../../domain/access/scopes.ts';
import { viewerOf } from '../../domain/access/viewer.ts';
import { headingsOf, lockClassPage, setWebsite } from '../../domain/class-pages.ts';
import { addDoor, doorsToThings, doorToWebsite, doorView } from '../../domain/doors.ts';
import { targetsOf } from '../../domain/grants.ts';
import { requireTaughtClass } from '../../domain/managed.ts';
import { changesBy } from '../../domain/log.ts';
import { AppError } from '../../platform/errors.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import { newToken } from '../../platform/tokens.ts';
import type { Services } from '../../services.ts';
import { arrange } from './arrange.ts';
import { classFacts, entriesOut, settingsOf } from './queries.ts';

/** The class whose website somebody came to. Throws `not-found` at every other door. */
export function websiteClass({ door }: Pick<Scoped, 'door'>): string {
  if (!door?.classId) throw new AppError('not-found');
  return door.classId;
}

/**
 * The website of a class for whoever came through its door: under the headings that were chosen, what they can open, and the words that
 * were opened to them.
 */
export async function websiteOf(db: Queries, { viewer, door }: Scoped): Promise<ClassWebsite> {
  const classId = websiteClass({ door });
  const [{ schoolName: _, ...facts }, settings, headings, entries] = await Promise.all([
    classFacts(db, classId),
    settingsOf(db, classId),
    headingsOf(db, classId),
    entriesOut(db, classId, viewer.at),
  ]);
  const chosen = entries.filter((entry) => entry.onWebsite);
  const cards = await cardsSeen(
    db,
    viewer,
    chosen.flatMap(({ things }) => things),
  );
  const seen = new Map(cards.map((card) => [card.id, { ...toCard(card), unopened: 0 }]));
  const open = chosen.map((entry) => ({ ...entry, text: entry.openText ? entry.text : '' }));
  const { shown, ...arranged } = arrange(headings, open, seen);
  return {
    ...facts,
    numbered: settings.numbered,
    ...arranged,
    signedIn: signedInOnly(settings.tells),
  };

  /** What there is beside that, as far as it may be said. */
  function signedInOnly(tells: typeof settings.tells): ClassWebsite['signedIn'] {
    const there = new Set(shown.map(({ appearanceId }) => appearanceId));
    const others = entries.filter(({ appearanceId }) => !there.has(appearanceId));
    if (tells === 'nothing' || others.length === 0) return null;
    if (tells === 'number') return { entries: others.length, titles: [] };
    const withEntries = new Set(others.map(({ headingId }) => headingId));
    const whole = headings.filter((heading) => !heading.onWebsite && withEntries.has(heading.id));
    const single = others.filter(({ onWebsite }) => onWebsite);
    return { entries: others.length, titles: [...whole, ...single].map(({ title }) => title) };
  }
}

/** What is on the website of a class, and what could be, for those who make it. Throws `not-found` unless the person teaches the class. */
export async function editedWebsite(
  { db, now, address }: Pick<Services, 'db' | 'now' | 'address'>,
  person: SignedIn,
  classId: string,
): Promise<EditedWebsite> {
  const t = now();
  await requireTaughtClass(db, person, classId);
  const door = await doorToWebsite(db, classId);
  const [facts, settings, headings, entries] = await Promise.all([
    classFacts(db, classId),
    settingsOf(db, classId),
    headingsOf(db, classId),
    entriesOut(db, classId, t),
  ]);
  const cards = await cardsSeen(
    db,
    viewerOf(person, t),
    entries.flatMap(({ things }) => things),
  );
  const [decided, opened] = await Promise.all([
    decidedBy(db, person, t, cards),
    doorsToThings(db, classId, door?.kind ?? 'public', cards, t),
  ]);
  const state = (id: string): WebsiteThing['state'] =>
    opened.get(id) ?? (decided.has(id) ? 'closed' : 'not-yours');
  const things = new Map(
    cards.map((card) => [card.id, { ...toCard(card), state: state(card.id) }]),
  );
  return {
    title: `${facts.course} ${facts.code}`,
    schoolName: facts.schoolName,
    door: door && doorView(address(), door),
    loose: settings.websiteLoose,
    tells: settings.tells,
    headings: headings.map(({ id, title, mark, colour, onWebsite }) => ({
      ...{ id, title, mark, colour, onWebsite },
    })),
    entries: entries.map(({ appearanceId, headingId, title, text, openText, things: all }) => ({
      ...{ appearanceId, headingId, title, text, openText },
      things: all.flatMap(({ id }) => things.get(id) ?? []),
    })),
  };
}

/**
 * Opens the website of a class, or changes what is on it. Things are opened by addresses of their own, as without the website: whoever
 * opens them has to be allowed to. Throws `already-handed-out` for one that has an address of its own already.
 */
export async function changeWebsite(
  { db, now, address }: Pick<Services, 'db' | 'now' | 'address'>,
  person: SignedIn,
  classId: string,
  { kind, open, ...change }: z.infer<typeof WebsiteChange>,
): Promise<z.infer<typeof WebsiteDone>> {
  return db.transaction(async (tx) => {
    await changesBy(tx, person, now());
    const t = now();
    const taught = await requireTaughtClass(tx, person, classId);
    await lockClassPage(tx, classId);
    const { schoolId } = taught;
    const by = { token: newToken(), createdBy: person.id, createdAt: new Date(t) };
    const door =
      (await doorToWebsite(tx, classId)) ?? (await addDoor(tx, { schoolId, classId, kind, ...by }));
    await setWebsite(tx, taught, change);
    const opened: string[] = [];
    for (const target of await targetsOf(new Rights(tx, person, t), things(open))) {
      const made = await addDoor(tx, { ...target, kind: door.kind, ...by, token: newToken() });
      opened.push(made.id);
    }
    return { door: doorView(address(), door), opened };
  });
}

/** Each thing once. */
const things = (all: readonly Thing[]): Thing[] => [
  ...new Map(all.map((thing) => [thing.id, thing])).values(),
];
