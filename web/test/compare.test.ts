// @vitest-environment jsdom
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { blocksOf, compare } from '../src/features/page/compare.ts';

describe('the blocks of a page', () => {
  it('are its paragraphs, items and rows, each once', () => {
    const html = `<h2>Friday</h2><p>Two  groups had <strong>tap</strong> water.</p>
      <ul><li><p>Clay</p><ul><li><p>and loam</p></li></ul></li><li>bare</li></ul>
      <table><tbody><tr><th><p>Plot</p></th><th>pH</th></tr></tbody></table>
      <details><summary>More</summary><p>inside</p></details><hr><img src="x" alt="A jar">`;
    expect(blocksOf(html)).toEqual([
      ...['Friday', 'Two groups had tap water.', 'Clay', 'and loam', 'bare', 'Plot | pH'],
      ...['More', 'inside', '———', '[A jar]'],
    ]);
  });
});

describe('two versions compared', () => {
  it('say what was added and taken out, word by word where that is most of it', () => {
    expect(compare(['Same', 'One jar each.'], ['Same', 'One jar each, lid on.', 'New'])).toEqual([
      [{ text: 'Same', is: 'same' }],
      [
        { text: 'One jar each', is: 'same' },
        { text: ', lid on', is: 'added' },
        { text: '.', is: 'same' },
      ],
      [{ text: 'New', is: 'added' }],
    ]);
    expect(compare(['Clay holds lime.'], ['Zum Wochenende frei'])).toEqual([
      [{ text: 'Clay holds lime.', is: 'removed' }],
      [{ text: 'Zum Wochenende frei', is: 'added' }],
    ]);
  });

  it('hold both: without what was added it is the earlier one, without what was taken out the later', () => {
    const words = fc.constantFrom('clay', 'lime', 'water', 'a jar', 'of', 'it', '3', 'é', '土壌');
    const version = fc.array(
      fc.array(words, { minLength: 1, maxLength: 6 }).map((all) => all.join(' ')),
      { maxLength: 8 },
    );
    fc.assert(
      fc.property(version, version, (before, after) => {
        const compared = compare(before, after);
        const without = (gone: string) =>
          compared
            .map((pieces) => pieces.filter(({ is }) => is !== gone).map(({ text }) => text))
            .filter((texts) => texts.length > 0)
            .map((texts) => texts.join(''));
        expect(without('added')).toEqual(before);
        expect(without('removed')).toEqual(after);
      }),
    );
  });
});
