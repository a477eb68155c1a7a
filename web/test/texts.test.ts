import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';

const root = fileURLToPath(new URL('../src', import.meta.url));
const read = (name: string) =>
  JSON.parse(readFileSync(join(root, 'locales', name), 'utf8')) as Record<string, object>;
/** The texts of everybody, of people with an account, for a library or a desk of one's own, and for teaching. */
const everybodys = read('en.json');
const peoples = read('en.people.json');
const viewers = read('en.viewer.json');
const walls = read('en.wall.json');
const classPages = read('en.class-page.json');
const desks = read('en.desk.json');
const writing = read('en.page.json');
const teaching = read('en.teaching.json');
const offices = read('en.office.json');
const accounts = read('en.account.json');

function* waysIn(node: object, prefix = ''): Generator<string> {
  for (const [key, value] of Object.entries(node)) {
    if (typeof value === 'string') yield prefix + key;
    else yield* waysIn(value as object, `${prefix}${key}.`);
  }
}
const ALL = [
  everybodys,
  viewers,
  walls,
  peoples,
  classPages,
  desks,
  writing,
  teaching,
  offices,
  accounts,
];
const known = new Set(ALL.flatMap((texts) => [...waysIn(texts)]));
/** What a visitor at a door comes to see. */
const VISITING =
  /features\/(reading\/|door\/OpenDoor)|\/ui\/|app\/(App|ToastArea|api|place|format|meta|toast)\./u;
/** Where the texts of a desk are loaded. */
const DESK =
  /features\/(desk|intake|programs\/ProgramsView)|app\/(FolderChooser|NameLine|shell\/OwnFiles)\./u;
/** Where the texts for writing pages are loaded. */
const WRITING = /features\/page\//u;
/** What only the office opens, and whoever begins. */
const OFFICE = /features\/(begin|people|years|school)\//u;
/** What only people who teach ever open. */
const TEACHING =
  /features\/box\/(GoingThrough|PhraseBar|ClosedBoxes|HandInChart)|app\/box\/(TaughtBoxes|BoxForm|CopiesSheet)|features\/class-page\/(ClassPageEdit|ClassPagesStart|ComingEntries|ClassBeside|CurrentFolder|EarlierEntries|Entry(Form|Places|Row|Timing)|HeadingForm|PageHeading|RestList|Website(Form|Part)|entries|website)|features\/reach\/(Reach|Day|Student|Reminder|reach)|features\/(library|audience|capture|release|board|timetable|today|tray|why|roster|post|bin|layout|carry-over|log|space)\/|features\/programs\/WaitingMoves|app\/door\/DoorSheet|features\/(door\/DoorsView|receive\/StaffRoom)|app\/(FirstSteps|SlipSheet|session\/SeeAs|MomentField|NoteFields|ReleaseFields|changing|sentence|shell\/(LibraryPage|BoardPage|IncomingFiles|PicturesPage|TodayPage|TrayEdge))/u;

/** The texts of a file by their keys. */
function flat(node: object, prefix = ''): [string, string][] {
  return Object.entries(node).flatMap(([key, value]: [string, unknown]) =>
    typeof value === 'string'
      ? [[prefix + key, value] as [string, string]]
      : flat(value as object, `${prefix}${key}.`),
  );
}

