import { displayNumber } from '../phone/number';
import { plain } from '../reply/normalise';
import type { ProgramWording } from '../text/wording';
import { frequencyPhrase } from '../text/wording';
import type { Frequency, Purpose } from './promise';

/**
 * What a call to action must say, as trade guidelines and 47 CFR 64.1200(f)(9) ask: who sends what, how often, that
 * rates may apply, how to stop and get help, terms and privacy, and that nobody has to agree to buy.
 */
export interface CallToAction extends Omit<ProgramWording, 'frequency'> {
  purpose: Purpose;
  promise: Frequency;
  /** As it is compared: lower case. */
  keyword: string;
  /** The numbers it is heard on, as they are kept: `+17195550110`, `55501`. */
  numbers: readonly string[];
  termsUrl: string | null;
  privacyUrl: string | null;
}

export type FindingCode =
  | 'brand'
  | 'program'
  | 'keyword'
  | 'number'
  | 'frequency'
  | 'frequency-differs'
  | 'rates'
  | 'stop'
  | 'help'
  | 'terms'
  | 'privacy'
  | 'condition'
  | 'agreement';

export interface Finding {
  code: FindingCode;
  /** `must`: the rules ask for it. `should`: it is better with it. */
  weight: 'must' | 'should';
  /** What is missing or wrong, and words that mend it. */
  message: string;
}

/** What is missing in a call to action, as people read it; empty: nothing. */
export function readCallToAction(text: string, call: CallToAction): Finding[] {
  // Lines end anywhere on a poster.
  const lower = text.toLowerCase().replace(/\s+/g, ' ');
  const words = ` ${plain(text)} `;
  const has = (said: string): boolean => words.includes(` ${plain(said)} `);
  const missing: [FindingCode, Finding['weight'], boolean, string][] = [
    ['brand', 'must', has(call.business), `It does not say who sends: name ${call.business}.`],
    [
      'program',
      'must',
      has(call.program) || WHAT.test(lower),
      `It does not say what people get: name ${call.program}.`,
    ],
    [
      'keyword',
      'must',
      has(call.keyword),
      `The keyword is missing: say “Text ${call.keyword.toUpperCase()} to …”.`,
    ],
    [
      'number',
      'must',
      namesNumber(text, call.numbers),
      `The number to text is missing${numberHint(call.numbers)}.`,
    ],
    ['frequency', 'must', FREQUENCY.test(lower), `It does not say how often: “${frequencyOf(call)}”.`],
    ['rates', 'must', /data rates may apply/.test(lower), 'Missing: “Msg & data rates may apply.”'],
    ['stop', 'must', /\bstop\b/.test(lower), 'It does not say how to stop: “Reply STOP to stop.”'],
    ['help', 'must', /\bhelp\b/.test(lower), 'It does not say how to get help: “HELP for help.”'],
    [
      'terms',
      'must',
      /\bterms\b/.test(lower),
      `The terms are not linked: ${linkHint('Terms', call.termsUrl)}`,
    ],
    [
      'privacy',
      'must',
      /\bprivacy\b/.test(lower),
      `The privacy page is not linked: ${linkHint('Privacy', call.privacyUrl)}`,
    ],
    [
      'condition',
      call.purpose === 'marketing' ? 'must' : 'should',
      CONDITION.test(lower),
      'Missing: “Consent is not a condition of purchase.”',
    ],
    [
      'agreement',
      'should',
      /\b(?:agree|consent|sign up|opt in|receive)\b/.test(lower),
      `Say what texting means: “By texting ${call.keyword.toUpperCase()} you agree to get recurring automated texts.”`,
    ],
  ];
  const findings = missing
    .filter(([, , there]) => !there)
    .map(([code, weight, , message]): Finding => ({ code, weight, message }));
  const other = differingFrequency(lower, call.promise);
  if (other)
    findings.push({
      ...{ code: 'frequency-differs', weight: 'must' },
      message: `It says “${other}”, and the program promises “${frequencyOf(call)}”.`,
    });
  return findings;
}

const WHAT = /\b(?:alerts?|news|updates?|offers?|reminders?|deals|texts about|messages about)\b/;
const FREQUENCY =
  /\b(?:up to )?\d+ ?(?:msgs?|messages?|texts?)(?: ?\/ ?| per | a | each | every )(?:day|week|month)|\brecurring\b|\b(?:msg|message) frequency (?:varies|may vary)/;
const CONDITION =
  /not (?:a |any )?(?:condition|requirement)(?: of| for| to)?(?: any| the)? (?:purchase|buy)|no purchase (?:is )?(?:necessary|required)/;

const frequencyOf = ({ promise }: Pick<CallToAction, 'promise'>): string =>
  frequencyPhrase(promise?.count ?? null, promise?.period ?? 'month');

/** How often it says, where that is another number than is promised. */
function differingFrequency(lower: string, promise: Frequency): string | null {
  const said = /(\d+) ?(?:msgs?|messages?|texts?)(?: ?\/ ?| per | a | each | every )(day|week|month)/.exec(
    lower,
  );
  if (!said || promise === null) return null;
  return Number(said[1]) === promise.count && said[2] === promise.period ? null : said[0];
}

function namesNumber(text: string, numbers: readonly string[]): boolean {
  const digits = text.replace(/[^\d]/g, '');
  return numbers.some((number) => digits.includes(number.replace(/\D/g, '').slice(-10)));
}

const numberHint = ([number]: readonly string[]): string => (number ? ` (${displayNumber(number)})` : '');

const linkHint = (what: string, url: string | null): string =>
  url ? `“${what}: ${url}”.` : `give its address under Settings, then write “${what}: …”.`;

/**
 * Words that say all of it. `number`: as people read it. `gap` stands where an address is not known; null: nothing does,
 * since nobody fills it in on paper.
 */
export function wordedCallToAction(call: CallToAction, number: string, gap: string | null = '…'): string {
  const word = call.keyword.toUpperCase();
  return [
    `Text ${word} to ${number} to get ${call.program} from ${call.business}.`,
    `By texting ${word} you agree to get recurring automated texts.`,
    `${frequencyOf(call)}. Msg & data rates may apply. Reply HELP for help, STOP to stop.`,
    'Consent is not a condition of purchase.',
    ...linksOf(call, gap),
  ].join(' ');
}

const linksOf = ({ termsUrl, privacyUrl }: CallToAction, gap: string | null): string[] =>
  [
    ['Terms', termsUrl ?? gap],
    ['Privacy', privacyUrl ?? gap],
  ].flatMap(([word, url]) => (url ? [`${word}: ${url}`] : []));

/** The same for a form, which has no keyword and no number to text. */
export const wordedForForm = (call: CallToAction): string =>
  [
    `Sign up to get ${call.program} from ${call.business}.`,
    'By signing up you agree to get recurring automated texts.',
    `${frequencyOf(call)}. Msg & data rates may apply. Reply HELP for help, STOP to stop.`,
    'Consent is not a condition of purchase.',
    ...linksOf(call, null),
  ].join(' ');
