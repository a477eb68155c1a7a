import { describe, expect, it } from 'vitest';
import { isMail, LIST_LIMIT, ListError, readDay, readList, type ListRow } from '../src/index.ts';

const rowsOf = (text: string) => readList(text).rows;
const only = <K extends keyof ListRow>(text: string, ...keys: K[]) =>
  rowsOf(text).map((row) => keys.map((key) => row[key]));

describe('a column of a class list', () => {
  const SECOND: [keyof ListRow, string, unknown, string[]][] = [
    [
      'signInName',
      'Mina7',
      'mina7',
      ['username', 'user name', 'Sign-in name', 'login', 'account', 'Benutzername'],
    ],
    [
      'externalId',
      '4711',
      '4711',
      [
        'id',
        'student id',
        'sourcedId',
        'number',
        'student number',
        'Schülernummer',
        'Nr.',
        'identifier',
      ],
    ],
    [
      'from',
      '1.9.2026',
      '2026-09-01',
      ['from', 'joins', 'joined', 'start', 'start date', 'begin', 'beginDate', 'Eintritt', 'von'],
    ],
    [
      'until',
      '9.7.2027',
      '2027-07-09',
      ['until', 'leaves', 'left', 'end', 'end date', 'endDate', 'Austritt', 'bis'],
    ],
    [
      'email',
      'Mina@a.example',
      'mina@a.example',
      [
        'mail',
        'e-mail',
        'email',
        'Email address',
        'e-mail address',
        'mail address',
        'E-Mail-Adresse',
        'Mailadresse',
      ],
    ],
  ];
  it.each(
    SECOND.flatMap(([key, value, read, headings]) =>
      headings.map((heading) => [heading, key, value, read] as const),
    ),
  )('with the heading %s is known as %s', (heading, key, value, read) => {
    const [row, ...more] = rowsOf(`Name;${heading};Remark\nMina Kovarik;${value};x`);
    expect(row).toEqual({
      line: 2,
      name: 'Mina Kovarik',
      email: null,
      signInName: null,
      externalId: null,
      from: null,
      until: null,
      faults: [],
      [key]: read,
    });
    expect(more).toEqual([]);
  });

  it.each([
    ...[
      'name',
      'full name',
      'student',
      'student name',
      'display name',
      'Schüler',
      'Schueler',
      'Anzeigename',
    ],
  ])('with the heading %s holds whole names', (heading) => {
    expect(only(`Form;${heading}\n7;Kovarik, Mina`, 'name')).toEqual([['Mina Kovarik']]);
  });

  it.each([
    ['first', 'last'],
    ['first name', 'last name'],
    ['forename', 'surname'],
    ['given name', 'family name'],
    ['givenName', 'familyName'],
    ['Vorname', 'Nachname'],
    ['Rufname', 'Familienname'],
  ])('with the heading %s or %s holds a part of the name', (first, last) => {
    expect(only(`${last};${first}\nde Waard;Jonas`, 'name')).toEqual([['Jonas de Waard']]);
    // Each of them alone makes a row of headings.
    expect(only(`${first};Form\nJonas;7`, 'name')).toEqual([['Jonas']]);
    expect(only(`${last};Form\nde Waard;7`, 'name')).toEqual([['de Waard']]);
  });

  it('with an address in it is a person already, and so is a row that names no person', () => {
    expect(only('name;mail@a.example', 'name', 'email')).toEqual([['name', 'mail@a.example']]);
    expect(only('Form;Remark\n7;x', 'name')).toEqual([['Remark'], ['x']]);
    expect(only('email;role\nmina.kovarik@a.example;student', 'name')).toEqual([['Mina Kovarik']]);
  });
});

describe('columns without headings', () => {
  it('are days, numbers, names and addresses by what stands in most of their cells', () => {
    const text = [
      '17;Mina Kovarik;1.9.2026;9.7.2027;1.1.2020;m@a.example;SO1A',
      '18;Jonas de Waard;;9.7.2027;;j@a.example;SO1A',
      '?;Lee;2.9.2026;;;;',
    ].join('\n');
    expect(only(text, 'externalId', 'name', 'from', 'until', 'email')).toEqual([
      ['17', 'Mina Kovarik', '2026-09-01', '2027-07-09', 'm@a.example'],
      ['18', 'Jonas de Waard', null, '2027-07-09', 'j@a.example'],
      ['?', 'Lee', '2026-09-02', null, null],
    ]);
  });

  it('of single words are first and last names, and more of them something else', () => {
    expect(only('Mina;Kovarik;SO1A\nJo;Lee;SO1A', 'name')).toEqual([['Mina Kovarik'], ['Jo Lee']]);
    expect(only('Mina Kovarik;SO1A\nJo Lee;SO1A', 'name')).toEqual([['Mina Kovarik'], ['Jo Lee']]);
    // Half of the cells are not most of them.
    expect(only('Mina Kovarik;SO1A\nJo;SO1A', 'name')).toEqual([['Mina Kovarik'], ['Jo']]);
  });

  it('may be missing at the end of some lines, and in the middle of a list', () => {
    expect(only('Mina Kovarik;m@a.example\nJo Lee', 'name', 'email')).toEqual([
      ['Mina Kovarik', 'm@a.example'],
      ['Jo Lee', null],
    ]);
    const { rows, empty } = readList('name;mail\n\nMina;m@a.example\n ; \n;;\nJo;j@a.example\n');
    expect(rows.map(({ line, name }) => [line, name])).toEqual([
      [3, 'Mina'],
      [6, 'Jo'],
    ]);
    expect(empty).toBe(4);
  });

  it('are parted by the sign that stands in most lines, tabs before the others', () => {
    expect(only('name|mail\nA; B|a@b.example\nC|c@b.example', 'name')).toEqual([['A; B'], ['C']]);
    expect(only('name,mail\nA,a@b.example', 'email')).toEqual([['a@b.example']]);
    expect(only('mail\tx;y\na@b.example\tz;w', 'email')).toEqual([['a@b.example']]);
  });
});

