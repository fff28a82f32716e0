/**
 * Sentences about texts and about stopping, on the plainest dress of a reply (see `plain`).
 * Each list is tried in order; what one explains is taken out before the next looks.
 */
interface Pattern {
  code: string;
  test: RegExp;
}

const TEXTS =
  '(?:text\\w*|txt\\w*|message\\w*|msg\\w*|sms|alert\\w*|notification\\w*|promotion\\w*|promo\\w*|offer\\w*|ad|ads|spam\\w*|update\\w*|reminder\\w*|stuff|crap|junk)';
const NOT = '(?:dont|do not|doesnt|not|never|no need to|wont|wouldnt|cant|cannot|please dont|didnt)';
const QUITTING =
  '(?:stop\\w*|quit\\w*|unsubscrib\\w*|opt(?:ing|ed)? out|cancel\\w*|remov\\w*|revok\\w*|end(?:ing)?|leav(?:e|ing))';

/** Wishes to go on, said with the words of stopping: `don't stop, I love these`. */
export const GOING_ON: readonly Pattern[] = [
  {
    code: 'negated',
    test: new RegExp(
      `\\b${NOT} (?:ever |you |you dare |even think about |want (?:you )?to |wish to |need to |mean to |please |plan to |going to )*${QUITTING}\\b(?: (?:me|these|them|the|my|this|it|sending|getting|${TEXTS}|out|from|with|to|coming|off))*`,
      'g',
    ),
  },
  {
    code: 'accident',
    test: /\b(?:unsubscribed|opted out|stopped|cancelled|canceled) (?:by accident|by mistake|accidentally)\b/g,
  },
  {
    code: 'never-stops',
    test: /\b(?:why did (?:you|the|these|they)|have you|did you)(?: \w+){0,3} (?:stop|stopped)(?: (?:sending|texting|getting))?(?: (?:me|them|these|texts))*\b/g,
  },
];

/** Harmless uses of the same words. */
export const INNOCENT: readonly Pattern[] = [
  {
    code: 'stop-by',
    test: /\b(?:stop(?:ped|ping|s)?) (?:by|in|over|there|off|at|on the way|for (?:coffee|lunch|dinner|gas|a drink|a bite|ice cream|cocoa|hot chocolate))\b/g,
  },
  {
    code: 'stop-noun',
    test: /\b(?:bus|train|tram|last|first|next|rest|pit|one|non|full|truck|the|a|every|your|shuttle|which|what) stop(?:s)?\b/g,
  },
  { code: 'nonstop', test: /\b(?:nonstop|stopwatch|unstoppable|stopover)\b/g },
  {
    code: 'end-noun',
    test: /\b(?:the|weeks?|months?|years?|this|at|in|by|high|low|dead|far|south|north|east|west|week|other|no|an) ends?\b|\bends? (?:of|up|at|on|in|by|time|date)\b|\b(?:does|do|will|did|it|show|shows|event|talk|sale|when|tour|program|class|session|movie) (?:\\w+ )?ends?\b/g,
  },
  {
    code: 'cancel-order',
    test: /\b(?:cancel\w*|remove|revoke|end|quit|leave) (?:(?:my|our|the|a|an|this|his|her|one|two|of) )*(?:\w+ )?(?:order|booking|reservation|appointment|ticket|tickets|visit|tour|seat|seats|table|show|event|event|class|session|payment|order|coat|item|job|shift|party|birthday|trip|spot|dinner|evening|night|walk|house|school|home)\b/g,
  },
  {
    code: 'cancelled-event',
    test: /\b(?:is|was|are|been|be|get|gets|got|were|if|its|has|have) (?:\w+ )?(?:cancell?ed|cancell?ing)\b|\bcancell?ation\w*\b/g,
  },
  {
    code: 'quit-habit',
    test: /\b(?:quit|quitting|stop|stopped|stopping) (?:smoking|drinking|working|school|my job|laughing|crying|talking about|thinking about|raining|snowing|loving|staring|smiling|dreaming|watching)\b/g,
  },
];

/** What of theirs stands on a list. */
const OURS =
  '(?:me|us|my (?:number|name|phone|cell|info|details|data|contact|mobile)|this (?:number|phone)|the number|mine)';

