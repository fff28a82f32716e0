import { COUNT, UNIT } from './pause';

const TEXTS = '(?:(?:texts?|messages?|msgs?|alerts?|updates?|reminders?|notifications?|sms)\\b)';
const COUNTED = `(?:${COUNT}|a few|some|a couple(?: of)?|(?:the )?next \\w+)`;

/** For how long, in whatever words: what makes a pause of a wish to be left alone. */
const SPAN = [
  `for ${COUNTED}(?: \\w+)? ?(?:while|bit|${UNIT}|summer|winter|spring|fall|autumn|season|semester)`,
  ...['for now', 'temporarily', 'until', 'till', 'til', 'hasta', 'jusqu\\w*', 'pendant', 'por ahora'],
  '(?:while|when) (?:i am|im|we are|were) \\w+',
  'during (?:the |my |our )?\\w+',
  '(?:cette|esta|este|ce) (?:semaine|semana|mes|mois)',
  `(?:por|durante) (?:unos? |unas? |este |esta |el |la |los |las )*(?:\\w+ )?(?:mes(?:es)?|semanas?|dias?|tiempo)`,
  `(?:pausa de|pause d|pause de) (?:${COUNT}) (?:${UNIT})`,
  '(?:over|during|after) the (?:\\w+ )?(?:holidays|summer|winter|break|new year|trip)',
  // "Stop, that is the third time this week" is no pause.
  '(?<!\\b(?:time|times|text|texts|message|messages|twice|again|one|alert|alerts) )(?:this|the rest of the) (?:week|weekend|month|season|semester|summer|winter|spring|fall|year)(?= please| pls| thanks| thank you|$)',
].join('|');
const FOR_A_WHILE = new RegExp(`\\b(?:${SPAN})\\b`);

const FOR_GOOD =
  /\b(?:permanently|forever|for ever|for good|indefinitely|para siempre|definitivement|pour toujours)\b/;

/**
 * What makes a pause of words that wish to be left alone: for how long it is meant, or that they say "pause" themselves.
 * Both in the plainest dress of a reply. Null: it is meant for good.
 */
export const pauseSpan = (text: string, wish: string): string | null =>
  FOR_GOOD.test(text)
    ? null
    : ((FOR_A_WHILE.exec(text) ?? /^(?:pause|suspend|mute|snooze)\b/.exec(wish))?.[0] ?? null);

const THESE = `(?:me|us|my|our|the|these|those|this|them|it|all|any|your|of|from|more|sending|getting)`;
const NOT_BEFORE = '(?<!\\b(?:dont|not|never|no|a|an|the|in|without|is|was|on|un|une|una|la) )';
const VERBS = '(?:pause|pausing|mute|snooze|suspend)';

/** Wishes for quiet that name what is to be quiet. */
const ASKS = new RegExp(
  [
    `${NOT_BEFORE}\\b${VERBS} (?:${THESE} )*(?:${TEXTS}|me\\b|us\\b|my (?:number|subscription|account)\\b)`,
    `${NOT_BEFORE}\\b(?:put|place|set) (?:${THESE} )*(?:${TEXTS} )?on (?:hold|pause|mute|ice)\\b`,
    `\\bhold (?:off (?:on )?)?(?:${THESE} )*${TEXTS}`,
    `\\bgive (?:${THESE} )*(?:${TEXTS} )?a (?:rest|break) (?:for|until|till?)\\b`,
    `\\bbreak from (?:you\\b|this\\b|these\\b|it all\\b|(?:${THESE} )*(?:${TEXTS}|texting))`,
    `\\b(?:pongan(?:me|nos)?|ponme|ponganlo) en pausa\\b|\\besper(?:ar|en) (?:hasta|unas?|unos?) (?:\\w+ ){1,4}(?:para )?(?:escribir|mandar|enviar)\\w*|\\b(?:pausen|pausenme|suspendan|silencien) (?:los |mis |sus |estos )*(?:mensajes|textos|avisos)\\b`,
    `\\b(?:mettez|mettre|mets) (?:\\w+ ){0,3}en pause\\b|\\bsuspend(?:ez|re) (?:les |vos |ces )*messages\\b`,
  ].join('|'),
);

/** Words that ask for quiet where they say for how long, or say nothing else. */
const QUIET = `(?:${VERBS}|(?:hold|lay) off|skip (?:me|us)|(?:be )?quiet|silence|hold (?:everything|it all|them|these)|(?:texts|messages|alerts) off|(?:en )?pausa|no molesten)`;
const ASKS_FOR_A_WHILE = new RegExp(
  `(?:^|\\b(?:can|could|would|will) (?:you|u|we|i) |\\b(?:please|pls|plz|just|to|and|so|lets) |(?=skip (?:me|us)|nothing for))(?:please |just )?(?:${QUIET}|nothing|(?:take|need|have|get|want) (?:a|some) (?:\\w+ )?break(?! (?:down|on|in)\\b))(?: \\w+){0,4}? (?:${SPAN})\\b`,
);
const ALONE = new RegExp(
  `^(?:can you |could you )?(?:please |just )?${QUIET}(?: (?:please|pls|plz|thanks|thank you|por favor|svp))*$`,
);
/** "Do you take a break for the winter?" is about us. */
const ABOUT_US = /^(?:do|does|did|when|will|are|is|what|why) (?:you|they|it|the|there|this)\b/;

/** The words of a reply in its plainest dress that wish for quiet for a while, where none wishes to leave; null: none do. */
export const asksForPause = (text: string): string | null =>
  ABOUT_US.test(text)
    ? null
    : ((ASKS.exec(text) ?? ASKS_FOR_A_WHILE.exec(text) ?? ALONE.exec(text))?.[0].trim() ?? null);
