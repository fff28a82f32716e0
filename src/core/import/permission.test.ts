import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { guessColumns, mappingProblem } from './columns';
import { leastOf, mayMeanNoTexts, permissionColumn, readPermission, type Permission } from './permission';
import { readRow } from './row';

describe('what a file says of being texted', () => {
  it.each<[Permission, string[]]>([
    [
      'agreed',
      [
        'yes',
        'Y',
        'TRUE',
        '1',
        'x',
        'Opted in',
        'opt-in',
        'Subscribed',
        'Yes, text me',
        'I agree',
        'sí',
        '2026-03-01',
        '3/1/26 9:14 AM',
      ],
    ],
    [
      'declined',
      ['', 'no', 'N', 'False', '0', 'No thanks', 'never', 'pending', 'n/a', '-', 'Not opted in', 'bounced'],
    ],
    [
      'left',
      [
        'unsubscribed',
        'Opted Out',
        'OPT-OUT',
        'STOP',
        'do_not_text',
        'DNC',
        'removed 2026-02-01',
        'désinscrit',
      ],
    ],
    ['unclear', ['maybe', 'see notes', '7', 'blue']],
  ])('%s, in a column of who agreed', (permission, cells) => {
    for (const cell of cells) expect([cell, readPermission('agreed', cell)]).toEqual([cell, permission]);
  });

  it.each<[Permission | null, string[]]>([
    ['left', ['yes', 'x', '1', 'TRUE', '2026-02-01', '2/1/2026 10:00', 'opted out', 'STOP']],
    [null, ['', 'no', 'FALSE', '0', 'n/a', 'Not unsubscribed']],
    ['unclear', ['maybe', 'ask Ana']],
  ])('%s, in a column of who left', (permission, cells) => {
    for (const cell of cells) expect([cell, readPermission('left', cell)]).toEqual([cell, permission]);
  });

  it('permits nothing by words that nobody foresaw', () => {
    fc.assert(
      fc.property(fc.stringMatching(/^[b-mp-rt-wz]{3,12}$/), (word) => {
        expect(['unclear', 'declined', 'left']).toContain(readPermission('agreed', word));
      }),
    );
  });

  it('of several columns counts what permits least', () => {
    expect(leastOf(['agreed', null, 'left'])).toBe('left');
    expect(leastOf(['agreed', 'declined'])).toBe('declined');
    expect(leastOf(['agreed', null])).toBe('agreed');
    expect(leastOf([null])).toBeNull();
  });
});

describe('a column of it', () => {
  it.each<[string, string[], ReturnType<typeof permissionColumn>]>([
    ['sms opt in', ['yes', 'no'], 'agreed'],
    ['opted in?', [], 'agreed'],
    ['may we text you', ['Yes, text me', 'No thanks'], 'agreed'],
    ['sms consent', ['TRUE', ''], 'agreed'],
    ['subscription status', ['subscribed', 'unsubscribed'], 'agreed'],
    ['status', ['Subscribed', 'Unsubscribed'], 'agreed'],
    ['do you agree to get text messages', ['Yes'], 'agreed'],
    ['subscribed?', ['TRUE', 'FALSE'], 'agreed'],
    [
      'by checking this box you agree to receive text messages. msg & data rates may apply',
      ['I agree'],
      'agreed',
    ],
    ['unsubscribed', ['', '2026-01-02'], 'left'],
    ['opted out', ['yes'], 'left'],
    ['opt out date', ['', '1/2/2026'], 'left'],
    ['do not text', ['x'], 'left'],
    ['opt in date', ['2026-01-02'], 'agreed_on'],
    ['sms consent timestamp', ['2026-01-02 10:22:33'], 'agreed_on'],
    ['subscribed at', ['Jan 2, 2026 4:15 PM'], 'agreed_on'],
    ['date of consent', ['3/4/2026', '12/31/2025'], 'agreed_on'],
    ['opted in', ['3/4/2026'], 'agreed_on'],
    ['opt in date', ['web form'], null],
    ['email opt in date', ['2026-01-02'], null],
    // Nothing of the kind: when and how it was, what else they agreed to, and what only sounds so.
    ['consent source', ['web'], null],
    ['email opt in', ['yes'], null],
    ['opt out reason', ['moved'], null],
    ['status', ['Active', 'Gold'], null],
    ['consent', ['I agree to be photographed at the site', 'see file', 'see file 2'], null],
    ['text', ['hello'], null],
  ])('%s, %j: %s', (words, values, column) => expect(permissionColumn(words, values)).toBe(column));

  it('is proposed beside the others, and read of every row', () => {
    const rows = [
      ['(303) 555-0101', 'Y', ''],
      ['(303) 555-0102', 'N', ''],
      ['(303) 555-0103', 'Y', '2026-02-01'],
      ['(303) 555-0104', 'hm', ''],
      ['(303) 555-0105', '', ''],
    ];
    const columns = guessColumns(['Mobile', 'SMS opt-in', 'Opted out on'], rows, []);
    expect(columns.map(({ to }) => to)).toEqual(['number', 'agreed', 'left']);
    const read = rows.map((row) => {
      const person = readRow(row, columns, new Map(), 'US');
      return person.ok && [person.value.permission, person.value.told.length];
    });
    expect(read).toEqual([
      ['agreed', 0],
      ['declined', 1],
      ['left', 1],
      ['unclear', 1],
      ['declined', 1],
    ]);
  });
});

