/** What there is of a workspace, as far as the first text needs it. */
export interface House {
  /** Numbers texts can leave from. */
  registered: number;
  /** Numbers whose registration is not through. */
  waiting: number;
  programs: number;
  /** Programs with a registered number. */
  sending: number;
  keywords: number;
  credits: number;
  /** People who are in a program. */
  members: number;
  postalAddress: boolean;
  teammates: number;
}

export type StepCode =
  | 'number'
  | 'program'
  | 'program-number'
  | 'keyword'
  | 'credits'
  | 'member'
  | 'postal-address'
  | 'teammate';

export interface Step {
  code: StepCode;
  done: boolean;
  /** Without it no text leaves; the others can wait. */
  needed: boolean;
}

/** What is done and what is missing before the first text, in the order in which it is best done. */
export function stepsOf(house: House): Step[] {
  const steps: [StepCode, boolean, needed: boolean][] = [
    ['number', house.registered > 0, true],
    ['program', house.programs > 0, true],
    // Only where there is a program that has none of the numbers there are.
    ...(house.programs > 0 && house.registered > 0
      ? [['program-number', house.sending > 0, true] as [StepCode, boolean, boolean]]
      : []),
    ['keyword', house.keywords > 0, true],
    ['credits', house.credits > 0, true],
    ['member', house.members > 0, false],
    ['postal-address', house.postalAddress, false],
    ['teammate', house.teammates > 1, false],
  ];
  return steps.map(([code, done, needed]) => ({ code, done, needed }));
}

export const missing = (steps: readonly Step[]): Step[] =>
  steps.filter(({ done, needed }) => needed && !done);
