/**
 * The life of the questions that one person is asked after joining.
 *
 *   open --answered--> answered
 *     |--silent--> linked --finished--> finished
 *     |               |--expired--> handed | given-up
 *     |--silent--> handed | given-up
 *     `--left, replaced--> left            (also from linked)
 *
 * `silent` is also said of questions of which one could not be read twice. What follows on it is the keyword's: a
 * personal link, then a task for a teammate, or nothing.
 */
export type AskingState = 'open' | 'answered' | 'linked' | 'finished' | 'handed' | 'given-up' | 'left';
export type AskingEvent = 'answer' | 'link' | 'finish' | 'hand' | 'give-up' | 'leave';

export const ASKING_MOVES: Record<AskingState, Partial<Record<AskingEvent, AskingState>>> = {
  open: { answer: 'answered', link: 'linked', hand: 'handed', 'give-up': 'given-up', leave: 'left' },
  linked: { finish: 'finished', hand: 'handed', 'give-up': 'given-up', leave: 'left' },
  answered: {},
  finished: {},
  handed: {},
  'given-up': {},
  left: {},
};

/** What a person is told of it. */
export const ASKING_WORDS: Record<AskingState, string> = {
  open: 'asked by text',
  answered: 'answered by text',
  linked: 'has a personal link',
  finished: 'filled in by link',
  handed: 'a task for a teammate',
  'given-up': 'given up',
  left: 'they left, or another keyword asked',
};

/** States an event may find. */
export const askingFrom = (event: AskingEvent): AskingState[] =>
  (Object.keys(ASKING_MOVES) as AskingState[]).filter((state) => ASKING_MOVES[state][event] !== undefined);
