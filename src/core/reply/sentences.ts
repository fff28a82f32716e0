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
const NOT =
  '(?:dont|dnt|do not|doesnt|not|never|no need to|wont|wouldnt|cant|cannot|please dont|didnt|wasnt trying to|no reason to|no plans? to)';
const KIN = 'mom|mum|mother|dad|father|wife|husband|son|daughter|kids?|friend|sister|brother|grandma|grandpa';
const QUITTING =
  '(?:stop\\w*|quit\\w*|unsubscrib\\w*|opt(?:ing|ed)? out|cancel\\w*|remov\\w*|revok\\w*|ceas\\w*|end(?:ing)?|leav(?:e|ing))';

/** Wishes to leave that are told with a negation, looked for before any other. */
export const LEAVING_ALL_THE_SAME: readonly Pattern[] = [
  {
    code: 'calls-and-texts',
    test: /\b(?:stop|quit) (?:calling|phoning|ringing|emailing|mailing)(?: me| us)?(?: and| or| plus)? (?:texting|txting|messaging|sending texts)\b/,
  },
  {
    code: 'why-not',
    test: /\bwhy (?:are|do) (?:you|u|yall) (?:still |keep |always )+(?:text|texting|message|messaging|send|sending|contacting)\b|\bstill (?:get|getting|receive|receiving)\b(?: \w+){0,3} after (?:i )?(?:stop|quit|unsub|opt)\w*|\bsaid stop \w+ times\b|\bwhy (?:wont|cant|dont|havent|didnt) (?:you|u|yall|they|it|this|these)(?: \w+)? (?:stop|quit|end)\b/,
  },
];

/** Wishes to go on, said with the words of stopping: `don't stop, I love these`. */
export const GOING_ON: readonly Pattern[] = [
  {
    code: 'negated',
    test: new RegExp(
      `\\b${NOT} (?:ever |be |ask to be |asking to be |you |you dare |even think about |want (?:you )?to |wish to |need to |mean to |please |plan to |going to )*${QUITTING}\\b(?: (?:me|these|them|the|my|this|it|sending|getting|${TEXTS}|out|from|with|to|coming|off))*`,
      'g',
    ),
  },
  {
    code: 'not-off',
    test: new RegExp(
      `\\b${NOT} (?:ever |please |ask to be |asked to be |want to be |wish to be |like to be |want you to |going to |think of |let them )*(?:(?:take|taken|get|kick|drop|scratch)(?: (?:me|us|my (?:number|name)|our (?:number|name)|this number))* (?:off|from|out)|(?:remove|removed|drop|dropped|delete|deleted|lose)(?: (?:me|us|my (?:number|name)|our (?:number|name)|this number))*(?: (?:off|from|out))*)(?: (?:of|the|this|your|that|list|lists))*`,
      'g',
    ),
  },
  {
    code: 'comes-back',
    test: /(?<!\b(?:dont|do not|never|not|stop|why|who) (?:you )?)\b(?:re ?subscribe|resub|re ?enroll?|re ?join|opt (?:me |us )?back in|subscribe (?:me|us) again|(?:sign|add|put|count) (?:me|us) back)\b(?! (?:again )?(?:and|then) (?:stop|unsub))/g,
  },
  {
    code: 'stays',
    test: /\b(?:(?<!\bno (?:need|reason|point|use|sense) (?:to |in )?)(?:keep|leave|put) (?:me|us|my (?:number|name)|our (?:number|name)) (?:back )?(?:on|in|posted|subscribed|there|here)(?! (?:your|the|a) (?:no|dnc|do|block)\b)(?! peace\b)|(?:want|like|love|going|plan|prefer|happy) to (?:stay|remain|keep getting|keep receiving|be kept|continue)|(?:still|do) want (?:these|the|your|to get)|keep (?:them|these|it|the (?:texts|alerts)) coming|(?<!\b(?:need to|reason to|point to|dont|not|never) )keep (?:texting|sending)|stay(?:ing)? (?:on|subscribed))\b/g,
  },
  {
    code: 'wants-back',
    test: /\b(?:wants?|needs?|put|get|have) (?:me|us|them|these|him|her|it) back\b|\b(?:i|we|she|he|they) (?:really |so )?miss(?:es)? (?:them|these|it|your \w+|the (?:texts|alerts|messages|updates))\b|\bnot to miss\b|\b(?:dont|do not|never) (?:ever )?want to (?:miss|lose|skip)\b/g,
  },
  {
    code: 'asks-why-gone',
    test: /\b(?:why (?:did|was|were|am|are|have)|whyd|did|was|were|am|have|somehow|think) (?:you|i|we|they|u)(?: (?:was|were|got|am))?(?: been| get| got)? (?:remove|removed|take|taken|drop|dropped|unsubscribe|unsubscribed|stop|stopped|delete|deleted|kicked|opted)(?: (?:me|us|my number|off|out|from|sending|texting|getting))*\b/g,
  },
  {
    code: 'if-ever',
    test: /\b(?:if|when(?! (?:i|we) (?:\w+ )?(?:said|say|texted|wrote|sent|typed|replied|told|asked)\b)|what does|what happens if|you said|it says|says(?! to (?:stop|quit|leave)\b)) (?:i |we |you |he |she |someone |somebody |anyone |they |ever |it |want(?:ed)? to |repl(?:y|ies) |says? |said |texts? |sends? |types? |to )*(?:stop|opt(?:ed|ing)? out|unsubscribe|quit|be removed|leave)(?: (?:to opt out|to unsubscribe|mean|means|do))*\b|\b(?:does|will|would|can|is) (?:texting |replying |saying |that |it |this )?stop (?:unsubscribe|everything|all|remove|cancel|end|only|for)\b(?: \w+){0,4}/g,
  },
  {
    code: 'spanish-stays',
    test: /\b(?:no (?:me |nos )?(?:quiten|quites|saquen|saques|borren|borres|eliminen|elimines|dejen|dejes|paren|pares|cancelen|canceles)(?: de \w+)?|quiero seguir|sigan|siga mandando)\b/g,
  },
  {
    code: 'french-stays',
    test: /\b(?:n (?:arretez|arrete)|ne (?:m |me |nous )?(?:retirez|supprimez|enlevez|desabonnez|otez)|gardez moi|je veux continuer|continuez)(?: (?:surtout )?pas)?\b/g,
  },
  {
    code: 'accident',
    test: /\b(?:unsubscribed|opted out|stopped|cancelled|canceled|said stop|typed stop|hit stop|sent stop|texted stop) (?:by accident|by mistake|accidentally)\b|\b(?:accidentally|by accident|by mistake|mistakenly) (?:unsubscribed|opted out|said stop|typed stop|hit stop|sent stop|texted stop)\b|\bignore (?:that|the|my) (?:last )?stop\b/g,
  },
  {
    code: 'no-way',
    test: /\b(?:unsubscribe|opt out|leave|quit)(?: \w+)? (?:no way|not a chance|no chance)\b|\b(?:no way|not a chance|wouldnt dream of)(?: (?:i|im|id|am|would|will|ill|ever|going|to|of))* (?:unsubscrib\w+|opt(?:ing)? out|quit\w*|leav\w+)\b/g,
  },
  {
    code: 'never-stops',
    test: /\b(?:why did (?:you|the|these|they)|have you|did you)(?: \w+){0,3} (?:stop|stopped)(?: (?:sending|texting|getting))?(?: (?:me|them|these|texts))*\b/g,
  },
];