describe('the day on which they agreed', () => {
  const rows = [
    ['(303) 555-0101', '3/25/2024'],
    ['(303) 555-0102', ''],
    ['(303) 555-0103', '12/31/2099'],
    ['(303) 555-0104', 'no'],
    ['(303) 555-0105', 'Mar 5, 2024'],
  ];
  const [phone, day] = guessColumns(['Mobile', 'Opt-in date'], rows.slice(0, 1), []);

  it('is read of each row: no day is no consent, and one that is still to come says nothing', () => {
    expect(day).toMatchObject({ to: 'agreed_on', order: 'month-day' });
    const named = {
      stages: new Map<string, string>(),
      owners: new Map<string, string>(),
      today: '2026-11-30',
    };
    const read = rows.map((row) => {
      const person = readRow(row, [phone!, day!], new Map(), 'US', named);
      return person.ok && [person.value.permission, person.value.agreed_on];
    });
    expect(read).toEqual([
      ['agreed', '2024-03-25'],
      ['declined', undefined],
      ['unclear', undefined],
      ['declined', undefined],
      ['agreed', '2024-03-05'],
    ]);
  });

  it('is read where the export lost the dress of its dates', () => {
    const guesses = guessColumns(['Mobile', 'Opt-in date'], [['(303) 555-0101', '45376']], []);
    expect(guesses[1]).toMatchObject({ to: 'agreed_on', orders: [] });
    expect(mappingProblem(guesses, guesses)).toBeNull();
    const named = { stages: new Map(), owners: new Map(), today: '2026-11-30' };
    const agreed = (cell: string) => readRow(['(303) 555-0101', cell], guesses, new Map(), 'US', named);
    expect(agreed('45376')).toMatchObject({ value: { permission: 'agreed', agreed_on: '2024-03-25' } });
    expect(agreed('1711361520')).toMatchObject({ value: { permission: 'agreed', agreed_on: '2024-03-25' } });
    const stamped = guessColumns(['Mobile', 'Opt-in timestamp'], [['(303) 555-0101', '1711361520']], []);
    expect(stamped[1]!.to).toBe('agreed_on');
    expect(agreed('63000')).toMatchObject({ value: { permission: 'unclear' } });
    expect(agreed('4537')).toMatchObject({ value: { permission: 'unclear' } });
  });

  it.each([
    '2024-03-25T10:12:00Z',
    '3/25/2024 10:12',
    'Mar 25, 2024',
    '25 March 2024 10:12',
    '45376',
    '45376.4251',
    '1711361520',
    '1711361520123',
    'Mon, 25 Mar 2024 10:12:00 GMT',
    'Monday, March 25, 2024 at 10:12 AM',
  ])('%s in a column of who left: they left', (cell) => {
    for (const header of [
      'Unsubscribed at',
      'Opt-out date',
      'opted_out_on',
      'Unsub',
      'STOP',
      'Blacklisted',
    ]) {
      const guesses = guessColumns(
        ['Mobile', header],
        [
          ['(303) 555-0101', cell],
          ['(303) 555-0102', ''],
        ],
        [],
      );
      expect(guesses[1]!.to).toBe('left');
      const permission = (said: string) => {
        const read = readRow(['(303) 555-0101', said], guesses, new Map(), 'US');
        return read.ok ? (read.value.permission ?? null) : read.reason;
      };
      expect([permission(cell), permission('')]).toEqual(['left', null]);
    }
  });

  it('is never passed over where it says when they left: what cannot be read brings no consent', () => {
    const rows = [
      ['(303) 555-0101', 'KW 13'],
      ['(303) 555-0102', 'last spring'],
    ];
    const guesses = guessColumns(['Mobile', 'Unsubscribe date'], rows, []);
    expect(guesses[1]!.to).toBe('left');
    const read = rows.map((row) => readRow(row, guesses, new Map(), 'US'));
    expect(read.map((row) => row.ok && row.value.permission)).toEqual(['unclear', 'unclear']);
    // Words about leaving are something else.
    const words = [['(303) 555-0101', 'Reply to end']];
    expect(guessColumns(['Mobile', 'Opt-out message'], words, [])[1]!.to).toBe('skip');
  });

  it('asks for the order of its numbers where nothing decides it', () => {
    const guesses = guessColumns(['Mobile', 'Opt-in date'], [['(303) 555-0101', '3/4/2024']], []);
    expect(mappingProblem(guesses, guesses)?.message).toContain('day first or month first');
  });

  it('stands beside several columns that say whether they agreed', () => {
    const guesses = guessColumns(
      ['Mobile', 'SMS opt-in', 'Text consent', 'Consent date'],
      [['(303) 555-0101', 'yes', 'TRUE', '2024-03-04']],
      [],
    );
    expect(guesses.map(({ to }) => to)).toEqual(['number', 'agreed', 'agreed', 'agreed_on']);
    expect(mappingProblem(guesses, guesses)).toBeNull();
  });
});

