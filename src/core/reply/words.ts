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

export const RESERVED_WORDS: ReadonlySet<string> = new Set([
  ...OPT_OUT_WORDS,
  ...HELP_WORDS,
  ...OPT_IN_WORDS,
  ...YES_WORDS,
  'no',
  'n',
]);