describe('people on lines', () => {
  it('stand one after the other with what parts them, each on their line', () => {
    const text =
      '\n"Kovarik, Mina" <m@a.example> Jo Lee <j@a.example>,; Kim k@a.example, Lea l@a.example\r\rBo (b@a.example);\n';
    expect(only(text, 'line', 'name', 'email')).toEqual([
      [2, 'Mina Kovarik', 'm@a.example'],
      [2, 'Jo Lee', 'j@a.example'],
      [2, 'Kim', 'k@a.example'],
      [2, 'Lea', 'l@a.example'],
      [4, 'Bo', 'b@a.example'],
    ]);
  });

  it('are taken apart where brackets are odd', () => {
    expect(only('Mina <mina@a.example> of SO1A\nJo <j@a.example>', 'name', 'email')[0]).toEqual([
      'Mina',
      'mina@a.example',
    ]);
    expect(only('<m@a.example>\nJo <j@a.example> ;', 'name', 'email')).toEqual([
      ['M', 'm@a.example'],
      ['Jo', 'j@a.example'],
    ]);
    expect(only('Kim <k@a.example\nJo <j@a.example>', 'email')[1]).toEqual(['j@a.example']);
  });

  it('have names without quotes, brackets, signs nobody sees and beginnings of formulas', () => {
    expect(only(`name;mail\n"'Mina'";m@a.example`, 'name')).toEqual([['Mina']]);
    expect(only('Mina\u00A0\u200B Kovarik ( <m@a.example>', 'name')).toEqual([['Mina Kovarik']]);
    expect(only('name\n=cmd(1)\n+Mina\n-Kim\n=1', 'name')).toEqual([
      ['cmd(1'],
      ['Mina'],
      ['-Kim'],
      ['=1'],
    ]);
    expect(only('name;mail\n"Kovarik, Mina, SO1A";m@a.example', 'name')).toEqual([
      ['Kovarik, Mina, SO1A'],
    ]);
    expect(only('name;mail\n;mailto:mina_k--o.9x@a.example', 'name', 'email')).toEqual([
      ['Mina K O', 'mina_k--o.9x@a.example'],
    ]);
  });
});

describe('what a list looks like', () => {
  const names = (text: string) => rowsOf(text).map((row) => row.name);
  it('is told by its first fifty lines, empty ones left out', () => {
    const lines = Array.from({ length: 50 }, () => 'Mina;Kovarik;m@a.ex');
    expect(names([...lines, 'X <y@a.ex>;;'].join('\n'))[0]).toBe('Mina Kovarik');
    expect(names('mina.kovarik@a.ex; jo.brand@a.ex\n \n')).toEqual(['Mina Kovarik', 'Jo Brand']);
  });
  it('is a table where its first line has headings, also without an address', () => {
    expect(names('Nachname,Vorname\nKovarik,Mina')).toEqual(['Mina Kovarik']);
    expect(names('First - name;Last - name;Mail\nMina;Kovarik;m@a.ex')).toEqual(['Mina Kovarik']);
  });
  it('keeps the number of each line, and counts no line as empty that ends the text', () => {
    expect(rowsOf('Mina Kovarik\nJo Brand').map((row) => row.line)).toEqual([1, 2]);
    expect(readList('Mina <m@a.ex>;\n').empty).toBe(0);
    expect(names('Mina Kovarik <m@a.ex>\nJo Brand; Kim Lee')).toEqual([
      'Mina Kovarik',
      'Jo Brand',
      'Kim Lee',
    ]);
  });
  it('has names with brackets at their beginning, and signs nobody sees as spaces', () => {
    expect(names('(Mina) Kovarik\tm@a.ex')).toEqual(['(Mina) Kovarik']);
    expect(names('Mina\u00a0Kovarik\tm@a.ex')).toEqual(['Mina Kovarik']);
    expect(names('\uFEFFMina\uFEFFKovarik\tm@a.ex')).toEqual(['Mina Kovarik']);
    expect(names('Mina\uFEFFKovarik\tm@a.ex')).toEqual(['Mina Kovarik']);
  });
  it('has no numbers of people where letters follow them, and no scheme after an address', () => {
    expect(only('Mina Kovarik;7b;m@a.ex', 'name', 'externalId')).toEqual([['Mina Kovarik', null]]);
    expect(only('Mina\tm@a.exmailto:', 'faults')).toEqual([[['mail-odd']]]);
  });
});

