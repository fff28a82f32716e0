/**
 * What reviewers of numbers look for, as data: each with the field it is about, how heavy it weighs, what mends it, and where
 * it is from. Sources: the carriers’ association’s messaging principles and best practices (consent, content, privacy), the
 * usual forms of registrars for ten-digit numbers and toll-free numbers, 47 CFR 64.1200. Read November 2026.
 */
export interface Rule {
  code: string;
  about: 'brand' | 'program';
  field: string;
  weight: 'must' | 'should';
  test: Test;
  /** It holds only where a field is one of these. */
  where?: { field: string; is: readonly (string | boolean)[] };
  message: string;
  mend: string;
  source: Source;
}

export type Test =
  /** At least so many characters. */
  | { kind: 'filled'; least: number }
  /** What is filled in looks like this: a regular expression over the text as it stands. */
  | { kind: 'matches'; pattern: string }
  /** No text says this; over small letters, as those below. */
  | { kind: 'lacks'; pattern: string }
  | { kind: 'some'; pattern: string }
  | { kind: 'each'; pattern: string }
  | { kind: 'several'; least: number; most: number }
  /** Two texts are not alike. */
  | { kind: 'differ' };

/** Where a rule is from, with the month it was last read. */
export const SOURCES = {
  principles: 'Carriers’ association, messaging principles and best practices; read 2026-11',
  registrar: 'What registrars of ten-digit and toll-free numbers ask for; read 2026-11',
  law: '47 CFR 64.1200; read 2026-11',
} as const;
export type Source = keyof typeof SOURCES;

const URL = '^https://[a-z0-9-]+(\\.[a-z0-9-]+)+(:\\d+)?(/\\S*)?$';
const REGISTRAR = 'registrar';

