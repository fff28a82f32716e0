import type { AskedConsent, Leaf } from './condition';
import { readDate } from '../people/values';
import { fold } from './fold';
import type { AskableField } from './fields';
import { phraseOf } from './sentence';

/** Something a condition can name, with its kind. */
export interface NamedThing {
  kind:
    | 'tag'
    | 'list'
    | 'stage'
    | 'program'
    | 'broadcast'
    | 'segment'
    | 'import'
    | 'batch'
    | 'offer'
    | 'teammate'
    | 'sequence'
    | 'source'
    | 'step'
    | 'item';
  id: string;
  name: string;
}

export interface Suggestion {
  words: string;
  leaf: Leaf;
}

/**
 * What somebody may mean who types into the box for a new condition: questions whose words, or other words for them,
 * hold all that was typed, the nearest first. “not” asks for what is not so, a number for so many days or texts, a field
 * with something after it for that value. Nothing typed: one of each kind, to choose from.
 */
export function suggest(
  typed: string,
  things: readonly NamedThing[],
  fields: ReadonlyMap<string, AskableField>,
  most = 12,
): Suggestion[] {
  const wish = wishOf(typed);
  const known: Known = { fields, names: new Map(things.map(({ id, name }) => [id, name])) };
  const found: { suggestion: Suggestion; rank: number }[] = [];
  const asked =
    wish.words.length + wish.exact.length === 0 ? openers(things, fields) : questions(things, fields);
  for (const plain of asked) {
    const leaf = withCount(withNumber(plain, wish.number), wish.count);
    const words = phraseOf(leaf, known);
    const names = { words: plainly(words), other: otherWords(leaf, known).map(plainly) };
    const takes = {
      number: 'days' in leaf && leaf.days === wish.number,
      count: 'count' in leaf && leaf.count === wish.count,
    };
    const rank = rankOf(names, takes, isNegative(leaf), wish);
    if (rank !== null) found.push({ suggestion: { words, leaf }, rank });
  }
  for (const leaf of valued(typed, fields))
    found.push({ suggestion: { words: phraseOf(leaf, known), leaf }, rank: 1 });
  return found
    .sort((one, other) => one.rank - other.rank)
    .slice(0, most)
    .map(({ suggestion }) => suggestion);
}

interface Wish {
  /** All that was typed, in its plainest dress. */
  whole: string;
  /** Its words as they stand. */
  exact: string[];
  /** What they look for: without negation and number, in the words of conditions. */
  words: string[];
  negative: boolean;
  /** Days, where a span of time was typed, else whatever number stands there. */
  number: number | null;
  /** How often: `5 times`. */
  count: number | null;
}

const NEGATIONS: ReadonlySet<string> = new Set([
  'not',
  'no',
  'without',
  'never',
  'hasnt',
  'havent',
  'didnt',
  'dont',
  'isnt',
  'missing',
]);

