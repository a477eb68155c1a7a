import { readFileSync } from 'node:fs';
import { parseArgs } from 'node:util';
import { Beginning } from '@sammlung/contract';
import { migrateDatabase, openDatabase } from './db/database.ts';
import { seedApart } from './db/seed.ts';
import { removeSchool } from './domain/remove-school.ts';
import { firstOffice, sampleId } from './domain/schools.ts';
import { begin, beginAddress } from './features/begin/service.ts';
import { importRoster } from './features/roster/oneroster.ts';
import { AppError } from './platform/errors.ts';
import { DiskStorage } from './platform/storage.ts';
import { startWorkers } from './platform/workers.ts';
import { readSettings } from './settings.ts';

/** `npm run school`: begins the school of a server, and loads or removes the sample beside it. */
const HELP = `npm run school -- COMMAND

  address        prints a one-time address by which the school begins
  begin          begins it:
                   --name NAME --time-zone ZONE [--language en|de]
                   --office NAME --email ADDRESS --password-file FILE
                   --year LABEL --first-day YYYY-MM-DD --last-day YYYY-MM-DD
  roster FILE    imports OneRoster CSV (a zip) into the year that runs, as the office does on the screen:
                   [--preview] only says what that would do; [--leave] members who are not in it leave
  sample add     loads the sample school beside it
  sample remove  removes the sample school with everything in it`;

const OPTIONS = {
  name: { type: 'string' },
  'time-zone': { type: 'string' },
  language: { type: 'string', default: 'en' },
  office: { type: 'string' },
  email: { type: 'string' },
  'password-file': { type: 'string' },
  year: { type: 'string' },
  'first-day': { type: 'string' },
  'last-day': { type: 'string' },
  preview: { type: 'boolean', default: false },
  leave: { type: 'boolean', default: false },
} as const;

/** What was asked for cannot be done; the message says why. */
class Refused extends Error {}

const settings = readSettings(process.env);
await migrateDatabase(settings.databaseUrl);
const { db, close } = openDatabase(settings.databaseUrl);
const now = () => Date.now();
const address = () => settings.address ?? `http://127.0.0.1:${settings.port}`;

async function printAddress(): Promise<string> {
  const found = await beginAddress({ db, now, address });
  if (found === null) throw new Refused('There is a school already.');
  return `Begin here, once and within a day:\n\n  ${found}\n`;
}

async function beginAsSaid(given: Record<string, string | boolean | undefined>): Promise<string> {
  const file = given['password-file'];
  if (typeof file !== 'string') throw new Refused('--password-file is missing.');
  const read = Beginning.safeParse({
    school: {
      name: given['name'],
      timeZone: given['time-zone'],
      language: given['language'],
    },
    person: {
      name: given['office'],
      email: given['email'],
      password: readFileSync(file, 'utf8').replace(/\r?\n$/u, ''),
    },
    year: { label: given['year'], firstDay: given['first-day'], lastDay: given['last-day'] },
  });
  if (!read.success)
    throw new Refused(
      read.error.issues.map(({ path, message }) => `${path.join('.')}: ${message}`).join('\n'),
    );
  await begin({ db, now, hashing: (work) => work() }, read.data);
  return `${read.data.school.name} has begun. ${read.data.person.email} can sign in.`;
}

/** Sent again every night, it changes what is different and nothing else. */
async function importAsSaid(
  file: string | undefined,
  { preview, leave }: { preview: boolean; leave: boolean },
): Promise<string> {
  if (file === undefined) throw new Refused('The file is missing.');
  const office = await firstOffice(db);
  if (!office) throw new Refused('There is no school yet.');
  const workers = startWorkers({ limitMs: 60_000 });
  try {
    const done = await importRoster({ db, now, workers }, office, readFileSync(file), {
      take: preview ? 'no' : 'yes',
      leave: leave ? 'yes' : 'no',
    });
    const of = (what: string, { made, known }: { made: number; known: number }) =>
      `${made} ${what} new, ${known} known`;
    return [
      ...(preview ? ['Nothing was done. It would be:'] : []),
      of('people', done.people),
      of('courses', done.courses),
      of('classes', done.classes),
      `${done.joined} joined, ${done.left} left`,
      ...done.faults.map(({ file, line, fault, what }) => `${file}:${line}: ${fault} ${what}`),
      ...(done.faultCount > done.faults.length ? [`${done.faultCount} faults in all`] : []),
    ].join('\n');
  } finally {
    await workers.close();
  }
}

async function addSample(): Promise<string> {
  if ((await sampleId(db)) !== null) throw new Refused('The sample school is there already.');
  await seedApart(import.meta.url);
  return 'The sample school is there. Its people can sign in while SAMMLUNG_SAMPLE is yes.';
}

async function removeSample(): Promise<string> {
  const id = await sampleId(db);
  if (id === null) throw new Refused('There is no sample school.');
  await removeSchool(db, new DiskStorage(settings.data), id);
  return 'The sample school is gone. With SAMMLUNG_SAMPLE=no it does not come back.';
}

try {
  const { positionals, values } = parseArgs({ options: OPTIONS, allowPositionals: true });
  const commands: Record<string, () => Promise<string>> = {
    address: printAddress,
    begin: () => beginAsSaid(values),
    'sample add': addSample,
    'sample remove': removeSample,
  };
  const [first, file, ...rest] = positionals;
  if (first === 'roster' && rest.length === 0)
    commands[positionals.join(' ')] = () => importAsSaid(file, values);
  const command = commands[positionals.join(' ')];
  if (!command) throw new Refused(HELP);
  console.log(await command());
} catch (error) {
  // What was typed is wrong, or the file cannot be read; anything else is a fault of ours.
  const typed =
    error instanceof Error &&
    'code' in error &&
    /^(ERR_PARSE_ARGS|(ENOENT|EISDIR|EACCES)$)/u.test(`${error.code}`);
  if (!(error instanceof Refused || error instanceof AppError || typed)) throw error;
  console.error(error.message);
  process.exitCode = 1;
} finally {
  await close();
}