describe('the faults of a line', () => {
  const faults = (name: string, mail = '', from = '', until = '') =>
    rowsOf(`name;mail;from;until\n"${name}";${mail};${from};${until}`)[0]!.faults;

  it('are a name that is missing or too long', () => {
    expect(faults('', '', '1.9.2026')).toEqual(['no-name']);
    expect(faults('n'.repeat(120))).toEqual([]);
    expect(faults('n'.repeat(121))).toEqual(['name-long']);
  });

  it('are days that are none, and leaving that is not after joining', () => {
    expect(faults('A', '', 'soon')).toEqual(['date-odd']);
    expect(faults('A', '', '', 'soon')).toEqual(['date-odd']);
    expect(faults('A', '', '1.9.2026')).toEqual([]);
    expect(faults('A', '', '', '1.9.2026')).toEqual([]);
    expect(faults('A', '', '1.9.2026', '1.9.2026')).toEqual(['leaves-before-joins']);
    expect(faults('A', '', '1.9.2026', '2.9.2026')).toEqual([]);
  });

  it('are addresses that are none', () => {
    expect(faults('A', 'a@b')).toEqual(['mail-odd']);
    const label = 'a'.repeat(240);
    expect(isMail(`${label}@abcdefg.example`.slice(-254))).toBe(true);
    expect(isMail(`${label}@abcdefg.example`)).toBe(false);
    for (const mail of ['a@b.example', 'a.b-c_d+e@b-c.d.example', "o'neil@b.example", 'a@1b.ex'])
      expect(isMail(mail), mail).toBe(true);
    for (const mail of [
      '.a@b.example',
      'a..b@c.example',
      'a.b..c@d.example',
      'a.@b.example',
      'a@-b.example',
      'a@b.e',
      'a@b.example1',
      'a@b.example x',
      'x a@b.example',
      'a@b_c.example',
      'é@b.example',
      'a@b.exämple',
    ])
      expect(isMail(mail), mail).toBe(false);
  });
});

describe('a day', () => {
  it.each([
    ['2026-09-01', '2026-09-01'],
    ['2026-9-1', '2026-09-01'],
    ['2026-09-01T08:00:00Z', '2026-09-01'],
    ['2026-09-01 08:00', '2026-09-01'],
    ['1.9.2026', '2026-09-01'],
    ['01/09/2026', '2026-09-01'],
    ['1-9-26', '2026-09-01'],
    ['1.9.00', '2000-09-01'],
    ['1.1.1900', '1900-01-01'],
    ['31.12.2199', '2199-12-31'],
    ['29.2.2028', '2028-02-29'],
    ['31.12.1899', null],
    ['1.1.2200', null],
    ['29.2.2027', null],
    ['31.4.2027', null],
    ['0.1.2027', null],
    ['1.13.2027', null],
    ['2026-09-011', null],
    ['2026-09-01x', null],
    ['x2026-09-01', null],
    ['x1.9.2026', null],
    ['1.9.2026x', null],
    ['1.9.20261', null],
    ['1.9.226', null],
    ['1.9.2', null],
    ['1.9.', null],
    ['', null],
  ])('written as %s is %s', (given, day) => {
    expect(readDay(given)).toBe(day);
  });
});

describe('what is no list', () => {
  const fault = (text: string) => {
    try {
      return readList(text).rows.length;
    } catch (error) {
      if (!(error instanceof ListError)) throw error;
      return `${error.message} ${error.count}`;
    }
  };

  it('is told by its beginning and by signs that no text has', () => {
    expect(fault('PK Kovarik')).toBe('binary 0');
    expect(fault('Kovarik PK')).toBe(1);
    expect(fault(`${'a'.repeat(99)}\u0001`)).toBe(1);
    expect(fault(`${'a'.repeat(98)}\u0001\u0002`)).toBe('binary 0');
    // What comes after the first 4,000 signs does not count.
    expect(fault(`${'A B\n'.repeat(1001)}${'\u0001'.repeat(500)}`)).toBe(1001);
  });

  it('is one with more than 5,000 people, headings not counted', () => {
    const lines = (n: number) => 'A B;a@b.example\n'.repeat(n);
    expect(fault(lines(LIST_LIMIT))).toBe(LIST_LIMIT);
    expect(fault(`name;mail\n${lines(LIST_LIMIT)}`)).toBe(LIST_LIMIT);
    expect(fault(lines(LIST_LIMIT + 1))).toBe('too-long 5001');
    expect(fault(`name;mail\n${lines(LIST_LIMIT + 1)}`)).toBe('too-long 5002');
  });

  it('may begin with the mark of its encoding', () => {
    expect(only('\uFEFFname;mail\nA;a@b.example', 'name')).toEqual([['A']]);
  });
});
