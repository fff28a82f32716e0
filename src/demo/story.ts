/** What happened at Juniper Gap in fourteen weeks. Days count from the first; times are hours after noon in Denver. */

export interface StoryBroadcast {
  day: number;
  /** Hours after noon, Mountain time. */
  hour: number;
  program: string;
  name: string;
  body: string;
  replyShare: number;
  optOutShare: number;
  /** Other wordings of it, and how many of a hundred answer each more than the first. */
  others?: { text: string; replyShare: number }[];
  /** A picture of the house that goes along, by its name. */
  picture?: string;
  /** Of those who got a link. */
  clickShare?: number;
  /** So many send a picture back. */
  picturesBack?: number;
}

const NAME = '{$person.first_name :wren:field fallback=|sky friend|}';

/** What a text to the list says. */
export const worded = (text: string): string =>
  `Juniper Gap Observatory: Hi ${NAME}, ${text} Reply STOP to stop.`;

const sky = (
  week: number,
  name: string,
  text: string,
  extra: Partial<StoryBroadcast> = {},
): StoryBroadcast => ({
  day: week * 7 + 3,
  hour: 1,
  program: 'Clear Sky Alerts',
  name,
  body: worded(text),
  replyShare: 0.035,
  optOutShare: 0.006,
  ...extra,
});
const dome = (week: number, name: string, text: string): StoryBroadcast =>
  sky(week, name, text, { day: week * 7 + 1, hour: 2, program: 'Dome Members', replyShare: 0.05 });
const shop = (week: number, name: string, text: string): StoryBroadcast =>
  sky(week, name, text, {
    day: week * 7 + 5,
    hour: 1.5,
    program: 'Gift Shop Offers',
    replyShare: 0.02,
    optOutShare: 0.009,
  });

export const BROADCASTS: StoryBroadcast[] = [
  sky(0, 'First clear week', 'four clear nights ahead. The dome opens at dusk, no booking needed.'),
  sky(1, 'Moon by the ridge', 'tonight the Moon rises right behind the ridge. Bring a jacket.'),
  sky(
    2,
    'Saturn week',
    'Saturn is up after dusk all week and the rings are wide open. Which evening suits you?',
    { replyShare: 0.08 },
  ),
  sky(3, 'New telescope', 'the big mirror is back from polishing. Come and look through it first.', {
    picture: 'dome-at-night.jpg',
  }),
  sky(4, 'Comet watch', 'a small comet stands low in the west after sunset. Field glasses are enough.'),
  sky(5, 'Clouds, then stars', 'clouds until nine, then a clear window until one. We stay open late.'),
  sky(6, 'Late meteor alert', 'meteors are falling right now, step outside and look north-east!', {
    hour: 8.25,
    optOutShare: 0.034,
    replyShare: 0.03,
  }),
  sky(7, 'Sorry about the hour', 'sorry for last week’s late text. From now on alerts come at noon.', {
    replyShare: 0.06,
  }),
  sky(
    8,
    'Jupiter evening',
    'Jupiter and four moons in one view, Friday from seven. Shall we keep you a place?',
    // Asked, people answer; told, they do not.
    {
      replyShare: 0.085,
      others: [
        {
          text: 'Jupiter and four moons in one view, Friday from seven. It is worth seeing.',
          replyShare: 0.02,
        },
      ],
    },
  ),
  sky(9, 'Long nights', 'the nights are long now: doors open at five.'),
  // Two ways to say it, and people do not care which.
  sky(10, 'Winter hexagon', 'six bright stars, one big shape. Our star party shows you how to find it.', {
    others: [
      {
        text: 'our star party shows you the winter hexagon: six bright stars, one big shape.',
        replyShare: 0.035,
      },
    ],
  }),
  sky(11, 'Northern glow', 'a faint glow in the north is possible tonight. No promise, but look up.'),
  sky(
    12,
    'Orion rising',
    'Orion is back in the evening sky. Guided walk on Saturday: https://juniper-gap.example.org/orion',
    { picture: 'orion.jpg', clickShare: 0.19, picturesBack: 3 },
  ),
  dome(1, 'Members’ preview', 'members see the new dome film first, Wednesday at six.'),
  dome(3, 'Renew and bring a friend', 'renew this month and bring a friend along free of charge.'),
  dome(5, 'Silent night show', 'one evening without a word, only music and stars. Members go first.'),
  dome(7, 'Vote for a film', 'which film should return: Ice Moons or Deep Field? Just reply.'),
  dome(9, 'Members’ breakfast', 'sunrise from the terrace with coffee, members only, this Sunday.'),
  dome(11, 'Dome repairs done', 'the dome turns silently again. Come and hear nothing.'),
  shop(2, 'Second hot chocolate', 'show this text at the counter and the second hot chocolate is on us.'),
  shop(4, 'Star maps', 'this year’s star maps are in. Ten percent off with this text.'),
  shop(6, 'Red lamps', 'red lamps for your night walk: two for one with this text.'),
  shop(8, 'Meteorite Saturday', 'hold a real meteorite in your hand on Saturday at the shop.'),
  shop(10, 'Gift table', 'the gift table is set. Members of the list choose first.'),
  sky(13, 'Clear from Thursday', 'clear skies from Thursday on. Doors open at five, last tour at nine.', {
    day: 94,
  }),
].sort((a, b) => a.day - b.day || a.hour - b.hour);