export const RULES: readonly Rule[] = [
  {
    ...{ code: 'legal-name', about: 'brand', field: 'legalName', weight: 'must', source: REGISTRAR },
    test: { kind: 'filled', least: 2 },
    message: 'The legal name is missing.',
    mend: 'Write it as it stands in the register or on the tax letter, with “Inc.” or “LLC”.',
  },
  {
    ...{ code: 'tax-number', about: 'brand', field: 'taxNumber', weight: 'must', source: REGISTRAR },
    where: { field: 'form', is: ['company', 'nonprofit', 'public-body'] },
    test: { kind: 'filled', least: 4 },
    message: 'The tax number is missing: brands are looked up by it.',
    mend: 'It stands on the letter in which the tax office gave it.',
  },
  {
    ...{ code: 'tax-number-form', about: 'brand', field: 'taxNumber', weight: 'must', source: REGISTRAR },
    where: { field: 'country', is: ['US'] },
    test: { kind: 'matches', pattern: '^\\d{2}-?\\d{7}$' },
    message: 'A tax number of the United States has nine digits.',
    mend: 'Write it as 12-3456789.',
  },
  {
    ...{ code: 'brand-about', about: 'brand', field: 'about', weight: 'must', source: REGISTRAR },
    test: { kind: 'filled', least: 40 },
    message: 'What the business does is too short for a stranger.',
    mend: 'Say in a sentence what it does, for whom and where.',
  },
  {
    ...{ code: 'website', about: 'brand', field: 'website', weight: 'must', source: REGISTRAR },
    test: { kind: 'filled', least: 1 },
    message: 'There is no website: reviewers compare the brand with it.',
    mend: 'Give the page people know the business by.',
  },
  {
    ...{ code: 'website-form', about: 'brand', field: 'website', weight: 'must', source: REGISTRAR },
    test: { kind: 'matches', pattern: URL },
    message: 'The website is no address a reviewer can open.',
    mend: 'Begin with https:// and give the whole address.',
  },
  {
    ...{ code: 'street', about: 'brand', field: 'street', weight: 'must', source: REGISTRAR },
    test: { kind: 'filled', least: 4 },
    message: 'The street is missing.',
    mend: 'Where the business is registered; a post box is refused by some reviewers.',
  },
  {
    ...{ code: 'post-box', about: 'brand', field: 'street', weight: 'should', source: REGISTRAR },
    test: { kind: 'lacks', pattern: '\\b(?:p\\.? ?o\\.? box|post ?box)\\b' },
    message: 'This is a post box.',
    mend: 'Some reviewers refuse one: give the street where there is one.',
  },
  {
    ...{ code: 'city', about: 'brand', field: 'city', weight: 'must', source: REGISTRAR },
    test: { kind: 'filled', least: 2 },
    message: 'The city is missing.',
    mend: 'As it stands in the register.',
  },
  {
    ...{ code: 'state', about: 'brand', field: 'state', weight: 'must', source: REGISTRAR },
    where: { field: 'country', is: ['US', 'CA'] },
    test: { kind: 'matches', pattern: '^[A-Z]{2}$' },
    message: 'The state is told by two letters.',
    mend: 'Such as CO.',
  },
  {
    ...{ code: 'state-missing', about: 'brand', field: 'state', weight: 'must', source: REGISTRAR },
    where: { field: 'country', is: ['US', 'CA'] },
    test: { kind: 'filled', least: 1 },
    message: 'The state is missing.',
    mend: 'By its two letters, such as CO.',
  },
  {
    ...{ code: 'postal-code', about: 'brand', field: 'postalCode', weight: 'must', source: REGISTRAR },
    test: { kind: 'filled', least: 3 },
    message: 'The postal code is missing.',
    mend: 'It belongs to the street above.',
  },
  {
    ...{ code: 'contact-name', about: 'brand', field: 'contactName', weight: 'must', source: REGISTRAR },
    test: { kind: 'filled', least: 3 },
    message: 'Nobody answers for the brand.',
    mend: 'Name a person whom a reviewer can ask.',
  },
  {
    ...{ code: 'contact-email', about: 'brand', field: 'contactEmail', weight: 'must', source: REGISTRAR },
    test: { kind: 'matches', pattern: '^[^\\s@]+@[^\\s@]+\\.[^\\s@]+$' },
    message: 'The e-mail address of the contact is none.',
    mend: 'Such as desk@example.org.',
  },
  {
    ...{
      code: 'contact-email-missing',
      about: 'brand',
      field: 'contactEmail',
      weight: 'must',
      source: REGISTRAR,
    },
    test: { kind: 'filled', least: 1 },
    message: 'The contact has no e-mail address.',
    mend: 'One of the business’s own domain is believed sooner.',
  },
  {
    ...{ code: 'contact-phone', about: 'brand', field: 'contactPhone', weight: 'must', source: REGISTRAR },
    test: { kind: 'filled', least: 7 },
    message: 'The contact has no phone number.',
    mend: 'One that somebody picks up.',
  },
  {
    ...{ code: 'privacy-url', about: 'brand', field: 'privacyUrl', weight: 'must', source: 'principles' },
    where: { field: 'ourPages', is: [false] },
    test: { kind: 'filled', least: 8 },
    message: 'The address of your privacy page is missing.',
    mend: 'Give it, or let us show one made from this file.',
  },
  {
    ...{ code: 'terms-url', about: 'brand', field: 'termsUrl', weight: 'must', source: 'principles' },
    where: { field: 'ourPages', is: [false] },
    test: { kind: 'filled', least: 8 },
    message: 'The address of your terms is missing.',
    mend: 'Give it, or let us show ones made from this file.',
  },
  {
    ...{ code: 'privacy-text', about: 'brand', field: 'privacyText', weight: 'must', source: 'principles' },
    where: { field: 'ourPages', is: [false] },
    test: { kind: 'filled', least: 40 },
    message: 'What your privacy page says was not pasted, so nobody has checked it.',
    mend: 'Open it, choose all, copy, and paste it here.',
  },
  {
    ...{ code: 'terms-text', about: 'brand', field: 'termsText', weight: 'must', source: 'principles' },
    where: { field: 'ourPages', is: [false] },
    test: { kind: 'filled', least: 40 },
    message: 'What your terms say was not pasted, so nobody has checked it.',
    mend: 'Open the page, choose all, copy, and paste it here.',
  },

  {
    ...{ code: 'program-about', about: 'program', field: 'about', weight: 'must', source: REGISTRAR },
    test: { kind: 'filled', least: 40 },
    message: 'What is sent is told too shortly for a stranger.',
    mend: 'Say who gets it, why they asked for it and what comes: “Members of the dome get …”.',
  },
  {
    ...{ code: 'content', about: 'program', field: 'content', weight: 'must', source: REGISTRAR },
    test: { kind: 'several', least: 1, most: 8 },
    message: 'No kind of content is chosen.',
    mend: 'Choose all that will ever be sent; what was not named is a reason to withdraw a registration.',
  },
  {
    ...{ code: 'content-many', about: 'program', field: 'content', weight: 'should', source: REGISTRAR },
    test: { kind: 'several', least: 0, most: 5 },
    message: 'More than five kinds of content in one program look like a list that is sent anything.',
    mend: 'Choose what is really sent, or make two programs.',
  },
  {
    ...{ code: 'ways', about: 'program', field: 'ways', weight: 'must', source: 'law' },
    test: { kind: 'several', least: 1, most: 1_000 },
    message: 'There is no way to join that a reviewer could look at.',
    mend: 'Give the program a keyword, or a form that is shown.',
  },
  {
    ...{ code: 'samples', about: 'program', field: 'samples', weight: 'must', source: REGISTRAR },
    test: { kind: 'several', least: 2, most: 5 },
    message: 'Reviewers read two to five samples.',
    mend: 'Write texts as they will really be sent.',
  },
  {
    ...{ code: 'samples-alike', about: 'program', field: 'samples', weight: 'must', source: REGISTRAR },
    test: { kind: 'differ' },
    message: 'Two samples are the same.',
    mend: 'Show different kinds of what is sent.',
  },
  {
    ...{ code: 'sample-name', about: 'program', field: 'samples', weight: 'must', source: 'principles' },
    test: { kind: 'each', pattern: '{business}' },
    message: 'A sample does not say who writes.',
    mend: 'Put the name of the business into each.',
  },
  {
    ...{ code: 'sample-stop', about: 'program', field: 'samples', weight: 'must', source: 'principles' },
    test: { kind: 'some', pattern: '\\bstop\\b' },
    message: 'No sample says how to stop.',
    mend: 'End at least one of them with “Reply STOP to stop.”',
  },
  {
    ...{ code: 'sample-gap', about: 'program', field: 'samples', weight: 'must', source: REGISTRAR },
    test: { kind: 'lacks', pattern: '\\{[^}]*\\}|\\[[^\\]]*\\]|\\bx{3,}\\b|lorem ipsum' },
    message: 'A sample has a gap in it.',
    mend: 'Fill it in as a person would read it.',
  },
  {
    ...{ code: 'sample-shortener', about: 'program', field: 'samples', weight: 'must', source: 'principles' },
    test: { kind: 'lacks', pattern: '{shorteners}' },
    message: 'A sample has a link by a public shortener: carriers block those.',
    mend: 'Use links of your own domain.',
  },
  {
    ...{ code: 'sample-link', about: 'program', field: 'samples', weight: 'must', source: REGISTRAR },
    where: { field: 'links', is: [false] },
    test: { kind: 'lacks', pattern: 'https?://|\\bwww\\.|\\b[a-z0-9-]+\\.(?:com|org|net|test|example)\\b' },
    message: 'A sample has a link, and it says texts have none.',
    mend: 'Say that texts hold links.',
  },
  {
    ...{ code: 'links-shown', about: 'program', field: 'samples', weight: 'should', source: REGISTRAR },
    where: { field: 'links', is: [true] },
    test: { kind: 'some', pattern: 'https?://|\\bwww\\.|\\b[a-z0-9-]+\\.(?:com|org|net|test|example)\\b' },
    message: 'It says texts hold links, and no sample shows one.',
    mend: 'Put one into a sample, so that its domain is known.',
  },
  {
    ...{ code: 'sample-call', about: 'program', field: 'samples', weight: 'must', source: REGISTRAR },
    where: { field: 'calls', is: [false] },
    test: { kind: 'lacks', pattern: '\\(?\\d{3}\\)?[ .-]\\d{3}[ .-]\\d{4}' },
    message: 'A sample has a number to call, and it says texts have none.',
    mend: 'Say that texts hold numbers to call.',
  },
  {
    ...{ code: 'adults', about: 'program', field: 'samples', weight: 'must', source: 'principles' },
    where: { field: 'adults', is: [false] },
    test: {
      kind: 'lacks',
      pattern: '\\b(?:beer|wine|cocktails?|whisk(?:e)?y|cannabis|tobacco|vape|casino|bets?)\\b',
    },
    message: 'A sample is about what only grown-ups may have.',
    mend: 'Say that the program is only for grown-ups, and ask for the age where people join.',
  },
  {
    ...{
      code: 'confirmation-rates',
      about: 'program',
      field: 'confirmation',
      weight: 'must',
      source: 'principles',
    },
    test: { kind: 'each', pattern: 'data rates may apply' },
    message: 'The confirmation does not say that rates may apply.',
    mend: 'It is written by us; tell us if you see this.',
  },
  {
    ...{ code: 'help-contact', about: 'program', field: 'help', weight: 'must', source: 'principles' },
    test: { kind: 'each', pattern: '@|\\d{3}.?\\d{4}|https?://' },
    message: 'HELP is answered without a way to reach you.',
    mend: 'Give a number or an e-mail address as contact under Settings.',
  },
];
