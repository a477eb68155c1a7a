import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  checkName,
  checkPattern,
  FILE_NAME_LIMIT,
  fileName,
  fillPattern,
  FORBIDDEN_CHARACTERS,
  folderName,
  freeTitle,
  linkTitle,
  nameKey,
  withExtension,
} from '../src/index.ts';
import { anyText } from './any-text.ts';
import { runs } from './runs.ts';

describe('checkName', () => {
  it.each([
    ['', ['empty']],
    ['   ', ['empty']],
    ['a/b', ['forbidden-sign']],
    ['what?', ['forbidden-sign']],
    ['..', ['edge']],
    [' Handouts', ['edge']],
    ['Handouts.', ['edge']],
    ['con', ['reserved']],
    ['COM1.txt', ['reserved']],
    ['lpt9', ['reserved']],
    ['lpt', []],
    ['icon', []],
    ['a\u202Eb', ['invisible-sign']],
    ['a\u0000b', ['invisible-sign']],
    ['x'.repeat(61), ['too-long']],
    ['Console', []],
    ['2 Texture & pH', []],
    ['Böden 土壌', []],
  ])('%j', (name, faults) => {
    expect(checkName(name).faults).toEqual(faults);
  });

  it('refuses each character that is told to be forbidden', () => {
    const each = FORBIDDEN_CHARACTERS.split(' ');
    expect(each).toHaveLength(9);
    for (const one of each) expect(checkName(`a${one}b`).faults, one).toEqual(['forbidden-sign']);
  });

  it('finds siblings of another case or Unicode form', () => {
    expect(checkName('BÖDEN', ['bo\u0308den']).faults).toEqual(['taken']);
    expect(nameKey('Bo\u0308DEN')).toBe(nameKey('böden'));
    expect(nameKey('Straße')).not.toBe(nameKey('STRASSE'));
    expect(checkName('Soil', ['Water', 'Air']).faults).toEqual([]);
  });

  it('warns of names that cannot be read whole, counting signs and not bytes', () => {
    expect(checkName('y'.repeat(33))).toEqual({ faults: [], long: true });
    expect(checkName('y'.repeat(32))).toEqual({ faults: [], long: false });
    expect(checkName(`${'y'.repeat(40)}?`).long).toBe(false);
    expect(checkName('?').long).toBe(false);
    expect(checkName('🌱'.repeat(60)).faults).toEqual([]);
  });
});

describe('fileName', () => {
  it.each([
    ['Lesson 14.pdf', 'Lesson 14.pdf'],
    ['../../etc/passwd', 'passwd'],
    ['C:\\Users\\x\\Plan.DOCX', 'Plan.docx'],
    ['invoice\u202Efdp.exe', 'invoicefdp.exe'],
    ['what: is? this.txt', 'what- is- this.txt'],
    ['nul.txt', '_nul.txt'],
    ['Bo\u0308den 土壌.pdf', 'Böden 土壌.pdf'],
    ['README', 'README'],
    ['a\tb\n.csv', 'ab.csv'],
    ['one   two\u00a0three.pdf', 'one two three.pdf'],
    ['. plan . .', 'plan'],
    ['a/ . plan.pdf', 'plan.pdf'],
  ])('%j is kept as %j', (given, kept) => {
    expect(fileName(given)?.name).toBe(kept);
  });

  it.each([
    ['v1.2.tar.gz', 'v1.2.tar', 'gz'],
    ['Sound.mp3', 'Sound', 'mp3'],
    ['Dr. Who', 'Dr. Who', ''],
    ['x.c++', 'x.c++', ''],
    ['x.abcdefghijkl', 'x', 'abcdefghijkl'],
    ['x.abcdefghijklm', 'x.abcdefghijklm', ''],
    ['nullable.txt', 'nullable', 'txt'],
  ])('%s is called %s, of kind “%s”', (given, title, extension) => {
    expect(fileName(given)).toMatchObject({ title, extension });
  });

  it('has nothing to call a file of dots and control signs by', () => {
    for (const name of ['', '..', '/', '\u0000', ' . ']) expect(fileName(name)).toBeNull();
  });

  it('makes any name one that is allowed, keeps good ones, and is settled after one go', () => {
    fc.assert(
      fc.property(fc.oneof(anyText(400), fc.string({ unit: 'grapheme' })), (given) => {
        const made = fileName(given);
        if (!made) return;
        const { faults } = checkName(made.name);
        expect(faults.filter((f) => f !== 'too-long')).toEqual([]);
        expect([...made.name].length).toBeLessThanOrEqual(FILE_NAME_LIMIT + 1);
        expect(made.name).toBe(withExtension(made.title, made.extension));
        expect(fileName(made.name)?.name).toBe(made.name);
      }),
      runs(1000),
    );
  });

  it('cuts 300 signs before the extension', () => {
    const made = fileName(`${'n'.repeat(300)}.pdf`);
    expect(made?.name).toHaveLength(FILE_NAME_LIMIT);
    expect(made?.extension).toBe('pdf');
  });
});

