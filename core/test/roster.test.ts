import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  compareList,
  decodeList,
  LIST_LIMIT,
  ListError,
  PLAIN_WORDS,
  readDay,
  readList,
  readSayable,
  sayable,
  signInStem,
  firstPassword,
  type KnownPerson,
} from '../src/index.ts';
import { anyText } from './any-text.ts';
import { runs } from './runs.ts';

const people = (text: string, options = {}) =>
  readList(text, options).rows.map(({ name, email }) => [name, email]);
const MINA = ['Mina Kovarik', 'mina@a.example'];
const JONAS = ['Jonas de Waard', 'jonas@a.example'];

describe('a class list is read in any usual shape', () => {
  it.each([
    [
      'as a mail program writes it',
      'Mina Kovarik <mina@a.example>\nJonas de Waard <jonas@a.example>',
    ],
    ['on one line', 'Mina Kovarik <mina@a.example>, Jonas de Waard <jonas@a.example>'],
    [
      'on one line with semicolons',
      '"Kovarik, Mina" <mina@a.example>; "de Waard, Jonas" <jonas@a.example>;',
    ],
    ['last name first', 'Kovarik, Mina <MINA@a.example>\nde Waard, Jonas <jonas@a.example>'],
    ['with blanks only', 'Mina Kovarik mina@a.example\nJonas de Waard (jonas@a.example)'],
    [
      'as columns of a spreadsheet',
      'Mina Kovarik\tmina@a.example\nJonas de Waard\tjonas@a.example\n',
    ],
    [
      'as columns with headings',
      'E-mail\tFull name\tForm\nmina@a.example\tMina Kovarik\t7\njonas@a.example\tJonas de Waard\t7',
    ],
    [
      'as CSV with commas',
      'First name,Last name,Email\nMina,Kovarik,mina@a.example\nJonas,de Waard,jonas@a.example',
    ],
    [
      'as CSV with semicolons',
      'Nachname;Vorname;E-Mail\nKovarik;Mina;mina@a.example\nde Waard;Jonas;jonas@a.example\n',
    ],
    [
      'as CSV with bars and quotes',
      '"Mina Kovarik"|"mina@a.example"\r\n"Jonas de Waard"|"jonas@a.example"',
    ],
    [
      'as CSV whose names hold commas',
      'name,mail\n"Kovarik, Mina",mina@a.example\n"de Waard, Jonas",jonas@a.example',
    ],
    ['as columns without headings', 'Mina;Kovarik;mina@a.example\nJonas;de Waard;jonas@a.example'],
  ])('%s', (_, text) => {
    expect(people(text)).toEqual([MINA, JONAS]);
  });

  it('names alone, addresses alone, and the other order of two columns', () => {
    expect(people('Mina Kovarik\nKovarik, Jonas')).toEqual([
      ['Mina Kovarik', null],
      ['Jonas Kovarik', null],
    ]);
    expect(people('mina.kovarik@a.example; jonas_waard@a.example')).toEqual([
      ['Mina Kovarik', 'mina.kovarik@a.example'],
      ['Jonas Waard', 'jonas_waard@a.example'],
    ]);
    expect(people('Kovarik;Mina;m@a.example', { lastNameFirst: true })).toEqual([
      ['Mina Kovarik', 'm@a.example'],
    ]);
  });

  it('takes for numbers only what is nothing else, not a room or a class', () => {
    const numbers = (text: string) => readList(text).rows.map((r) => [r.name, r.externalId]);
    expect(numbers('Mina Kovarik;SO1\nJona Abara;SO1')).toEqual([
      ['Mina Kovarik', null],
      ['Jona Abara', null],
    ]);
    expect(numbers('Mina Kovarik;47-11\nJona Abara;47-12')).toEqual([
      ['Mina Kovarik', '47-11'],
      ['Jona Abara', '47-12'],
    ]);
  });

  it('reads days of joining and leaving, and names each fault of a line', () => {
    const { rows } = readList(
      'Name;Mail;Joins;Leaves\nMina;m@a.example;1.9.2026;2027-07-09\nJo;not a mail;;\n;;1.9.2026;\nKim;k@a.example;09/07/2027;1.9.2026\nLee;;32.1.2026;',
    );
    expect(rows.map((r) => [r.name, r.from, r.until, ...r.faults])).toEqual([
      ['Mina', '2026-09-01', '2027-07-09'],
      ['Jo', null, null, 'mail-odd'],
      ['', '2026-09-01', null, 'no-name'],
      ['Kim', '2027-07-09', '2026-09-01', 'leaves-before-joins'],
      ['Lee', null, null, 'date-odd'],
    ]);
    expect(['2026-02-30', '1/13/26', 'soon', '2026-9-1'].map(readDay)).toEqual([
      null,
      null,
      null,
      '2026-09-01',
    ]);
  });

  it('knows the encoding by the bytes', () => {
    const text = 'Léonie Größ;l@a.example\r\nYıldız;y@a.example';
    const utf16 = new Uint8Array(Buffer.from(text, 'utf16le'));
    const latin = new Uint8Array(Buffer.from('Léonie Größ;l@a.example', 'latin1'));
    const wanted = text.replace('\r\n', '\n');
    expect(decodeList(new TextEncoder().encode(text))).toEqual({ text: wanted, encoding: 'utf-8' });
    expect(
      decodeList(new Uint8Array([0xef, 0xbb, 0xbf, ...new TextEncoder().encode(text)])).text,
    ).toBe(wanted);
    expect(decodeList(utf16)).toEqual({ text: wanted, encoding: 'utf-16le' });
    expect(decodeList(new Uint8Array([0xff, 0xfe, ...utf16]))).toEqual({
      text: wanted,
      encoding: 'utf-16le',
    });
    expect(decodeList(new Uint8Array([0xfe, 0xff, ...Buffer.from(utf16).swap16()])).text).toBe(
      wanted,
    );
    expect(decodeList(latin)).toEqual({
      text: 'Léonie Größ;l@a.example',
      encoding: 'windows-1252',
    });
  });
});

