import { describe, expect, it } from 'vitest';
import { block, hold, type Reason } from '../clearance/reasons';
import { mayGetInstead } from './instead';

describe('a letter instead of a text', () => {
  it.each<[string, 'cleared' | 'held' | 'blocked', Reason[], boolean]>([
    ['who is texted', 'cleared', [], false],
    ['who is texted later', 'held', [hold('quiet-hours', 1)], false],
    ['who has no number', 'blocked', [block('number-missing'), hold('quiet-hours', 1)], true],
    ['who left by text', 'blocked', [block('opted-out'), block('landline')], true],
    ['who had these words', 'blocked', [block('same-text')], false],
    [
      'who had these words, and has no number',
      'blocked',
      [block('same-text'), block('number-missing')],
      false,
    ],
    ['of whom a field is empty', 'blocked', [block('empty-field')], false],
  ])('for %s', (_, verdict, reasons, may) => expect(mayGetInstead({ verdict, reasons })).toBe(may));
});