/** Harmless uses of the same words. */
export const INNOCENT: readonly Pattern[] = [
  {
    code: 'came-no-more',
    test: /\b(?:i|we|my (?:texts|alerts|messages|reminders)|they|texts|alerts)(?: have| just)? (?:stopped|quit) (?:getting|receiving|coming|arriving)\b|^stopped getting\b|\bwhy would (?:i|we|anyone) (?:ever )?(?:unsubscribe|leave|stop|opt out|quit)\b/g,
  },
  {
    code: 'teases',
    test: /\bstop (?:being|sending|making|posting) (?:so|such|too|me (?:so|laugh|cry|hungry|jealous))\b(?: \w+){0,3}|\b(?:row|people|person|family|guy|lady|kids?|neighbou?rs?|group|car)(?: \w+){0,3} to (?:stop|quit)\b(?: \w+){0,2}/g,
  },
  {
    code: 'none-came',
    test: /\b(?:no|none of (?:the|your|my)|not one of (?:the|your)) (?:texts?|messages?|alerts?|updates?)(?: \w+){0,2} (?:came|come|reached|arrived|showed|through)\b(?: (?:up|through|me|us|today|yesterday|this week|last night))*|\b(?:no longer|stopped|quit) (?:gets?|getting|receives?|receiving) (?:the|your|my|any|these)(?: \w+)?\b/g,
  },
  {
    // Of dinners, tickets and pages that one may opt out of, or that a house of somebody else's has.
    code: 'out-of-things',
    test: /\b(?:opt(?:ing|ed)? out of|unsubscribed? from) (?:the |a |my |your |our )?(?:dinner|lunch|breakfast|meal|drinks?|tasting|walk|photos?|insurance|raffle|parking|second|first|newsletter|emails?|e mails?|netflix|cable|everything else|gift)\b(?: \w+)?|\b(?:unsubscribe|opt out|stop|cancel) (?:page|link|button|form|option)(?: \w+){0,4} (?:broken|is down|doesnt|does not|goes nowhere|dead|not load\w*|fails?)\b|\b(?:almost|nearly|about to have) (?:unsubscribed?|left|opted out|quit)\b|\bim done (?:with|for) (?:work|school|class|dinner|lunch|the (?:form|survey|walk|tour|day|week))\b|\b(?:remove|delete|drop|cancel) my (?:contact lens\w*|old|other|duplicate|second|extra|last)\b|\b(?:drop|dropping|send|sending) me (?:a|an|the|your|some)\b/g,
  },
  // What a phone answers by itself while its owner is not to be disturbed.
  { code: 'phone-says', test: /\bnot receiving notifications\b.*$/g },
  { code: 'french-later', test: /\bplus (?:tard|tot|loin|pres)\b/g },
  {
    code: 'about-things',
    test: /\b(?:go away|get lost) (?:clouds?|rain|snow|smoke|wind|every|on|in|trying|again)\b|\bim out (?:back|front|here|there|by|in|at)\b|\b(?:can|could|is|are|was|were) the \w+ (?:be )?(?:removed|deleted|taken off)\b|\b(?:hate|sad|sorry) to be (?:taken off|removed|dropped)\b|\b(?:unsubscribe|stop) (?:thing|people)\b|\b(?:need|had|have|going|got) to stop (?:for|because|at|to|in|by)\b|\b(?:haha|lol|omg|aww) stop(?: it)?\b/g,
  },
  {
    code: 'wrong-one',
    test: /\bwrong (?:number|person) for \w+|\bgave (?:you|u) the wrong\b|\bstop (?:it )?(?:thats|that is|that \w+ is|this is|youre|you are|so)\b|\b(?:must|if (?:you|we|they)|do you|did you|will you|would you) cancel\b|\bstop for (?:\w+ )?(?:breaks?|bathroom|food|gas|a break)\b|\bopt out fee\b|\bstop first\b/g,
  },
  {
    code: 'somebody-else',
    test: /\b(?:husband|wife|mom|mum|mother|dad|father|neighbor|neighbour|friend|sister|brother|daughter|son|nephew|niece|cousin|cat|toddler|kid|baby|she|he|they|roommate|boss|partner|grandma|grandpa)(?: \w+){0,3} (?:unsubscribed|opted out|left the list|stopped|texted (?:you )?stop|told (?:you )?(?:to )?stop|said stop|typed stop|sent stop|hit stop)\b/g,
  },
  {
    code: 'out-of-place',
    test: /\b(?:im|i am|we are|were|ill be|count (?:me|us)) out (?:of (?:town|state|the office|country|gas)|for|on|until|til|till|this|tonight|tomorrow|today|friday|saturday|sunday|monday)\b|\bout of (?:town|state|gas|luck|stock)\b|\bnot enough \w+\b|(?<!never )(?<!not )\bopt(?:ed)? (?:me |us )?(?:in|into|for)\b|\b(?:oops|sorry|oh|ah) (?:\w+ )?wrong (?:person|number|chat|thread|text|one)\b|\brevok\w* (?:my|our|the) parking\b|\bno bother\b|\bquit my (?!subscription|texts|alerts)\w+\b|\bcancel(?:l?ing)? and (?:rebook|reschedule|get|come)\b|\b(?:need|have|had|going|got|want) to cancel(?: (?:for|on|our|my|the|tonight|friday|saturday|sunday|sorry|because|due)\b(?! (?:texts|alerts|messages|subscription))| we)/g,
  },
  {
    code: 'spanish-booking',
    test: /\b(?:cancelar|cancelo|cancele|cancelen|quitar|quite) (?:mi|nuestra|nuestro|la|el|mis|los|un|una|dos)? ?(?:reserva|reservas|reservacion|visita|cita|boletos?|entradas?|tour|evento|lugar|persona|personas)\b|\b(?:l )?arret de (?:bus|metro|tram|la navette)\b|\bquel arret\b|\bannuler (?:ma|la|notre|mes|nos) \w+\b/g,
  },
  {
    code: 'off-something-else',
    test: /\b(?:take|remove|drop|get|pull|scratch) (?:me|us|him|her|my \w+|one|two|\d+)(?: \w+)? (?:off|from|out of) (?:the |that |this |your |our |my )?(?:\d+\w*|saturday|sunday|monday|tuesday|wednesday|thursday|friday|mondays|tuesdays|wednesdays|thursdays|fridays|saturdays|sundays|hike|walk|roster|shift|tour|show|class|event|booking|reservation|order|carpool|waitlist|waiting|wait|guest|volunteer|emails?|email|mailing|newsletter|phone calls|calls|night|early|late)\b/g,
  },
  {
    code: 'other-channel',
    test: /\b(?:stop|quit|no more|unsubscribe (?:me )?(?:from|to)|no) (?:the |your |all |those |with the )*(?:emails?|e mails?|calls|calling|phone calls|voicemails?|mail|letters|catalogs?)\b|\b(?:dont|do not|never|please dont) (?:call|phone|ring|email)\b(?! and text| or text| list| registry| (?:me|us|this number)(?: \w+){0,2} (?:again|anymore|ever|any))/g,
  },
  {
    code: 'stop-number',
    test: /\bstop (?:\d+|sign|light|signs|motion|watch|number \w+|the presses)\b|\bopt(?:ed)? (?:out )?(?:form|of the (?:insurance|tour|meal|photo|photos|add on|donation))\b/g,
  },
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
    test: /\b(?:cancel\w*|remove|revoke|end|quit|leave) (?:(?:my|our|the|a|an|this|his|her|one|two|of) )*(?:\w+ )?(?:order|booking|reservation|appointment|ticket|tickets|\d+(?:am|pm)?|monday|tuesday|wednesday|thursday|friday|saturday|sunday|chocolate|lunch|add on|visit|tour|seat|seats|table|show|event|event|class|session|payment|order|coat|item|job|shift|party|birthday|trip|spot|dinner|evening|night|walk|house|school|home)\b/g,
  },
  {
    code: 'cancel-fee',
    test: /\bcancel(?:l?ation)? (?:fees?|charges?|polic(?:y|ies)|rules?|deadline)\b|\b\d+ (?:percent |pct )?off\b/g,
  },
  {
    code: 'cancelled-event',
    test: /\b(?:is|was|are|been|be|get|gets|got|were|if|its|has|have) (?:\w+ )?(?:cancell?ed|cancell?ing)\b|\bcancell?ation\w*\b/g,
  },
  {
    code: 'quit-habit',
    test: /\b(?:quit|quitting|stop|stopped|stopping) (?:kidding|joking|fibbing|worrying|teasing|bragging|showing off|early|smoking|drinking|working|school|my job|laughing|crying|talking about|thinking about|raining|snowing|loving|staring|smiling|dreaming|watching)\b/g,
  },
];

