import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { DAY } from '../shared/instant';
import { checkBrand, checkProgram, mustsOf } from './check';
import { EMPTY_BRAND, type BrandFile, type ProgramFile } from './file';
import { forecastOf, type Review } from './forecast';
import { isUnderWay, REGISTRATION_MOVES, REGISTRATION_STATES, registrationAfter, nextToAct } from './life';
import { brokenBy } from './promised';
import { RULES } from './rules';
import { missingOn, ownPage, pageText, SENTENCES } from './sentences';

const BRAND: BrandFile = {
  ...EMPTY_BRAND,
  ...{ legalName: 'Juniper Gap Observatory Society', form: 'nonprofit', taxNumber: '12-3456789' },
  about: 'A public observatory with a planetarium dome, a gift shop and school visits.',
  ...{ website: 'https://juniper-gap.example.org', street: '1 Ridge Road', city: 'Juniper Gap', state: 'CO' },
  ...{ postalCode: '81201', contactName: 'Odile Marchetti', contactEmail: 'desk@juniper-gap.example.org' },
  contactPhone: '(719) 555-0110',
};
const BUSINESS = 'Juniper Gap Observatory';
const PROGRAM: ProgramFile = {
  ...{ business: BUSINESS, name: 'Clear Sky Alerts', purpose: 'recurring', often: 'Up to 6 msgs/month' },
  about: 'People who asked for it are told when the sky over the hill is clear enough to come.',
  ...{ content: ['events', 'news'], links: true, calls: false, adults: false, perMonth: 900 },
  samples: [
    'Juniper Gap Observatory: clear tonight, doors at 8 pm. https://go.example.org/x Reply STOP to stop.',
    'Juniper Gap Observatory: Saturn is up from nine. Bring a coat.',
  ],
  ways: [{ kind: 'keyword', name: 'SKY', words: 'Text SKY to (719) 555-0110 …', place: '/x', lacks: [] }],
  confirmation: 'Juniper Gap Observatory Clear Sky Alerts: Up to 6 msgs/month. Msg & data rates may apply.',
  ...{ question: '', help: 'Help: desk@juniper-gap.example.org', stop: 'You are opted out.' },
};

const brandCodes = (more: Partial<BrandFile>) =>
  checkBrand({ ...BRAND, ...more }, BUSINESS).map(({ code }) => code);
const programCodes = (more: Partial<ProgramFile>) =>
  checkProgram({ ...PROGRAM, ...more }).map(({ code }) => code);

describe('a brand', () => {
  it('lacks nothing when all is told', () => expect(brandCodes({})).toEqual([]));

  it('that is empty lacks what every reviewer asks, each once', () => {
    const codes = checkBrand(EMPTY_BRAND, BUSINESS).map(({ code }) => code);
    expect(codes).toEqual(
      expect.arrayContaining(['legal-name', 'tax-number', 'website', 'street', 'contact-phone']),
    );
    expect(new Set(codes).size).toBe(codes.length);
    // What is not there yet is not also of the wrong form.
    expect(codes).not.toContain('tax-number-form');
  });

  it.each<[string, Partial<BrandFile>, string[]]>([
    ['a tax number with a digit too few', { taxNumber: '12-345678' }, ['tax-number-form']],
    ['one elsewhere, where numbers look otherwise', { taxNumber: 'HRB 1234', country: 'DE', state: '' }, []],
    ['one person in business has none', { form: 'sole-trader', taxNumber: '' }, []],
    ['a page that is not encrypted', { website: 'http://juniper-gap.example.org' }, ['website-form']],
    ['a post box', { street: 'P.O. Box 12' }, ['post-box']],
    ['a state by its name', { state: 'Colorado' }, ['state']],
    [
      'pages of their own that nobody pasted',
      { ourPages: false, privacyUrl: 'https://x.test/p', termsUrl: 'https://x.test/t' },
      ['privacy-text', 'terms-text'],
    ],
  ])('with %s', (_, more, codes) => expect(brandCodes(more)).toEqual(codes));

  it('whose pages are pasted lacks the sentences they do not say, ready to copy', () => {
    const found = checkBrand(
      {
        ...{ ...BRAND, ourPages: false, privacyUrl: 'https://x.test/p', termsUrl: 'https://x.test/t' },
        privacyText:
          'We collect your name and email address. We may share it with partners for marketing. Contact us at desk@x.test.',
        termsText:
          'You agree to get text messages. Message and data rates may apply. Text STOP to cancel, HELP for help or call 719-555-0110. Message frequency varies.',
      },
      BUSINESS,
    );
    expect(found.map(({ code }) => code)).toEqual([
      'privacy-mobile',
      'privacy-consent',
      'terms-carriers',
      'terms-condition',
    ]);
    expect(found[0]!.words).toContain('mobile phone numbers');
  });
});