/** A letter to members who gave an e-mail address on paper. */
export interface StoryLetter extends StoryBroadcast {
  channel: 'email';
  subject: string;
  clickShare: number;
}

const letter = (week: number, name: string, subject: string, text: string): StoryLetter => ({
  ...{ day: week * 7 + 2, hour: 3, program: 'Dome Members', name, channel: 'email', subject },
  body: `Hi ${NAME},\n\n${text}\n\nOdile Farrow\nJuniper Gap Observatory`,
  ...{ replyShare: 0.04, optOutShare: 0.01, clickShare: 0.22 },
});

export const LETTERS: StoryLetter[] = [
  letter(
    4,
    'Members’ letter, autumn',
    'What the dome shows this autumn',
    'three new films, one old favourite, and a bench by the door for whoever waits.\n\nThe whole programme: https://juniper-gap.example.org/autumn',
  ),
  letter(
    8,
    'Members’ letter, the telescope',
    'The big mirror, and how it was polished',
    'it took nine days and a great deal of patience. We wrote down how it was done, with drawings.\n\nhttps://juniper-gap.example.org/mirror',
  ),
  letter(
    12,
    'Members’ letter, winter',
    'Winter evenings for members',
    'the nights are long enough for two shows now. Which one should members see first? Just answer this letter.\n\nDates: https://juniper-gap.example.org/winter',
  ),
];

export const LETTER_ANSWERS = [
  'Thank you for the letter! We come with four.',
  'The early show please, the children get tired.',
  'Could you send the dates as a file, too?',
  'What a lovely read. Is the mirror to be seen by day?',
  'The late one. Nothing is better than a full dome at ten.',
];

export const REPLIES = [
  'Friday please, two of us',
  'Is it ok to bring a dog?',
  'What time does it end?',
  'Yes, keep us a place',
  'Can kids under 6 come along?',
  'Lovely, thanks!',
  'Is there parking at the top?',
  'Do I need to book?',
  'How cold does it get up there?',
  'Deep Field!',
  'Ice Moons please',
  'We will be there',
  'Do you have wheelchair access?',
  'Is the cafe open that late',
  'Saturday works better for us',
  'Best text of my week',
  'Will it be cancelled if cloudy?',
  'don’t stop, love these',
  'How long is the drive from the valley?',
];

export const ANSWERS = [
  'Hi, yes, no problem at all. See you on the hill!',
  'Doors open at five and the last tour leaves at nine.',
  'Done, two places are kept for you.',
  'There is parking at the top, the last bend is steep.',
  'No booking needed, just come along.',
  'Bring a warm jacket, it is colder than in town.',
  'Yes, children are welcome at every age.',
  'The ramp is on the north side, ring and we help you up.',
];

export const OPT_OUTS = [
  'STOP',
  'Stop',
  'stop.',
  'STOP',
  'Stop please',
  'unsubscribe',
  'please take me off this list',
  'STOP!!',
  'No more texts please',
  'Quit',
  'too late in the evening, stop texting me',
];

export const KEYWORDS: { word: string; program: string; share: number }[] = [
  { word: 'SKY', program: 'Clear Sky Alerts', share: 0.55 },
  { word: 'DOME', program: 'Dome Members', share: 0.22 },
  { word: 'METEOR', program: 'Gift Shop Offers', share: 0.23 },
];

/** METEOR is the word people get wrong. */
export const MISSPELLED = ['METOR', 'METEROR', 'METEOER', 'MEATEOR', 'METIOR', 'Meteorr'];
