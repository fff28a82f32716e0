import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parseNumber } from '../phone/number';
import { type ColumnMap } from './columns';
import { readFileNumber } from './number-cell';
import { readRow } from './row';

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
    ['303-555-0123 (cell)', '+13035550123', null],
    ['303-555-0123 work', '+13035550123', null],
    ['Cell: (303) 555-0123', '+13035550123', null],
    ['h 303-555-0123', '+13035550123', null],
    ['303–555–0123', '+13035550123', null],
    ['001 303 555 0123', '+13035550123', /00 .* read as \+/],
    ['0044 20 7183 8750', '+442071838750', /00/],
    ['1-303-KLM-0123', '+13035560123', /keys/],
    ['303-555-STAR', '+13035557827', /keys/],
    // A word beside a whole number is a note: it was read as keys, and made a number of somebody in Greece.
    ['303-555-0123 mom', '+13035550123', /“mom” was left out/],
    ['(303) 555-0123 Ana', '+13035550123', /“Ana” was left out/],
    ['303-555-0123 (her sister)', '+13035550123', /“her sister” was left out/],
    ['Ana: 303-555-0123', '+13035550123', /“Ana” was left out/],
    ['303-555-0123 (opted out)', '+13035550123', null],
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
    // O is on the key of 6, and was meant as 0.
    ['303-555-O123', 'number-with-letters'],
    ['303-555-0I23', 'number-with-letters'],
    ['303-555-0123 (wrong number)', 'number-given-up'],
    ['303-555-0123 disconnected', 'number-given-up'],
    ['fax 303-555-0123', 'number-given-up'],
    ['old: 303-555-0123', 'number-given-up'],
    ['303-555-0123 666', 'number-too-long'],
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

  it('knows a day that a spreadsheet counted, and tells it', () => {
    expect(row('Ana', '3035550123', '', '', '', '32957', '', '')).toMatchObject({
      value: { fields: { born: '1990-03-25' }, told: ['“32957” is 1990-03-25, as programs count days'] },
    });
    // Elsewhere five digits are what they are, and a row that is refused says why.
    expect(row('32957', '3035550123', '', '', '32957', '', '', '')).toMatchObject({
      value: { postal_code: '32957', told: [] },
    });
    const refused = readRow(['x', '32957'], [{ to: 'email' }, { to: 'own.born' }], own, 'US');
    expect(refused).toMatchObject({ ok: false, reason: expect.stringContaining('e-mail') as string });
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

    it('has the number of another column where its own is empty', () => {
      expect(read('', '', '(303) 555-0124', '303 555 0125')).toMatchObject({
        ok: true,
        value: {
          number: '+13035550124',
          further: [{ kind: 'number', value: '+13035550125' }],
          told: ['the number stands in another column, and is theirs'],
        },
      });
      expect(read('', '', 'call the desk', '')).toMatchObject({ ok: false });
      // What was meant and is wrong stays so.
      expect(read('12', '', '(303) 555-0124')).toMatchObject({ ok: false });
    });

    it.each([
      ['303-555-0123; 303-555-0124', ['+13035550124']],
      ['(303) 555-0123, (303) 555-0124', ['+13035550124']],
      ['303.555.0123 / 303.555.0124', ['+13035550124']],
      ['3035550123 or 3035550124', ['+13035550124']],
      ['+1 303 555 0123 ::: +1 303 555 0124 ::: +1 303 555 0125', ['+13035550124', '+13035550125']],
      ['home: none, 3035550123', []],
    ])('are several in one place: %s', (cell, further) => {
      const found = read(cell, '');
      expect(found).toMatchObject({ ok: true, value: { number: '+13035550123' } });
      if (!found.ok) return;
      expect(found.value.further.map(({ value }) => value)).toEqual(further);
      expect(found.value.told[0]).toBe('several numbers stood in one place: the first is theirs');
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

  it.each([
    ['pt_br', 'pt-BR'],
    ['ES', 'es'],
    ['zh-hans-cn', 'zh-Hans-CN'],
    ['Spanish', undefined],
    ['??', undefined],
  ])('language %s is %s', (cell, language) => {
    const found = readRow(['3035550123', cell], [{ to: 'number' }, { to: 'language' }], new Map(), 'US');
    expect(found.ok && found.value.language).toBe(language);
  });

  it('without null characters, however many come', () => {
    const read = row('A\0na', '303\x00555 0123');
    expect(read.ok && read.value.first_name).toBe('Ana');
  });

  it.each([
    ['303-555-0123 (do not text)', 'left'],
    ['DNC 303-555-0123', 'left'],
    ['303-555-0123 (no mandar mensajes)', 'unclear'],
    ['303-555-0123', undefined],
  ])('whose number stands as %s says %s', (cell, permission) => {
    const found = readRow([cell, 'yes'], [{ to: 'number' }, { to: 'agreed' }], new Map(), 'US');
    expect(found.ok && found.value).toMatchObject({
      number: '+13035550123',
      permission: permission ?? 'agreed',
    });
  });

  it.each([
    ['Please don’t text her at work', 'unclear'],
    ['Hates texting', 'unclear'],
    ['e-mail only', 'unclear'],
    ['Call, not text', 'unclear'],
    ['Cannot receive texts', 'unclear'],
    ['Texted us first', 'agreed'],
    ['Phone', 'agreed'],
    ['did not text back', 'agreed'],
    ['I agree to texts about the sky. Reply STOP to stop texts.', 'agreed'],
    ['opted out', 'agreed'],
  ])('with the note “%s” in any column is %s', (note, permission) => {
    const mapping: ColumnMap[] = [{ to: 'number' }, { to: 'agreed' }, { to: 'skip' }];
    const found = readRow(['303-555-0123', 'yes', note], mapping, new Map(), 'US');
    expect(found.ok && found.value.permission).toBe(permission);
  });

  it('with cells of a million characters is read, whatever they repeat', () => {
    const again = (text: string) => text.repeat(Math.ceil(1e6 / text.length));
    const cells = [
      '(',
      '(a',
      'a ',
      '1 a',
      '<@',
      'x,MD,',
      'mr ',
      '[',
      ' - ',
      '303 555 0123 a; ',
      "O'",
      '@;',
      'a@example.org;',
      'do not ',
      'no ',
      'no-a',
      'stop by email or ',
      'sms : ',
    ];
    for (const to of [
      'number',
      'full_name',
      'email',
      'further',
      'region',
      'zone',
      'postal_code',
      'tags',
      'agreed_on',
    ] as const)
      for (const cell of cells) {
        const read = readRow(['ana@example.org', again(cell)], [{ to: 'email' }, { to }], new Map(), 'US');
        if (!read.ok) continue;
        expect(read.value.told.join().length).toBeLessThan(5_000);
        expect(read.value.further.length).toBeLessThanOrEqual(10);
      }
  });

  it('with a number that is theirs no more is known by their e-mail address, and told', () => {
    const mapping: ColumnMap[] = [{ to: 'number' }, { to: 'email' }];
    const found = readRow(['303-555-0123 (old)', 'ana@example.org'], mapping, new Map(), 'US');
    expect(found.ok && found.value).toMatchObject({
      number: null,
      email: 'ana@example.org',
      told: [expect.stringContaining('theirs no more') as string],
    });
    expect(readRow(['303-555-0123 (old)', ''], mapping, new Map(), 'US').ok).toBe(false);
  });

  it.each([
    ['Ana <ana@example.org>', 'ana@example.org', []],
    ['ana@example.org (work).', 'ana@example.org', []],
    ['Ortiz, Ana <ana@example.org>; ben@example.org', 'ana@example.org', ['ben@example.org']],
    ['ana@example.org, ben@', 'ana@example.org', []],
  ])('e-mail cell %s holds %s', (cell, email, others) => {
    const found = readRow(['3035550123', cell], [{ to: 'number' }, { to: 'email' }], new Map(), 'US');
    expect(found.ok && found.value.email).toBe(email);
    expect(found.ok && found.value.further.map(({ value }) => value)).toEqual(others);
  });

  it.each([
    ['region', 'US-CO', 'CO'],
    ['region', 'Colorado, USA', 'CO'],
    ['region', 'New  Mexico', 'NM'],
    ['region', 'CO 80202', 'CO'],
    ['postal_code', 'CO 80202', '80202'],
    ['postal_code', '802021234', '80202-1234'],
    ['zone', '(GMT-07:00) Mountain Time (US & Canada)', 'America/Denver'],
    ['zone', 'Eastern Standard Time', 'America/New_York'],
    ['zone', 'Sirius', undefined],
  ] as const)('%s %s is %s', (to, cell, value) => {
    const found = readRow(['3035550123', cell], [{ to: 'number' }, { to }], new Map(), 'US');
    expect(found.ok && found.value[to]).toBe(value);
  });

  it.each([
    ['DO NOT TEXT Ana', ''],
    ['Ana Ortiz (opted out)', ''],
    ['Ana', 'VIP; Do Not Text'],
    ['Ana', 'sms opt-out'],
    ['Ana', 'unsubscribed'],
  ])('of %s, tagged %j, says that they left', (who, tags) => {
    const mapping = [{ to: 'number' }, { to: 'full_name' }, { to: 'tags' }, { to: 'agreed' }] as const;
    const found = readRow(['3035550123', who, tags, 'yes'], [...mapping], new Map(), 'US');
    expect(found.ok && found.value).toMatchObject({ permission: 'left', first_name: 'Ana' });
  });

  it.each([
    ['Ana Stoppard', 'non-stop; block party'],
    ['Ana Outley', 'e-mail opt-out; came to a stop'],
  ])('of %s, tagged %j, says nothing of it', (who, tags) => {
    const mapping = [{ to: 'number' }, { to: 'full_name' }, { to: 'tags' }] as const;
    const found = readRow(['3035550123', who, tags], [...mapping], new Map(), 'US');
    expect(found.ok && found.value.permission).toBeUndefined();
  });
});
