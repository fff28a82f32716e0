/**
 * The wording the rules ask of automatic answers.
 * Source: 47 CFR 64.1200(a)(10) and (12); trade guidelines on calls to action and confirmations.
 */
export interface ProgramWording {
  business: string;
  program: string;
  /** Such as "Up to 6 msgs/month". */
  frequency: string;
  /** A phone number or e-mail address where a human answers. */
  contact: string;
}

const RATES = 'Msg & data rates may apply.';

/** Sent when somebody joins: brand and program, frequency, rates, HELP and STOP. `welcome` goes first. */
export function confirmationText(wording: ProgramWording, welcome: string): string {
  const required = `${wording.business} ${wording.program}: ${wording.frequency}. ${RATES} Reply HELP for help, STOP to stop.`;
  return welcome.trim() === '' ? required : `${welcome.trim()} ${required}`;
}

export const doubleOptInText = (wording: ProgramWording): string =>
  `${wording.business}: reply YES to get ${wording.program}. ${wording.frequency}. ${RATES} Reply HELP for help, STOP to stop.`;

/**
 * Asks somebody who only inquired for more, within an answer to them. Their YES is understood by these very words standing in
 * what they were sent, so that it is known what they agreed to.
 */
export const widerAskText = ({ business, program, frequency }: ProgramWording): string =>
  `Reply YES to get ${program} texts from ${business} as well. ${frequency}. ${RATES}`;

/** Asks a member whether it was them who filled in a form: the number is proved again before anything is kept. */
export const formProofText = ({ business }: Pick<ProgramWording, 'business'>): string =>
  `${business}: a form was filled in for this number. Was it you? Reply YES and we keep it. Reply HELP for help, STOP to stop.`;

/** The one text allowed after an opt-out: no marketing in it. */
export const optOutText = (business: string): string =>
  `${business}: you are opted out and will get no more texts from us. Reply START to come back.`;

/** To who left one program of several. */
export const leftOneText = ({ business, program }: ProgramWording): string =>
  `${business}: you are out of ${program} and will get no more texts from it. Reply STOP to end all of ours.`;

/** Said before the first text from another number than the one somebody knows. */
export const otherNumberText = (business: string, before: string): string =>
  `${business}: we text you from this number now instead of ${before}. All else stays as it was. Reply STOP to stop.`;

export const helpText = (wording: ProgramWording): string =>
  `${wording.business} ${wording.program}. ${wording.frequency}. ${RATES} Help: ${wording.contact}. Reply STOP to stop.`;

export const resumedText = (wording: ProgramWording): string =>
  `Welcome back. ${confirmationText(wording, '')}`;

/** A keyword that is not valid yet or any more, in the words of the business or, without any, in ours. */
export function keywordNotice(
  about: 'before' | 'after',
  { business, keyword, words, day }: { business: string; keyword: string; words: string; day: string | null },
): string {
  if (words.trim() !== '') return words.trim();
  const word = keyword.toUpperCase();
  return about === 'before'
    ? `${business}: ${word} begins on ${day}. Text it again from then on.`
    : `${business}: ${word} is over. Thank you for writing.`;
}

/** Asks whether a near miss was meant for the keyword; they join by typing it. */
export const nearMissText = (
  { business, program }: Pick<ProgramWording, 'business' | 'program'>,
  keyword: string,
): string =>
  `${business}: did you mean ${keyword.toUpperCase()}? Reply ${keyword.toUpperCase()} to get ${program}. Reply HELP for help, STOP to stop.`;

export function frequencyPhrase(count: number | null, period: 'week' | 'month'): string {
  return count === null ? 'Recurring msgs' : `Up to ${count} msg${count === 1 ? '' : 's'}/${period}`;
}

/** What a confirmation lacks, in words; empty when nothing does. */
export function missingFromConfirmation(text: string, wording: ProgramWording): string[] {
  const lower = text.toLowerCase();
  const wanted: [string, boolean][] = [
    ['the name of the business', lower.includes(wording.business.toLowerCase())],
    ['the name of the program', lower.includes(wording.program.toLowerCase())],
    ['how often', lower.includes(wording.frequency.toLowerCase())],
    ['"Msg & data rates may apply"', /data rates may apply/.test(lower)],
    ['HELP', /\bHELP\b/.test(text)],
    ['STOP', /\bSTOP\b/.test(text)],
  ];
  return wanted.filter(([, there]) => !there).map(([name]) => name);
}
