/**
 * What the check of a wording says. `must` stops a send until it is mended, `should` is worth mending, `hint` is worth
 * knowing. The manager of a workspace may weigh each finding differently, and leave it out.
 */
export const WEIGHTS = ['must', 'should', 'hint', 'off'] as const;
export type Weight = (typeof WEIGHTS)[number];
export type Severity = Exclude<Weight, 'off'>;

export const FINDING_CODES = [
  'no-sender',
  'opt-out-due',
  'opt-out-missing',
  'promise-broken',
  'shouting',
  'disguised-word',
  'risky-word',
  'forbidden-content',
  'not-registered',
  'public-shortener',
  'foreign-link',
  'broken-link',
  'left-open',
  'item-over',
  'item-lacks',
  'field-without-fallback',
  'fallback-reads-badly',
  'wrong-weekday',
  'date-passed',
  'two-currencies',
  'foreign-number',
  'same-text',
  'alike',
  'too-long',
  'too-many-emoji',
  'hard-to-read',
] as const;
export type FindingCode = (typeof FINDING_CODES)[number];

/** A stretch of the stored text, in UTF-16 code units. */
export interface Place {
  from: number;
  to: number;
}

/** What would mend it: these stretches of the stored text become this. Stretches do not overlap. */
export interface Mending {
  /** What pressing it does, such as `Say Friday`. */
  label: string;
  changes: readonly (Place & { insert: string })[];
}

export interface Finding {
  code: FindingCode;
  severity: Severity;
  /** What is wrong, and what would be right. */
  message: string;
  /** `null`: it concerns the whole, or what is not there. */
  place: Place | null;
  mending: Mending | null;
  /** Where the rule stands. */
  source?: string;
}

/** A finding before it is weighed. */
export type Found = Omit<Finding, 'severity' | 'code'>;

/** What each finding means to who chooses its weight, and how it is weighed unless they choose. */
export const FINDINGS: Record<FindingCode, { name: string; weight: Severity }> = {
  'no-sender': { name: 'It does not say who writes', weight: 'must' },
  'opt-out-due': { name: 'A word on how to stop is due, and missing', weight: 'must' },
  'opt-out-missing': { name: 'No word on how to stop, though none is due', weight: 'hint' },
  'promise-broken': { name: 'It announces more than was promised', weight: 'must' },
  shouting: { name: 'Shouting', weight: 'should' },
  'disguised-word': { name: 'Spaced-out or disguised words', weight: 'must' },
  'risky-word': { name: 'Words that are often filtered', weight: 'should' },
  'forbidden-content': { name: 'What carriers do not carry', weight: 'must' },
  'not-registered': { name: 'What the reviewer of its numbers was not told of', weight: 'should' },
  'public-shortener': { name: 'A public link shortener', weight: 'must' },
  'foreign-link': { name: 'A link to somebody else’s host', weight: 'should' },
  'broken-link': { name: 'A link that leads nowhere', weight: 'must' },
  'left-open': { name: 'Something left to be filled in', weight: 'must' },
  'item-over': { name: 'What it is about is over, sold out or cancelled', weight: 'must' },
  'item-lacks': { name: 'It says something that what it is about does not have', weight: 'must' },
  'field-without-fallback': { name: 'A field without words for when it is empty', weight: 'should' },
  'fallback-reads-badly': { name: 'It reads badly where a field is empty', weight: 'should' },
  'wrong-weekday': { name: 'A date that falls on another weekday', weight: 'must' },
  'date-passed': { name: 'A date that has passed', weight: 'should' },
  'two-currencies': { name: 'Prices in two currencies', weight: 'should' },
  'foreign-number': { name: 'A phone number that is none of ours', weight: 'should' },
  'same-text': { name: 'The same text again within a month', weight: 'must' },
  alike: { name: 'Nearly the same text within a month', weight: 'should' },
  'too-long': { name: 'Too long', weight: 'should' },
  'too-many-emoji': { name: 'Too many emoji', weight: 'should' },
  'hard-to-read': { name: 'Hard to read', weight: 'hint' },
};

/** What a workspace weighs differently. */
export type OwnWeights = Partial<Record<FindingCode, Weight>>;

export const weightOf = (code: FindingCode, own: OwnWeights): Weight => own[code] ?? FINDINGS[code].weight;