function* sources(folder: string): Generator<string> {
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name);
    if (entry.isDirectory()) yield* sources(path);
    else if (/\.(vue|ts)$/u.test(entry.name)) yield path;
  }
}
const code = [...sources(root)].map((path) => readFileSync(path, 'utf8')).join('\n');
/** Keys as they stand in the code; `${…}` within one stands for anything. */
const used = [...code.matchAll(/['"`]([a-z]+(?:[.-][a-z0-9${}._()-]+)+)['"`]/giu)].map(
  (m) => m[1]!,
);

describe('the texts on the screen', () => {
  it('are all there', () => {
    const asked = [...code.matchAll(/\bt\(\s*'([^']+)'/gu)].map((m) => m[1]!);
    expect(asked.length).toBeGreaterThan(80);
    expect(asked.filter((key) => !known.has(key))).toEqual([]);
  });

  it('are loaded for everybody where everybody reads them, and once', () => {
    const all = ALL.flatMap((texts) => [...waysIn(texts)]);
    expect(all.length).toBe(known.size);
    const reading = [...sources(root)]
      .filter((path) => !TEACHING.test(path))
      .map((path) => readFileSync(path, 'utf8'))
      .join('\n');
    expect([...waysIn(teaching)].filter((key) => reading.includes(`'${key}'`))).toEqual([]);
    const studying = [...sources(root)]
      .filter((path) => !TEACHING.test(path) && !DESK.test(path))
      .map((path) => readFileSync(path, 'utf8'))
      .join('\n');
    expect([...waysIn(desks)].filter((key) => studying.includes(`'${key}'`))).toEqual([]);
    const visiting = [...sources(root)]
      .filter((path) => VISITING.test(path))
      .map((path) => readFileSync(path, 'utf8'))
      .join('\n');
    const reads = [...sources(root)]
      .filter((path) => !WRITING.test(path))
      .map((path) => readFileSync(path, 'utf8'))
      .join('\n');
    expect([...waysIn(writing)].filter((key) => reads.includes(`'${key}'`))).toEqual([]);
    const outside = [...sources(root)]
      .filter((path) => !OFFICE.test(path))
      .map((path) => readFileSync(path, 'utf8'))
      .join('\n');
    expect([...waysIn(offices)].filter((key) => outside.includes(`'${key}'`))).toEqual([]);
    const more = [walls, peoples, classPages, desks, writing, teaching, offices].flatMap(
      (texts) => [...waysIn(texts)],
    );
    expect(more.filter((key) => visiting.includes(`'${key}'`))).toEqual([]);
    const folder = readFileSync(join(root, 'features/reading/FolderReading.vue'), 'utf8');
    expect([...waysIn(viewers)].filter((key) => folder.includes(`'${key}'`))).toEqual([]);
  });

  it('are all used', () => {
    const literal = new Set(used);
    const patterns = [...code.matchAll(/`([a-z-]+\.[^`]*\$\{[^`]*)`/gu)].map(
      (m) => new RegExp(`^${m[1]!.replaceAll('.', '\\.').replace(/\$\{[^}]*\}/gu, '[^.]+')}$`, 'u'),
    );
    const unused = [...known].filter(
      (key) => !literal.has(key) && !patterns.some((pattern) => pattern.test(key)),
    );
    expect(unused).toEqual([]);
  });

  it('praise nobody and shout at nobody', () => {
    for (const texts of ALL)
      for (const key of waysIn(texts)) {
        const text = key
          .split('.')
          .reduce<unknown>((node, part) => (node as Record<string, unknown>)[part], texts);
        expect(String(text), key).not.toMatch(/!|great|awesome|oops/iu);
      }
  });
});

describe('every other language', () => {
  const groups = [
    '',
    '.viewer',
    '.wall',
    '.people',
    '.class-page',
    '.desk',
    '.page',
    '.teaching',
    '.office',
  ];
  const languages = readdirSync(join(root, 'locales'))
    .filter((name) => /^[a-z]{2}\.json$/u.test(name) && name !== 'en.json')
    .map((name) => name.slice(0, 2));
  /** What a text has in it that is filled in, and how many forms for counting. */
  const holes = (text: string) => [...new Set(text.match(/\{[^}]*\}/gu) ?? [])].sort();
  const forms = (text: string) => text.split(' | ').length;

  it('is there', () => expect(languages).toEqual(['de']));

  it.each(languages.flatMap((language) => groups.map((group) => [language, group] as const)))(
    '%s%s has all texts, with the same parts to fill in and as many forms',
    (language, group) => {
      const english = new Map(flat(read(`en${group}.json`)));
      const other = new Map(flat(read(`${language}${group}.json`)));
      expect([...other.keys()].sort()).toEqual([...english.keys()].sort());
      for (const [key, text] of other) {
        expect(text.trim(), key).not.toBe('');
        expect(forms(text), key).toBe(forms(english.get(key)!));
        expect(holes(text), key).toEqual(holes(english.get(key)!));
      }
    },
  );

  it('is not the English left standing', () => {
    const same = groups.flatMap((group) => {
      const english = new Map(flat(read(`en${group}.json`)));
      return flat(read(`de${group}.json`)).filter(
        ([key, text]) => text === english.get(key) && /[a-z]{3} [a-z]{2}/u.test(text),
      );
    });
    expect(same).toEqual([]);
  });
});
