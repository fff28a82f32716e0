import { parseEmail } from '../people/address';
import { clean, readOwnValue, type DateOrder, type OwnField, type OwnValue } from '../people/values';
import { placeOfPostalCode } from '../phone/postal';
import { plain } from '../reply/normalise';
import type { Day } from '../audience/days';
import type { Asked } from './fields';
import { choiceIn } from './read-choice';
import { countIn } from './read-count';
import { readWrittenDate } from './read-date';
import { readName } from './read-name';
import { yesNoIn } from './read-yes-no';

/** What a reply says to the question that stands open. */
export type Answer =
  /** Values of the person's fields, by name: `first_name`, `own.<key>` goes by `own`. */
  | { is: 'value'; values: Partial<Record<'first_name' | 'last_name' | 'email' | 'postal_code', string>> }
  | { is: 'own'; value: OwnValue }
  /** A day without its year: as `05-05`. */
  | { is: 'partial'; partial: string }
  | { is: 'skip' }
  /** An answer, and not one that can be kept: asked again in other words. */
  | { is: 'unreadable' }
  /** Something else, such as a question of theirs: a human reads it, and the question waits. */
  | { is: 'other' };

export interface AnswerContext {
  today: Day;
  order: DateOrder;
  /** What was said before of a date, without its year. */
  partial: string | null;
}

/** So long an answer may be; what is longer tells a story. */
const LONGEST = 240;

/**
 * Reads a reply as the answer to a question. Only what is surely meant is taken: a wrong name in every text to come is
 * worse than asking twice.
 */
export function readAnswer(asked: Asked, body: string, context: AnswerContext): Answer {
  const text = clean(body);
  const bare = plain(text);
  if (text === '') return { is: 'unreadable' };
  if (skips(bare, asked)) return { is: 'skip' };
  const answer = text.length > LONGEST ? ({ is: 'unreadable' } as const) : read(asked, text, context);
  // What was not tried as an answer is somebody's to read: asking again would talk past them.
  const tried = !isTalk(text, bare) && looksTried(asked, text, bare);
  return answer.is === 'unreadable' && !tried ? { is: 'other' } : answer;
}

const FEW_WORDS = 4;

/** Whether what could not be read was meant as the answer: it has what one of this kind has. */
function looksTried(asked: Asked, text: string, bare: string): boolean {
  const few = bare.split(' ').length <= FEW_WORDS;
  switch (asked.kind) {
    case 'name':
      return few;
    case 'email':
      return /@|\bat\b|\bdot\b/i.test(text) || few;
    case 'postal_code':
      return /\d/.test(text) || few;
    case 'own':
      switch (asked.own.kind) {
        case 'date':
        case 'number':
          return /\d/.test(text) || few;
        case 'text':
        case 'yes-no':
        case 'one-of':
        case 'several-of':
          return few;
      }
  }
}

function read(asked: Asked, text: string, context: AnswerContext): Answer {
  switch (asked.kind) {
    case 'name':
      return valueOf(readName(text));
    case 'email':
      return valueOf(readEmail(text));
    case 'postal_code':
      return valueOf(readPostalCode(text));
    case 'own':
      return readOwn(asked.own, text, context);
  }
}

const valueOf = (values: (Answer & { is: 'value' })['values'] | null): Answer =>
  values ? { is: 'value', values } : { is: 'unreadable' };

const SKIPS =
  /^(?:(?:please|pls|just|ill|i will|i ll|id|let me|lets|can i|can we|want to|like to|rather) )*(?:skip|pass|skip (?:it|this|that|one|this one|question|the question)|next|next (?:one|question)|rather not(?: say)?|prefer not(?: to)?(?: say| answer)?|not (?:telling|saying|today|now)|no comment|no answer|n a|not applicable|dont want to (?:say|answer|tell|share)|i dont want to (?:say|answer|tell|share)|none of your business|paso|saltar|passer|uberspringen)(?: (?:please|pls|thanks|thank you|it|this|that))*$/;
const NOES = /^(?:no|nope|nah|no thanks|no thank you|none|nothing|dont have one|i dont have one|non|nein)$/;

/** Whether they leave it out. A plain no does, except where no is an answer. */
const skips = (bare: string, asked: Asked): boolean =>
  SKIPS.test(bare) ||
  (NOES.test(bare) && !(asked.kind === 'own' && asked.own.kind === 'yes-no') && !isOption(bare, asked));

const isOption = (bare: string, asked: Asked): boolean =>
  asked.kind === 'own' && asked.own.options.some((option) => plain(option) === bare);

