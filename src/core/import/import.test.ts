import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { dateOrders, keyOf, readDate, readOwnValue } from '../people/values';
import { parseNumber } from '../phone/number';
import { guessColumns, isHeader, mappingProblem, type ColumnMap } from './columns';
import { changesOf, decideRow, findingOf, type KnownPerson } from './decide';
import { readFileNumber, readRow, splitName, type RowPerson } from './row';

describe('numbers as files hold them', () => {
  it.each<[string, string, RegExp | null]>([
    ['(303) 555-0123', '+13035550123', null],
    ['303.555.0123', '+13035550123', null],
    ['1 303 555 0123', '+13035550123', null],
    ['+1-303-555-0123', '+13035550123', null],
    ['3035550123.0', '+13035550123', /\.0/],
    ['13035550123.00', '+13035550123', /\.0/],
    ['1.3035550123E+10', '+13035550123', /spreadsheet/],
    ['1,3035550123E10', '+13035550123', /spreadsheet/],
    ['3.035550123e+9', '+13035550123', /spreadsheet/],
    ['="3035550123"', '+13035550123', null],
    ["'3035550123", '+13035550123', null],
    ['tel:+13035550123', '+13035550123', null],
    ['303-555-0123 ext. 45', '+13035550123', /extension 45/],
    ['303-555-0123x45', '+13035550123', /extension 45/],
    ['(303) 555-0123 extension:7', '+13035550123', /extension 7/],
    ['1-303-KLM-0123', '+13035560123', /keys/],
    ['442071838750', '+442071838750', /plus/],
    ['+44 20 7183 8750', '+442071838750', null],
    ['３０３ ５５５ ０１２３', '+13035550123', null],
  ])('%s is %s', (raw, number, told) => {
    const read = readFileNumber(raw, 'US');
    expect(read.ok && read.value.number).toBe(number);
    if (told) expect(read.ok && read.value.told.join()).toMatch(told);
    else expect(read.ok && read.value.told).toEqual([]);
  });

  it.each([
    ['', 'number-empty'],
    ['none', 'number-unreadable'],
    ['555-0123', 'number-too-short'],
    ['103 555 0123', 'number-impossible'],
    // Digits were lost: no number can be made of it without a guess.
    ['1.30356E+10', 'number-impossible'],
    ['ana@example.org', 'number-unreadable'],
  ])('%s is refused: %s', (raw, reason) => expect(readFileNumber(raw, 'US')).toEqual({ ok: false, reason }));

  it('agree with the library on everything of ten digits, however it is set', () => {
    const dress = fc.constantFrom(
      ['(', ') ', '-'],
      ['', '-', '-'],
      ['', '.', '.'],
      ['', ' ', ' '],
      ['', '', ''],
    );
    fc.assert(
      fc.property(
        fc.stringMatching(/^\d{10}$/),
        dress,
        fc.constantFrom('', '+1 ', '1-', '+1'),
        (digits, [a, b, c], country) => {
          const text = `${country}${a}${digits.slice(0, 3)}${b}${digits.slice(3, 6)}${c}${digits.slice(6)}`;
          const mine = readFileNumber(text, 'US');
          const theirs = parseNumber(text, 'US');
          expect(mine.ok ? mine.value.number : null).toBe(theirs.ok ? theirs.value : null);
        },
      ),
    );
  });

  it('are never read from a text without being possible, whatever the text', () => {
    fc.assert(
      fc.property(fc.string(), (text) => {
        const read = readFileNumber(text, 'US');
        if (read.ok) expect(read.value.number).toMatch(/^\+[1-9]\d{6,14}$/);
      }),
    );
  });
});

describe('columns', () => {
  const own = [{ key: 'favourite_planet', label: 'Favourite planet', kind: 'text' as const }];
  const targets = (header: string[] | null, rows: string[][]) =>
    guessColumns(header, rows, own).map(({ to }) => to);

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
      'number',
      'further',
      'email',
      'further',
      'further',
    ]);
  });

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

