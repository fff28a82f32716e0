import type { BrandFile } from './file';

export type PublicPage = 'privacy' | 'terms';

/** What a page a reviewer looks for has to say. */
export interface Sentence {
  code: string;
  page: PublicPage;
  /** Each of these is said somewhere in one paragraph of the page; regular expressions over small letters. */
  said: readonly string[];
  /** What is missing, as the end of “It does not say …”. */
  missing: string;
  /** Words that say it, ready to copy. `{…}` is filled in. */
  words: string;
  source: string;
}

/** As of November 2026. */
const GUIDE = 'Messaging principles of the carriers’ association, on consent and privacy, read 2026-11';
const ACT = '47 CFR 64.1200(a)(10), read 2026-11';

export const SENTENCES: readonly Sentence[] = [
  {
    ...{ code: 'privacy-mobile', page: 'privacy', source: GUIDE },
    said: [
      '\\b(?:not|never|no)\\b',
      '\\b(?:shar|sold|sell|rent|pass|disclos|giv)',
      '\\b(?:mobile|phone|telephone|cell)\\b',
      '\\b(?:marketing|promotion)',
    ],
    missing: 'that mobile data is not passed on for others’ marketing',
    words:
      'We do not share, sell or pass on mobile phone numbers or other mobile information to third parties or affiliates for their marketing or promotion.',
  },
  {
    ...{ code: 'privacy-consent', page: 'privacy', source: GUIDE },
    said: [
      '\\b(?:not|never|no)\\b',
      '\\b(?:shar|sold|sell|rent|pass|disclos|giv)',
      '\\b(?:consent|opt-?in)\\b',
      '\\b(?:third part|anyone|anybody|nobody|others?\\b|affiliate)',
    ],
    missing: 'that consent to texts is not shared with anybody',
    words:
      'Consent to receive text messages, and the record of that opt-in, is not shared with any third party for any purpose of theirs.',
  },
  {
    ...{ code: 'privacy-collected', page: 'privacy', source: GUIDE },
    said: ['\\b(?:collect|keep|store|record|hold)', '\\b(?:number|name|mobile|phone)\\b'],
    missing: 'what is kept of people',
    words:
      'When you agree to our texts we keep your mobile phone number, when and how you agreed, what was sent to you and what you answered.',
  },
  {
    ...{ code: 'privacy-contact', page: 'privacy', source: GUIDE },
    said: ['\\b(?:contact|write|call|e-?mail|ask|question)', '@|\\d{3}.?\\d{4}'],
    missing: 'how you are reached about it',
    words: 'Questions about what we keep: contact us at {contact}.',
  },
  {
    ...{ code: 'terms-program', page: 'terms', source: GUIDE },
    said: ['\\b(?:texts?|messages?|sms)\\b', '\\b(?:agree|sign up|join|opt|subscri)'],
    missing: 'what people get when they agree',
    words:
      'By joining one of our text programs you agree to get recurring automated text messages from {business}.',
  },
  {
    ...{ code: 'terms-often', page: 'terms', source: GUIDE },
    said: ['\\b(?:frequency|how often|\\d+ (?:messages?|msgs?|texts?))'],
    missing: 'how often texts come',
    words: 'Message frequency varies by program and is told where you join.',
  },
  {
    ...{ code: 'terms-rates', page: 'terms', source: GUIDE },
    said: ['\\b(?:message|msg) ?(?:&|and) data rates may apply'],
    missing: 'that message and data rates may apply',
    words: 'Message and data rates may apply.',
  },
  {
    ...{ code: 'terms-stop', page: 'terms', source: ACT },
    said: ['\\bstop\\b', '\\b(?:text|reply|send|answer|write)'],
    missing: 'how to stop',
    words: 'Reply STOP to any of our texts at any time and we send no more.',
  },
  {
    ...{ code: 'terms-help', page: 'terms', source: GUIDE },
    said: ['\\bhelp\\b', '@|\\d{3}.?\\d{4}'],
    missing: 'how to get help',
    words: 'Reply HELP for help, or contact us at {contact}.',
  },
  {
    ...{ code: 'terms-carriers', page: 'terms', source: GUIDE },
    said: ['\\bcarriers?\\b', '\\b(?:not|no)\\b', '\\b(?:liable|liability|responsible)'],
    missing: 'that carriers are not liable for late or lost texts',
    words: 'Carriers are not liable for delayed or undelivered messages.',
  },
  {
    ...{ code: 'terms-condition', page: 'terms', source: '47 CFR 64.1200(f)(9)(i)(B), read 2026-11' },
    said: ['\\b(?:consent|agree)', '\\b(?:not|no)\\b', '\\b(?:condition|require)', '\\b(?:purchase|buy)'],
    missing: 'that nobody has to agree to buy',
    words: 'Consent to texts is not a condition of any purchase.',
  },
];