describe('the bytes of a list', () => {
  const bytes = (...values: number[]) => new Uint8Array(values);
  it('are UTF-16 by either mark, also where hardly any byte is empty', () => {
    expect(decodeList(bytes(0xff, 0xfe, 0x1f, 0x57)).encoding).toBe('utf-16le');
    expect(decodeList(bytes(0xfe, 0xff, 0x57, 0x1f))).toEqual({
      text: '土',
      encoding: 'utf-16be',
    });
    expect(decodeList(bytes(0xff, 0x41)).encoding).toBe('windows-1252');
    expect(decodeList(bytes(0x41, 0xfe)).encoding).toBe('windows-1252');
    expect(decodeList(bytes(0xfe, 0x41)).encoding).toBe('windows-1252');
    expect(decodeList(bytes(0x41, 0xff)).encoding).toBe('windows-1252');
  });
  it('are UTF-16 without a mark where every other one is empty', () => {
    expect(decodeList(bytes(0, 0x41, 0, 0x42))).toEqual({ text: 'AB', encoding: 'utf-16be' });
    expect(decodeList(bytes(0x41, 0, 0x42, 0))).toEqual({ text: 'AB', encoding: 'utf-16le' });
    // One empty byte among many is none.
    expect(decodeList(bytes(0x41, 0, 0x42, 0x43, 0x44)).encoding).toBe('utf-8');
  });
  it('have line ends of all systems', () => {
    expect(decodeList(new TextEncoder().encode('a\rb\r\nc\nd')).text).toBe('a\nb\nc\nd');
  });
});

const known = (id: string, more: Partial<KnownPerson> = {}): KnownPerson => ({
  id,
  name: id,
  kind: 'student',
  email: null,
  signInName: null,
  externalId: null,
  member: false,
  otherClasses: [],
  ...more,
});

const states = (text: string, people: KnownPerson[], elsewhere: string[] = []) => {
  const { rows, missing } = compareList(readList(text).rows, people, new Set(elsewhere));
  return {
    rows: rows.map((r) => [r.state, r.person?.id ?? null, ...r.doubts]),
    missing: missing.map((p) => p.id),
  };
};

