import { groupBy } from '../group.ts';
import { nameKey } from '../naming.ts';
import type { Id } from '../model.ts';
import type { ListRow } from './read.ts';

/** Somebody with an account at the school, as far as a class list is concerned. */
export interface KnownPerson {
  readonly id: Id;
  readonly name: string;
  readonly kind: 'teacher' | 'student' | 'office';
  readonly email: string | null;
  readonly signInName: string | null;
  readonly externalId: string | null;
  /** Whether they belong to the class now or will. */
  readonly member: boolean;
  /** Codes of the other classes of the same course to which they belong. */
  readonly otherClasses: readonly string[];
}

/**
 * `new` makes an account, `joins` has one already, `stays` belongs to the class already, `changed` belongs to it under
 * another name, `doubtful` needs somebody to look, `fault` cannot be taken.
 */
export type RowState = 'new' | 'joins' | 'stays' | 'changed' | 'doubtful' | 'fault';

/** Why a row is doubtful; the last two do not keep it from being taken. */
export type Doubt =
  | 'mail-twice'
  | 'person-twice'
  | 'mail-elsewhere'
  | 'is-staff'
  | 'same-name'
  | 'several-of-name'
  | 'name-twice'
  | 'other-class';

export interface ComparedRow extends ListRow {
  readonly state: RowState;
  /** The account the row is taken for; null where a new one would be made. */
  readonly person: KnownPerson | null;
  readonly doubts: readonly Doubt[];
}

export interface Compared {
  readonly rows: readonly ComparedRow[];
  /** Members of the class who are not in the list. */
  readonly missing: readonly KnownPerson[];
}

/** Doubts with which a row is not taken before somebody has looked at it. */
const STOPS: readonly Doubt[] = [
  'mail-twice',
  'person-twice',
  'mail-elsewhere',
  'is-staff',
  'same-name',
  'several-of-name',
];

/**
 * What would become of each row of a list. `known` are all at the school to whom any row could refer, and all members;
 * `elsewhere` the addresses that belong to people of other schools. Whoever has a number, an address or a sign-in name
 * in common is the same person; a name alone is enough within the class only.
 */
export function compareList(
  rows: readonly ListRow[],
  known: readonly KnownPerson[],
  elsewhere: ReadonlySet<string>,
): Compared {
  const by = (key: (p: KnownPerson) => string | null) =>
    new Map(known.flatMap((p) => (key(p) ? [[key(p)!, p] as const] : [])));
  const byExternal = by((p) => p.externalId);
  const byMail = by((p) => p.email?.toLowerCase() ?? null);
  const bySignIn = by((p) => p.signInName?.toLowerCase() ?? null);
  const byName = groupBy(known, (p) => nameKey(p.name));

  const count = (values: readonly (string | null)[]) => {
    const counts = new Map<string, number>();
    for (const value of values) if (value) counts.set(value, (counts.get(value) ?? 0) + 1);
    return counts;
  };
  const mails = count(rows.map((r) => r.email));
  const names = count(rows.map((r) => nameKey(r.name)));

  const first = rows.map((row) => {
    const sure =
      (row.externalId && byExternal.get(row.externalId)) ||
      (row.email && byMail.get(row.email)) ||
      (row.signInName && bySignIn.get(row.signInName)) ||
      null;
    const doubts: Doubt[] = [];
    let person = sure;
    if (!sure) {
      // An address of their own tells two people of one name apart.
      const namesakes = (byName.get(nameKey(row.name)) ?? []).filter(
        (p) => p.kind === 'student' && !(row.email && p.email),
      );
      const members = namesakes.filter((p) => p.member);
      if (members.length === 1) person = members[0]!;
      else if (members.length > 1) doubts.push('several-of-name');
      else if (namesakes.length > 0 && row.email === null) {
        doubts.push(namesakes.length > 1 ? 'several-of-name' : 'same-name');
        person = namesakes.length === 1 ? namesakes[0]! : null;
      }
    }
    if (person && person.kind !== 'student') doubts.push('is-staff');
    if (row.email && (mails.get(row.email) ?? 0) > 1) doubts.push('mail-twice');
    if (!sure && row.email && elsewhere.has(row.email)) doubts.push('mail-elsewhere');
    if ((names.get(nameKey(row.name)) ?? 0) > 1) doubts.push('name-twice');
    if (person && !person.member && person.otherClasses.length > 0) doubts.push('other-class');
    return { row, person, doubts };
  });
  const taken = count(first.map(({ person }) => person?.id ?? null));
  const compared = first.map(({ row, person, doubts }): ComparedRow => {
    const all: Doubt[] =
      person && (taken.get(person.id) ?? 0) > 1 && !doubts.includes('mail-twice')
        ? [...doubts, 'person-twice']
        : doubts;
    return { ...row, person, doubts: all, state: stateOf(row, person, all) };
  });
  const there = new Set(compared.flatMap(({ person }) => person?.id ?? []));
  return { rows: compared, missing: known.filter((p) => p.member && !there.has(p.id)) };
}

function stateOf(row: ListRow, person: KnownPerson | null, doubts: readonly Doubt[]): RowState {
  if (row.faults.length > 0) return 'fault';
  if (doubts.some((doubt) => STOPS.includes(doubt))) return 'doubtful';
  if (!person) return 'new';
  if (!person.member) return 'joins';
  const renamed = nameKey(person.name) !== nameKey(row.name);
  return renamed || row.from !== null || row.until !== null ? 'changed' : 'stays';
}
