import type { LogEntry } from '@sammlung/contract';

/** What somebody did in one go: several things for the same audience, or several people of the same class. */
export interface LogLine {
  /** The newest of them. */
  readonly first: LogEntry;
  readonly all: readonly LogEntry[];
}

const MINUTE = 60_000;
/** Of these it is the people that differ, where one person does the same to several. */
const OF_PEOPLE: ReadonlySet<string> = new Set(['joined', 'days', 'left', 'added', 'password']);

/** What has to be alike for two entries to be one line. */
const kindOf = ({ by, act, thing, audience, person, class: klass, course, details }: LogEntry) =>
  JSON.stringify([
    ...[by, act, audience, klass?.code, course],
    ...[OF_PEOPLE.has(act) ? null : person, OF_PEOPLE.has(act) ? (thing?.title ?? null) : null],
    details,
  ]);

/** Entries, the newest first, as lines: those that follow each other within a minute and differ only in what or who it was are one. */
export function logLines(entries: readonly LogEntry[]): LogLine[] {
  const lines: { first: LogEntry; all: LogEntry[]; kind: string }[] = [];
  for (const entry of entries) {
    const last = lines.at(-1);
    const kind = kindOf(entry);
    if (last?.kind === kind && Date.parse(last.first.at) - Date.parse(entry.at) < MINUTE)
      last.all.push(entry);
    else lines.push({ first: entry, all: [entry], kind });
  }
  return lines;
}