describe('a list compared with those who are known', () => {
  it('tells new, known, staying and renamed people, and who is missing', () => {
    const there = [
      known('Mina', { email: 'Mina@a.example', member: true }),
      known('Jo', { email: 'jo@a.example', member: true }),
      known('Kim', { email: 'kim@a.example', otherClasses: ['SO1B'] }),
      known('Lee', { member: true }),
    ];
    expect(
      states(
        'Mina\tmina@a.example\nJoanna\tjo@a.example\nKim\tkim@a.example\nNew\tn@a.example',
        there,
      ),
    ).toEqual({
      rows: [
        ['stays', 'Mina'],
        ['changed', 'Jo'],
        ['joins', 'Kim', 'other-class'],
        ['new', null],
      ],
      missing: ['Lee'],
    });
  });

  it('is doubtful about shared addresses, names alone, staff and people of other schools', () => {
    const there = [
      known('Sam'),
      known('Ann', { kind: 'teacher', email: 'ann@a.example' }),
      known('Twin', { id: 'Twin1', email: 't1@a.example' }),
      known('Twin', { id: 'Twin2', email: 't2@a.example' }),
    ].map((p, n) => (n > 1 ? { ...p, name: 'Twin', id: `Twin${n}` } : p));
    const found = states(
      'One\tx@a.example\nTwo\tx@a.example\nSam\t\nAnn\tann@a.example\nTwin\t\nFar\tfar@b.example\nTwin\tnew@a.example',
      [there[0]!, { ...there[1]!, name: 'Ann', id: 'Ann' }, there[2]!, there[3]!],
      ['far@b.example'],
    );
    expect(found.rows).toEqual([
      ['doubtful', null, 'mail-twice'],
      ['doubtful', null, 'mail-twice'],
      ['doubtful', 'Sam', 'same-name'],
      ['doubtful', 'Ann', 'is-staff'],
      ['doubtful', null, 'several-of-name', 'name-twice'],
      ['doubtful', null, 'mail-elsewhere'],
      ['new', null, 'name-twice'],
    ]);
  });

  it('read and taken once more it changes nothing', () => {
    const list = 'Mina\tm@a.example\nJo\t\nKim\tk@a.example';
    const members = readList(list).rows.map((r) => known(r.name, { email: r.email, member: true }));
    expect(states(list, members)).toEqual({
      rows: members.map((p) => ['stays', p.id]),
      missing: [],
    });
  });
});

describe('a row of a list and whom it may mean', () => {
  const compared = (text: string, people: KnownPerson[]) => states(text, people).rows;

  it('is known by number, then address, then sign-in name, in any case', () => {
    const there = [
      known('N', { externalId: '4711' }),
      known('M', { email: 'M@a.example' }),
      known('S', { signInName: 'Mina7' }),
    ];
    expect(
      compared(
        'name;mail;login;id\nOne;m@a.example;mina7;4711\nTwo;m@a.example;mina7;\nThree;;MINA7;\nFour;;;\nFive;;other;9',
        there,
      ),
    ).toEqual([
      ['doubtful', 'N', 'mail-twice'],
      ['doubtful', 'M', 'mail-twice'],
      ['joins', 'S'],
      ['new', null],
      ['new', null],
    ]);
  });

  it('twice in the list is asked about, once it is clear who is meant', () => {
    const there = [known('Mina', { externalId: '1', email: 'm@a.example', member: true })];
    expect(compared('name;mail;id\nMina;m@a.example;\nMina K;;1', there)).toEqual([
      ['doubtful', 'Mina', 'person-twice'],
      ['doubtful', 'Mina', 'person-twice'],
    ]);
  });

  it('with a name alone means the one member of that name, not one of several, nor staff', () => {
    const mina = (id: string, more: Partial<KnownPerson> = {}) =>
      known(id, { name: 'Mina', ...more });
    const member = { member: true };
    expect(compared('name\nMina', [mina('1', member), mina('2')])).toEqual([['stays', '1']]);
    expect(compared('name\nMina', [mina('1', member), mina('2', member)])).toEqual([
      ['doubtful', null, 'several-of-name'],
    ]);
    expect(compared('name\nMina', [mina('1'), mina('2')])).toEqual([
      ['doubtful', null, 'several-of-name'],
    ]);
    expect(compared('name\nMina', [mina('1', { kind: 'teacher' })])).toEqual([['new', null]]);
    // An address of their own tells them apart; an account without one may be theirs.
    const row = 'name;mail\nMina;new@a.example';
    expect(compared(row, [mina('1', { ...member, email: 'old@a.example' })])).toEqual([
      ['new', null],
    ]);
    expect(compared(row, [mina('1', member)])).toEqual([['stays', '1']]);
    expect(compared(row, [mina('1')])).toEqual([['new', null]]);
  });

  it('with an address of its own may be one of several members without one', () => {
    const two = ['1', '2'].map((id) => known(id, { name: 'Mina', member: true }));
    expect(compared('name;mail\nMina;new@a.example', two)).toEqual([
      ['doubtful', null, 'several-of-name'],
    ]);
  });

  it('is known for sure by its number, whoever else has its name, or its address elsewhere', () => {
    const there = [
      known('N', { name: 'Mina', externalId: '1' }),
      known('M', { name: 'Mina', member: true }),
    ];
    const { rows } = states('name;mail;id\nMina;far@b.example;1', there, ['far@b.example']);
    expect(rows).toEqual([['joins', 'N']]);
  });

  it('with an address twice is told so once', () => {
    const there = [known('M', { email: 'm@a.example', member: true })];
    expect(compared('name;mail\nMina;m@a.example\nMia;m@a.example', there)).toEqual([
      ['doubtful', 'M', 'mail-twice'],
      ['doubtful', 'M', 'mail-twice'],
    ]);
  });

  it('that cannot be taken is a fault, and other days are a change', () => {
    const there = [known('Mina', { member: true }), known('Jo', { member: true })];
    expect(
      compared('name;mail;from;until\nMina;;1.9.2026;\nJo;;;9.7.2027\nKim;odd;;', there),
    ).toEqual([
      ['changed', 'Mina'],
      ['changed', 'Jo'],
      ['fault', null],
    ]);
  });
});

