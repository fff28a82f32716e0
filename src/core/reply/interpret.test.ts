import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { interpret, type Meaning } from './interpret';
import { OPT_OUT_WORDS } from './words';

const context = { keywords: ['sky', 'dome', 'meteor', 'actividades'], questionPending: false };
const meaning = (body: string) => interpret(body, context).meaning;

const CASES: Record<Exclude<Meaning, 'answer' | 'automatic'>, string[]> = {
  'opt-out': [
    ...[
      'I want off this list',
      'sick of these messages',
      'pull my number',
      'get rid of my number',
      'block me',
    ],
    ...['this is not maria anymore, take it off', 'ya no me escriban', 'arretez svp', 'cease', 'discontinue'],
    ...['I changed my mind about these messages, no thank you', 'my wife says to stop texting her phone'],
    ...['I no longer wish to hear from you', 'que me dejen en paz'],
    ...['Liked “STOP”', 'Liked “Clear tonight.” but please stop', 'I replied "stop" and you still text me'],
    ...[
      'kindly remove',
      'st0p',
      'un subscribe',
      'Per the TCPA you must remove this number',
      'take it off please',
    ],
    // In languages that programs do not write in, by a sign, and of kinds that were misread once.
    ...['Bitte streichen Sie mich von der Liste', 'hört auf mir zu schreiben', 'abmelden', 'rimuovetemi'],
    ...['não quero mais receber', 'sair da lista', '退订', '我不想收到短信', 'отпишите меня', '🛑', '🛑🛑'],
    ...['Exit', 'leave the program', 'Ending my subscription now', 'only email me please, no texting'],
    ...['nothing else from you please', 'I want it stopped', 'I want my number removed', 'dnt txt me'],
    ...['STPO', 'would prefer that you not text me', 'no ads', "Merci d'enlever mon numéro"],
    ...[
      ...[
        'get these off my phone',
        'take out our number',
        'weary of receiving these',
        'i blocked this number',
      ],
      ...['could you not message us', 'we texted stop and you wrote again', 'add me to your no text list'],
      ...['stop phoning and texting', 'unsubsrcibe', '$top', 'stoppppp', 'why am I still getting these'],
      ...[
        "why isn't unsubscribing working",
        'emails only please',
        'could you end this',
        'for the last time: quit',
        'delete 303 555 0142 from your list',
      ],
      'take us off please',
      'get me off this thing',
      'pls take my name off ur list',
      'keep me off your list',
    ],
    ...['drop me from this', 'take me out of your system', 'remove us', 'erase me', 'drop my number please'],
    ...[
      'Stop.',
      'STOP',
      '"stop"',
      'stop 🛑',
      'S T O P',
      'stoooop',
      'STOP STOP STOP',
      'please stop',
      'Stop please',
      'ok stop',
      'Unsubscribe',
      'opt-out',
      'Opt Out!',
      'end',
      'END.',
      'cancel',
      'quit',
      'revoke',
    ],
    ...[
      'stop all',
      'STOPALL',
      'arrêt',
      'Alto',
      'parar',
      'sToP\n',
      'stop\u200b',
      'ЅТОР',
      'ｓｔｏｐ',
      'Stop!!!!!',
      'stop it',
      '(stop)',
      '*STOP*',
      'STOP  ',
      '“Stop”',
      'stop…',
    ],
    ...[
      "I'd like to stop getting these please",
      'please take me off this list',
      "don't text me anymore",
      'Do not contact me again',
      'Stop texting me',
      'remove me from your list',
      'Can you stop',
      'no more texts please',
      'leave me alone',
    ],
    ...[
      'I no longer want to receive these messages',
      'how do i stop these texts',
      'unsubscribe me',
      'lose my number',
      'Please remove my number',
      'stop sending me messages',
      'STOP I moved to Ohio',
      "I don't want these texts",
    ],
    ...[
      'I do not want to receive any more texts',
      'no me manden mas mensajes',
      'quit texting',
      'i want to opt out',
      'Take me off',
      'I want out',
      'please stop sending these',
      'I said stop',
      'cancel my subscription',
      'Stop the texts',
    ],
    ...[
      'I revoke my consent',
      'thanks but please stop',
      'never text me again',
      'end these messages',
      'stop messaging this number',
      'Would you please stop',
      'I want these to stop',
      'could you take my number off your list?',
      'can i stop?',
    ],
    ...['we moved away so no need to keep sending these', 'kindly refrain from texting me further'],
    ...[
      'nobody here wants your messages',
      'why do I still get these after stopping',
      'deja de enviarme cosas',
    ],
  ],
  reply: [
    `(I'm not receiving notifications. If this is urgent, reply "urgent" to send a notification through with your original message.)`,
    'Can u take me off hold',
    // A sign pressed on a text, as phones write it out: the words in it are ours.
    ...['Liked “Juniper Gap: clear tonight. Reply STOP to stop.”', 'Loved "Reply STOP to stop."'],
    ...[
      '👍 to “Reply STOP to end”',
      '❤️ to “Clear. Text STOP to unsubscribe”',
      'Laughed at “Reply STOP to stop.”',
    ],
    ...['Reacted 😍 to “Clear tonight.\nReply STOP to stop.”', 'Removed a like from “Reply STOP to end…”'],
    ...['Le gustó “Responde STOP para cancelar”', 'A aimé « Répondez STOP pour arrêter »'],
    ...['I no longer need the wheelchair spot', 'I changed my mind about Saturday, is Sunday free?'],
    ...['the sign says to stop at the barrier, is it open?'],
    ...['how do we get off the mountain after', 'blocked road on the way up', 'cancel fee?', '20% off?'],
    ...['basta con dos entradas?', 'not sure', 'no text yet', 'need to leave the group early'],
    // What is kept, got, taken or dropped for somebody is none of their leaving.
    ...['Yes, keep us a place', 'keep me posted', 'Can you get me two tickets for Friday?', 'Take me along!'],
    ...[
      'Drop me a line when the gates open',
      'Will the bus take us to the top?',
      ...['I blocked the weekend for it', 'tired of the rain, not of you'],
      ...['is the list by e-mail only?', 'can we end at ten', '$20 each?'],
      'Pull us two chairs please',
    ],
    ...[
      'get us a table near the telescope',
      'Please remove the row A seats from our booking',
      'Who has had enough?',
    ],
    ...[
      "don't stop, I love these",
      'dont stop',
      'Do not stop these please',
      "please don't stop",
      'never stop sending these',
      'Is there a bus stop nearby?',
      "I'll stop by tomorrow",
      'When does the show end?',
      'See you at the end of the week',
    ],
    ...[
      "can't stop laughing",
      'I need to cancel my booking',
      'thanks',
      'Will it be cancelled if cloudy?',
      'What time?',
      'non-stop fun',
      'I quit smoking',
      'weekend?',
      "we're stopping in at 7",
      "I don't want to unsubscribe",
    ],
    ...[
      'ok',
      'yes',
      '',
      '🙂',
      'Where is the one stop shop',
      "don't cancel my alerts, love them",
      'the show is cancelled?',
      'does the tour end at 9?',
      'great, thanks!',
      'no',
      'Can I bring a friend?',
      "I don't want to stop getting these",
    ],
    ...[
      'unsubscribe? no way, best texts I get',
      'no need to text back, see you there',
      'no need to text again, found it',
    ],
    ...['are you a bot? stop kidding', 'if I say stop does that stop everything', 'je viens plus tard'],
  ],
  unclear: [
    ...['she passed away in June', 'I said no.', 'no means no', 'not Bob', 'I want to cancel', 'do not want'],
    ...['why did you text me after I said no', 'Last time I ask: off.', 'for the last time'],
    ...['how do I unsubscribe my mom? she died', 'I want out of this rain', "that's enough popcorn for me"],
    ...['dont want it', 'ok enough', 'maybe stop'],
    ...['Is it possible to stop these for a month?', 'stop the texts until January please'],
    ...['please stop texting me while I am away', 'no me manden mensajes por un mes'],
    ...[
      'not interested',
      'wrong number',
      "don't stop the alerts but please stop texting my wife",
      'who is this? stop lying to me',
      'this is spam',
      'Maybe I should unsubscribe',
      'I never signed up for this',
      'too many texts',
    ],
  ],
  help: ['HELP', 'help!', 'info', 'Help please', 'aide'],
  'opt-in': ['START', 'unstop', 'start!', 'opt in', 'Start please', 'sign me up again'],
  keyword: ['sky', 'SKY.', '"Sky"', 'Sky please', 'sky!', 'text sky', 'SKY 🌌', 'dome', 'Actividades'],
};

