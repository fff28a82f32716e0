import { findPhoneNumbersInText, type CountryCode } from 'libphonenumber-js/max';

/** What there is to say about the words of a voicemail. */
export interface VoiceFinding {
  code:
    | 'no-words'
    | 'braces'
    | 'caller-late'
    | 'caller-missing'
    | 'no-callback'
    | 'other-number'
    | 'no-way-out'
    | 'too-fast'
    | 'too-slow'
    | 'no-question';
  severity: 'must' | 'should' | 'hint';
  message: string;
}

export interface VoiceWordsContext {
  /** What the business calls itself, and who else may be named as the caller. */
  callers: readonly string[];
  /** Our own numbers, as E.164. */
  numbers: readonly string[];
  country: string;
  /** How long it takes; null: it is not recorded yet. */
  seconds: number | null;
}

/** Who calls is said within the first words: 47 CFR 64.1200(b)(1) wants it at the beginning. */
const AT_THE_START = 20;
/** People speak 130 to 170 words a minute; a message that is told quickly is not understood. */
const RATE = { fastest: 185, slowest: 80 } as const;

/** 47 CFR 64.1200(b)(3): a way to opt out within it. By telling, calling, pressing, texting or writing. */
const WAYS_OUT =
  /\b(opt(?:ing)?[ -]?out|unsubscribe|(?:text|reply|say|send|press|tell us|let us know)[^.!?]{0,60}\b(?:stop|no more|remove|off (?:our|the|this) list|not to (?:call|be called)|don['’]t (?:want|call))|take you off|(?:stop|no longer|don['’]t|do not)[^.!?]{0,30}\b(?:calls?|calling|messages?|voicemails?|hear from us|receive)|no (?:more|further) (?:calls|messages|voicemails)|darte de baja|no recibir m[aá]s|se d[eé]sabonner|ne plus recevoir)\b/i;

const plain = (text: string): string =>
  text
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim();

/** Words that are spoken: a number is said digit by digit, in about as many words. */
export function spokenWords(text: string): number {
  const words = text.match(/[\p{L}\p{M}’'-]+/gu)?.length ?? 0;
  const digits = text.match(/\d/gu)?.length ?? 0;
  return words + digits * 0.8;
}

/** Rules for what is said in a voicemail, the heaviest first. A message without musts may be dropped. */
export function checkVoiceWords(text: string, context: VoiceWordsContext): VoiceFinding[] {
  const said = text.trim();
  const findings: VoiceFinding[] = [];
  const say = (severity: VoiceFinding['severity'], code: VoiceFinding['code'], message: string) =>
    findings.push({ code, severity, message });
  if (said === '') {
    say(
      'must',
      'no-words',
      'Write down what is said: it is what is checked, read by teammates and kept as proof.',
    );
    return findings;
  }
  if (/[{}\\]/.test(said))
    say('must', 'braces', 'Leave out braces and backslashes: a voicemail says the same to everybody.');
  checkCaller(said, context.callers, say);
  checkNumber(said, context, say);
  if (!WAYS_OUT.test(said))
    say(
      'must',
      'no-way-out',
      'Say how to opt out, such as “Text STOP to this number and we will not call again”.',
    );
  if (context.seconds !== null) checkRate(said, context.seconds, say);
  const [firstSentences] = said.match(/^(?:[^.!?]*[.!?]){1,3}/) ?? [said];
  if (!firstSentences.includes('?'))
    say('hint', 'no-question', 'A question near the start is what people call back about.');
  const order = { must: 0, should: 1, hint: 2 };
  return findings.sort((a, b) => order[a.severity] - order[b.severity]);
}

type Say = (severity: VoiceFinding['severity'], code: VoiceFinding['code'], message: string) => void;

function checkCaller(said: string, callers: readonly string[], say: Say): void {
  const words = plain(said).split(' ');
  const start = ` ${words.slice(0, AT_THE_START).join(' ')} `;
  const all = ` ${words.join(' ')} `;
  const named = callers.map(plain).filter((caller) => caller !== '');
  if (named.some((caller) => start.includes(` ${caller} `))) return;
  const [business = ''] = callers;
  if (named.some((caller) => all.includes(` ${caller} `)))
    say(
      'must',
      'caller-late',
      `Say at the start who calls: “${business}” comes too late. The law wants it first.`,
    );
  else say('must', 'caller-missing', `Say at the start who calls: “This is … of ${business}”.`);
}

function checkNumber(said: string, { numbers, country }: VoiceWordsContext, say: Say): void {
  const found = findNumbersIn(said, country);
  if (found.length === 0)
    say(
      'must',
      'no-callback',
      'Give a number to call back, in digits. The law wants it, and nobody looks it up.',
    );
  else if (!found.some((number) => numbers.includes(number)))
    say(
      'should',
      'other-number',
      `${found[0]} is none of your numbers: who calls back is not counted, nor known.`,
    );
}

function checkRate(said: string, seconds: number, say: Say): void {
  const perMinute = Math.round((spokenWords(said) / seconds) * 60);
  if (perMinute > RATE.fastest)
    say(
      'should',
      'too-fast',
      `${perMinute} words a minute: so fast nobody writes down a number. Or more is written here than is said.`,
    );
  if (perMinute < RATE.slowest)
    say(
      'should',
      'too-slow',
      `${perMinute} words a minute: less is written here than is said, or it has long pauses.`,
    );
}

/** Numbers in a text, as E.164, in their order. */
const findNumbersIn = (text: string, country: string): string[] =>
  findPhoneNumbersInText(text, { defaultCountry: country as CountryCode }).map(({ number }) => number.number);
