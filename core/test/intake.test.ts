import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  fileName,
  freeFileTitle,
  intake,
  nameKey,
  withExtension,
  type ExistingItem,
  type SameName,
} from '../src/index.ts';

const here: ExistingItem[] = [
  { itemId: 'i', name: 'Böden.pdf', hash: 'h1' },
  { itemId: 'link', name: 'Map', hash: '' },
];
const elsewhere: ExistingItem[] = [
  { itemId: 'far', name: 'Master.pdf', hash: 'h9' },
  { itemId: 'i', name: 'Böden.pdf', hash: 'h1' },
];

describe('intake', () => {
  it.each<[string, string, SameName, object]>([
    ['Other.pdf', 'h3', 'version', { outcome: 'new', title: 'Other' }],
    ['bo\u0308den.PDF', 'h2', 'version', { outcome: 'version', itemId: 'i' }],
    ['Böden.pdf', 'h2', 'skip', { outcome: 'skipped' }],
    ['Böden.pdf', 'h2', 'both', { outcome: 'new', title: 'Böden 2' }],
    ['Böden.pdf', 'h1', 'both', { outcome: 'unchanged', itemId: 'i' }],
    ['Same thing.pdf', 'h1', 'version', { outcome: 'unchanged', itemId: 'i' }],
    ['Sheet.pdf', 'h9', 'version', { outcome: 'placed', itemId: 'far' }],
    ['Böden.pdf', 'h9', 'version', { outcome: 'version', itemId: 'i' }],
  ])('%s with %s, wanting %s', (name, hash, sameName, result) => {
    expect(intake(fileName(name)!, hash, here, elsewhere, sameName)).toEqual(result);
  });

  it('keeps content twice rather than place a name that is taken here', () => {
    const other = [{ itemId: 'far', name: 'BÖDEN.pdf', hash: 'h9' }];
    expect(intake(fileName('Sheet.pdf')!, 'h9', here, other, 'version')).toEqual({
      outcome: 'new',
      title: 'Sheet',
    });
  });

  it('cuts a title for its number and its extension', () => {
    const taken = new Set([`${'x'.repeat(116)}.pdf`]);
    const title = freeFileTitle({ title: 'x'.repeat(116), extension: 'pdf' }, taken);
    expect(title).toBe(`${'x'.repeat(114)} 2`);
  });

  it('never lets two things of one name lie in the folder, and never touches what it was not asked about', () => {
    const title = fc.constantFrom('a', 'A', 'a 2', 'b');
    const hash = fc.constantFrom('1', '2', '3');
    const lying = fc.uniqueArray(fc.record({ itemId: fc.uuid(), title, hash }), {
      selector: (l) => nameKey(l.title),
    });
    const named = (list: { itemId: string; title: string; hash: string }[]): ExistingItem[] =>
      list.map((l) => ({ ...l, name: `${l.title}.pdf` }));
    fc.assert(
      fc.property(
        title,
        hash,
        lying,
        lying,
        fc.constantFrom<SameName>('version', 'both', 'skip'),
        (given, content, inside, outside, sameName) => {
          const name = fileName(`${given}.pdf`)!;
          const decided = intake(name, content, named(inside), named(outside), sameName);
          const keys = inside.map((l) => nameKey(`${l.title}.pdf`));
          if (decided.outcome === 'new')
            keys.push(nameKey(withExtension(decided.title, name.extension)));
          if (decided.outcome === 'placed')
            keys.push(nameKey(`${outside.find((l) => l.itemId === decided.itemId)!.title}.pdf`));
          expect(new Set(keys).size).toBe(keys.length);
          if (decided.outcome === 'version')
            expect(nameKey(inside.find((l) => l.itemId === decided.itemId)!.title)).toBe(
              nameKey(given),
            );
          if (sameName !== 'version') expect(decided.outcome).not.toBe('version');
        },
      ),
    );
  });
});
