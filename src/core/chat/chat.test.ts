import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { DAY, HOUR } from '../shared/instant';
import { checkChat, type ToCheck } from './check';
import { parseChatId } from './chat-id';
import { readAccount, USUAL_LIMITS } from './network';
import { filling, languageFor, piecesOf, wholeText, type Button } from './template';
import { begins, mayBeginAt, openUntil } from './window';
import { WORDING_MOVES, wordingAfter, type WordingState } from './wording-life';

const NAME = '{$person.first_name :wren:field fallback=friend}';

describe('a body in pieces', () => {
  it('keeps words as they read, and names variables after their fields', () =>
    expect(
      piecesOf(`Hi ${NAME}, \\{really\\} {$person.fields.visits :wren:count one=visit other=visits}.`),
    ).toEqual({
      pieces: [
        { text: 'Hi ' },
        { variable: 'first_name' },
        { text: ', {really} ' },
        { variable: 'visits' },
        { text: '.' },
      ],
      variables: [
        { name: 'first_name', source: NAME, label: 'first name' },
        {
          name: 'visits',
          source: '{$person.fields.visits :wren:count one=visit other=visits}',
          label: 'visits',
        },
      ],
    }));

  it('is one variable where a field reads the same, two where it does not', () =>
    expect(
      piecesOf(`${NAME} a ${NAME} b {$person.first_name :wren:field fallback=you}`).variables.map(
        ({ name }) => name,
      ),
    ).toEqual(['first_name', 'first_name_2']));

  it('gives no two the same name, whatever own fields are called', () => {
    const visits = (one: string) => `{$person.fields.visits :wren:count one=${one} other=visits}`;
    const fields = ['{$person.fields.visits_3}', '{$person.fields.visits}', '{$person.fields.visits_2}'];
    const body = [...fields, visits('visit'), visits('stay')].join(' and ');
    const names = piecesOf(body).variables.map(({ name }) => name);
    expect(names).toEqual(['visits_3', 'visits', 'visits_2', 'visits_4', 'visits_5']);
  });

  it('fills each variable for somebody, on one line', () =>
    expect(
      filling(`Hi ${NAME}. {$inquiry.words :wren:field fallback=it}`)({ 'inquiry.words': ' two\n lines ' }),
    ).toEqual({
      first_name: 'friend',
      words: 'two lines',
    }));

  it('says the same put together as rendered (property)', () =>
    fc.assert(
      fc.property(
        fc.array(fc.oneof(fc.constant(NAME), fc.stringMatching(/^[a-z ,.!]{1,12}$/)), { maxLength: 8 }),
        (parts) => {
          const body = parts.join('');
          const filled = filling(body)({ 'person.first_name': 'Ana' });
          const text = piecesOf(body)
            .pieces.map((piece) => ('text' in piece ? piece.text : filled[piece.variable]))
            .join('');
          expect(text).toBe(body.replaceAll(NAME, 'Ana'));
        },
      ),
    ));

  it('stands between its header and its footer', () =>
    expect([
      wholeText({ header: 'A', footer: 'C' }, 'B'),
      wholeText({ header: '', footer: '' }, 'B'),
    ]).toEqual(['A\n\nB\n\nC', 'B']));
});

describe('the language somebody gets', () => {
  const there = [{ language: 'en' }, { language: 'es' }, { language: 'pt-PT' }, { language: 'pt-BR' }];
  it.each([
    ['es', 'es'],
    ['es-MX', 'es'],
    ['pt', 'pt-PT'],
    ['pt-br', 'pt-BR'],
    ['de', 'en'],
    [null, 'en'],
  ])('%s gets %s', (theirs, got) => expect(languageFor(there, theirs)?.language).toBe(got));
  it('is none where nothing is written', () => expect(languageFor([], 'en')).toBeNull());
});

