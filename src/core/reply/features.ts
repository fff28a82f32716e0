import damerau from 'talisman/metrics/damerau-levenshtein.js';
import { DOUBTFUL, firstMatch, GOING_ON, INNOCENT, LEAVING, without } from './sentences';

/**
 * What a reply is made of, for the scored model: its words and pairs of words, also those that stand a little apart, pieces
 * of words (misspelt ones share them), words under a negation, and who does what to what: the sequence of roles in it, such
 * as `remove me list`.
 */

/** Roles of words, in the languages people answer in. */
const ROLES: Record<string, string> = {
  i: 'i im ive id ill we weve wed yo nous je',
  me: 'me us my our mine myself moi mon nos me mi ma',
  you: 'you u your ur ya yall youre vous vos ustedes su',
  they: 'he she him her his they them husband wife son daughter mom mum dad kid kids friend sister brother hers',
  not: 'dont not no never doesnt didnt cant wont isnt arent wasnt nor ne pas jamais nunca nope nah non havent',
  more: 'more anymore longer again mas plus further',
  send:
    'text texts texting txt txts msg msgs message messages messaging sms send sends sending sent contact contacting write writing ' +
    'call calling alert alerts notify notifications bother bothering bug bugging update updates promos spam spamming mensajes mensaje ' +
    'textos texto envoyez envoyer ecrivez ecrire mandar manden mandes mandarme enviar envien enviarme escriban escribirme contactez ' +
    'contacten communications communication emails email newsletter',
  list: 'list lists liste lista listas database system records contacts group register data',
  remove:
    'remove removed removing removal delete deleted erase strike scratch cross unlist exclude suppress purge wipe drop take taken ' +
    'pull kick get borren borrar borrenme quiten quitar quitenme quitame eliminar eliminen eliminenme saquen saquenme retirez ' +
    'enlevez supprimez effacez rayez otez',
  off: 'off out',
  stop:
    'stop stopped stopping stops quit quitting cease desist end ends ending halt discontinue terminate cancel cancelled canceled ' +
    'unsubscribe unsubscribed unsubscribing unsub optout opt opted opting revoke withdraw block blocked blocking arretez arreter arret ' +
    'cessez dejen deja paren pare parar basta baja cancelar desabonnez desabonner desinscrivez desinscrire',
  keep: 'keep keeping stay staying remain continue continuer continuar seguir sigan gardez still leave stayed resume',
  like: 'love loved like liked enjoy enjoyed great best awesome amazing fun thanks thank thx gracias merci adore encanta encantan',
  want: 'want wanna wants wish need would like quiero deseo veux souhaite',
  number: 'number phone cell mobile numero telefono',
  thing:
    'order booking reservation reserva reservation seats seat ticket tickets tour show event table appointment photo coat discount ' +
    'visit visita billets boletos class membership subscription insurance carpool waitlist refund',
  place: 'bus truck sign shuttle by station exit trail rest pit next last over at gate door',
  wrong: 'wrong mauvais equivocado stranger anymore passed died',
  anger:
    'fuck fucking shut stfu harassment harassing harass annoying annoyed fcc ftc tcpa lawyer attorney complaint illegal ' +
    'solicit soliciting solicitations solicitation dnc dnd buzz piss disturb unwanted junk crap garbage ' +
    'nonsense basta molesten molestar tranquille paix privacy gdpr consent permission',
  question:
    'how what when where which why who can could do does did is are will cuando donde cuanto quand ou combien',
  accident: 'accident accidentally mistake autocorrect oops sorry ignore meant kid typo',
};

const ROLE_OF = new Map(
  Object.entries(ROLES).flatMap(([role, words]) => words.split(' ').map((word) => [word, role] as const)),
);

/** Letters that digits stand for inside a word, as people disguise it. */
const DIGITS: Record<string, string> = { 0: 'o', 1: 'i', 3: 'e', 4: 'a', 5: 's', 7: 't' };

/** What people most often misspell when they leave. */
const UNSUBSCRIBING = ['unsubscribe', 'unsubscribed', 'unsubscribing'] as const;