describe('folderName', () => {
  it.each([
    ['Soil: a/b', 'Soil- a-b'],
    [' . Soil . ', 'Soil'],
    ['x'.repeat(70), 'x'.repeat(60)],
    [`${'x'.repeat(59)} yz`, 'x'.repeat(59)],
    ['con', '_con'],
    ['console', 'console'],
    [`con.${'x'.repeat(60)}`, `_con.${'x'.repeat(55)}`],
    [`con.${'x'.repeat(54)} yz`, `_con.${'x'.repeat(54)}`],
    [' .. ', null],
    ['\u202e', null],
  ])('%j is kept as %j', (given, kept) => {
    expect(folderName(given)).toBe(kept);
  });
});

describe('freeTitle', () => {
  it('is the title itself, or the first that is free with a number', () => {
    const taken = new Set(['soil', 'soil 2', 'soil 4', 'plan.pdf']);
    expect(freeTitle('Water', taken)).toBe('Water');
    expect(freeTitle('Soil', taken)).toBe('Soil 3');
    expect(freeTitle('Plan', taken)).toBe('Plan');
    expect(freeTitle('Plan', taken, { suffix: '.pdf' })).toBe('Plan 2');
  });

  it('is cut before the number to what is allowed, and not after a space', () => {
    const long = 'x'.repeat(60);
    expect(freeTitle(long, new Set([long]))).toBe(`${'x'.repeat(58)} 2`);
    const spaced = `${'x'.repeat(57)} yz`;
    expect(freeTitle(spaced, new Set([spaced]))).toBe(`${'x'.repeat(57)} 2`);
    expect(freeTitle('abcdef', new Set(['abcdef']), { limit: 5 })).toBe('abc 2');
  });
});

describe('linkTitle', () => {
  it.each([
    ['https://a.example/x/The-Soil__Book.html', 'The Soil Book'],
    ['https://a.example/soil+map.HTM', 'soil map'],
    ['https://a.example/list.php?id=1', 'list'],
    ['https://a.example/list.asp', 'list'],
    ['https://a.example/list.aspx', 'list'],
    ['https://a.example/page.html.pdf', 'page.html.pdf'],
    ['https://a.example/soils/', 'soils'],
    ['https://a.example/B%C3%B6den', 'Böden'],
    ['https://a.example/100%zz', '100%zz'],
    ['https://www.a.example/', 'www.a.example'],
    ['https://a.example/...html', 'a.example'],
    ['mailto:', 'Link'],
  ])('%s is called %s', (url, title) => {
    expect(linkTitle(url)).toBe(title);
  });
});

describe('naming patterns', () => {
  const parts = {
    year: 2026,
    course: 'Soil Science I',
    class: 'SO1A',
    teacher: 'IV',
    unit: 3,
    kind: 'Notes',
  };

  it('fills every token in', () => {
    expect(fillPattern('{year2} {class} {teacher} {unit:2} {kind}', parts)).toBe(
      '26-27 SO1A IV 03 Notes',
    );
    expect(fillPattern('{year} {course}', parts)).toBe('2026-27 Soil Science I');
    expect(fillPattern('{class}  {kind} ', { ...parts, kind: '' })).toBe('SO1A');
  });

  it('names what is wrong', () => {
    expect(checkPattern('{klass} {unit:9} {class:2} }')).toEqual([
      { token: '{klass}', fault: 'unknown' },
      { token: '{unit:9}', fault: 'width' },
      { token: '{class:2}', fault: 'width' },
      { token: '}', fault: 'stray-brace' },
    ]);
    expect(() => fillPattern('{klass}', parts)).toThrow(
      new RangeError('Naming pattern: unknown {klass}'),
    );
  });

  it('has numbers one to six digits wide', () => {
    const faults = (pattern: string) => checkPattern(pattern).map((f) => f.fault);
    for (const width of ['1', '6', '06']) expect(faults(`{unit:${width}}`), width).toEqual([]);
    for (const width of ['0', '7', '12'])
      expect(faults(`{unit:${width}}`), width).toEqual(['width']);
    expect(faults('{unit:123}')).toEqual(['stray-brace', 'stray-brace']);
    expect(fillPattern('{unit:6}', parts)).toBe('000003');
    expect(fillPattern('{year2}   {unit}', { ...parts, year: 2008 })).toBe('08-09 3');
  });
});