describe('a row', () => {
  const own = new Map([
    ['born', { key: 'born', label: 'Born', kind: 'date' as const, options: [] }],
    [
      'planets',
      { key: 'planets', label: 'Planets', kind: 'several-of' as const, options: ['Mars', 'Venus'] },
    ],
  ]);
  const mapping: ColumnMap[] = [
    { to: 'full_name' },
    { to: 'number' },
    { to: 'email' },
    { to: 'region' },
    { to: 'postal_code' },
    { to: 'own.born', order: 'day-month' },
    { to: 'own.planets' },
    { to: 'tags' },
  ];
  const row = (...cells: string[]) => readRow(cells, mapping, own, 'US');

  it('is read as it was mapped', () => {
    expect(
      row(
        'Ortiz, Ana',
        '303 555 0123',
        'ana@example.org',
        'colorado',
        '1201',
        '25/03/1990',
        'mars; VENUS',
        'walks, members',
      ),
    ).toEqual({
      ok: true,
      value: {
        number: '+13035550123',
        further: [],
        first_name: 'Ana',
        last_name: 'Ortiz',
        email: 'ana@example.org',
        region: 'CO',
        postal_code: '01201',
        fields: { born: '1990-03-25', planets: ['Mars', 'Venus'] },
        tags: ['walks', 'members'],
        told: [],
      },
    });
  });

  it('leaves out what cannot be, tells it, and keeps the rest', () => {
    const read = row('Ana', '3035550123', 'ana(at)example', 'Bavaria', 'x', '31/02/1990', 'Pluto', '');
    expect(read.ok && read.value).toMatchObject({ number: '+13035550123', first_name: 'Ana', fields: {} });
    const told = read.ok ? read.value.told.join('\n') : '';
    for (const part of [
      'no e-mail address',
      'no state',
      'no postal code',
      'does not exist',
      'not one of the choices',
    ])
      expect(told).toContain(part);
  });

  it('that is short is read as far as it goes; empty cells say nothing', () => {
    const read = row('', '3035550123');
    expect(read.ok && Object.keys(read.value).sort()).toEqual([
      'fields',
      'further',
      'number',
      'tags',
      'told',
    ]);
  });

  describe('by its addresses', () => {
    const addresses: ColumnMap[] = [{ to: 'number' }, { to: 'email' }, { to: 'further' }, { to: 'further' }];
    const read = (...cells: string[]) => readRow(cells, addresses, new Map(), 'US');

    it('needs a number or an e-mail address, no more', () => {
      expect(read('', ' Ana@Example.ORG ')).toMatchObject({
        ok: true,
        value: { number: null, email: 'ana@example.org' },
      });
      expect(read('', '')).toMatchObject({ ok: false });
      expect(read('', 'nobody')).toMatchObject({
        ok: false,
        reason: expect.stringContaining('nobody') as string,
      });
      // A number that was meant and is wrong is not passed over in silence.
      expect(read('12', 'ana@example.org')).toMatchObject({ ok: false });
    });

    it('keeps every further one, and tells what is none', () => {
      expect(read('3035550123', '', '303 555 0124; Bo@example.org', 'none')).toMatchObject({
        ok: true,
        value: {
          further: [
            { kind: 'number', value: '+13035550124' },
            { kind: 'email', value: 'bo@example.org' },
          ],
          told: ['“none” is neither a number nor an e-mail address and was left out'],
        },
      });
    });
  });

  it('without null characters, however many come', () => {
    const read = row('A\0na', '303\x00555 0123');
    expect(read.ok && read.value.first_name).toBe('Ana');
  });

  it.each([
    ['Ana Ortiz', ['Ana', 'Ortiz']],
    ['Ana María Ortiz', ['Ana María', 'Ortiz']],
    ['Ortiz, Ana', ['Ana', 'Ortiz']],
    ['Ana', ['Ana', null]],
  ])('%s is split', (text, names) => expect(splitName(text)).toEqual(names));
});

describe('values of own fields', () => {
  it.each<[Parameters<typeof readOwnValue>[0], string, unknown]>([
    [{ kind: 'number', options: [] }, '1,250.50', '1250.5'],
    [{ kind: 'number', options: [] }, '007', '7'],
    [{ kind: 'number', options: [] }, '-0', '0'],
    [{ kind: 'number', options: [] }, '1,25', null],
    [{ kind: 'number', options: [] }, 'many', null],
    [{ kind: 'date', options: [] }, '2026-11-24', '2026-11-24'],
    [{ kind: 'date', options: [] }, '2026/1/4 10:30', '2026-01-04'],
    [{ kind: 'date', options: [] }, '24/11/2026', null],
    [{ kind: 'date', options: [] }, '2026-02-31', null],
    [{ kind: 'yes-no', options: [] }, 'Y', 'yes'],
    [{ kind: 'yes-no', options: [] }, 'FALSE', 'no'],
    [{ kind: 'yes-no', options: [] }, 'perhaps', null],
    [{ kind: 'one-of', options: ['Mars'] }, 'MARS', 'Mars'],
    [{ kind: 'one-of', options: ['Mars'] }, 'Pluto', null],
    [{ kind: 'several-of', options: ['Mars', 'Venus'] }, 'venus|mars', ['Mars', 'Venus']],
    [{ kind: 'several-of', options: ['Mars, the red'] }, 'mars, the red', ['Mars, the red']],
    [{ kind: 'text', options: [] }, ` ${'e\u0301'} `, 'é'],
    [{ kind: 'text', options: [] }, 'x'.repeat(501), null],
  ])('%j of %s', (field, raw, value) => {
    const read = readOwnValue(field, raw);
    expect(read.ok ? read.value : null).toEqual(value);
  });

  it('read again what they wrote', () => {
    fc.assert(
      fc.property(fc.constantFrom('text', 'number', 'date', 'yes-no'), fc.string(), (kind, raw) => {
        const once = readOwnValue({ kind, options: [] }, raw);
        if (once.ok && typeof once.value === 'string')
          expect(readOwnValue({ kind, options: [] }, once.value)).toEqual(once);
      }),
    );
  });

  it('know the orders of dates', () => {
    expect(dateOrders(['2026-11-24'])).toEqual(['day-month', 'month-day']);
    expect(readDate('31/02/2026', 'day-month')).toEqual({ ok: false, reason: 'day-does-not-exist' });
    expect(readDate('02/31/2026', 'month-day')).toEqual({ ok: false, reason: 'day-does-not-exist' });
  });

  it.each([
    ['Favourite planet', [], 'favourite_planet'],
    ['Favourite planet', ['favourite_planet'], 'favourite_planet_2'],
    ['Größe (cm)', [], 'gro_e_cm'],
    ['1st visit', [], 'field_1st_visit'],
    ['行', [], 'field'],
  ])('get a key from %s', (label, taken, key) => expect(keyOf(label, taken)).toBe(key));
});