/** The word that another is with at most two slips; null: none. */
const nearly = (word: string, words: readonly string[]): string | null =>
  words.find((one) => damerau(word, one) <= 2) ?? null;

/** `st0p` -> `stop`, `5top` -> `stop`, `stopppp` -> `stop`, `unsubsribe` -> `unsubscribe`; numbers stay numbers. */
export const undisguised = (text: string): string =>
  text
    .replace(/(\p{L})\1{2,}/gu, '$1')
    .replace(/\bun\w{6,12}\b/g, (word) => nearly(word, UNSUBSCRIBING) ?? word)
    .replace(/\b(?:stpo|sotp|tsop|stpp|stopp|stoip|sotop)\b/g, 'stop')
    .replace(/\b(?=\w*\p{L})(?=\w*\d)[\p{L}\d]+\b/gu, (word) =>
      /^\d+(?:am|pm|th|st|nd|rd|h|p|a|x|k|min|mins)$/.test(word)
        ? word
        : word.replace(/[013457]/g, (digit) => DIGITS[digit]!),
    );

/** Words that are looked at: who writes more has said it by then. */
const MOST_WORDS = 60;

/** How many words a negation reaches. */
const REACH = 3;

/**
 * Features of a reply in its plainest dress, each once: of the rules that apply to it, and of what is left when what they
 * explain is taken out.
 */
export function featuresOf(text: string): string[] {
  const clear = undisguised(text);
  const goingOn = firstMatch(GOING_ON, clear);
  const innocent = firstMatch(INNOCENT, clear);
  const rest = without(INNOCENT, without(GOING_ON, clear));
  const leaving = firstMatch(LEAVING, rest);
  const doubtful = leaving ? null : firstMatch(DOUBTFUL, rest);
  const rules = [
    ...(goingOn ? ['x:goes on'] : []),
    ...(innocent ? ['x:innocent'] : []),
    ...(leaving ? ['x:leaves', `x:leaves ${leaving.code}`] : []),
    ...(doubtful ? ['x:doubtful', `x:doubtful ${doubtful.code}`] : []),
    ...(leaving && goingOn ? ['x:both'] : []),
  ];
  return [...rules, ...wordFeatures(clear)];
}

function wordFeatures(text: string): string[] {
  const words = text
    .split(' ')
    .filter((word) => word !== '')
    .filter((_, i) => i < MOST_WORDS);
  const found = new Set<string>(['all']);
  let negated = 0;
  words.forEach((word, i) => {
    found.add(`w:${word}`);
    found.add(`b:${words[i - 1] ?? '^'} ${word}`);
    // With one or two words between: “take … off”, “no … more”.
    if (i > 1) found.add(`s:${words[i - 2]!} _ ${word}`);
    if (i > 2) found.add(`s:${words[i - 3]!} __ ${word}`);
    if (negated > 0) found.add(`n:${word}`);
    negated = ROLE_OF.get(word) === 'not' ? REACH : negated - 1;
    // Known words are told by their role; pieces are for words that are misspelt or unknown.
    if (!ROLE_OF.has(word)) for (const piece of pieces(word)) found.add(`c:${piece}`);
  });
  found.add(`b:${words.at(-1) ?? '^'} $`);
  const roles = words.flatMap((word) => ROLE_OF.get(word) ?? []);
  roles.forEach((role, i) => {
    found.add(`r:${roles[i - 1] ?? '^'} ${role}`);
    if (i > 0) found.add(`r:${roles[i - 2] ?? '^'} ${roles[i - 1]!} ${role}`);
    if (i > 1) found.add(`r:${roles[i - 3] ?? '^'} ${roles[i - 2]!} ${roles[i - 1]!} ${role}`);
  });
  found.add(`r:${roles.at(-1) ?? '^'} $`);
  for (const role of roles) found.add(`h:${role}`);
  found.add(`l:${words.length <= 2 ? 'short' : words.length <= 7 ? 'middle' : 'long'}`);
  return [...found];
}

/** Pieces of four letters, the word's ends marked. */
function pieces(word: string): string[] {
  const marked = `_${word}_`;
  if (word.length < 3) return [];
  return Array.from({ length: marked.length - 3 }, (_, i) => marked.slice(i, i + 4));
}
