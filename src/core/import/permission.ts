import { readDate } from '../people/values';
import { countedDay } from './counted-day';

/**
 * What a row of a file says of being texted.
 *   agreed    so it says
 *   declined  it does not say that they agreed
 *   left      they left, or want no texts
 *   unclear   neither yes nor no
 */
export type Permission = 'agreed' | 'declined' | 'left' | 'unclear';

/** What a column says it of: that they agreed, when they did, or that they left. */
export type PermissionColumn = 'agreed' | 'agreed_on' | 'left';

const LEFT =
  /\b(?:un ?subscri\w*|opt(?:ed|s|ing)? ?out|optout|left|stop(?:ped)?|removed?|suppress(?:ed|ion)?|block(?:ed)?|do ?not (?:text|sms|contact|send|message|disturb)|don t (?:text|sms|contact|send|message)|dn[ct]|revoked?|withdr[ae]wn?|cancell?ed|complain(?:ed|t)?|spam|dado de baja|baja|d[eé]s(?:abonn|inscri)\w*|abgemeldet)\b/;
/** How people mark a name or a number of somebody who wants no texts. */
export const MARKED_LEFT =
  /\b(?:do not|don['’]?t) (?:text|sms|contact|message|msg|call)\b|\bdn[ct]\b|\bopt(?:ed|s)?[ -]?out\b|\bunsub(?:scribed?)?\b|\bno (?:texts?|sms|messages)\b|\bstop(?:ped)? (?:texts?|texting|sms)\b/gi;
/** Texts and texting, as notes call them in English, Spanish, French and German. */
const TEXTS = String.raw`(?:te?xts?|te?xting|texted|sms|mensajes?|textos?|textear|textee[ns]?|textez|messages? textes?)\b(?! back\b)`;
const ELSEWHERE = String.raw`(?:e-?mails?|mail|phone|calls?|voice|correos?(?: electr[oó]nicos?)?|llamad?as?|llamar|courriels?|appels?|appeler|t[eé]l[eé]phone)`;
const NONE = String.raw`\b(?<!\bstop to )(?:no|not|never|without|instead of|rather than|cannot|sin|nunca|keine|pas|plus de|aucun|jamais|against|off|hates?|dislikes?|declin\w*|refus\w*|rejects?|rejected|(?:opt(?:ed|s|ing)? out|removed?|unsubscribed?) (?:of|from)|quit|stop(?:ped|s)?(?! by| to)|(?:do|does|did|ca|wo|would|should|is|are)n['’]?t)\b`;
/** What lies between the two says of something else than of texts that they are not wanted. */
const BESIDE = String.raw`(?:condition|required|problem\w*|issues?|worr\w+|trouble|only|solo|just|mal|sure|answer|please|but|pero|mais|(?:get|got|receiv\w*|see|saw|seen|recib\w*|re[cç]u\w*) (?:the|your|my|our|that|this|last|any|tu|su|el|votre|vos|nos)|${ELSEWHERE}(?! (?:or|nor|and|and\/or|ni|ou|o|y)\b))\b`;
/** Within one part of a sentence. */
const BETWEEN = String.raw`(?:(?: +|[_-])(?!${BESIDE})\p{L}[\p{L}'’]{0,20}){0,4}(?: +|[_-])`;
/** The same in words of any other column, where only texts can be meant: who opted out there may have left a newsletter. */
const NOTED = new RegExp(
  [
    `${NONE}${BETWEEN}${TEXTS}`,
    String.raw`\b${TEXTS} *[:=] *(?:no|none|n|off|stop|opt(?:ed)?[ -]?out)\b`,
    String.raw`\b(?:texts?|texting|text messag\w+|sms) (?:is |are |does |do )?(?:not|n['’]t) (?:allowed|permitted|possible|ok|okay|wanted|welcome|work\w*|available)\b`,
    String.raw`\b${ELSEWHERE}(?: please)? (?:only|solamente|[uú]nicamente|seulement|uniquement)\b(?! (?:if|when|after|before))`,
    String.raw`\b(?:only (?:by |via )?|(?:s[oó]lo|solamente|[uú]nicamente) (?:por |con )?|(?:seulement|uniquement) par )${ELSEWHERE}\b(?! (?:if|when|after|before|si|cuando)\b)`,
    String.raw`\bpr[eé]f\p{L}* (?:an? |by |un |el |los |las |les? )?${ELSEWHERE} (?:over|to|than|a los|a|aux?) (?:an? )?${TEXTS}`,
    String.raw`\bne (?:pas|plus|jamais) (?:me |lui |leur )?texter\b`,
    String.raw`\bno (?:me|le|les|nos) (?:escrib|text)\p{L}{1,6}\b`,
    String.raw`\b(?:do not|don['’]?t|never) (?:message|msg)\b`,
  ].join('|'),
  'iu',
);

/** What each of them names one of: few cells do, and the rest are told from them twenty times quicker. */
const MENTIONED = /te?xt|sms|mensaj|escrib|messag|msg|only|s[oó]lo|solamente|nicamente|seulement|uniquement/i;

/** Of a tag, all that it says. */
const TAG_OF_LEFT =
  /^(?:sms|texts?|texting|mobile)?[ :_-]*(?:do[ _-]?not[ _-]?(?:text|sms|contact|message|disturb)|dn[ct]|opt(?:ed|s)?[ _-]?outs?|unsub(?:scribed?|scribers?)?|no[ _-](?:texts?|sms)|stop(?:ped)?|stopped[ _-](?:texts?|sms)|(?:black|block)[ _-]?list(?:ed)?|suppress(?:ed|ion))[ :_-]*(?:sms|texts?|texting|mobile)?$/i;

/** Whether a name or a number is marked with a wish to be texted no more. */
export const saysLeft = (cell: string): boolean => cell.search(MARKED_LEFT) >= 0;

/** Whether a note may be about somebody who wants no texts: a human has to look. */
export const mayMeanNoTexts = (note: string): boolean => MENTIONED.test(note) && NOTED.test(note);

/** Whether a tag or a list is that of people who left. */
export const tagSaysLeft = (tag: string): boolean => TAG_OF_LEFT.test(tag.trim());

const NO =
  /^(?:n|no|non|nein|not|never|none|false|f|0|off|unchecked|declined?|denied|refused|pending|unconfirmed|invited|bounced|cleaned|inactive|archived|deleted|expired|unknown|n a|null|undefined|✗|✘|☐)$|^(?:no|not|never|non|nein|without) /;
const YES =
  /^(?:y|yes|yep|yeah|s|si|sí|o|oui|j|ja|true|t|1|on|x|ok|okay|agreed?|agrees|accept(?:ed|s)?|consent(?:ed|s)?|opt(?:ed)? ?in|optin|subscribed|active|confirmed|granted|given|enrolled|joined|member|in|checked|✓|✔|☑)$|^(?:yes|i agree|i consent|i accept|i want|agreed|opted in|subscribed|s[ií]|oui|ja)(?: |$)/;
const NUMBERS_OF_A_DAY = /^\s*(?:\d{4}[-/. ]\d{1,2}[-/. ]\d{1,2}|\d{1,2}[-/. ]\d{1,2}[-/. ]\d{2,4})/;

/** What one cell says. Null: nothing, as where a column of who left is empty. */
export function readPermission(
  column: Exclude<PermissionColumn, 'agreed_on'>,
  cell: string,
): Permission | null {
  const text = cell
    .normalize('NFKC')
    .toLowerCase()
    .replace(/[\s_\-./!?:,;'’()]+/g, ' ')
    .trim();
  if (text === '' || NO.test(text)) return column === 'left' ? null : 'declined';
  if (LEFT.test(text)) return 'left';
  // Yes, or the day on which it was.
  return YES.test(text) || isMoment(cell) ? column : 'unclear';
}

const HEAVIEST: readonly Permission[] = ['left', 'declined', 'unclear', 'agreed'];

/** Of several columns the word that permits least counts. Null: none says anything. */
export const leastOf = (said: readonly (Permission | null)[]): Permission | null =>
  HEAVIEST.find((one) => said.includes(one)) ?? null;

/** What is told of a row, beside the value itself. */
export const PERMISSION_WORDS: Record<Exclude<Permission, 'agreed'>, string> = {
  left: 'the file says that they left or want no texts: they are opted out',
  declined: 'the file does not say that they agreed: it brings no consent',
  unclear: 'the file says neither yes nor no to texts: it brings no consent',
};

const SAYS_LEFT =
  /\bopt(?:ed)? ?outs?\b|\bunsub(?:scribed?)?\b|\bdo not (?:text|contact|sms|message)\b|\bno (?:texts?|sms)\b|\bdn[ct]\b|\b(?:black|block) ?list(?:ed)?\b|\bstopped (?:texts?|sms)\b|^(?:stop|stopped|suppressed|blocked)$/;
const SAYS_AGREED =
  /\bopt(?:ed)? ?ins?\b|\bconsent(?:ed|s)?\b|\b(?:may|can|should) we (?:text|message)\b|\bagrees? to (?:get |receive )?(?:\w+ )?(?:texts?|sms|messages?)\b|\b(?:sms|texts?|texting|mobile|marketing|subscription|subscriber) (?:ok|okay|permission|allowed|subscribed|status)\b|^(?:subscribed|permission|opted in|textable)$|\b(?:ok|okay) to text\b|\baccepts? (?:sms|texts?)\b/;
/** To something else than texts. */
const ELSE = 'e ?mails?|mail|newsletter|voice|phone calls?|calls?';
const TO_ELSE = new RegExp(`\\b(?:${ELSE})\\b`);
/** About consent, and no yes or no: when, how, from where; or to something else. */
const BESIDE_IT = new RegExp(
  `\\b(?:timestamp|when|ip|source|method|url|link|page|wording|language|reason|by whom|${ELSE})\\b`,
);
/** When they agreed. */
const WHEN = /\b(?:date|time|day|dt|timestamp|when|at|on)\b/;
const WHEN_AGREED = /\bopt(?:ed)? ?ins?\b|\bconsent(?:ed|s)?\b|\b(?:re)?subscribed?\b|\bagreed\b/;
const A_STATUS = /^(?:status|contact status|list status)$/;

/** Whether a column says who may be texted, by its plain header and the values below it. */
export function permissionColumn(header: string, values: readonly string[]): PermissionColumn | null {
  const words = header.replace(/[?!*]/g, '').trim();
  // Of days with some words among them: who has none there brings no consent.
  const days = values.filter(isDay).length * 2 > values.length;
  const when = SAYS_AGREED.test(words) || (WHEN.test(words) && WHEN_AGREED.test(words));
  if (days && when && !SAYS_LEFT.test(words)) return TO_ELSE.test(words) ? null : 'agreed_on';
  if (BESIDE_IT.test(words)) return null;
  // When they left is said of nobody who did not, whether or not it can be read.
  if (SAYS_LEFT.test(words)) return WHEN.test(words) || isClear('left', values) ? 'left' : null;
  if (SAYS_AGREED.test(words)) return !WHEN.test(words) && isClear('agreed', values) ? 'agreed' : null;
  const lifts =
    A_STATUS.test(words) && values.some((value) => /subscri|opt(?:ed)?[ _-]?(?:in|out)/i.test(value));
  return lifts ? 'agreed' : null;
}

/** Most of what stands there is yes, no, or a day. */
const isClear = (column: 'agreed' | 'left', values: readonly string[]): boolean =>
  values.filter((value) => readPermission(column, value) === 'unclear').length * 2 <= values.length;

/** In whichever order its numbers stand, or counted. */
const isDay = (value: string): boolean =>
  readDate(value, 'month-day').ok || readDate(value, 'day-month').ok || countedDay(value.trim()) !== null;

/** When something was, however it is written: who left on a day left, whether or not the day can be read. */
const isMoment = (cell: string): boolean => NUMBERS_OF_A_DAY.test(cell) || isDay(cell);