/** What of theirs stands on a list. */
const OURS =
  '(?:me|us|my (?:\\w+ )?(?:number|name|phone|cell|info|details|data|contact|mobile|digits|line)|this (?:\\w+ )?(?:number|phone|cell|contact|line)|the number|mine)';

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
    test: new RegExp(
      String.raw`\b(?:opt(?:ing)? (?:me |us )?out|unsubscribe (?:me|us|from|this|my(?! (?:${KIN})\b)|please|now)|unsub (?:me|us|please)|please unsubscribe|revok\w+ (?:my |all |any )?(?:consent|permission)|withdraw (?:my )?consent|sign me off|count me out|(?<!\b(?:do|can) )i unsubscribe|i revoke|i quit)\b`,
    ),
  },
  {
    code: 'off-list',
    // Who is removed is gone; who is taken, got or kept is so only off or out of something: "keep us a place" is none.
    test: new RegExp(
      `\\b(?:remove|delete|strike|scratch|erase) ${OURS}\\b|\\b(?:rmv|delist|de list)(?: ${OURS}| this| please|$)|\\b(?:take|get) (?:my (?:wife|husband|mom|mother|dad|father|son|daughter|kid)|him|her|them) off\\b|\\b(?:drop|take|get|pull|keep|leave) ${OURS}(?: (?:please|right|now|number|name|all|just|the hell|asap|immediately))* (?:off|from|out)\\b(?! (?:there|here|tonight|late|early|to|hold|mute|speaker)\\b)|\\bdrop (?:my (?:number|name|phone|cell|contact|mobile)|this number|the number)\\b`,
    ),
  },
  {
    code: 'no-more',
    test: new RegExp(
      `\\bno (?:more|further|longer)(?: \\w+){0,4} (?:${TEXTS}|contact|calls|of these|of this|receiv\\w+|interested|want\\w*|wish\\w*|get|from you)\\b|\\bno more(?: please| thanks| thx| thank you)?$|^(?:please )?no more(?: i \\w+ it)?(?: for (?:me|us))?$|\\bno longer (?:interested|live|(?:want|wish|need)(?! (?:the|an?|my|our|his|her|that|those|one|two|three|four|\\d+|to (?:come|go|visit|book|bring|park))\\b))\\b`,
    ),
  },
  {
    code: 'do-not-text',
    test: new RegExp(
      `\\b(?:dont|do not|never|not to|stop and dont|please dont|didnt ask (?:you )?to)(?: \\w+){0,2} (?:text|texting|message|contact|call|bother|send|sms|msg|write|txt)(?: \\w+){0,3}(?: (?:me|us|anything|anymore|again|this|these|any|here|my|ever|${TEXTS}|more))\\b|\\b(?:dont|do not) (?:text|message|contact|call|sms|txt)$`,
    ),
  },
  {
    code: 'no-need',
    test: /\bno (?:need|reason) to (?:(?:keep|continue|go on) (?:to )?(?:text|send|messag|contact|writ|notify)\w*|(?:text|send|message|contact|notify)(?: (?:me|us|this number))(?: any ?more| again| further)|(?:text|send|message|contact|notify)(?: (?:me|us|to))* (?:any ?more|these|any of these))\b|\b(?:refrain|abstain) from (?:any |all |ever |further )*(?:text|send|messag|contact|writ|call)\w*/,
  },
  {
    code: 'never-again',
    test: /\b(?:dont|do not|never) (?:\w+ )?(?:text|call|contact|message|write)(?: to)? (?:me|us|this number|here)(?: \w+){0,2} (?:again|anymore|ever|any more)\b|\bnot anymore$|^never opted in$/,
  },
  {
    code: 'do-not-want',
    test: new RegExp(
      `\\b(?:nobody|noone|no one)(?: (?:here|at this number))? wants (?:these|your|any|this|to hear)\\b|\\b(?:dont|do not|didnt|no longer|never) (?:want|need|wish|care|wanna|like|agree|consent|sign up|ask)(?: \\w+){0,4} (?:these|this|those|them|em|any|${TEXTS}|from you|receive|get|hear from you|anymore|any more|to be (?:on|texted|contacted))\\b`,
    ),
  },
  {
    code: 'leave-alone',
    test: /\b(?:leave (?:me|us) alone|lose (?:my|this) (?:number|digits|contact)|forget my number|go away|get lost(?! (?:easily|on|in|every|at|there|again|often|trying|coming)\b)|piss off|fuck off|fuck you|buzz off|enough already|enough of (?:these|this)|make it stop|make them stop|let me out|i want out(?! of (?:this|the|that|my) (?!list|text|thing|group|messag|alert|program|chat|number)\w+)|im out|i am out|im done with (?:these|this|you|your)|i give up on these)\b/,
  },
  {
    code: 'removes-it',
    test: new RegExp(
      `\\b(?:remove|delete|strike|scratch|erase|cross|exclude|suppress|unlist|unenroll|unregister|wipe|purge|trash|ditch|boot|kick|yank|release|free|drop|block|blocking|deactivate|unfollow)(?: (?:${OURS}|it|her|him|all|please|my (?:information|personal information|data|subscription)|his number|her number|their number|this from))+(?: (?:off|out|from))?(?: (?:of|the|this|your|list|system|records|database|texts|messages|please|now|thanks))*$|\\b(?:take|get|pull) (?:it|this number|that number|the number|whoever had it) (?:off|out)\\b|\\btake off (?:whoever|my|this)\\b|\\bremov(?:e|al)(?: me)?(?: from)?(?: (?:the|this|your))? (?:list|texts|group|please)\\b|\\b(?:put|add) (?:me|us|this number|my number) (?:on|to) (?:the|your)(?: \\w+)? (?:dnc|do not (?:text|call|contact|message))\\b|\\b(?:let|get) me (?:off|go|outta|out of)(?: from)?(?: of)? (?:the |this |your |here)(?:list|thing|texts|group)?|\\bget me outta here\\b|\\bhow (?:do|can) (?:i|we|you) (?:get|be taken) off(?: (?:of )?(?:the|this|your|these) (?:list|texts?|thing|messages?|alerts?|group|program)\\b| of this| this$|$)|\\b(?:leaving|leave|quit|quitting|resign from) (?:the|this|your) list\\b|\\basked to be removed\\b|\\bdelet\\w+ of my\\b|\\b(?:remov|romove|delet) m[ey]\\b`,
    ),
  },
  {
    code: 'be-removed',
    test: /\b(?:my|this|our|the) (?:number|phone|name|cell|contact)(?: (?:to be|needs|need|should|must|has|have|to|be|is|get))* (?:removed|deleted|taken off|erased|dropped)\b|\b(?:be|get|getting|being) (?:removed|taken off|taken out|opted out|deleted|dropped|unsubscribed|unlisted)\b|\b(?:mind|appreciate|grateful|kind|kindly)\b(?: \w+){0,4} (?:taking|removing|removed|remove|took|take|deleting|deleted|dropping) (?:me|us|my|our|this)\b|\b(?:rather|prefer|choose|chose) (?:to )?not(?: to)? (?:get|receive|be|have|to)\b|\bno longer (?:using|have|own|with)\b|\b(?:unsubscribe|opt out|stop) (?:button|link|option)\b|\b(?:way|what do i (?:have|need) to (?:do|type|text|say|send)) to (?:unsubscribe|stop|end|opt out|get off|make (?:this|it|these|them) (?:end|stop))\b|\bun ?(?:enroll|enrol|register|list|join) (?:me|us|my)\b|\bsign me out\b|\bno part of (?:this|it)\b|\b(?:this|these|it|the (?:texts|messages|alerts)) (?:need|needs|has|have|must|better|gotta)(?: to)? (?:end|stop)\b|\b(?:had it|fed up) with (?:these|this|your|the)\b|\bim done (?:getting|receiving|with)\b|\bremove (?:the )?(?:previous|old|former|last) owner\b|\b(?:dont|do not|never) (?:text|message|contact|call|use) it\b|\b(?:screw|bug|back|eff|sod|bugger) off\b|\binformation from (?:your|the) (?:files|records|system)\b|\btake me of(?:f)? the list\b/,
  },
  {
    code: 'off-with-it',
    test: /\b(?:come|be|get|got|getting|gotten) off (?:of )?(?:this|the|your) (?:list|texts|thing)\b|(?:^|\b(?:no|nope|nah|please|pls|want|ask|asked|me|us) )off (?:the|this|your) list\b|\b(?:removing|scrub|scrubbing|dropping|deleting) (?:me|us|my number|this number)\b|\bgo to hell\b|\bleave (?:me|us) (?:\w+ ){0,2}alone\b|\b(?:before|or) (?:i|ill|we) (?:report|block|call)\b/,
  },
  {
    code: 'not-on-my-phone',
    test: new RegExp(
      [
        String.raw`\b(?:get|keep|stay) (?:yourselves |yourself |your \w+ )?(?:out of|off)(?: of)? my (?:phone|cell|number|inbox|texts)\b|^off my phone\b`,
        String.raw`\btake out (?:my|our|this|the|his|her|their) (?:number|name|phone|cell|contact)\b`,
        String.raw`\b(?:remove|delete|take|drop) (?:his|her|their|moms|dads|my \w+s) (?:number|name|phone|cell|contact)\b`,
        String.raw`\btake (?:this|that|it|these)(?: \w+)? off (?:of )?(?:your|the|this) list\b`,
        String.raw`\b(?:put|add|place|move)\b(?: \w+){1,3} (?:on|to|onto|in) (?:your|the|a) (?:block(?:ed)?|no ?text|no contact|do not \w+|dnc|black) ?list\b`,
        String.raw`\b(?:tired|sick|weary) of (?:getting|receiving|seeing|reading|hearing) (?:these|this|your|them|all|from)\b`,
        String.raw`\bblock(?:ed|ing) (?:your|this|that|the) (?:number|sender|line|texts?)\b`,
        String.raw`\b(?:can|could|would|will) (?:you|u|yall) (?:please |pls |kindly )?not (?:text|txt|message|msg|contact)\b(?! (?:me |us )?(?:at|before|after|so|too|until|during|while|on|in)\b)`,
        String.raw`\b(?:not giving|never gave|didnt give|did not give|dont give|do not give|havent given|never given)(?: (?:you|u|yall|anyone|anybody))?(?: my| any| the)? (?:permission|consent)\b`,
        String.raw`\b(?:replied|texted|said|typed|sent|wrote|answered) stop(?: \w+){0,3} (?:and|but|yet|still) (?:you|u|yall|it|they|i|the|these)\b`,
        String.raw`\b(?:id like|would like|want|wanna|like) (?:to be )?off (?:of )?(?:the|this|your) (?:list|texts?|thing|service|chain)\b`,
        String.raw`\b(?:not|no longer) be on (?:this|the|your) (?:list|service)?\b|\bno point (?:in )?(?:sending|texting|messaging|writing)\b`,
        String.raw`\bwhy am i still (?:on|in|getting|receiving|a part of) (?:this|these|your|the|it)\b|\bwhy (?:isnt|is not|doesnt|does not|didnt|wont) (?:the )?(?:stop|unsubscrib\w+|opt(?:ing)? out) (?:work|do|stop)\w*`,
        String.raw`^(?:i )?(?:just |only )*(?:want |send )?(?:me )?(?:by )?e ?mails? only(?: please| pls| thanks)?$|^i only want (?:your |the )?e ?mails?$`,
        String.raw`\b(?:can|could|lets|let us|shall)(?: we| you)?(?: please| just)? end (?:this|these|it)$|\b(?:remove|delete|drop) [\d ]{7,} (?:from|off)\b`,
        String.raw`\bno longer (?:at|on|reachable (?:at|on|by)) this (?:address|number|phone)\b`,
        String.raw`^unsubb?(?:ed)?(?: please| pls| now| me)?$|^disable(?: this| these| please| texts?)?$|^(?:please )?off(?: please| pls| now)$`,
        String.raw`^(?:\w+ )?(?:please |pls )?(?:do not|dont|dnt) (?:send|write)(?: please| pls| me)?$`,
      ].join('|'),
    ),
  },
  {
    code: 'nothing-more',
    test: new RegExp(
      `\\bnothing (?:else|more|further)(?: \\w+){0,2} from (?:you|yall|this number)\\b|\\bnothing (?:more )?to do with (?:this|you|your|these|any of)\\b|\\b(?:want|have|get|like) (?:it|this|these|them|the ${TEXTS})(?: \\w+)? stopped\\b|\\b(?:can|could|may) (?:this|these|it|the ${TEXTS}) be stopped\\b|\\b(?:ask|asking|want|need|require) (?:you|u|yall) to (?:cease|desist|halt)\\b|\\b(?:rather|prefer)(?: that)? (?:you |u |yall )?(?:did ?nt|dont|not|no|do not)(?: to)?(?: (?:be|get|receive|have|more))* (?:${TEXTS}|contact\\w*|writ\\w+)(?! after| before| at| so)|\\bprefer no (?:texts?|texting|sms|messages?)\\b|^(?:please )?no (?:ads|adverts|advertising|advertisements)\\b(?!.*\\b(?:fine|love|ok|kidding)\\b)|\\b(?:dont|dnt|do not) (?:text|txt|msg|message|use) (?:me|us|this number(?: for)?|this no)\\b|^(?:please |pls |just )?(?:let me be|forget (?:about )?me)$|\\bun ?subbed me\\b`,
    ),
  },
  {
    code: 'leaves-it',
    test: /\b(?:leave|leaving|quit|quitting|exit|exiting|get out of|out of) (?:the|this|your) (?:list|text program|program|programme|text group|group chat|thread|service|subscription)\b(?! (?:early|at|before|after|in|for|office|desk|desks|area|entrance))|^(?:(?:i|we) (?:wish|want|would like|d like) to )?(?:leave|leaving) (?:the|this|your) group(?: (?:thanks|thank you|now|please|bye))?$|\b(?:end|ending|cancel|canceling|cancelling) (?:my|this|the|our) (?:subscription|enrol+ment)\b|\b(?:deregister|de register|unregister|unenrol+) (?:me|us|my|this)\b|\b(?:sign|log) (?:me|us) (?:off|out)\b|\b(?:delete|erase|remove|wipe|purge) (?:all|everything|anything)(?: \w+){0,3} (?:on|about|of) (?:me|us|mine)\b/,
  },
  {
    code: 'no-texts',
    // "No texts came" is another thing.
    test: /(?:^|\b(?:please|pls|but|ok|just|phone|only email(?: me)?|only call(?: me)?|email me|call me) )(?:please |just )?no (?:more |further |personal )?(?:texts?|texting|sms)\b(?! (?:yet|came|today|so far|from|arrived|tonight|since|received))|\bno personal (?:texts?|messages?)\b/,
  },
  {
    code: 'legal',
    test: /\b(?:tcpa|can spam|do not call (?:list|registry)|do not contact (?:list|registry)|dnc (?:list|registry)|is a violation|violating|seek damages|legal action|instructed to cease|demand (?:that )?you)\b/,
  },
  {
    code: 'turn-off',
    test: new RegExp(
      `\\b(?:turn|shut|switch|cut) (?:it|this|these|them|those|the|your|all)(?: (?:${TEXTS}|off))* off\\b|\\b(?:turn|switch|shut) off(?: (?:the|these|this|your|all|my))*(?: \\w+)? ${TEXTS}\\b|\\b(?:disable|deactivate|terminate|discontinue|cease|halt|suspend)(?: (?:all|any|the|these|this|your|my|further|future|to))* (?:${TEXTS}|service|contact|communications?|subscription)\\b|\\bcease and desist\\b|^(?:please )?(?:terminate|discontinue|cease|desist)\\b|\\bknock it off\\b|\\bcut it out\\b|\\bmake (?:it|this|these|them) stop\\b`,
    ),
  },
  {
    code: 'blocked',
    test: /\b(?:im|i am|i have|ive|i will|ill|going to|now) block(?:ed|ing)?(?: (?:this|you|your|the))?(?: number)?\b|\bblock(?:ing|ed) (?:you|this number|this|and)\b(?! (?:by (?:mistake|accident)|accidentally))|\band blocked\b|\bblock (?:my|this) number (?:on|from|at)\b|^block$|\bconsider (?:yourself|this number) blocked\b|^blocked(?: (?:you|u|this|that|ok|thanks|bye|number|sender))*$|^blocked and\b|\bblock(?:ing)? (?:me|this|my number) from\b|\breport(?:ed|ing) (?:this |you )?(?:as (?:spam|junk)|to (?:the )?(?:ftc|fcc))\b|\bfiling a complaint\b|^blocking\b|\bnext (?:text|one) goes to (?:my|a|the)\b/,
  },
  {
    code: 'permission',
    test: /\b(?:withdraw|revoke|retract|rescind|take back|retiro|revoco|retire) (?:my|all|any|mi|mon)(?: \w+)? ?(?:consent|permission|consentimiento|permiso|consentement)\b|\b(?:consent|permission) (?:is )?(?:revoked|withdrawn|rescinded)\b|\b(?:never|didnt|did not|dont|do not) (?:gave|give|agree|agreed|consent|consented|accept|authorize)(?: \w+){0,3} (?:consent|permission|texts|messages|marketing|this|these)\b|\bnever (?:asked|agreed|wanted|requested)(?: for)? (?:these|this|your|texts|to texts|any)\b|\b(?:dont|do not|no longer) have (?:my )?(?:permission|consent)\b|\bi (?:dont|do not) consent\b|\bnotice to (?:cease|stop)\b|\bi request (?:removal|deletion)\b|\brequesting (?:removal|to be)\b/,
  },
  {
    code: 'no-contact',
    test: new RegExp(
      String.raw`\b(?:no (?:contact|solicit\w*|marketing)|do not (?:disturb|contact)|not contact list|dnc|dnd|unsub\w*scr\w*b\w*|unsub|un sub\w*|unsuscribe|unsubcribe|unfollow|sign off)\b(?! (?:from )?(?:netflix|email|emails|the email|my (?:${KIN})))`,
    ),
  },
  {
    code: 'anger',
    test: /\b(?:stfu|shut up|f off|fuck\w*|screw you|get lost|omg enough|enough (?:with|of) (?:the|these|your|this)|enough (?:texts|messages|already)|thats enough(?= (?:now|please|thanks|already|texts|messages|of)\b|$)|leave (?:me|us) (?:be|in peace)|this is harassment|harassing me|never again|dont ever)\b/,
  },
  {
    code: 'done-with',
    test: /\b(?:done|finished|fed up|through|sick|tired) (?:with|of) (?:these|this|your|the|all)(?: \w+)? ?(?:texts?|messages?|alerts?|list|updates?|spam)\b/,
  },
  {
    code: 'spanish',
    test: /\bno (?:me |nos )?(?:mande[ns]?|mandes|envie[ns]?|envies|escriba[ns]?|escribas|textee[ns]?|textees|contacte[ns]?|moleste[ns]?|llegue[ns]?)\b|\bno (?:quiero|deseo|autorizo|acepto)(?! (?:perder|la|el|una?|que se)\w*\b)(?: \w+){0,3} (?:mensajes?|textos?|mas|recibir|nada|publicidad|alertas|esto|contacten)\b|\b(?:no mas|sin|basta de) (?:mensajes|textos|publicidad)\b|^(?:ya )?(?:no mas|basta)(?: (?:ya|por favor))?$|^(?:no gracias )?ya no(?: gracias| por favor| mas)?$|\bya basta\b|\b(?:deje[ns]?|dejes|paren?|pare) (?:de|ya)\b|\b(?:deja|dejad|para|parad) de (?:enviar|mandar|escribir|molestar|contactar|textear)\w*\b|\bque (?:ya )?(?:paren|me quiten|me borren|no me)\b|\b(?:quit|sac|borr|elimin|cancel)(?:e|en|a|ar|ame|enme|eme|arme|enlo|elo|eno)s? (?:de )?(?:mi|la|su|esta|este|por favor|numero|los mensajes|mensajes|suscripcion|esto)\b|\b(?:quiteme|saqueme|borreme|quitenme|saquenme|borrenme|eliminenme|borrenlo|dejenme en paz)\b|\b(?:darme|dar|doy|denme|baja) de baja\b|\bsalir de (?:la|esta|su) lista\b|\bcancelar (?:los |las )?(?:mensajes|textos|alertas|la suscripcion|suscripcion)\b|\b(?:solicito|pido) la baja\b|^paren?\b(?! (?:en|a|por|frente|cerca|aqui|alli)\b)|\bpara ya\b|\bya paren?\b|\bquiten?lo\b|\bcancelen? (?:mis|los) mensajes\b|^bloquead[oa]\b|\bnada mas por favor\b|\balto a los\b/,
  },
  {
    code: 'french',
    test: /\b(?:merci|priere|veuillez|pouvez vous|pourriez vous|svp|je demande)(?: de| a)? ?d?(?:enlever|retirer|supprimer|effacer|oter|rayer|desinscrire) (?:moi|mon|mes|ce numero|le numero|nous|notre)\b|\b(?:merci|priere|veuillez|pouvez vous)(?: de)? (?:ne plus|me desinscrire|me retirer|me desabonner|arreter de m)\b|\bne (?:(?:m|me|nous) ?)?(?:envoyez|ecrivez|contactez|menvoyez|mecrivez|textez|derangez|voulons|veux)(?: \w+)? ?plus\b|\bne plus (?:me|nous|recevoir|menvoyer|envoyer)\b|\b(?:je|nous) (?:ne |n en )?(?:veux|souhaite|desire|voulons) plus\b|\b(?:supprimez|effacez|retirez|enlevez|otez|rayez|desinscrivez|desabonnez|sortez)(?: moi| mon| mes| nous| ca| le)\b|\b(?:arretez|cessez|arreter|cesser)(?: (?:de|les|vos|ces|ca|tout|svp|merci|m \w+))*$|\b(?:arretez|cessez) (?:de|les|vos|ces|ca|tout|svp)\b|\b(?:desabonne|desabonner|desabonnement|desinscrire|desinscris|desinscription)\b|\b(?:laissez moi tranquille|la paix|fini les textos)\b|\bplus (?:rien|jamais|de (?:messages|textos|sms|pub|publicite))\b|\bpas de (?:messages|textos|sms|pub)\b|\bje retire mon consentement\b|\b(?:merci de|veuillez|priere de|il faut) (?:me|nous|ne plus|supprimer|retirer|effacer|enlever)(?: \w+)*\b|\barretez s il vous plait\b|\b(?:fichez|foutez|laissez) moi\b|\bstoppez\b|\bstop (?:les|aux) (?:textos|messages|sms)\b/,
  },
];

