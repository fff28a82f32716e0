/**
 * Words that always count, alone and in any dress.
 * Source: 47 CFR 64.1200(a)(10)(i) names stop, quit, end, revoke, opt out, cancel, unsubscribe;
 * the rest is the trade's (stopall, optout; arret, alto, parar by language).
 */
export const OPT_OUT_WORDS: ReadonlySet<string> = new Set([
  ...['stop', 'quit', 'end', 'revoke', 'opt out', 'optout', 'cancel', 'unsubscribe'],
  ...['stopall', 'stop all', 'end all', 'cancel all', 'unsub', 'opt me out', 'remove', 'remove me'],
  ...[
    'arret',
    'arreter',
    'desabonner',
    'alto',
    'parar',
    'pare',
    'basta',
    'cancelar',
    'detener',
    'baja',
    'sair',
    'stopp',
  ],
  ...['exit', 'unenroll', 'unenrol', 'deregister', 'unregister'],
]);

export const HELP_WORDS: ReadonlySet<string> = new Set([
  'help',
  'info',
  'aide',
  'ayuda',
  'ajuda',
  'hilfe',
  'helpme',
  'help me',
]);

export const OPT_IN_WORDS: ReadonlySet<string> = new Set([
  ...['start', 'unstop', 'resume', 'restart', 'resubscribe', 'subscribe', 'opt in', 'optin', 'opt me in'],
  ...['opt me back in', 'sign me up', 'sign me back up', 'sign me up again', 'start again'],
  ...['start the texts again', 'start the alerts again', 'empezar', 'comenzar'],
]);

/** Answers to "Reply YES to confirm". Only a pending question gives them meaning. */
export const YES_WORDS: ReadonlySet<string> = new Set([
  'yes',
  'y',
  'yeah',
  'yep',
  'yes please',
  'si',
  'oui',
  'ok',
  'okay',
  'sure',
]);

/** Words that change nothing when they stand before or after an exact word: `stop please`, `ok stop`. */
const FILLERS =
  'please|pls|plz|thanks|thank you|thx|ty|ok|okay|now|hi|hello|hey|sorry|just|text|texting|the word|keyword|reply|por favor|svp|merci|gracias|asap|immediately|already|everything|it|this|these|that|msg|msgs|texts|messages|sms|alerts';
const LEADING = new RegExp(`^(?:(?:${FILLERS}) )+`);
const TRAILING = new RegExp(`(?: (?:${FILLERS}))+$`);

/** An exact word with fillers around it taken off; the text itself when nothing remains. */
export function withoutFillers(text: string): string {
  const bare = text.replace(LEADING, '').replace(TRAILING, '');
  return bare === '' ? text : bare;
}

/** What people write before a keyword they wish for, and after it: `I want sky`, `sign me up for sky please`. */
const WISHES =
  'i want|i would like|i d like|id like|i like|can i get|can i have|could i get|could i have|may i have|i am texting|im texting|sign me up for|sign me up to|sign me up|sign up for|sign up|signing up for|join|joining|i join|add me to|add me|put me on|subscribe me to|subscribe to|subscribe|send me|give me|get me|count me in for|enter|enrol|enroll|my keyword is|the keyword is|keyword is|the code is|code|the|to|for|a|one';
const AFTER = 'for me|to me|for us|list|program|programme|club|offer|deal|code|too|also|here|from me';
const WISHING = new RegExp(`^(?:(?:${WISHES}|${FILLERS}) )+`);
const WISHED = new RegExp(`(?: (?:${AFTER}|${FILLERS}))+$`);

/**
 * A text without what people write around a word they wish for; the text itself when nothing remains. For keywords
 * only: around STOP the same words would say something else.
 */
export function withoutWishes(text: string): string {
  const bare = text.replace(WISHING, '').replace(WISHED, '');
  return bare === '' ? text : bare;
}

/** Words people answer with anyway: as a keyword they would make a member of somebody who only answered. */
const ANSWERS: ReadonlySet<string> = new Set(
  (
    'thanks|thank you|thx|great|good|nice|cool|perfect|fine|sounds good|awesome|wow|lol|love|love it|maybe|later|done|in|out|on|off|me|here|hi|hello|hey|' +
    'today|tonight|tomorrow|now|morning|noon|evening|monday|tuesday|wednesday|thursday|friday|saturday|sunday|mon|tue|wed|thu|fri|sat|sun|' +
    'gracias|bueno|merci|bien|one|two|three|four|info please|call|call me|who is this|what|why|when|where'
  ).split('|'),
);

/** Whether somebody may write this for another reason than to join: an answer, a number, a date, a time. */
export const isPlainAnswer = (word: string): boolean =>
  ANSWERS.has(word) ||
  /^\d{1,4}$/.test(word) ||
  /^\d{1,2}(?: \d{1,2}){1,2}$/.test(word) ||
  /^\d{1,2} ?(?:am|pm)$/.test(word);

export const RESERVED_WORDS: ReadonlySet<string> = new Set([
  ...OPT_OUT_WORDS,
  ...HELP_WORDS,
  ...OPT_IN_WORDS,
  ...YES_WORDS,
  'no',
  'n',
]);

/** What wishes to leave are made of, where they are written as one word. */
const RUN_TOGETHER = [
  'stop quit end cancel unsubscribe opt out take remove delete leave alone no more dont text texts',
  'texting txt txts sms msg msgs message messages messaging sending contact contacting bother bothering me',
  'us my number it this these the from list off all now please pls plz',
].flatMap((line) => line.split(' '));

/** One word of its own, whatever it could be cut into. */
const WHOLE: ReadonlySet<string> = new Set(['takeout', 'takeoff', 'offend', 'metoo', 'allout']);
const LONGEST_TOGETHER = 40;

/** One word as the words it is made of; null: it is not made of such words alone, or of one. */
export function partedWords(text: string): string | null {
  if (!/^[a-z]{6,}$/.test(text) || text.length > LONGEST_TOGETHER || WHOLE.has(text)) return null;
  // The fewest words up to each letter: `no` and `more`, not `no`, `mo` …
  const upTo: (string[] | null)[] = [[]];
  for (let end = 1; end <= text.length; end++) {
    const ways = RUN_TOGETHER.flatMap((word) => {
      const before = text.endsWith(word, end) ? upTo[end - word.length] : null;
      return before ? [[...before, word]] : [];
    });
    upTo[end] = ways.sort((a, b) => a.length - b.length)[0] ?? null;
  }
  const words = upTo[text.length];
  return words && words.length > 1 ? words.join(' ') : null;
}