const paragraphsOf = (text: string): string[] =>
  text
    .toLowerCase()
    .replaceAll('’', "'")
    .split(/\n+|(?<=[.!?])\s+(?=\S)/)
    .map((one) => one.replace(/\s+/g, ' ').trim())
    .filter(Boolean);

/** Sentences that a page lacks, as its text was pasted. Each has to be said within three sentences that follow each other. */
export function missingOn(page: PublicPage, text: string): Sentence[] {
  const said = paragraphsOf(text);
  const near = said.map((_, i) => said.slice(i, i + 3).join(' '));
  return SENTENCES.filter(
    (sentence) =>
      sentence.page === page &&
      !near.some((words) => sentence.said.every((pattern) => new RegExp(pattern).test(words))),
  );
}

/** Words with what is known filled in. */
export const fillIn = (words: string, known: Readonly<Record<string, string>>): string =>
  words.replace(/\{(\w+)\}/g, (whole, name: string) => known[name] || whole);

export interface PageSection {
  title: string;
  paragraphs: string[];
}

/** A page of ours, made from what stands in the brand's file. */
export function ownPage(
  page: PublicPage,
  brand: Pick<BrandFile, 'legalName' | 'website' | 'contactEmail' | 'contactPhone'>,
  { business, contact, programs }: { business: string; contact: string; programs: readonly ShownProgram[] },
): PageSection[] {
  const reached = [brand.contactEmail || contact, brand.contactPhone].filter(Boolean).join(' or ');
  const known = { business, contact: reached };
  const say = (...codes: string[]) =>
    codes.map((code) => fillIn(SENTENCES.find((one) => one.code === code)!.words, known));
  const who = brand.legalName && brand.legalName !== business ? `${business} (${brand.legalName})` : business;
  if (page === 'privacy')
    return [
      { title: 'Who we are', paragraphs: [`This page is about the texts of ${who}.`] },
      { title: 'What we keep', paragraphs: say('privacy-collected') },
      { title: 'What we do not pass on', paragraphs: say('privacy-mobile', 'privacy-consent') },
      { title: 'How to reach us', paragraphs: say('privacy-contact') },
    ];
  return [
    { title: 'Who writes', paragraphs: [`Texts come from ${who}.`, ...say('terms-program')] },
    {
      title: 'The programs',
      paragraphs: programs.map(({ name, often, about }) =>
        [`${name}: ${often}.`, about].filter(Boolean).join(' '),
      ),
    },
    {
      title: 'How often, and what it costs',
      paragraphs: say('terms-often', 'terms-rates', 'terms-condition'),
    },
    { title: 'Stopping and help', paragraphs: say('terms-stop', 'terms-help') },
    { title: 'Carriers', paragraphs: say('terms-carriers') },
  ].filter(({ paragraphs }) => paragraphs.length > 0);
}

export interface ShownProgram {
  name: string;
  /** “Up to 6 msgs/month”. */
  often: string;
  about: string;
}

/** A page as plain text, as it would be pasted. */
export const pageText = (sections: readonly PageSection[]): string =>
  sections.map(({ title, paragraphs }) => [title, ...paragraphs].join('\n')).join('\n\n');