describe('sayable names', () => {
  it('are understood in all the ways they are typed, with one slip, and never as another one', () => {
    fc.assert(
      fc.property(fc.nat(), fc.nat({ max: 25 }), (seed, letter) => {
        let state = seed;
        const draw = (below: number) => {
          state = (state * 48271 + 11) % 2147483647;
          return state % below;
        };
        const made = sayable(draw, 5);
        const [word, number] = made.split('-') as [string, string];
        for (const typed of [
          made,
          made.toUpperCase(),
          `${word} ${number}`,
          `${word}${number}`,
          `${word} - ${number.slice(0, 2)} ${number.slice(2)}`,
        ])
          expect(readSayable(typed, 5)).toBe(made);
        const slipped = word.slice(0, -1) + String.fromCharCode(97 + letter);
        const understood = readSayable(`${slipped}-${number}`, 5);
        // A slip that makes another word, or is as near to another one, is not guessed at.
        const near = PLAIN_WORDS.filter((w) => w.slice(0, -1) === word.slice(0, -1)).length > 1;
        if (understood !== made && !near && !PLAIN_WORDS.includes(slipped))
          expect(understood).toBeNull();
      }),
    );
    expect(readSayable('otter 2z5', 3)).toBe('otter-225');
    expect(readSayable('ottter-234', 3)).toBe('otter-234');
    expect(readSayable('../../etc', 3)).toBeNull();
    expect(readSayable('', 3)).toBeNull();
  });

  it('begin with the first name', () => {
    expect(['Mina Kovarik', 'Léonie de la Größe', '土壌', 'Yıldız'].map(signInStem)).toEqual([
      'mina.k',
      'leonie.g',
      'student',
      'yildiz',
    ]);
  });
});

describe('sayable addresses as they are typed', () => {
  it.each([
    ['heron-47293', 'heron-47293'],
    ['héron 47293', 'heron-47293'],
    ['heron-4729e', 'heron-47293'],
    ['heron-a7q9e', 'heron-47993'],
    ['heron-bgszz', 'heron-89522'],
    ['hero-47293', 'heron-47293'],
    ['herons-47293', 'heron-47293'],
    ['heorn-47293', 'heron-47293'],
    ['berom-47293', null],
    ['heronss-47293', null],
    ['hreno-47293', null],
    ['xheronx-47293', null],
    ['47293', null],
    ['n-47293', null],
    ['heron-4729', null],
    ['heron-4729o', null],
    ['heron-47290', null],
    // As near to badge as to badger: nothing is guessed.
    ['badges-47293', null],
    ['herxyn-47293', null],
    ['hexn-47293', null],
    ['hren-47293', null],
  ])('%s is %s', (typed, meant) => {
    expect(readSayable(typed, 5)).toBe(meant);
  });

  it('first passwords are two words and three digits', () => {
    const draws = [0, 1, 2, 3, 4];
    expect(firstPassword(() => draws.shift()!)).toBe('acorn-alder-456');
  });

  it('sign-in names begin with the first name, in letters every keyboard has', () => {
    expect(
      ['Søren Ł', 'Łukasz Großmann', 'Weiß Ürün', 'Jo', `${'a'.repeat(30)} Z`, 'a'.repeat(30)].map(
        signInStem,
      ),
    ).toEqual(['soren.l', 'lukasz.g', 'weiss.u', 'jo', `${'a'.repeat(16)}.z`, 'a'.repeat(20)]);
  });
});