describe('a page', () => {
  it('of ours says everything a reviewer looks for, whatever is known', () => {
    const known = {
      business: BUSINESS,
      contact: 'desk@x.test',
      programs: [{ name: 'A', often: 'Up to 6 msgs/month', about: '' }],
    };
    for (const page of ['privacy', 'terms'] as const)
      for (const brand of [BRAND, { ...BRAND, legalName: '', contactPhone: '' }])
        expect(missingOn(page, pageText(ownPage(page, brand, known)))).toEqual([]);
  });

  it.each(SENTENCES.map((one) => [one.code, one] as const))(
    'says %s by the words we give',
    (code, { page, words }) =>
      expect(missingOn(page, words.replace('{contact}', 'desk@x.test')).map((one) => one.code)).not.toContain(
        code,
      ),
  );

  it('is read in other people’s words', () => {
    const privacy =
      'Information we hold. We store your cell number and your name.\nNo mobile information will be shared with third parties or affiliates for marketing or promotional purposes. Text messaging originator opt-in data and consent will not be shared with any third parties.\nHow to contact us: privacy@example.org';
    expect(missingOn('privacy', privacy)).toEqual([]);
  });

  it('does not say it by saying the opposite of it', () => {
    const codes = missingOn('privacy', 'We share your mobile number with partners for marketing.').map(
      ({ code }) => code,
    );
    expect(codes).toContain('privacy-mobile');
  });
});

describe('a program', () => {
  it('lacks nothing when all is told', () => expect(programCodes({})).toEqual([]));

  it.each<[string, Partial<ProgramFile>, string[]]>([
    ['one sample', { samples: [PROGRAM.samples[0]!] }, ['samples']],
    ['the same twice', { samples: [PROGRAM.samples[0]!, `${PROGRAM.samples[0]!} `] }, ['samples-alike']],
    [
      'a sample that says not who writes',
      { samples: [PROGRAM.samples[0]!, 'Saturn is up.'] },
      ['sample-name'],
    ],
    ['a gap', { samples: [PROGRAM.samples[0]!, 'Juniper Gap Observatory: hi [name]!'] }, ['sample-gap']],
    ['a link it did not tell of', { links: false }, ['sample-link']],
    [
      'a shortener',
      { samples: [PROGRAM.samples[0]!, 'Juniper Gap Observatory: https://bit.ly/x'] },
      ['sample-shortener'],
    ],
    [
      'a number to call it did not tell of',
      { samples: [PROGRAM.samples[0]!, 'Juniper Gap Observatory: call (719) 555-0110'] },
      ['sample-call'],
    ],
    ['wine', { samples: [PROGRAM.samples[0]!, 'Juniper Gap Observatory: wine under the stars'] }, ['adults']],
    ['no way in', { ways: [] }, ['ways']],
    ['no content', { content: [] }, ['content']],
  ])('with %s', (_, more, codes) => expect(programCodes(more)).toEqual(codes));

  it('whose call to action lacks something says where it is mended', () => {
    const [found] = checkProgram({
      ...PROGRAM,
      ways: [{ ...PROGRAM.ways[0]!, lacks: [{ weight: 'must', message: 'It does not say how to stop.' }] }],
    });
    expect(found).toMatchObject({
      field: 'ways.0',
      place: '/x',
      message: 'SKY: It does not say how to stop.',
    });
  });

  it('is checked without ever failing, whatever was typed', () => {
    fc.assert(
      fc.property(fc.array(fc.string(), { maxLength: 6 }), fc.string(), (samples, business) => {
        const found = checkProgram({ ...PROGRAM, samples, business });
        for (const { field } of found) expect(field).toMatch(/^(?:samples|ways)(?:\.\d+)?$|^[a-z]+$/);
      }),
    );
  });
});

it('every rule has a code of its own and can be tried', () => {
  const codes = RULES.map(({ code }) => code);
  expect(new Set(codes).size).toBe(codes.length);
  for (const { test } of RULES) if ('pattern' in test) expect(() => new RegExp(test.pattern)).not.toThrow();
  expect(mustsOf(checkBrand(EMPTY_BRAND, BUSINESS)).length).toBeGreaterThan(8);
});

