import { describe, expect, it } from 'vitest';
import { yesNoIn } from './read-yes-no';

describe('a yes or a no', () => {
  it.each([
    ...[
      'y',
      'yes please',
      'Absolutely',
      'you bet',
      'claro',
      'yesss!!',
      'sure thing',
      'sure, why not',
      'ok thanks',
    ],
    ...['yes, no problem', 'yes but not sundays', 'i am, yes', 'si, dos veces', '👍🏽'],
  ])('%j is a yes', (said) => expect(yesNoIn(said)).toBe('yes'));

  it.each([
    ...[
      'definitely not',
      'Absolutely NOT!',
      'of course not',
      'claro que no',
      'I do not',
      'we are not',
      "I don't",
    ],
    ...['not yet', 'negative', 'Noooo', 'no, twice', 'nah im good', '👎'],
  ])('%j is a no', (said) => expect(yesNoIn(said)).toBe('no'));

  it.each([
    ...[
      'yes and no',
      'y/n',
      'yeah no',
      'no yes',
      'yes but not yet',
      'right now no',
      'ok let me check',
      'ok but why',
    ],
    ...[
      'maybe',
      'no problem',
      'no hay problema',
      'nobody',
      'yesterday',
      'nothing yet',
      'normally',
      'not sure',
      '',
    ],
  ])('%j is neither surely', (said) => expect(yesNoIn(said)).toBeNull());
});