const negates = (word: string): boolean => NEGATIONS.has(word.replace(/['’]/g, ''));

/** Words that only lead to what is asked for. */
const LEADING: ReadonlySet<string> = new Set(
  'days day in of the last past this previous people person persons anyone everybody everyone who whose that are is was were has have had a an any lives live living based from within ago at for since least than more over times time ever yet only also their me show find with'.split(
    ' ',
  ),
);

const SPELLED: Record<string, number> = {
  a: 1,
  an: 1,
  one: 1,
  two: 2,
  three: 3,
  four: 4,
  six: 6,
  twelve: 12,
};
const UNIT_DAYS: Record<string, number> = { day: 1, week: 7, month: 30, quarter: 90, year: 365 };
/** `2 weeks`, `a month`, `last year`, `this week`. */
const SPAN = new RegExp(
  `\\b(?:(\\d{1,3}|${Object.keys(SPELLED).join('|')})|(?:last|past|this|previous)) (${Object.keys(UNIT_DAYS).join('|')})s?\\b`,
);
const TIMES = /\b(more than |over )?(\d{1,2}) (?:times|texts)\b/;

/** Words people use, and what conditions call it. */
const CALLED: Record<string, string> = {
  ...{ tagged: 'tag', tags: 'tag', listed: 'list', texted: 'text', received: 'got', get: 'got' },
  ...{ bounced: 'missed', failed: 'missed', undelivered: 'missed', undeliverable: 'missed' },
  // As they begin: “replied”, and “did not reply”.
  ...{ answered: 'repl', reply: 'repl', replied: 'repl', replies: 'repl', clicked: 'click', clicks: 'click' },
  ...{ redeemed: 'redeem', opted: 'opt' },
};

/** What stands before a condition in a sentence. */
const OPENING = /^(?:(?:all|people|persons?|every(?:body|one)|anyone|those|who|that|are|is|lives?|living) )+/;

/** In its plainest dress, and one spelling of what is spelled in two ways. */
const plainly = (text: string): string => fold(text.trim()).replace(/\be-mail/g, 'email');

function wishOf(typed: string): Wish {
  const said = plainly(typed).replace(OPENING, '');
  const whole = said.replace(/\b(?:an?|the) /g, '');
  const exact = whole.split(/\s+/).filter(Boolean);
  const [times, more, count] = TIMES.exec(said) ?? [];
  const [span, many, unit] = SPAN.exec(said) ?? [];
  const apart = [times, span].reduce<string>((rest, found) => rest.replace(found ?? '', ' '), said);
  const meant = apart.split(/\s+/).filter((word) => word && !negates(word));
  const numbers = span ? [] : meant.filter((word) => /^\d{1,3}$/.test(word));
  return {
    ...{ whole, exact, negative: exact.some(negates) },
    number: unit
      ? (SPELLED[many ?? 'one'] ?? Number(many)) * UNIT_DAYS[unit]!
      : numbers.length === 1
        ? Number(numbers[0])
        : null,
    count: count ? Number(count) + (more ? 1 : 0) : null,
    words: meant
      .filter((word) => numbers.length !== 1 || word !== numbers[0])
      .filter((word) => !LEADING.has(word))
      .map((word) => CALLED[word] ?? word),
  };
}

/**
 * How near a question is, 0 the nearest; null: it is not what was typed.
 * @param takes it asks for a number of days, or how often, and takes what was typed
 */
function rankOf(
  { words: phrase, other }: { words: string; other: readonly string[] },
  takes: { number: boolean; count: boolean },
  negative: boolean,
  { whole, exact, words, negative: wanted, number, count }: Wish,
): number | null {
  if (exact.length === 0) return 0;
  if (phrase === whole || phrase === `in ${whole}`) return 0;
  if (whole.length > 2 && other.some((one) => one.startsWith(whole))) return 1;
  // A word that says no is looked for whole: “no” is not the beginning of “not”.
  const literal = exact.every((word) =>
    NEGATIONS.has(word) ? phrase.split(' ').includes(word) : phrase.includes(word),
  );
  const wishes = wanted || number !== null || count !== null;
  const meant =
    (words.length > 0 || wishes) &&
    [phrase, ...other].some((one) => words.every((word) => one.includes(word))) &&
    (number === null || takes.number) &&
    (count === null || takes.count) &&
    (!wanted || negative);
  if (!literal && !meant) return null;
  const begins = [phrase, ...other].some((one) => words.every((word) => hasWord(one, word)));
  if (meant && wishes && begins) return 2;
  if (phrase.startsWith(whole)) return 3;
  return begins ? 4 : literal && phrase.includes(` ${exact[0]}`) ? 5 : 6;
}

/** Other words people have for a question. */
function otherWords(leaf: Leaf, { fields, names }: Known): string[] {
  switch (leaf.ask) {
    case 'consent': {
      const verbs = CONSENT_VERBS[leaf.state]?.[leaf.has ? 'so' : 'not'] ?? [];
      return verbs.map((verb) => `${verb} ${names.get(leaf.program) ?? ''}`);
    }
    case 'did':
      if (Object.keys(leaf.of).length > 0) return [];
      if (leaf.act === 'opted-out') return ['opted out lately', 'unsubscribed lately', 'stopped lately'];
      return leaf.act === 'replied' && !leaf.has ? ['silent', 'quiet', 'inactive'] : [];
    case 'texts':
      return leaf.test === 'at-most' && leaf.count === 0 ? ['not texted lately', 'got nothing lately'] : [];
    case 'field': {
      const { label, options } = fields.get(leaf.field) ?? { label: leaf.field, options: null };
      if (leaf.test === 'empty')
        return [
          ...[`no ${label}`, `without ${label}`, `missing ${label}`, `${label} empty`, `${label} is empty`],
          ...(NEVER[leaf.field] ?? []),
        ];
      if (leaf.test === 'not-empty') return [`has ${label}`, `with ${label}`, `${label} not empty`];
      if (leaf.test === 'is-not') {
        const named = options?.find(({ value }) => value === leaf.value)?.label ?? leaf.value;
        return [`not ${named}`, `not in ${named}`];
      }
      if (leaf.test === 'anniversary')
        return [`${label} soon`, 'anniversary', ...(OF_BIRTH.test(label) ? ['birthday'] : [])];
      if (leaf.field === 'owner' && leaf.test === 'is') return [`assigned to ${names.get(leaf.value) ?? ''}`];
      return [];
    }
    default:
      return [];
  }
}

type Known = { fields: ReadonlyMap<string, AskableField>; names: ReadonlyMap<string, string> };

const CONSENT_VERBS: Partial<Record<AskedConsent, { so: readonly string[]; not: readonly string[] }>> = {
  in: { so: ['joined', 'member of', 'opted in to', 'subscribed to'], not: ['not a member of'] },
  out: { so: ['opted out of', 'unsubscribed from', 'stopped'], not: ['still in'] },
  never: { so: ['did not join', 'no consent to'], not: [] },
};

const OF_BIRTH = /born|birth|\bdob\b/i;

/** A field that is empty because something never happened. */
const NEVER: Record<string, readonly string[]> = {
  last_text: ['never texted', 'not texted yet', 'never got a text'],
  last_reply: ['never replied', 'never answered', 'no reply'],
  stage: ['in no stage'],
  owner: ['assigned to nobody', 'unassigned'],
};

/** A field by its name, and the value that was typed after it: “area code 720”, “added before 2026-05-01”, “visits 3”. */
function* valued(typed: string, fields: ReadonlyMap<string, AskableField>): Generator<Leaf> {
  const [whole, words] = [plainly(typed), typed.trim().split(/\s+/)];
  const bare = BARE.find(({ looks }) => looks.test(whole))?.field;
  if (bare && fields.has(bare)) yield { ask: 'field', field: bare, test: 'is', value: whole };
  for (const { name: field, label, kind } of fields.values()) {
    if (!VALUED.has(kind) || field === 'number') continue;
    const begins = plainly(label);
    if (!whole.startsWith(`${begins} `)) continue;
    const rest = words
      .slice(begins.split(' ').length)
      .join(' ')
      .replace(/^(?:is|=)\s+/i, '');
    if (WORDS_OF_TESTS.test(rest)) continue;
    yield* valuesOf(field, kind, rest);
  }
}

/** What is a value of one field alone, and typed without its name. */
const BARE = [
  { looks: /^\d{5}$/, field: 'postal_code' },
  { looks: /^\d{3}$/, field: 'area_code' },
];
const VALUED: ReadonlySet<AskableField['kind']> = new Set(['text', 'number', 'date', 'instant']);
const DAY_TESTS: Record<string, 'before' | 'after' | 'on'> = {
  before: 'before',
  after: 'after',
  since: 'after',
  on: 'on',
};

function* valuesOf(field: string, kind: AskableField['kind'], rest: string): Generator<Leaf> {
  const ask = { ask: 'field' as const, field };
  if (kind === 'number') {
    const [, most, value] =
      /^(?:(?:at least|over|more than|>=?) ?|(at most|under|less than|<=?) ?)?(-?\d+(?:\.\d+)?)$/i.exec(
        rest,
      ) ?? [];
    if (value === undefined) return;
    if (!most) yield { ...ask, test: 'at-least', value };
    yield { ...ask, test: 'at-most', value };
  } else if (kind === 'text') {
    const [, begins, value] = /^(?:(starts with|begins with)|contains) (.+)$/i.exec(rest) ?? [];
    if (value) return yield { ...ask, test: begins ? 'starts' : 'contains', value };
    yield { ...ask, test: 'is', value: rest };
    yield { ...ask, test: 'contains', value: rest };
  } else {
    const [, word, written] = /^(before|after|since|on) (.+)$/i.exec(rest) ?? [];
    const day = written ? readDate(written, null) : null;
    if (day?.ok) yield { ...ask, test: DAY_TESTS[word!.toLowerCase()]!, value: day.value };
  }
}

/** What begins another question of a field than what its value is. */
const WORDS_OF_TESTS = /^(?:is|no|not|e|em|emp|empt|empty|has)$|^(?:is |not )?(?:not )?empty$/i;

const hasWord = (phrase: string, word: string): boolean =>
  phrase.split(/[^\p{L}\p{N}_]+/u).some((one) => one.startsWith(word));

const isNegative = (leaf: Leaf): boolean =>
  ('has' in leaf && leaf.has === false) ||
  ('test' in leaf && (leaf.test === 'empty' || leaf.test === 'is-not')) ||
  ('state' in leaf && leaf.state === 'never');

/** The question with how often was typed, where it asks for that. */
const withCount = (leaf: Leaf, count: number | null): Leaf =>
  count !== null && leaf.ask === 'texts' && leaf.test === 'at-least' ? { ...leaf, count } : leaf;

/** The question with the number of days that was typed, where it asks for one. */
function withNumber(leaf: Leaf, number: number | null): Leaf {
  if (number === null || number < 1) return leaf;
  if ('days' in leaf && leaf.days !== undefined) return { ...leaf, days: number } as Leaf;
  return leaf;
}

function* openers(things: readonly NamedThing[], fields: ReadonlyMap<string, AskableField>): Generator<Leaf> {
  const first = (kind: NamedThing['kind']) => things.find((thing) => thing.kind === kind);
  for (const kind of ['program', 'tag', 'list', 'broadcast', 'segment'] as const) {
    const thing = first(kind);
    if (thing) yield aboutThing(thing)[0]!;
  }
  yield { ask: 'did', has: true, act: 'replied', of: {}, days: 90 };
  yield { ask: 'texts', test: 'at-most', count: 0, days: 7 };
  for (const field of [...fields.values()].filter(({ name }) =>
    ['place', 'first_name', 'created', 'stage'].includes(name),
  ))
    yield aboutField(field)[0]!;
}

function* questions(
  things: readonly NamedThing[],
  fields: ReadonlyMap<string, AskableField>,
): Generator<Leaf> {
  for (const thing of things) yield* aboutThing(thing);
  yield { ask: 'did', has: true, act: 'replied', of: {}, days: 90 };
  yield { ask: 'did', has: false, act: 'replied', of: {}, days: 90 };
  yield { ask: 'did', has: true, act: 'clicked', of: {}, days: 90 };
  yield { ask: 'did', has: false, act: 'clicked', of: {}, days: 90 };
  yield { ask: 'did', has: true, act: 'redeemed', of: {}, days: 90 };
  yield { ask: 'did', has: true, act: 'opted-out', of: {}, days: 90 };
  yield { ask: 'sent', has: true, outcome: 'failed', of: {}, days: 90 };
  yield { ask: 'sent', has: false, outcome: 'got', of: {}, days: 30 };
  yield { ask: 'texts', test: 'at-least', count: 3, days: 7 };
  yield { ask: 'texts', test: 'at-most', count: 0, days: 7 };
  for (const field of fields.values()) yield* aboutField(field);
}

function aboutThing({ kind, id, name }: NamedThing): Leaf[] {
  switch (kind) {
    case 'tag':
    case 'list':
    case 'segment':
    case 'import':
    case 'batch':
      return [
        { ask: kind, id, has: true },
        { ask: kind, id, has: false },
      ];
    case 'program':
      return [
        { ask: 'consent', program: id, state: 'in', has: true },
        { ask: 'consent', channel: 'email', program: id, state: 'in', has: true },
        { ask: 'consent', channel: 'chat', program: id, state: 'in', has: true },
        { ask: 'consent', program: id, state: 'out', has: true },
        { ask: 'consent', program: id, state: 'never', has: true },
        { ask: 'consent', program: id, state: 'in', has: true, days: 30 },
        { ask: 'consent', program: id, state: 'out', has: true, days: 30 },
      ];
    case 'broadcast':
      return [
        { ask: 'sent', has: false, outcome: 'got', of: { broadcast: id } },
        { ask: 'sent', has: true, outcome: 'got', of: { broadcast: id } },
        { ask: 'sent', has: true, outcome: 'failed', of: { broadcast: id } },
        { ask: 'did', has: true, act: 'replied', of: { broadcast: id } },
        { ask: 'did', has: true, act: 'opted-out', of: { broadcast: id } },
      ];
    case 'offer':
      return [
        { ask: 'voucher', id, state: 'valid', has: true },
        { ask: 'voucher', id, state: 'ending', has: true, days: 2 },
        { ask: 'voucher', id, state: 'ended', has: true },
        { ask: 'voucher', id, state: 'used', has: true },
        { ask: 'voucher', id, state: 'got', has: false },
      ];
    case 'stage':
      return [{ ask: 'field', field: 'stage', test: 'is', value: id }];
    case 'source':
      // As somebody new who came through it is written down.
      return [{ ask: 'field', field: 'source', test: 'is', value: `inquiry, ${name}` }];
    case 'teammate':
      return [{ ask: 'field', field: 'owner', test: 'is', value: id }];
    case 'sequence':
    case 'step':
    case 'item':
      return [
        { ask: 'did', has: true, act: 'replied', of: { [kind]: id } },
        { ask: 'did', has: false, act: 'replied', of: { [kind]: id } },
        { ask: 'sent', has: true, outcome: 'got', of: { [kind]: id } },
        { ask: 'sent', has: false, outcome: 'got', of: { [kind]: id } },
      ];
  }
}

/** A first question about a field, with a value where one can be guessed, and whether it is empty. */
export function aboutField(field: AskableField): Leaf[] {
  const ask = { ask: 'field' as const, field: field.name };
  const values = (field.options ?? []).map(({ value }) => value);
  const options = (['is', 'is-not'] as const).flatMap((test) =>
    values.map((value): Leaf => ({ ...ask, test, value })),
  );
  const empty: Leaf[] = [
    { ...ask, test: 'empty' },
    { ...ask, test: 'not-empty' },
  ];
  if (field.kind === 'date')
    return [{ ...ask, test: 'anniversary', days: 7 }, { ...ask, test: 'in-last', days: 30 }, ...empty];
  // A pause lies ahead while it lasts; one that is over stays as the day it ended on.
  if (field.name === 'paused_until') return [{ ...ask, test: 'in-next', days: 365 }, ...empty];
  if (field.kind === 'instant') return [{ ...ask, test: 'in-last', days: 30 }, ...empty];
  return options.length > 0 ? [...options, ...empty] : empty.toReversed();
}
