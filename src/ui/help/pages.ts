/** What a place is for, and the words it uses. */
export interface HelpPage {
  /** The last part of its address. */
  place: string;
  title: string;
  /** Where it is. */
  href: string;
  what: string;
  /** What one does there, in the order one does it. */
  steps: string[];
  words: [word: string, meaning: string][];
}

export const HELP: readonly HelpPage[] = [
  {
    ...{ place: 'today', title: 'Today', href: '/' },
    what: 'What goes wrong or needs somebody comes first: replies, calls, tasks, near misses, a number that is unwell. Below it stands what goes out now and next.',
    steps: [
      'Work from the top: what may be an opt-out stands before everything else.',
      'Open a count to see the very people behind it.',
      'The strip under the top bar shows the last and the next hours: what left is above its line, what came back below it.',
    ],
    words: [
      ['Day ribbon', 'The strip under the top bar. What is dotted is still to come and can be opened.'],
      ['Near miss', 'A text that was nearly a keyword. Take it for the keyword, or leave it.'],
    ],
  },
  {
    ...{ place: 'inbox', title: 'Inbox', href: '/inbox' },
    what: 'Everybody who waits for an answer, on every channel, in the order in which they should be answered.',
    steps: [
      'j and k go through the list, Enter opens a thread, 1 to 9 put in the prepared answer that is proposed.',
      'After sending you have five seconds to take an answer back.',
      'Give a thread to a teammate, put it off until a day, or say that it is done.',
    ],
    words: [
      ['Thread', 'All that went to and fro with one person, with calls, notes and what is still ahead.'],
      [
        'Prepared answer',
        'A template with the question it answers. It is proposed for words like those it answered before, and never sent by itself.',
      ],
      ['Note', 'Words for teammates alone; @name calls one of them.'],
      ['Fact', 'A field of your own that is asked beside threads and noted by one key.'],
    ],
  },
  {
    ...{ place: 'sends', title: 'Sends', href: '/sends' },
    what: 'Broadcasts: one message to many, by text, e-mail, chat or voicemail. The margin shows who gets it, who not and why, and what it costs, while you write.',
    steps: [
      'Choose a program: its consent decides who may get it.',
      'Write. Fields, links, pictures and templates are put in from the bar, or by typing a slash.',
      'Read the margin. A count there opens to its people.',
      'Send now, at a time, or at that hour where each of them lives; at a pace if somebody has to answer.',
    ],
    words: [
      [
        'Clearance',
        'Whether one message may go to one person now: cleared, held until a time, or blocked, each with its reason.',
      ],
      [
        'Part',
        'A text of more than 160 characters, or 70 with a letter phones do not know, is sent and paid as several parts.',
      ],
      [
        'Hand-sent',
        'A broadcast that goes to each when somebody presses, split into stacks among teammates and guests.',
      ],
      ['Grace', 'The short pause before something automatic leaves, in which it can be called back.'],
      [
        'Told beside it',
        'A text or an e-mail to each person before or after a voicemail: after only where one was left, before at the voicemail’s own turn.',
      ],
    ],
  },
  {
    ...{ place: 'people', title: 'People', href: '/people' },
    what: 'Everybody you know, one row each. A cut says exactly who is meant, with the count after each condition.',
    steps: [
      'Press a condition to add it; the sentence above the table says what you ask.',
      'Keep a cut as a segment: it stays live.',
      'Tick people, or take all that match, and tag, write to, or export them. What is done to many is a batch, which can be stopped and undone.',
    ],
    words: [
      ['Segment', 'A cut that is kept under a name and counted anew whenever it is used.'],
      [
        'Batch',
        'Something done to a chosen set of people: named, paced, stoppable, undone where that is possible.',
      ],
      [
        'Address',
        'Where somebody is reached: a number, an e-mail address, a chat id. Consent is given by an address.',
      ],
      [
        'Proof',
        'Everything that went to an address, what it rested on and when they left, as a document that can be checked. It stands on a person’s page.',
      ],
    ],
  },
  {
    ...{ place: 'programs', title: 'Programs', href: '/programs' },
    what: 'What people agree to: a name, a purpose, a promise how often, wording and hours. Consent is to a program, not to a list.',
    steps: [
      'Make a program, then a keyword or a form by which people join it.',
      'Try the keyword on your own phone: it works at once.',
      'Print its poster: the code on it opens the messaging app with the word typed.',
    ],
    words: [
      [
        'Keyword',
        'A word that is texted to one of your numbers. Capitals, full stops and quotes do not matter.',
      ],
      ['Promise', 'How often you said you would write. Clearance keeps it.'],
      [
        'Offer and voucher',
        'What somebody gets for joining, and the code that is used up once at the counter.',
      ],
    ],
  },
  {
    ...{ place: 'sequences', title: 'Sequences', href: '/programs/sequences' },
    what: 'What happens next for a person, and when: texts, letters, tasks, waits and forks, laid out on a timetable.',
    steps: [
      'Begin from a ready-made one or an empty timetable.',
      'Rehearse it for one person from any moment, with replies that are only pretended.',
      'Publish. Who is under way stays with the version they began, until you move them.',
    ],
    words: [
      ['Timetable', 'The lines of a sequence in time: at once, after an hour, on day two at 9:40.'],
      ['Rehearsal', 'The dated list of what one person would get, from the engine that would send it.'],
      ['Enrolment', 'One person on their way through one sequence.'],
    ],
  },
  {
    ...{ place: 'inquiries', title: 'Inquiries', href: '/programs/inquiries' },
    what: 'People who ask through a portal, an advert, a website or a letter, at any hour: matched, given to a teammate and answered at once.',
    steps: [
      'Make a source and give its address to the portal.',
      'Let one inquiry come, and say once what each of its values is.',
      'Choose to whom inquiries are given, and which sequence answers each kind.',
    ],
    words: [
      ['Source', 'A door through which inquiries come, with its own address and mapping.'],
      [
        'YES',
        'An inquiry permits an answer to it. What follows for months needs their YES, which the first answer can ask for.',
      ],
    ],
  },
  {
    ...{ place: 'tasks', title: 'Tasks', href: '/tasks' },
    what: 'What sequences and teammates ask of humans, with what is late first.',
    steps: [
      'Do it, put it off, or give it to somebody else.',
      'Have them in your own calendar by the address on the page.',
    ],
    words: [['Task', 'Something a human is to do about a person by a time.']],
  },
  {
    ...{ place: 'calls', title: 'Calls', href: '/inbox/calls' },
    what: 'Whom to call next, what calls came to, and the texts that follow them.',
    steps: [
      'Call whoever stands first.',
      'Say what it came to: an outcome may send a text from the number that called.',
    ],
    words: [
      ['Outcome', 'What a call came to, such as nobody answered.'],
      [
        'Callback load',
        'How many calls a voicemail batch will bring back each hour, against the people at the phones.',
      ],
    ],
  },
  {
    ...{ place: 'results', title: 'Results', href: '/results' },
    what: 'What happened against as long a time before, and everything that was sent counted once.',
    steps: [
      'Choose the days; those offered end with yesterday, since a day that is not over cannot be held against one that is.',
      'Press a line to see it over time, and a count to see its people.',
      'At the foot of each page: take it along as a file, or keep it as a report that is sent by e-mail or shown by a link.',
    ],
    words: [
      ['Answered', 'The first reply to a message, of what you began and what was delivered.'],
      ['Conversation', 'It begins with a reply after a week of silence.'],
      [
        'Really more',
        'A difference that chance does not explain, after counting how many differences were looked at. Of those named so at most one in twenty is chance.',
      ],
      [
        '95 % interval',
        'The numbers in brackets: where the share would likely be if you sent the same a thousand times.',
      ],
    ],
  },
  {
    ...{ place: 'works', title: 'What works', href: '/results/works' },
    what: 'Broadcasts, wordings, lines, templates, numbers, hours, weekdays, keywords, forms and sources, each against all the others together.',
    steps: [
      'Choose what is compared, then by what.',
      'Read the last column: a difference that is not named there is none.',
      'Draw two or more into the picture where there is something to draw.',
    ],
    words: [
      ['Too few for a word', 'Below twenty a share says nothing, whatever it is.'],
      ['Cost somebody', 'Somebody left its program after this message and before the next.'],
    ],
  },
  {
    ...{ place: 'keeping', title: 'Who stays', href: '/results/keeping' },
    what: 'Of those who came in a month, how many are still in after thirty, sixty, ninety days, and how many write.',
    steps: [
      'Compare the lines at the same day since coming.',
      'See below how many texts in thirty days are too many here.',
    ],
    words: [
      ['Still in', 'Who is still in counts for as long as they have been here, and no longer.'],
      ['Cohort', 'The people who came in one month.'],
    ],
  },
  {
    ...{ place: 'numbers', title: 'Numbers', href: '/numbers' },
    what: 'The numbers and accounts you send from: what each may, how it stands, and whose it is.',
    steps: [
      'Find a number by area code, town, digits or a word in it, and take it; or enter one the carrier gave. Say which programs write from it.',
      'Open one to see its standing and what it carried.',
      'A number that is unwell rests by itself where another of its programs is well: nothing is begun from it, and its people are told which number comes instead. After its rest it carries more by the day.',
      'A number you have elsewhere is brought along: say who holds it there, and its day is shown.',
    ],
    words: [
      ['Standing', 'A number’s last week against its own eleven weeks before.'],
      [
        'Registration',
        'The carrier’s permission to send from it. Texts from a number that is not registered are held.',
      ],
      [
        'Rest',
        'A number that rests begins nothing; what is written to it is still heard and answered from it.',
      ],
    ],
  },
  {
    ...{ place: 'credits', title: 'Credits', href: '/credits' },
    what: 'What is left to send with, until when it is enough for what is ahead, where it went, and what messages cost.',
    steps: [
      'See beside until when the credits are enough; owners and managers are written to three days before.',
      'Buy a pack from the provider, or write down what was bought elsewhere.',
      'Say what costs otherwise: a country, a carrier, a kind of number. The narrowest price that fits counts when a message leaves.',
      'Limit what may be spent in a day, of a program or of all. What is begun over it waits for the next day.',
    ],
    words: [
      ['Credit', 'What messages are counted in: usually one for each part of a text.'],
      ['Ledger', 'Everything that came and went. It is only ever added to, and adds up to what is left.'],
      [
        'Given back',
        'What a message cost that nobody took: refused as it was handed over, or stopped before.',
      ],
    ],
  },
  {
    ...{ place: 'registration', title: 'Registration', href: '/numbers/registration' },
    what: 'What reviewers of numbers have to know before carriers let texts through: the business, each program, each number; how each application stands, who acts next, and what they ask.',
    steps: [
      'Tell of the business once. What a reviewer would miss is said beside it, with words that mend it.',
      'Open a program: most is taken from its keywords, forms, posters and automatic texts. Say what is sent, and hand it in.',
      'Hand in the numbers that write for it. They wait for the program, and the program for the business.',
      'Answer what reviewers ask in place; what you answered before stands beside it.',
    ],
    words: [
      ['Registrar', 'Who passes applications on to carriers and their reviewers.'],
      [
        'Withdrawn',
        'A registration that was given may be taken away, when texts are not what was registered. Nothing leaves from its numbers then.',
      ],
      [
        'Likely by',
        'Until when half of such reviews are decided, by those of yours; as the registrar says until there are three.',
      ],
    ],
  },
  {
    ...{ place: 'team', title: 'Team', href: '/team' },
    what: 'Who works here, in which role, and when they are away.',
    steps: ['Invite somebody by e-mail.', 'Choose a role: a counter helper sees vouchers and nothing else.'],
    words: [['Role', 'What somebody may: owner, manager, teammate, counter.']],
  },
  {
    ...{ place: 'settings', title: 'Settings', href: '/settings' },
    what: 'What the business says of itself, its zone, its hours and rules, and what clearance allows.',
    steps: [
      'Rules of hours are shipped with their sources and dates; write your own where yours are stricter.',
      'Say from which age on old messages are put away: they take a fraction of the room, and every count and proof stays.',
    ],
    words: [
      ['Hours', 'When somebody may be written to, where they live. A stricter state goes before ours.'],
    ],
  },
  {
    ...{ place: 'developers', title: 'Developers', href: '/developers' },
    what: 'Keys for the API, and webhooks that tell other systems what happens.',
    steps: [
      'Make a key with no more than it needs.',
      'Check the signature of each webhook before you believe it.',
    ],
    words: [
      ['Happening', 'That something happened to a person: joined, was tagged, replied.'],
      ['Webhook', 'A signed call to an address of yours for each happening you follow.'],
    ],
  },
];

export const helpFor = (place: string): HelpPage | null => HELP.find((page) => page.place === place) ?? null;