const ASKS =
  /\?\s*$|^(?:what|why|who|how|when|where|which|is (?:this|the|there|it)|are (?:you|there|we)|do (?:you|i|we)|can (?:you|i|we)|could|will|would|does|may i)\b/i;
const CHATTER =
  /^(?:(?:ok|okay|thanks|thank you|thx|ty|great|cool|nice|awesome|perfect|lol|haha|wow|yes|yep|yeah|sure|hi|hello|hey|love it|got it|sounds good|gracias|merci|danke|so much|a lot|you) ?)+$/;

/** A question of theirs, a word of thanks, a sign: something that was not meant as the answer. */
const isTalk = (text: string, bare: string): boolean =>
  ASKS.test(text) || bare === '' || CHATTER.test(bare) || bare.split(' ').length > 12;

/** `ana at mail dot com`, `Ana.Ruiz@Example.org.`, `it's ana@example.org thanks`. */
function readEmail(text: string): { email: string } | null {
  const spoken = text
    .normalize('NFKC')
    .replace(/\s*[([{<]\s*(at|dot|punkt|punto|point)\s*[)\]}>]\s*/gi, (_, word: string) =>
      /at/i.test(word) ? '@' : '.',
    )
    .replace(/\s+at\s+/gi, (found, at: number, all: string) => (all.includes('@') ? found : '@'))
    .replace(/\s+(?:dot|punkt|punto|point)\s+/gi, '.')
    .replace(/\s+(?:underscore)\s+/gi, '_')
    .replace(/\s+(?:dash|hyphen|minus)\s+/gi, '-')
    .replace(/\s*@\s*/g, '@')
    .replace(/(@[^\s]*?)\s*[,.]\s*(?=[a-z]{2,}\b)/gi, '$1.');
  const words = spoken
    .split(/\s+/)
    .map((word) => word.replace(/^[<("'“‘:]+|[>)"'”’,;:!.]+$/g, ''))
    .filter((word) => word.includes('@'));
  // Two addresses: which of them is not ours to say.
  const [word, another] = words;
  const email = word && !another ? parseEmail(word) : null;
  return email?.ok ? { email: email.value } : null;
}

const DIGITS: Record<string, string> = {
  ...{ zero: '0', oh: '0', o: '0', one: '1', two: '2', three: '3', four: '4', five: '5' },
  ...{ six: '6', seven: '7', eight: '8', nine: '9' },
};

/** `80203-1234`, `8O2O3`, `Denver CO 80203`, `eight oh two oh three`. */
function readPostalCode(text: string): { postal_code: string } | null {
  const words = plain(text).split(' ');
  const spoken = words.map((word) => DIGITS[word] ?? word);
  const said = spoken.every((word) => /^\d$/.test(word)) ? spoken.join('') : text.normalize('NFKC');
  const typed = said.replace(/(?<=\d)[oO](?=[\doO])|(?<=[\doO]\d)[oO]\b/g, '0');
  const found = [...typed.matchAll(/(?<![\d-])(\d{5})(?:\s?[-–]\s?(\d{4})|\s(\d{4}))?(?![\d-])/g)];
  if (found.length !== 1) return null;
  const [, five, four, fourMore] = found[0]!;
  const code = four || fourMore ? `${five}-${four ?? fourMore}` : five!;
  return placeOfPostalCode(code) ? { postal_code: code } : null;
}

function readOwn(
  own: Pick<OwnField, 'kind' | 'options'>,
  text: string,
  { today, order, partial }: AnswerContext,
): Answer {
  switch (own.kind) {
    case 'date': {
      const date = readWrittenDate(text, { today, order, partial });
      if (!date.ok) return { is: 'unreadable' };
      return 'day' in date.value
        ? { is: 'own', value: date.value.day }
        : { is: 'partial', partial: date.value.partial };
    }
    case 'number':
      return ownOf(own, countIn(text));
    case 'yes-no':
      return ownOf(own, yesNoIn(text));
    case 'one-of':
    case 'several-of':
      return ownOf(own, choiceIn(own, text)?.join('\n') ?? null);
    case 'text':
      return /\?\s*$/.test(text) || CHATTER.test(plain(text)) ? { is: 'other' } : ownOf(own, text);
  }
}

function ownOf(own: Pick<OwnField, 'kind' | 'options'>, text: string | null): Answer {
  const value = text === null ? null : readOwnValue(own, text);
  return value?.ok && value.value !== null ? { is: 'own', value: value.value } : { is: 'unreadable' };
}