/** Words that may mean it, when nothing above explains them: a human decides. */
export const DOUBTFUL: readonly Pattern[] = [
  {
    // Whoever answers for somebody else, or says a no that no question of ours asked for.
    code: 'for-a-human',
    test: /^(?:ok )?enough$|^(?:sorry |hi |hey )?wrong (?:number|person)(?: sorry)?$|^you were told no$|^(?:way |far )?too many (?:texts|messages|alerts|of these)$|^i (?:never|didnt|did not) (?:sign(?:ed)? up|subscribed?|opt(?:ed)? in)(?: for| to)?(?: (?:this|these|that|any of this))?$|^i want out of (?:this|the|that|my) (?!list|text|thing|group|messag|alert|program|chat|number)\w+$|^(?:no |nope |nah )?(?:please |pls |plz |just )?(?:dont|do not)(?: please| pls)?$|^(?:can|could|would|will) (?:you|u) (?:please |just )?not$|^(?:leave|off|out|mute|silence)(?: please| pls)?$|^(?:no (?:just |means )?){2,}$|^(?:i )?(?:do not|dont|didnt) want(?: it| this| that)?$|\b(?:shouldnt|should not|dont|do not) (?:be|belong) (?:on|in) (?:this|your|the) list\b|\bnot on (?:this|your|the) list\b|\b(?:deceased|passed away|passed on|is dead|has died|died (?:in|on|last|this)|(?:he|she|mom|dad|mother|father|husband|wife|\w+) passed(?: in| last| this|$))\b|\bi (?:said|told you) no\b|^no means no$|^(?:im )?not (?!sure|yet|today|tonight|really|bad|now|me|us|too|that|so|this|quite|fair|a|the|at|in|for|many|much|here|there|yours|mine|only|necessarily|funny|cool|nice|good|great|happy|ready|available|going|coming|interested|possible|free|working)\w+$|\bafter i (?:said|told)\b|\b(?:i|we) (?:already |just )?opted out\b/,
  },
  {
    code: 'stop-word',
    test: /\b(?:stop(?! me if)|stopp|stpo|sotp|quit|unsubscrib\w*|unsub|optout|opt out|revoke|cancel(?! but\b)|arret\w*|parar|unsuscribe|unsubcribe|stahp|st[aiuy]p|stoo|tsop|stp|st p|stopt|stopo|stoip|sto p|st op|opted out)\b/,
  },
  {
    code: 'annoyed',
    test: /\b(?:spam|spamming|harass\w*|annoying|annoyed|too many (?:texts|messages|msgs|of these)|report(?:ing)? you|lawyer|sue|illegal|fcc|attorney|do not call)\b/,
  },
  {
    code: 'not-interested',
    test: /\b(?:not interested|uninterested|no interest|no thanks not|not for me|take me(?! (?:along|with|to|up|there|too)\b)|(?:want|let me|let us|need) off|dont want (?:it|any|this)|(?:sick|tired|weary) of (?:it|this|these|those|your?|all)|(?:pull|lose|forget|get rid of) (?:my|this|the) (?:number|name|contact)|block (?:me|this)|not \w+ anymore|ya no)\b|^(?:im|we are) done$|^(?:(?:please|pls|kindly|ok|thats) )?(?:enough|deactivate|cease|desist|discontinue|remove|delete|basta|genug|assez)(?: (?:please|pls|now|thanks))?$/,
  },
  {
    code: 'threat',
    test: /\bfor the last time\b|\blast (?:warning|time (?:i|im|we) (?:ask|asked|say|said|tell|told|warn|write|am|asking|telling))\b|\b(?:court|small claims|police)\b/,
  },
  {
    // Bare words of taking away and of writing no more, with nothing else that they could be about.
    code: 'take-away',
    test: /^(?:\S+ ){0,4}(?:remove[ds]?|removal|deleted?|dlt|rmv|erased?|disconnect|detener|eliminar)(?: (?:me|us|both|all|of|them|it|this|that|please|pls|permanently|now|thanks|for|good|asap|here))*$|^(?:\S+ ){0,3}(?:dont|do not|never) (?:text|txt|message|contact|write)(?: (?:the|my|our|this|that|us|to|anyone|anybody) ?\w*)?(?: please| pls)?$|^no (?:\w+ )?(?:reminders?|notices?|notifications?|texting|messaging|contact)(?: please| pls| thanks| thx)?$|^wrong (?:no|num|nr|nbr|nmbr)\b/,
  },
  {
    code: 'stranger',
    test: /\b(?:wrong (?:number|person)|you have the wrong|not my number|never (?:signed up|opted in|subscribed)|didnt sign up|did not sign up|who gave you (?:my|this)|how did you get (?:my|this)|new phone|number has changed|im not \w+ (?:stop|wrong))\b/,
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
