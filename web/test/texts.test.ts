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
const walls = read('en.wall.json');
const desks = read('en.desk.json');
const teaching = read('en.teaching.json');

function* keysOf(node: object, prefix = ''): Generator<string> {
  for (const [key, value] of Object.entries(node)) {
    if (typeof value === 'string') yield prefix + key;
    else yield* keysOf(value as object, `${prefix}${key}.`);
  }
}
const ALL = [everybodys, walls, peoples, desks, teaching];
const known = new Set(ALL.flatMap((texts) => [...keysOf(texts)]));
/** What a visitor at a door comes to see. */
const VISITING =
  /features\/(reading\/|door\/OpenDoor)|\/ui\/|app\/(App|NothingHere|ToastArea|api|place|format|meta|toast)\./u;
/** Where the texts of a desk are loaded. */
const DESK = /features\/(desk|intake)\/|app\/(FolderChooser|NameLine|OwnFiles)\./u;
/** What only people who teach ever open. */
const TEACHING =
  /features\/(library|audience|release|board|today|why|roster|post|bin|layout|space)\/|features\/(door\/(DoorSheet|DoorsView)|receive\/StaffRoom)|app\/(MomentField|SeeAs|changing|sentence|LibraryPage|BoardPage|IncomingFiles)/u;

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
    const all = ALL.flatMap((texts) => [...keysOf(texts)]);
    expect(all.length).toBe(known.size);
    const reading = [...sources(root)]
      .filter((path) => !TEACHING.test(path))
      .map((path) => readFileSync(path, 'utf8'))
      .join('\n');
    expect([...keysOf(teaching)].filter((key) => reading.includes(`'${key}'`))).toEqual([]);
    const studying = [...sources(root)]
      .filter((path) => !TEACHING.test(path) && !DESK.test(path))
      .map((path) => readFileSync(path, 'utf8'))
      .join('\n');
    expect([...keysOf(desks)].filter((key) => studying.includes(`'${key}'`))).toEqual([]);
    const visiting = [...sources(root)]
      .filter((path) => VISITING.test(path))
      .map((path) => readFileSync(path, 'utf8'))
      .join('\n');
    const more = ALL.slice(1).flatMap((texts) => [...keysOf(texts)]);
    expect(more.filter((key) => visiting.includes(`'${key}'`))).toEqual([]);
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
      for (const key of keysOf(texts)) {
        const text = key
          .split('.')
          .reduce<unknown>((node, part) => (node as Record<string, unknown>)[part], texts);
        expect(String(text), key).not.toMatch(/!|great|awesome|oops/iu);
      }
  });
});
