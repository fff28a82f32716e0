import { describe, expect, it } from 'vitest';
import { confirmationText, frequencyPhrase, missingFromConfirmation } from './wording';

describe('wording', () => {
  const wording = {
    business: 'Juniper Gap Observatory',
    program: 'Clear Sky Alerts',
    frequency: frequencyPhrase(6, 'month'),
    contact: '(719) 555-0110',
  };
  it('has everything a confirmation needs', () =>
    expect(missingFromConfirmation(confirmationText(wording, 'Welcome!'), wording)).toEqual([]));
  it('says what a text of one’s own lacks', () =>
    expect(missingFromConfirmation('Welcome to Clear Sky Alerts! STOP to stop', wording)).toEqual([
      'the name of the business',
      'how often',
      '"Msg & data rates may apply"',
      'HELP',
    ]));
  it.each([
    [null, 'month', 'Recurring msgs'],
    [1, 'week', 'Up to 1 msg/week'],
  ] as const)('promises %s a %s as %s', (count, period, words) =>
    expect(frequencyPhrase(count, period)).toBe(words),
  );
});