describe('interpret', () => {
  for (const [expected, bodies] of Object.entries(CASES))
    it.each(bodies)(`${expected}: %j`, (body) => expect(meaning(body)).toBe(expected));

  it.each([
    ...[
      'I want sky',
      'i would like sky please',
      'Sign me up for SKY!!',
      'join sky',
      'Subscribe me to sky',
      'sky for me',
    ],
    ...[
      'hello, the keyword is sky',
      'send me sky now',
      'Sky list please',
      'S K Y',
      's.k.y',
      '«Sky»',
      'ｓｋｙ',
    ],
    ...['ЅКY', 'me teor', 'Met Eor', 'Add me to Meteor, thanks', 'I’d like METEOR.', 'text  meteor'],
  ])('hears a keyword in %j', (body) => expect(meaning(body)).toBe('keyword'));

  it.each([
    ...[
      'do me',
      'no sky',
      'I don’t want sky',
      'why sky',
      'is sky still on?',
      'remove me from sky',
      'sky was great',
    ],
    ...['never sky', 'I want to see the sky tonight', 'sky or dome?', 'cancel sky', 'what does sky cost'],
  ])('hears none in %j', (body) => expect(meaning(body)).not.toBe('keyword'));

  it('never hears a keyword where a word that opts out stands beside it', () => {
    const around = fc.constantFrom('', 'please ', 'i want ', 'sign me up for ', 'the ', 'now ');
    fc.assert(
      fc.property(
        fc.constantFrom(...OPT_OUT_WORDS),
        around,
        around,
        fc.boolean(),
        (word, one, other, first) => {
          const body = first ? `${one}${word} ${other}sky` : `${one}sky ${other}${word}`;
          expect(meaning(body)).not.toBe('keyword');
        },
      ),
    );
  });

  it.each([
    'stopit',
    'NOMORE',
    'StopTextingMe',
    'takemeoff',
    'optmeout',
    'removeme!',
    'donttextme',
    'leavemealone',
    'stopnow',
  ])('reads a wish to leave without its spaces: %s', (text) =>
    expect(interpret(text)).toMatchObject({ meaning: 'opt-out' }),
  );

  it.each([
    'takeout',
    'takeoff',
    'busstop',
    'nonstop',
    'Offend',
    'mynumber',
    'allmessages',
    'nothing',
    'another',
  ])('reads one word for none, whatever it can be cut into: %s', (text) =>
    expect(interpret(text).meaning).not.toBe('opt-out'),
  );

  it('takes YES for consent only when a question is open', () => {
    expect(interpret('YES', { ...context, questionPending: true }).meaning).toBe('opt-in');
    expect(interpret('YES', context).meaning).toBe('reply');
  });

  it.each([
    ['skyy', 'sky'],
    ['metoer', 'meteor'],
    ['METEROR', 'meteor'],
    ['actvidades', 'actividades'],
    ['dmoe', 'dome'],
  ])('sees that %s is nearly %s, and does not act on it', (body, near) =>
    expect(interpret(body, context)).toMatchObject({ meaning: 'reply', nearKeyword: near }),
  );

  it.each(['hello', 'do me a favour', 'why', 'will you come'])('does not see a keyword in %j', (body) =>
    expect(interpret(body, context).nearKeyword).toBeNull(),
  );

  it('reads an opt-out word in any dress', () => {
    const mark = fc.constantFrom('', ' ', '.', '!', '"', '“', '”', "'", '*', '…', '🙏', '\n', '  ');
    fc.assert(
      fc.property(
        fc.constantFrom(...OPT_OUT_WORDS),
        mark,
        mark,
        fc.boolean(),
        (word, before, after, loud) => {
          expect(meaning(before + (loud ? word.toUpperCase() : word) + after)).toBe('opt-out');
        },
      ),
    );
  });

  it('never throws and reads a hostile text quickly', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 300 }), (body) => void interpret(body, context)),
    );
    expect(interpret('stop the '.repeat(5_000), context).meaning).toBeDefined();
    expect(interpret('a'.repeat(100_000), context).meaning).toBe('reply');
  });
});
