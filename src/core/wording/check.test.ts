import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parseTemplate } from '../text/template';
import { checkWording, mended } from './check';
import { FINDING_CODES, FINDINGS, type FindingCode } from './finding';
import { UNCHECKED } from './settings';
import { badOnes, goodOnes, type Sample } from './testing/samples';
import { contextOf } from './testing/world';

const file = (name: string): string =>
  readFileSync(new URL(`./testing/${name}.txt`, import.meta.url), 'utf8');
const found = ({ text, of }: Sample) =>
  checkWording(text, contextOf(of)).filter(({ severity }) => severity !== 'hint');
const codes = (text: string, of = 'o') =>
  checkWording(text, contextOf(of))
    .filter(({ severity }) => severity !== 'hint')
    .map(({ code }) => code);
const only = (code: FindingCode, text: string, of = 'o') =>
  checkWording(text, contextOf(of)).filter((finding) => finding.code === code);

describe.each(['tuned', 'measured'])('the texts of %s', (set) => {
  const [good, bad] = [goodOnes(file(`${set}-good`)), badOnes(file(`${set}-bad`))];

  it('are caught where they are bad, in 95 of 100', () => {
    const missed = bad.filter((sample) => !found(sample).some(({ code }) => code === sample.wrong));
    expect(
      missed.length / bad.length,
      missed.map(({ wrong, text }) => `${wrong}: ${text}`).join('\n'),
    ).toBeLessThanOrEqual(0.05);
  });

  it('go where they are good, but for 3 of 100', () => {
    const stopped = good.filter((sample) => found(sample).some(({ severity }) => severity === 'must'));
    expect(stopped.length / good.length, stopped.map(({ text }) => text).join('\n')).toBeLessThanOrEqual(
      0.03,
    );
  });

  it('are read as they were once what is offered is done', () => {
    for (const { text, of } of bad)
      for (const { code, place, mending } of checkWording(text, contextOf(of)).filter((one) => one.mending)) {
        const better = mended(text, mending!);
        const again = only(code, better, of).filter((one) => one.place?.from === place?.from);
        expect(again, `${code}: ${text} -> ${better}`).toEqual([]);
        if (parseTemplate(text).ok) expect(parseTemplate(better).ok, better).toBe(true);
      }
  });
});

describe('a wording', () => {
  it('of each finding stands in the texts', () => {
    const had = new Set(
      [...badOnes(file('tuned-bad')), ...badOnes(file('measured-bad'))].map(({ wrong }) => wrong),
    );
    // What is said of items and of what was registered is tested with them.
    const others: FindingCode[] = [
      ...['opt-out-missing' as const, 'not-registered' as const, 'item-over' as const, 'item-lacks' as const],
      ...['too-long' as const, 'hard-to-read' as const],
    ];
    expect(FINDING_CODES.filter((code) => !had.has(code))).toEqual(others);
  });

  it('that is empty is not spoken of', () => expect(checkWording('  ', contextOf('O'))).toEqual([]));

  it('is weighed as the workspace wants', () => {
    const text = 'JUNIPER GAP: WINTER NIGHTS ARE HERE';
    expect(checkWording(text, contextOf('o'), { shouting: 'must' })[0]).toMatchObject({
      code: 'shouting',
      severity: 'must',
    });
    expect(checkWording(text, contextOf('O'), UNCHECKED.weights)).toEqual([]);
    expect(FINDINGS.shouting.weight).toBe('should');
  });

  it('names the place in what is stored, past fields and escapes', () => {
    const text = 'Juniper Gap \\{x\\}: hi {$person.first_name :wren:field fallback=you}, see bit.ly/x';
    const [finding] = only('public-shortener', text);
    expect(text.slice(finding!.place!.from, finding!.place!.to)).toBe('bit.ly/x');
  });

  it('has its places and mendings within it, whatever it is', () => {
    const piece = fc.oneof(
      fc.string({ maxLength: 20 }),
      fc.constantFrom(
        '{$person.first_name :wren:field fallback=|a b|}',
        '\\{',
        ' Fri, Dec 5 ',
        'FREE FREE FREE FREE ',
        '🔭🔭🔭🔭',
        'http://x ',
        'f r e e ',
        '[name]',
      ),
    );
    fc.assert(
      fc.property(fc.array(piece, { maxLength: 8 }), (pieces) => {
        const text = pieces.join('');
        for (const { place, mending } of checkWording(text, contextOf('O')))
          for (const { from, to } of [...(place ? [place] : []), ...(mending?.changes ?? [])]) {
            expect(from).toBeGreaterThanOrEqual(0);
            expect(to).toBeGreaterThanOrEqual(from);
            expect(to).toBeLessThanOrEqual(text.length);
          }
      }),
    );
  });

  it('of ten thousand marks is read in no time worth speaking of', () => {
    for (const text of [
      'a.'.repeat(5_000),
      'A '.repeat(5_000),
      '! '.repeat(5_000),
      '1'.repeat(10_000),
      'http:/'.repeat(1_700),
    ])
      expect(checkWording(text, contextOf('O')).length).toBeGreaterThan(0);
  });
});