describe('the life of an application', () => {
  it('has a way out of every state, and whoever acts next is told', () => {
    for (const state of REGISTRATION_STATES) {
      expect(Object.keys(REGISTRATION_MOVES[state]).length).toBeGreaterThan(0);
      expect(nextToAct(state) === 'registrar').toBe(state === 'waiting' || state === 'in-review');
    }
  });

  it('is as its registrar says, however often and in whatever order', () => {
    const said = fc.constantFrom('ask', 'register', 'refuse', 'withdraw') as fc.Arbitrary<'ask'>;
    fc.assert(
      fc.property(fc.array(said, { maxLength: 6 }), (events) => {
        let state = registrationAfter('waiting', 'bring')!;
        for (const event of events) state = registrationAfter(state, event) ?? state;
        expect(['draft', 'waiting']).not.toContain(state);
      }),
    );
  });

  it('cannot be handed in while others judge it', () => {
    for (const state of REGISTRATION_STATES)
      if (isUnderWay(state)) expect(registrationAfter(state, 'hand-in')).toBeNull();
  });
});

describe('until when', () => {
  const took = (...days: number[]): Review[] => days.map((day) => ({ took: day * DAY, decided: true }));

  it('is what the registrar says as long as few were decided', () => {
    expect(forecastOf(took(2, 3), 5 * DAY, 0, DAY)).toEqual({ likely: 5 * DAY, latest: null, from: 0 });
    expect(forecastOf(took(2, 3), 5 * DAY, 0, 6 * DAY).likely).toBeNull();
    expect(forecastOf([], null, 0, 0).likely).toBeNull();
  });

  it('is by when half, and nine of ten, of such reviews were decided', () =>
    expect(forecastOf(took(1, 2, 3, 4, 5, 6, 7, 8, 9, 10), null, 0, 0)).toEqual({
      likely: 5 * DAY,
      latest: 9 * DAY,
      from: 10,
    }));

  it('counts only those that took as long as this one already', () =>
    expect(forecastOf(took(1, 2, 3, 4, 5, 6, 7, 8, 9, 10), null, 0, 6 * DAY)).toMatchObject({
      likely: 8 * DAY,
      latest: 10 * DAY,
    }));

  it('is unknown beyond all of them', () =>
    expect(forecastOf(took(1, 2, 3), null, 0, 4 * DAY)).toEqual({ likely: null, latest: null, from: 3 }));

  it('is later by reviews that go on than without them', () => {
    const open: Review[] = [
      { took: 5 * DAY, decided: false },
      { took: 5 * DAY, decided: false },
    ];
    expect(forecastOf([...took(2, 4, 6, 8), ...open], null, 0, 0).likely).toBeGreaterThan(
      forecastOf(took(2, 4, 6, 8), null, 0, 0).likely!,
    );
  });
});

describe('what was told to the reviewer', () => {
  const broken = (more: Partial<ProgramFile>) =>
    brokenBy(PROGRAM, { ...PROGRAM, ...more }).map(({ field }) => field);

  it('is not broken by nothing, nor by less', () => {
    expect(broken({})).toEqual([]);
    expect(
      broken({
        content: ['events'],
        perMonth: 10,
        links: false,
        often: 'Up to 2 msgs/month',
        ways: [],
        purpose: 'utility',
      }),
    ).toEqual([]);
  });

  it.each<[Partial<ProgramFile>, string[]]>([
    [{ purpose: 'marketing' }, ['purpose']],
    [{ often: 'Up to 2 msgs/week' }, ['often']],
    [{ often: 'Recurring msgs' }, ['often']],
    [{ perMonth: 1_400 }, ['perMonth']],
    [{ content: ['events', 'offers'] }, ['content']],
    [{ calls: true }, ['calls']],
    [{ help: 'Call us.', stop: 'Gone.' }, ['help', 'stop']],
    [{ question: 'Reply YES' }, ['question']],
    [{ ways: [...PROGRAM.ways, { ...PROGRAM.ways[0]!, name: 'STAR', words: 'Text STAR' }] }, ['ways']],
    [{ name: 'Sky Alerts' }, ['name']],
  ])('is broken by %j', (more, fields) => expect(broken(more)).toEqual(fields));
});