describe('what becomes of a row', () => {
  const row = (more: Partial<RowPerson> = {}): RowPerson => ({
    number: '+13035550123' as RowPerson['number'],
    further: [],
    fields: {},
    tags: [],
    told: [],
    ...more,
  });
  const known = (more: Partial<KnownPerson> = {}): KnownPerson => ({
    id: 'p',
    firstName: 'Ana',
    lastName: null,
    email: null,
    region: null,
    postalCode: null,
    fields: { planet: 'Mars' },
    stopped: false,
    consent: 'none',
    erased: false,
    shared: false,
    further: [],
    ...more,
  });

  it.each<[string, Partial<RowPerson>, KnownPerson | null, boolean, string]>([
    ['somebody new', {}, null, true, 'add'],
    ['a value that is new', { last_name: 'Ortiz' }, known(), true, 'update'],
    ['nothing new', { first_name: 'Ana' }, known(), true, 'same'],
    ['somebody here, who is to be left', { last_name: 'Ortiz' }, known(), false, 'left-alone'],
    ['who opted out of the program', { last_name: 'Ortiz' }, known({ consent: 'out' }), true, 'opted-out'],
    ['a further address', { further: [{ kind: 'number', value: '+13035550188' }] }, known(), true, 'update'],
    [
      'a further address that is there',
      { further: [{ kind: 'number', value: '+13035550188' }] },
      known({ further: ['+13035550188'] }),
      true,
      'same',
    ],
    [
      'one of several with an e-mail address',
      { last_name: 'Ortiz' },
      known({ shared: true }),
      true,
      'left-alone',
    ],
    ['who left altogether', {}, known({ stopped: true }), true, 'opted-out'],
    ['who asked to be erased', {}, known({ erased: true }), true, 'opted-out'],
  ])('%s', (_, more, person, update, verdict) =>
    expect(decideRow(row(more), person, update).verdict).toBe(verdict),
  );

  it('says each change before and after, and never empties a field', () => {
    expect(changesOf(row({ first_name: 'Anna', fields: { planet: 'Venus', visits: '3' } }), known())).toEqual(
      {
        first_name: ['Ana', 'Anna'],
        'own.planet': ['Mars', 'Venus'],
        'own.visits': [null, '3'],
      },
    );
  });

  it('never turns on who is off, whatever the file says', () => {
    fc.assert(
      fc.property(
        fc.record({ first_name: fc.string(), postal_code: fc.string() }),
        fc.boolean(),
        fc.constantFrom({ consent: 'out' as const }, { stopped: true }, { erased: true }),
        (more, update, off) => {
          expect(decideRow(row(more), known(off), update)).toEqual({ verdict: 'opted-out', changes: {} });
        },
      ),
    );
  });

  it.each([
    ['add', 'mobile', true, 'textable'],
    ['add', 'mobile', false, 'no consent'],
    ['add', 'landline', true, 'landline'],
    ['same', null, false, 'already there'],
    ['update', 'mobile', true, 'textable'],
    ['invalid', null, true, 'invalid'],
    ['duplicate', null, true, 'duplicate in file'],
    ['left-alone', null, true, 'already there'],
    ['opted-out', 'mobile', true, 'opted out'],
  ] as const)('%s, %s, consent %s: %s', (verdict, type, consent, finding) =>
    expect(findingOf(verdict, { lineType: type, consented: consent, number: '+1' })).toBe(finding),
  );
});