describe('the check', () => {
  const reply = (words: string, leaves?: true): Button => ({
    kind: 'reply',
    words,
    ...(leaves ? { leaves } : {}),
  });
  const good: ToCheck = {
    ...{ name: 'sky_week', language: 'en', category: 'marketing' },
    words: {
      header: 'Saturn week',
      body: `Hi ${NAME}, Saturn is up this week.`,
      footer: '',
      buttons: [reply('Leave', true)],
    },
    samples: { first_name: 'Ada' },
  };
  const codes = (over: Partial<ToCheck>, words: Partial<ToCheck['words']> = {}) =>
    checkChat({ ...good, ...over, words: { ...good.words, ...words } }, USUAL_LIMITS).map(
      ({ severity, message }) => `${severity} ${message}`,
    );

  it('finds nothing in a good one', () => expect(codes({})).toEqual([]));

  it.each<[string, Partial<ToCheck>, Partial<ToCheck['words']>, string]>([
    ['a name with spaces', { name: 'Sky week' }, {}, 'small letters'],
    ['no name', { name: ' ' }, {}, 'must not be empty'],
    [
      'a body in cases, which would be sent as it is written',
      {},
      {
        body: '.input {$person.fields.visits :number}\n.match $person.fields.visits\none {{One visit.}}\n* {{Several visits.}}',
      },
      'more than words and fields',
    ],
    [
      'a body that begins with a field',
      {},
      { body: `${NAME}, come and see Saturn.` },
      'must not begin with a field',
    ],
    ['one that ends with a field', {}, { body: `Come and see Saturn, ${NAME}` }, 'must not end with a field'],
    [
      'two fields side by side',
      { samples: { first_name: 'Ada', last_name: 'Orr' } },
      { body: `Hi ${NAME} {$person.last_name :wren:field fallback=friend}, come and see Saturn this week.` },
      'two fields side by side',
    ],
    ['no sample', { samples: {} }, {}, 'a reviewer reads an example'],
    ['a sample that is the field', { samples: { first_name: NAME } }, {}, 'give an example of it'],
    ['a header that is too long', {}, { header: 'x'.repeat(61) }, 'the network takes 60 characters'],
    ['a header of two lines', {}, { header: 'a\nb' }, 'must be one line'],
    ['a field in the footer', {}, { footer: NAME }, 'holds no fields'],
    [
      'too many buttons',
      {},
      { buttons: [reply('a', true), reply('b'), reply('c'), reply('d')] },
      'the network takes 3',
    ],
    [
      'a button that says too much',
      {},
      { buttons: [reply('x'.repeat(21), true)] },
      'the network takes 20 characters',
    ],
    [
      'two buttons alike',
      {},
      { buttons: [reply('Yes', true), reply('yes')] },
      'says what another button says',
    ],
    [
      'a link without https',
      {},
      { buttons: [reply('a', true), { kind: 'link', words: 'See', url: 'http://x.example' }] },
      'give the whole address',
    ],
    [
      'a number without country',
      {},
      { buttons: [reply('a', true), { kind: 'call', words: 'Call', number: '7195550110' }] },
      'give a number with its country',
    ],
    ['marketing without a way out', {}, { buttons: [] }, 'nothing says how to stop'],
    ['what cannot be read', {}, { body: 'Hi {$nothing.here}.' }, 'is not a merge field'],
  ])('finds %s', (_, over, words, message) => {
    const found = codes(over, words);
    expect(found).toHaveLength(1);
    expect(found[0]).toContain('must');
    expect(found[0]).toContain(message);
  });

  it('takes a word on how to stop for a way out', () =>
    expect(codes({}, { buttons: [], footer: 'Reply STOP to stop' })).toEqual([]));
  it('asks for none where they asked themselves', () =>
    expect(codes({ category: 'utility' }, { buttons: [] })).toEqual([]));
});

describe('the window', () => {
  it('is open for a day from what they wrote', () => {
    expect([openUntil(null, 0), openUntil(0, DAY - 1), openUntil(0, DAY)]).toEqual([null, DAY, null]);
  });

  it.each([
    ['nobody wrote, nothing was begun', { wroteAt: null, begunAt: null }, true],
    ['they wrote an hour ago', { wroteAt: -HOUR, begunAt: null }, false],
    ['we began an hour ago', { wroteAt: null, begunAt: -HOUR }, false],
    ['both are over', { wroteAt: -2 * DAY, begunAt: -2 * DAY }, true],
  ])('a message begins a conversation: %s', (_, at, begun) => expect(begins(at, 0)).toBe(begun));

  it('begins with as many a day as may be, never more over any day (property)', () =>
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 50 }),
        fc.integer({ min: 0, max: 50 }),
        fc.integer({ min: 1, max: 300 }),
        (limit, used, people) => {
          const left = Math.max(0, limit - used);
          const days = new Map<number, number>();
          for (let ahead = 0; ahead < people; ahead++) {
            const day = (mayBeginAt({ limit, left, ahead }, 0) ?? 0) / DAY;
            days.set(day, (days.get(day) ?? 0) + 1);
          }
          for (const [day, count] of days) expect(count).toBeLessThanOrEqual(day === 0 ? left : limit);
        },
      ),
    ));

  it('waits for the network where nobody may be begun with', () =>
    expect(mayBeginAt({ limit: 0, left: 0, ahead: 0 }, 5)).toBe(Infinity));
});

describe('the life of a wording', () => {
  const states = Object.keys(WORDING_MOVES) as WordingState[];
  const reached = new Set(states.flatMap((state) => Object.values(WORDING_MOVES[state])));
  it.each(states)('%s can be reached and left', (state) => {
    if (state !== 'draft') expect(reached).toContain(state);
    expect(Object.keys(WORDING_MOVES[state]).length).toBeGreaterThan(0);
  });
  it('is not handed in twice', () => expect(wordingAfter('in-review', 'hand-in')).toBeNull());
});

describe('a chat id', () => {
  it.each([
    ['(719) 555-0110', '+17195550110'],
    ['tel:+17195550110', '+17195550110'],
    ['sky-owl-7', 'sky-owl-7'],
    ['chat:Ab9_x', 'Ab9_x'],
  ])('%s is kept as %s', (typed, kept) =>
    expect(parseChatId(typed, 'US')).toEqual({ ok: true, value: kept }),
  );
  it.each(['', '12', 'two words', 'ana@example.org', '<x>', '+1 719'])('%j is none', (typed) =>
    expect(parseChatId(typed, 'US').ok).toBe(false),
  );
});

describe('what a network says of an account', () => {
  it('is read, and what it leaves out is as usual', () =>
    expect(
      readAccount({ address: '+17195550170', state: 'open', begin_limit: 250, limits: { quick_replies: 9 } }),
    ).toMatchObject({
      ...{ state: 'open', beginLimit: 250, quality: 'good', missing: [] },
      limits: { ...USUAL_LIMITS, quickReplies: 9 },
    }));
  it('is no account where it says something else', () =>
    expect([readAccount(null), readAccount('x'), readAccount({}), readAccount([])]).toEqual([
      null,
      null,
      null,
      null,
    ]));
  it('may begin with nobody where it does not say with how many', () =>
    expect(readAccount({ address: 'a', begin_limit: 'many' })).toMatchObject({
      beginLimit: 0,
      state: 'restricted',
    }));
});