describe('who writes', () => {
  it.each([
    ['Juniper Gap: tonight', true],
    ['JuniperGap tonight', true],
    ['the team at JGO says hi', true],
    ['Clear Sky Alerts: tonight', true],
    ['{$business.name}: tonight', true],
    ['a juniper by the gap', false],
    ['see juniper-gap.example.org/x', false],
  ])('%s', (text, said) => expect(codes(text).includes('no-sender')).toBe(!said));

  it('need not be said in an answer', () =>
    expect(checkWording('See you at nine.', { ...contextOf('O'), answers: true })).toEqual([]));
});

describe('how to stop', () => {
  const says = (words: string) =>
    !codes(`Juniper Gap: tonight at nine. ${words}`, 'O').includes('opt-out-due');
  it.each([
    ...['Reply STOP to stop', 'Txt STOP 2 end', 'To opt out, text STOP.', 'STOP=end', 'Reply "STOP" anytime'],
    ...['Text QUIT to leave', 'Responde ALTO para salir', 'Stop texts: STOP'],
  ])('is said by "%s"', (words) => expect(says(words)).toBe(true));
  it.each(['Stop by!', 'Next stop: Saturn', "Don't stop now", 'The end is near', 'Reply YES'])(
    'is not by "%s"',
    (words) => expect(says(words)).toBe(false),
  );
  it('need not be said in a letter: it stands under it', () =>
    expect(
      checkWording('Juniper Gap writes.', { ...contextOf('O'), channel: 'email' }).map(({ code }) => code),
    ).toEqual([]));
});

describe('dates', () => {
  const one = (text: string) => codes(`Juniper Gap: ${text}`);
  it.each([
    ['Friday, December 4', []],
    ['Fri, Dec 5', ['wrong-weekday']],
    ['Fri, Dec 5: the dome is open', ['wrong-weekday']],
    ['Dec 5:30 is no day', []],
    ['Jan 5 is the next one', []],
    ['see you on Nov 20', ['date-passed']],
    ['open Nov 20 - Dec 5', []],
    ['from Nov 20 on', []],
    ['Feb 30 is none', []],
    ['9/10 people, 24/7, 50/50', []],
    ['by 11/20', ['date-passed']],
    ['may 5 people come', []],
  ])('%s', (text, expected) => expect(one(text)).toEqual(expected));

  it('are read day first where that is the custom', () => {
    const abroad = { ...contextOf('o'), country: 'GB' };
    const said = checkWording('Juniper Gap: by 20/11.', abroad).map(({ code }) => code);
    expect(said).toContain('date-passed');
  });

  it('are counted from when it leaves, where the business is', () => {
    const late = { ...contextOf('o'), at: Date.UTC(2026, 10, 27, 3) };
    expect(checkWording('Juniper Gap: see you on Nov 26.', late).map(({ code }) => code)).not.toContain(
      'date-passed',
    );
  });
});

describe('what changes with the business', () => {
  it.each([
    ['a', 'Lantern: happy hour from five', []],
    ['o', 'Juniper Gap: happy hour from five', ['risky-word']],
    ['f', 'Copperleaf: low rates on homes', []],
    ['b', 'Tamarack: low rates on homes', ['risky-word']],
  ])('%s: %s', (of, text, expected) => expect(codes(text, of)).toEqual(expected));

  it.each(['six texts a week', 'a dozen msgs per month', 'nine alerts/week', '12 messages a month'])(
    'a promise is broken by %s',
    (often) => {
      const program = { name: 'Clear Sky Alerts', promise: { count: 6, period: 'month' as const } };
      const found = checkWording(`Juniper Gap: ${often} from us. Reply STOP to stop.`, {
        ...contextOf('o'),
        program,
      });
      expect(found.map(({ code }) => code)).toEqual(['promise-broken']);
    },
  );

  it('a promise without a number is not broken', () => {
    const context = { ...contextOf('o'), program: { name: 'Clear Sky Alerts', promise: null } };
    expect(checkWording('Juniper Gap: daily texts from us.', context)).toMatchObject([
      { code: 'opt-out-missing' },
    ]);
  });

  it('without hosts of its own no link is foreign', () => {
    const context = contextOf('o');
    const bare = { ...context, business: { ...context.business, hosts: [] } };
    expect(checkWording('Juniper Gap: x.example.com', bare)).toMatchObject([{ code: 'opt-out-missing' }]);
  });
});

it('a copy of four parts is too long, a letter is not', () => {
  const long = (channel: 'sms' | 'email') =>
    checkWording('Juniper Gap.', { ...contextOf('o'), parts: 4, channel }).map(({ code }) => code);
  expect(long('sms')).toContain('too-long');
  expect(long('email')).not.toContain('too-long');
});

it('sentences of twelve years of school are hard', () => {
  const text =
    'Juniper Gap: notwithstanding meteorological uncertainties, the observatory’s administration anticipates extraordinarily favourable astronomical conditions throughout the approaching evening, necessitating considerable preparation by participating visitors and accompanying children.';
  expect(checkWording(text, contextOf('o')).map(({ code }) => code)).toContain('hard-to-read');
});