describe('a note in any other column', () => {
  it.each([
    ...[
      "please don't send me text messages",
      'She asked that we not text',
      'does not want texts',
      'no txts pls',
    ],
    ...[
      'texting is not allowed at my job',
      'Client declined texts 3/2',
      'opted out of texts in march',
      'SMS: no',
    ],
    ...['said stop texting', 'email me instead of texting', 'prefers calls to texts', 'calls only please'],
    ...['my phone does not get texts', 'not a fan of text messages', 'DO-NOT-TEXT', 'not reachable by text'],
    ...['no me manden textos', 'no le gustan los mensajes de texto', 'que no le escriban', 'sólo por correo'],
    ...['llamar, no textear', 'sin mensajes de texto', 'dijo que no más mensajes', 'llamar solamente'],
    ...['ne pas texter', "ne m'envoyez pas de messages texte", 'par courriel uniquement', 'plus de sms svp'],
    ...['préfère les courriels aux sms', 'appeler seulement', 'keine SMS bitte', 'took herself off texts'],
  ])('may mean that they want no texts: %s', (note) => expect(mayMeanNoTexts(note)).toBe(true));

  it.each([
    ...[
      'no problem with texts',
      'not sure if texts arrive',
      "didn't get the last text",
      'she never got our texts in may',
    ],
    ...[
      "please text, don't call",
      'no phone calls please text',
      'no email on file, uses text',
      'text, not email',
    ],
    ...[
      'No answer - text sent',
      'stop by the office, text first',
      'email only if you have pictures',
      'only call if it rains',
    ],
    ...['Reply STOP to opt out of texts', 'consent is not a condition to get texts', 'did not text back'],
    ...['hates spam but texts are ok', 'wants text alerts only', 'no show in march', 'no message left'],
    ...['solo mensajes, no llamadas', 'no tengo correo, mándenme un texto', 'no hay problema con los textos'],
    ...["pas d'appels, sms seulement", 'pas de problème, sms ok', 'sms de préférence'],
  ])('says nothing of the kind: %s', (note) => expect(mayMeanNoTexts(note)).toBe(false));
});