describe('a list that is made to take long', () => {
  const many = 60_000;
  const outcome = (text: string) => {
    try {
      return readList(text).rows.length;
    } catch (error) {
      if (!(error instanceof ListError)) throw error;
      return error.fault;
    }
  };
  it.each([
    ['addresses and spaces', 1, `${'a@b '.repeat(many)},`],
    ['spaces after an address', 1, `a@b${' '.repeat(many)}x`],
    ['separators after an address', 1, `a@b${',;'.repeat(many)}`],
    ['open brackets', 1, '<'.repeat(many)],
    ['an open bracket and spaces', 1, `x <${' '.repeat(many)}`],
    ['closed brackets', 'too-long', '> '.repeat(many)],
    ['quotation marks', 1, `a${'"'.repeat(many)}b <c@d.ef>`],
    ['closing brackets', 1, `a${')'.repeat(many)}b <c@d.ef>`],
    ['commas', 1, `${'a,'.repeat(many)} <c@d.ef>`],
    ['dots', 1, `<a@${'b.'.repeat(many)}>`],
    ['an address that never ends', 2, `a@${'b'.repeat(many)},c@${'-'.repeat(many)}`],
    ['headings', 1, `name;${'-'.repeat(many)}\n${'ä'.repeat(many)};1`],
    ['columns', 0, `name${';x'.repeat(many)}`],
    ['invisible signs', 1, `${'\u200b \u00a0'.repeat(many)}x <c@d.ef>`],
    ['days', 1, `name;from\nx;${'1.'.repeat(many)}`],
  ])('of %s is read to its end', (_, expected, text) => {
    expect(outcome(text)).toBe(expected);
  });
});

describe('people on one line', () => {
  it.each([
    ['Mina Kovarik <mina@a.ex>, Jo Brand <jo@a.ex>', ['Mina Kovarik', 'Jo Brand']],
    ['Mina Kovarik <mina@a.ex> Jo Brand <jo@a.ex>', ['Mina Kovarik', 'Jo Brand']],
    ['Kovarik, Mina <mina@a.ex>; Brand, Jo <jo@a.ex>;', ['Mina Kovarik', 'Jo Brand']],
    ['mina.kovarik@a.ex, jo.brand@a.ex ; x@a.ex', ['Mina Kovarik', 'Jo Brand', 'X']],
    ['"Kovarik, Mina" <mina@a.ex> , , Jo Brand <jo@a.ex>', ['Mina Kovarik', 'Jo Brand']],
  ])('%s', (line, names) => {
    expect(readList(line).rows.map((row) => row.name)).toEqual(names);
  });
});

// These take longest: what is wrong has been found before them.
describe('whatever is given as a list', () => {
  it('says so of what is no list, of an empty one and of one too long', () => {
    const fault = (text: string) => {
      try {
        readList(text);
      } catch (error) {
        if (error instanceof ListError) return [error.fault, error.count];
        throw error;
      }
      return null;
    };
    expect(fault('PK\u0003\u0004\u0000\u0000')).toEqual(['binary', 0]);
    expect(fault('%PDF-1.7\n\u0001\u0002\u0003\u0004\uFFFD\uFFFD')).toEqual(['binary', 0]);
    expect(fault(' \n;;\n')).toEqual(['empty', 0]);
    const long = 'name,mail\n' + 'A B,a@b.example\n'.repeat(50_000);
    expect(fault(long)).toEqual(['too-long', 50_001]);
    expect(readList('A B\n'.repeat(LIST_LIMIT)).rows).toHaveLength(LIST_LIMIT);
  });

  it('never fails otherwise, whatever is pasted, and takes no formula along', () => {
    fc.assert(
      fc.property(anyText(300), (text) => {
        try {
          for (const row of readList(text).rows) {
            expect(row.name).toBe(row.name.trim());
            expect(row.name).not.toMatch(/[\n\r\u202E]/u);
          }
        } catch (error) {
          if (!(error instanceof ListError)) throw error;
        }
      }),
      runs(500),
    );
    expect(people('=HYPERLINK("x") Kim\tk@a.example')[0]![0]).not.toMatch(/^[=+@]/u);
  });
});
