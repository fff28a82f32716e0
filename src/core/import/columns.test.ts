import { describe, expect, it } from 'vitest';
import { findHeader, guessColumns, isHeader, mappingProblem, type ColumnMap } from './columns';

describe('columns', () => {
  const own = [{ key: 'favourite_planet', label: 'Favourite planet', kind: 'text' as const }];
  const targets = (header: string[] | null, rows: string[][]) =>
    guessColumns(header, rows, own).map(({ to }) => to);

  it('that end like a word for a phone are none, also where they are empty', () => {
    const header = ['Hotel', 'Excel', 'Motel no', 'Home Phone', 'Cell #', 'Work tel'];
    expect(targets(header, [['', '', '', '(303) 555-0123', '', '']])).toEqual([
      ...['skip', 'skip', 'skip', 'further', 'number', 'further'],
    ]);
  });

  it.each([
    ['as spreadsheets of most offices write them', ['3/25/24', '11/30/23 9:12 AM'], 'month-day'],
    ['with dots', ['25.3.24', '30.11.23'], 'day-month'],
    ['with the month in letters', ['25-Mar-24', '30-Nov-23'], null],
    ['in words', ['Mar 25, 2024', 'November 30th 2023'], null],
  ])('of days %s say when somebody agreed, and are days elsewhere', (_, [one, other], order) => {
    const header = ['Mobile', 'Opt-in date', 'Birthday'];
    const [, agreed, born] = guessColumns(
      header,
      [
        ['3035550101', one!, one!],
        ['3035550102', other!, other!],
      ],
      own,
    );
    expect(agreed).toMatchObject({ to: 'agreed_on', order });
    expect(born).toMatchObject({ kind: 'date', order });
  });

  it('of when somebody agreed may hold a slip or a word among their days', () => {
    const rows = [
      ['3035550101', '3/25/24'],
      ['3035550102', 'unknown'],
      ['3035550103', '11/30/23'],
    ];
    expect(targets(['Mobile', 'Opt-in date'], rows)).toEqual(['number', 'agreed_on']);
    expect(targets(['Mobile', 'Opt-in date'], [['3035550101', 'see notes']])).toEqual(['number', 'skip']);
  });

  it('are known by header, in any dress', () => {
    expect(
      targets(
        [
          'First Name',
          'last_name',
          'Mobile Phone',
          'E-Mail',
          'ZIP',
          'State',
          'Tags',
          'favourite planet',
          'Shoe size',
        ],
        [],
      ),
    ).toEqual([
      'first_name',
      'last_name',
      'number',
      'email',
      'postal_code',
      'region',
      'tags',
      'own.favourite_planet',
      'skip',
    ]);
    expect(targets(['Vorname', 'Nachname', 'Handy', 'PLZ'], [])).toEqual([
      'first_name',
      'last_name',
      'number',
      'postal_code',
    ]);
    expect(targets(['firstName', 'lastName', 'phoneNumber'], [])).toEqual([
      'first_name',
      'last_name',
      'number',
    ]);
  });

  it('are known by what is in them, without a header or with one that says nothing', () => {
    const rows = [
      ['Ana', '303-555-0123', 'ana@example.org', 'CO', '81201'],
      ['Ben', '303-555-0124', 'ben@example.org', 'AZ', '85001'],
    ];
    expect(targets(null, rows)).toEqual(['skip', 'number', 'email', 'region', 'postal_code']);
    expect(targets(['a', 'b', 'c', 'd', 'e'], rows)).toEqual([
      'skip',
      'number',
      'email',
      'region',
      'postal_code',
    ]);
  });

  it('whose header lies are known by what is in them', () => {
    expect(
      targets(
        ['Number', 'Contact'],
        [
          ['12', '3035550123'],
          ['13', '3035550124'],
        ],
      ),
    ).toEqual(['skip', 'full_name']);
    expect(
      targets(
        ['Number', 'Reach'],
        [
          ['12', '3035550123'],
          ['13', '3035550124'],
        ],
      ),
    ).toEqual(['skip', 'number']);
  });

  it('that hold a second number or e-mail address hold a further one', () => {
    expect(targets(['Phone', 'Mobile', 'E-mail', 'Mail', 'Other numbers'], [])).toEqual([
      'further',
      'number',
      'email',
      'further',
      'further',
    ]);
  });

  it.each<[string, string[]]>([
    [
      'Customer First Name, Customer Last Name, Home Phone, Mobile Phone',
      ['first_name', 'last_name', 'further', 'number'],
    ],
    ['Name, Office Phone, Fax, Cell', ['full_name', 'further', 'skip', 'number']],
    ['Phone 1, Phone 2, Landline', ['number', 'further', 'further']],
    ['Parent/Guardian Name, Cell Phone #, Student, Grade', ['full_name', 'number', 'skip', 'skip']],
    ['Guest, Guest Phone, Party size, Zip/Postal', ['full_name', 'number', 'skip', 'postal_code']],
    ['What is your name?, What is your cell number?, May we text you?', ['full_name', 'number', 'agreed']],
    [
      'LAST_NAME, FIRST_NAME, PHONE1, EMAIL1, ZIP5',
      ['last_name', 'first_name', 'number', 'email', 'postal_code'],
    ],
    ['Full Legal Name, Telephone No', ['full_name', 'number']],
    ['Cell, Name (first), Name (last)', ['number', 'first_name', 'last_name']],
    ['Nombre y apellidos, Móvil', ['full_name', 'number']],
    ['Nom et prénom, Téléphone portable', ['full_name', 'number']],
    ['given name, phone 1 value, e mail 1 value', ['first_name', 'number', 'email']],
    ['Nom de famille, Tél. portable, Courriel, Code postal', ['last_name', 'number', 'email', 'postal_code']],
    [
      'Nombre completo, Celular, Correo electrónico, Código postal',
      ['full_name', 'number', 'email', 'postal_code'],
    ],
    ['Nachname, Mobilnummer, E-Mail-Adresse, Postleitzahl', ['last_name', 'number', 'email', 'postal_code']],
    ['Visit date, Member since, Amount, Names of kids', ['skip', 'skip', 'skip', 'skip']],
  ])('of other programs are known: %s', (header, expected) => {
    const value: Record<string, string> = {
      ...{ number: '(303) 555-0101', further: '(303) 555-0102', agreed: 'yes' },
    };
    const titles = header.split(', ');
    const row = titles.map(
      (title, i) => value[expected[i]!] ?? (/Fax/.test(title) ? '303-555-0103' : 'Ada Vale'),
    );
    // By their header alone, and with values below it.
    expect(targets(titles, [])).toEqual(
      expected.map((to, i) => (to === 'full_name' && /^Guest$/.test(titles[i]!) ? 'skip' : to)),
    );
    expect(targets(titles, [row])).toEqual(expected);
  });

  it.each<[string, string[]]>([
    ['Customer ID, Order No, Tel., Client', ['skip', 'skip', 'number', 'full_name']],
    ['Member No, Phone(s), Name', ['skip', 'number', 'full_name']],
    ['Lease ID, Resident, Cell Phone', ['skip', 'full_name', 'number']],
    // Nothing else says how to reach them.
    ['Customer number, Name', ['number', 'full_name']],
    ['Booking ref, E-mail', ['skip', 'email']],
  ])('that count things and people are no phones, though their digits look so: %s', (header, expected) => {
    const titles = header.split(', ');
    const row = titles.map((title, i) =>
      /client|name|resident/i.test(title)
        ? 'Ada Vale'
        : expected[i] === 'email'
          ? 'ada@example.org'
          : /tel|phone/i.test(title)
            ? '(303) 555-0101'
            : '3035550102',
    );
    expect(targets(titles, [row])).toEqual(expected);
  });

  it.each<[string, string[]]>([
    ['Name, Phone, Spouse, Spouse Cell', ['full_name', 'number', 'skip', 'skip']],
    ['Adult 1 Name, Adult 1 Mobile, Adult 2 Name, Adult 2 Mobile', ['full_name', 'number', 'skip', 'skip']],
    ['Cell, Emergency Contact, Emergency Phone', ['number', 'skip', 'skip']],
    ['Guest phone, Guest 2 phone, Referred by', ['number', 'skip', 'skip']],
  ])('of somebody else are nobody’s address: %s', (header, expected) => {
    const titles = header.split(', ');
    const row = titles.map((title) =>
      /name|spouse$|contact|by$/i.test(title) ? 'Ada Vale' : '(303) 555-0101',
    );
    expect(targets(titles, [])).toEqual(expected);
    expect(targets(titles, [row])).toEqual(expected);
  });

  it.each([
    '’3035550101',
    '303-555-0101 x12',
    'Cell: (303) 555-0101',
    '303.555.0101 / 303.555.0102',
    '303–555–0101',
  ])('of phones are known however the numbers are dressed: %s', (value) =>
    expect(targets(['Name', 'Phone number'], [['Ada', value]])).toEqual(['full_name', 'number']),
  );

  it('that say something about a phone are none, also where they are empty', () =>
    expect(targets(['Phone type', 'Phone', 'Mobile carrier', 'SMS consent date'], [])).toEqual([
      ...['skip', 'number', 'skip', 'skip'],
    ]));

  it('of dates say which order they are in, or that they do not', () => {
    const order = (...values: string[]) =>
      guessColumns(
        ['Born'],
        values.map((value) => [value]),
        [],
      )[0]!;
    expect(order('25/03/1990', '01/02/1991')).toMatchObject({
      kind: 'date',
      order: 'day-month',
      orders: ['day-month'],
    });
    expect(order('03/25/1990')).toMatchObject({ order: 'month-day' });
    expect(order('03/04/1990')).toMatchObject({ order: null, orders: ['day-month', 'month-day'] });
    expect(order('25/03/1990', '03/25/1990')).toMatchObject({ order: null, orders: 'mixed' });
  });

  it.each<[string[], string[][], boolean]>([
    [['Name', 'Phone'], [['Ana', '3035550123']], true],
    [['Ana', '3035550123'], [['Ben', '3035550124']], false],
    [['Ana', 'ana@example.org'], [], false],
    [['Who', 'Reach'], [['Ana', '3035550123']], true],
    [['', ''], [], false],
  ])('%j is a header: %#', (first, rows, header) => expect(isHeader(first, rows)).toBe(header));

  const guesses = guessColumns(['Phone', 'Born'], [['3035550123', '03/04/1990']], []);
  it.each<[string, ColumnMap[], RegExp | null]>([
    ['no number', [{ to: 'skip' }, { to: 'skip' }], /which column holds/],
    ['two numbers', [{ to: 'number' }, { to: 'number' }], /only one/],
    ['a new field without a name', [{ to: 'number' }, { to: 'new', kind: 'text' }], /name and a kind/],
    [
      'dates nothing decides',
      [{ to: 'number' }, { to: 'new', label: 'Born', kind: 'date' }],
      /day first or month first/,
    ],
    [
      'dates with their order',
      [{ to: 'number' }, { to: 'new', label: 'Born', kind: 'date', order: 'day-month' }],
      null,
    ],
    ['a column left out', [{ to: 'number' }, { to: 'skip' }], null],
  ])('are asked about: %s', (_, mapping, message) => {
    const problem = mappingProblem(mapping, guesses);
    if (message) expect(problem?.message).toMatch(message);
    else expect(problem).toBeNull();
  });
});

describe('the header', () => {
  const DATA = [
    ['Ana', 'Ruiz', '(303) 555-0142'],
    ['Ben', 'Cole', '(303) 555-0143'],
    ['Cy', 'Dunn', '(303) 555-0144'],
  ];
  it.each<[string, string[][], number]>([
    ['stands first', [['First', 'Last', 'Mobile'], ...DATA], 0],
    [
      'stands below titles',
      [['Visitor export 2026'], ['20 November'], ['First', 'Last', 'Mobile'], ...DATA],
      2,
    ],
    ['is not a title that sounds like one', [['Phone list'], ['First', 'Last', 'Mobile'], ...DATA], 1],
    [
      'stands below one of groups of columns',
      [['Person', '', 'Contact'], ['First', 'Last', 'Mobile'], ...DATA],
      1,
    ],
    ['is not there', DATA, -1],
    ['is not there, below a title', [['Visitor export'], ...DATA], -1],
    ['is one word where the table is one column', [['Phone'], ['(303) 555-0142'], ['(303) 555-0143']], 0],
    ['of other words is told by what stands below', [['Export'], ['Wer', 'Wohin', 'Nr'], ...DATA], 1],
  ])('%s', (_, rows, at) => expect(findHeader(rows)).toBe(at));
});
