import type { Purpose } from '../program/promise';

/** What is registered: the business, a program of it, a number that writes for programs. */
export type RegistrationAbout = 'brand' | 'program' | 'number';

export const FORMS = {
  company: 'company',
  nonprofit: 'non-profit organisation',
  'public-body': 'public body',
  'sole-trader': 'one person in business',
} as const;
export type LegalForm = keyof typeof FORMS;

/** What reviewers ask about a business. Empty: not told yet. */
export interface BrandFile {
  legalName: string;
  form: LegalForm;
  /** As its state gave it; for the United States nine digits. */
  taxNumber: string;
  /** What it does, in a sentence or two. */
  about: string;
  website: string;
  street: string;
  city: string;
  state: string;
  postalCode: string;
  /** ISO 3166-1 alpha-2. */
  country: string;
  /** Who answers for it. */
  contactName: string;
  contactEmail: string;
  contactPhone: string;
  /** We show both pages, made from what stands here; otherwise theirs are read. */
  ourPages: boolean;
  privacyUrl: string;
  /** What their page says, pasted. */
  privacyText: string;
  termsUrl: string;
  termsText: string;
}

export const EMPTY_BRAND: BrandFile = {
  ...{
    legalName: '',
    form: 'company',
    taxNumber: '',
    about: '',
    website: '',
    street: '',
    city: '',
    state: '',
  },
  ...{ postalCode: '', country: 'US', contactName: '', contactEmail: '', contactPhone: '', ourPages: true },
  ...{ privacyUrl: '', privacyText: '', termsUrl: '', termsText: '' },
};

export const CONTENT = {
  events: 'events and dates',
  news: 'news people asked for',
  offers: 'offers and discounts',
  reminders: 'reminders',
  account: 'what concerns an order, a booking or an account',
  giving: 'asking for donations',
  questions: 'answers to questions',
  voting: 'politics and voting',
} as const;
export type ContentKind = keyof typeof CONTENT;

/** What somebody writes about a program; everything else is taken from what the program says. */
export interface ProgramWritten {
  /** What is sent and to whom, in a sentence or two. */
  about: string;
  content: ContentKind[];
  /** Texts hold links, or numbers to call. */
  links: boolean;
  calls: boolean;
  /** Only for grown-ups. */
  adults: boolean;
  /** Own samples; empty: what was sent. */
  samples: string[];
  /** Texts to everybody together in a month; null: what it was so far. */
  perMonth: number | null;
}

export const EMPTY_PROGRAM: ProgramWritten = {
  ...{ about: '', content: [], links: false, calls: false, adults: false, samples: [], perMonth: null },
};

/** A way people join by, with the words they see when they agree. */
export interface WayIn {
  kind: 'keyword' | 'form' | 'poster';
  name: string;
  words: string;
  /** Where the words are changed. */
  place: string;
  /** What the words lack, as a call to action is read. */
  lacks: readonly { weight: 'must' | 'should'; message: string }[];
}

/** Everything a reviewer reads about a program. */
export interface ProgramFile extends Omit<ProgramWritten, 'perMonth'> {
  business: string;
  name: string;
  purpose: Purpose;
  /** “Up to 6 msgs/month”. */
  often: string;
  perMonth: number;
  ways: WayIn[];
  confirmation: string;
  /** The question before joining; empty: nothing is asked. */
  question: string;
  help: string;
  stop: string;
}

export interface NumberFile {
  number: string;
  kind: 'local' | 'toll-free' | 'short-code';
}