/** Plain wishes to be left alone. */
export const LEAVING: readonly Pattern[] = [
  {
    code: 'stop-texts',
    test: new RegExp(
      `\\b(?:stop|quit|cease|halt|end|cancel|discontinue|kill|unsubscribe|pause)(?: (?:all|with|sending|send|getting|receiving|me|from|the|these|those|this|that|any|your|of|my|us|more|to|future|further|damn|stupid|annoying|fucking|freaking|god|automated|unwanted|out))* (?:${TEXTS}|contact\\w*|calling|bothering|harass\\w*|bugging|spamming|subscription|subscriptions|list|membership|sending)\\b|\\b(?:stop|quit) (?:getting|receiving|sending|seeing) (?:all |any |me )*(?:these|those|this|them|it|anything|from)\\b`,
    ),
  },
  {
    code: 'stop-wanted',
    test: /\b(?:want|wanna|like|love|need|wish|asked|asking|telling|told|tell|id like|trying|tried|how do i|how can i|how to|where do i|can i|could i|can you|could you|would you|will you|please|you to|pls|plz|just|i said|must|to) (?:you |to |please |just |kindly |again |both |everyone )*(?:stop|quit|unsubscribe|opt out|revoke|be removed|get off|be taken off|get out of)(?: (?:now|please|it|this|these|them|thanks|thank you|immediately|all|me|from|here|everything|today|already|and \w+))*$/,
  },
  {
    code: 'opting-out',
    test: /\b(?:opt(?:ing)? (?:me |us )?out|unsubscribe (?:me|us|from|this|my|please|now)|unsub (?:me|us|please)|please unsubscribe|revok\w+ (?:my |all |any )?(?:consent|permission)|withdraw (?:my )?consent|sign me off|count me out|i unsubscribe|i revoke|i quit)\b/,
  },
  {
    code: 'off-list',
    // Who is removed is gone; who is taken, got or kept is so only off or out of something: "keep us a place" is none.
    test: new RegExp(
      `\\b(?:remove|delete|strike|scratch|erase) ${OURS}\\b|\\b(?:drop|take|get|pull|keep) ${OURS}(?: (?:please|right|now|number|name|all|just|the hell|asap|immediately))* (?:off|from|out)\\b(?! (?:there|here|tonight|late|early|to)\\b)|\\bdrop (?:my (?:number|name|phone|cell|contact|mobile)|this number|the number)\\b`,
    ),
  },
  {
    code: 'no-more',
    test: new RegExp(
      `\\bno (?:more|further|longer)(?: \\w+){0,4} (?:${TEXTS}|contact|calls|of these|of this|receiv\\w+|interested|want\\w*|wish\\w*|get|from you)\\b|\\bno more(?: please| thanks| thank you)?$|\\bno longer (?:want|wish|interested|need|live)\\b`,
    ),
  },
  {
    code: 'do-not-text',
    test: new RegExp(
      `\\b(?:dont|do not|never|not to|stop and dont|please dont|didnt ask (?:you )?to)(?: \\w+){0,2} (?:text|texting|message|contact|call|bother|send|sms|msg|write|txt)(?: \\w+){0,3}(?: (?:me|us|anything|anymore|again|this|these|any|here|my|ever|${TEXTS}|more))\\b|\\b(?:dont|do not) (?:text|message|contact|call|sms|txt)$`,
    ),
  },
  {
    code: 'do-not-want',
    test: new RegExp(
      `\\b(?:dont|do not|didnt|no longer|never) (?:want|need|wish|care|wanna|like|agree|consent|sign up|ask)(?: \\w+){0,4} (?:these|this|those|them|${TEXTS}|from you|receive|get|hear from you|anymore|any more|to be (?:on|texted|contacted))\\b`,
    ),
  },
  {
    code: 'leave-alone',
    test: /\b(?:leave (?:me|us) alone|lose (?:my|this) number|forget my number|go away|get lost|piss off|fuck off|fuck you|buzz off|enough already|enough of (?:these|this)|make it stop|make them stop|let me out|i want out|im out|i am out|im done with (?:these|this|you|your)|i give up on these)\b/,
  },
  {
    code: 'spanish',
    test: /\b(?:no (?:me )?(?:mande[ns]?|envie[ns]?|escriba[ns]?|quiero)(?: \w+){0,3}(?: (?:mensajes|textos|mas|recibir))|no mas (?:mensajes|textos)|deje[ns]? de (?:mandar\w*|enviar\w*|escribir\w*|molestar\w*)|quiteme|saqueme|darme de baja|dar de baja|borreme|eliminar? mi numero)\b/,
  },
  {
    code: 'french',
    test: /\b(?:ne (?:menvoyez|mecrivez|me contactez|plus menvoyer|plus me contacter)(?: plus)?|arretez (?:de|les|vos|ces)|desabonnez moi|retirez moi|plus de (?:messages|textos|sms)|enlevez moi)\b/,
  },
];

/** Words that may mean it, when nothing above explains them: a human decides. */
export const DOUBTFUL: readonly Pattern[] = [
  {
    code: 'stop-word',
    test: /\b(?:stop|stopp|stpo|sotp|quit|unsubscrib\w*|unsub|optout|opt out|revoke|cancel|arret\w*|parar|unsuscribe|unsubcribe|stahp)\b/,
  },
  {
    code: 'annoyed',
    test: /\b(?:spam|spamming|harass\w*|annoying|annoyed|too many (?:texts|messages|msgs|of these)|report(?:ing)? you|lawyer|sue|illegal|fcc|attorney|do not call)\b/,
  },
  {
    code: 'not-interested',
    test: /\b(?:not interested|uninterested|no interest|no thanks not|not for me|take me(?! (?:along|with|to|up|there|too)\b)|(?:want|let me|let us|need) off|dont want (?:it|any|this)|(?:sick|tired|weary) of (?:it|this|these|those|your?|all)|(?:pull|lose|forget|get rid of) (?:my|this|the) (?:number|name|contact)|block (?:me|this)|not \w+ anymore|ya no)\b|^(?:(?:please|pls|kindly|ok|thats) )?(?:enough|cease|desist|discontinue|remove|delete|basta|genug|assez)(?: (?:please|pls|now|thanks))?$/,
  },
  {
    code: 'stranger',
    test: /\b(?:wrong (?:number|person)|you have the wrong|not my number|never signed up|didnt sign up|did not sign up|who gave you (?:my|this)|how did you get (?:my|this)|new phone|number has changed|im not \w+ (?:stop|wrong))\b/,
  },
];

/** The first pattern that matches, or null. */
export const firstMatch = (
  patterns: readonly Pattern[],
  text: string,
): { code: string; words: string } | null => {
  for (const { code, test } of patterns) {
    test.lastIndex = 0;
    const found = test.exec(text);
    if (found) return { code, words: found[0] };
  }
  return null;
};

/** The text with everything these patterns explain cut out. */
export const without = (patterns: readonly Pattern[], text: string): string =>
  patterns
    .reduce((rest, { test }) => rest.replace(test, ' | '), text)
    .replace(/\s+/g, ' ')
    .trim();
