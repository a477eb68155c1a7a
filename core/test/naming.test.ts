import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  checkName,
  checkPattern,
  FILE_NAME_LIMIT,
  fileName,
  fillPattern,
  nameKey,
  withExtension,
} from '../src/index.ts';
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
    ['a\u202Eb', ['invisible-sign']],
    ['a\u0000b', ['invisible-sign']],
    ['x'.repeat(61), ['too-long']],
    ['Console', []],
    ['2 Texture & pH', []],
    ['Böden 土壌', []],
  ])('%j', (name, faults) => {
    expect(checkName(name).faults).toEqual(faults);
  });

  it('finds siblings of another case or Unicode form', () => {
    expect(checkName('BÖDEN', ['bo\u0308den']).faults).toEqual(['taken']);
    expect(nameKey('Bo\u0308DEN')).toBe(nameKey('böden'));
  });

  it('warns of names that cannot be read whole, counting signs and not bytes', () => {
    expect(checkName('y'.repeat(33))).toEqual({ faults: [], long: true });
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
  ])('%j is kept as %j', (given, kept) => {
    expect(fileName(given)?.name).toBe(kept);
  });

  it('has nothing to call a file of dots and control signs by', () => {
    for (const name of ['', '..', '/', '\u0000', ' . ']) expect(fileName(name)).toBeNull();
  });

  it('makes any name one that is allowed, keeps good ones, and is settled after one go', () => {
    fc.assert(
      fc.property(
        fc.oneof(fc.string({ unit: 'binary', maxLength: 400 }), fc.string({ unit: 'grapheme' })),
        (given) => {
          const made = fileName(given);
          if (!made) return;
          const { faults } = checkName(made.name);
          expect(faults.filter((f) => f !== 'too-long')).toEqual([]);
          expect([...made.name].length).toBeLessThanOrEqual(FILE_NAME_LIMIT + 1);
          expect(made.name).toBe(withExtension(made.title, made.extension));
          expect(fileName(made.name)?.name).toBe(made.name);
        },
      ),
      runs(1000),
    );
  });

  it('cuts 300 signs before the extension', () => {
    const made = fileName(`${'n'.repeat(300)}.pdf`);
    expect(made?.name).toHaveLength(FILE_NAME_LIMIT);
    expect(made?.extension).toBe('pdf');
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
    expect(() => fillPattern('{klass}', parts)).toThrow(RangeError);
  });
});
