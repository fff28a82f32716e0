import { MINUTE, type Millis } from '../shared/instant';

/** What is looked at of the inbox. */
export const BOXES = ['mine', 'nobody', 'team', 'later', 'done'] as const;
export type Box = (typeof BOXES)[number];

/** Why somebody waits for a human. */
export const WAITS_WHY = [
  'opt-out',
  'missed-call',
  'inquiry',
  'asks',
  'answers',
  'not-reached',
  'voicemail',
  'near-miss',
  'picture',
  'no-answer',
  'reply',
  'later',
] as const;
export type WaitsWhy = (typeof WAITS_WHY)[number];

interface Why {
  /** A word or two, as the list shows it. */
  word: string;
  /** What it means, said once. */
  means: string;
  /** How long such a one can wait for a human, as a share of the workspace’s target for a reply. */
  share: number;
}

/** What may be an opt-out stands first; then who should be answered first: by when they began to wait, and by how long such a one can. */
export const WHY: Record<WaitsWhy, Why> = {
  'opt-out': { word: 'may be an opt-out', means: 'nothing automatic goes until you decide', share: 0 },
  'missed-call': { word: 'missed call', means: 'they called and nobody picked up', share: 0.25 },
  inquiry: { word: 'inquired', means: 'they asked by a source, and opted out before', share: 0.25 },
  asks: { word: 'asks something', means: 'their words are a question', share: 0.5 },
  answers: { word: 'answers you', means: 'what was sent to them before asked something', share: 0.5 },
  'not-reached': { word: 'not reached', means: 'your last answer did not arrive', share: 0.5 },
  voicemail: { word: 'answers a voicemail', means: 'they wrote after a voicemail was left', share: 0.5 },
  'near-miss': { word: 'nearly a keyword', means: 'they almost typed one of your keywords', share: 0.5 },
  picture: { word: 'sent a file', means: 'a picture, card or sound came with it', share: 1 },
  'no-answer': { word: 'has not answered', means: 'you wanted them back if they did not', share: 1 },
  reply: { word: 'reply', means: 'they wrote', share: 1 },
  later: { word: 'put off until now', means: 'you wanted them back at this time', share: 1 },
};

/** Of two reasons the one that can wait less. */
export const moreUrgent = (a: WaitsWhy, b: WaitsWhy): WaitsWhy =>
  WAITS_WHY.indexOf(a) <= WAITS_WHY.indexOf(b) ? a : b;

/** Until when somebody should have been answered. @param target the workspace’s own, for a plain reply */
export const answerBy = (since: Millis, why: WaitsWhy, target: Millis): Millis =>
  since + WHY[why].share * target;

/** Targets a workspace chooses from, in minutes. */
export const TARGETS: readonly number[] = [5, 15, 30, 60, 120, 240, 480, 1440];
/** So long before the time somebody should have been answered it is shown as near. */
const NEAR: Millis = 10 * MINUTE;

export type Nearness = 'in time' | 'near' | 'over';
export const nearness = (by: Millis, now: Millis): Nearness =>
  now >= by ? 'over' : now >= by - NEAR ? 'near' : 'in time';

const ASKING =
  /^(?:(?:hi|hello|hey|ok|okay|and|so|thanks|thank you|please)[\s,!.]+)*(?:who|what|whats|when|where|why|how|which|is|are|am|was|were|do|does|did|can|could|will|would|should|may|any|have|has)\b/iu;
const ASKED =
  /\b(?:let me know|tell me|wondering|i need to know|not sure (?:if|when|where|how|what|whether))\b/iu;

/**
 * Whether somebody’s words are a question: a mark of one in any script, or words that begin one in English. It decides
 * where they stand in the list and nothing else, so that a guess does no harm.
 */
export function asksSomething(words: string): boolean {
  const plain = words
    .normalize('NFKC')
    .replace(/https?:\S+/giu, ' ')
    .trim();
  return (
    /[?؟՞፧]/u.test(plain) ||
    ASKED.test(plain) ||
    plain.split(/(?<=[.!\n])\s+/u).some((sentence) => ASKING.test(sentence))
  );
}

/** What is known of something that came. */
export interface Came {
  meaning: string;
  words: string;
  files: number;
  nearKeyword: string | null;
  /** What went to them before: its channel, and whether its words asked something; null: nothing. */
  after: { channel: string; asked: boolean } | null;
}

/** Why what came waits for a human; null: it needs none. */
export function whyWaits({ meaning, words, files, nearKeyword, after }: Came): WaitsWhy | null {
  if (meaning === 'unclear') return 'opt-out';
  if (meaning !== 'reply') return null;
  if (nearKeyword !== null) return 'near-miss';
  if (asksSomething(words)) return 'asks';
  if (after?.channel === 'voicemail') return 'voicemail';
  if (after?.asked) return 'answers';
  return files > 0 ? 'picture' : 'reply';
}
