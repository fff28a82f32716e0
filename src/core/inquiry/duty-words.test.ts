import { describe, expect, it } from 'vitest';
import { dutyWords, readDutyWords } from './duty-words';

describe('the hours of a day', () => {
  it.each([
    ['', []],
    ['09:00–17:00', [['09:00', '17:00']]],
    [
      '9-12, 13:30 to 24',
      [
        ['09:00', '12:00'],
        ['13:30', '24:00'],
      ],
    ],
  ])('“%s” are read', (text, spans) => {
    const read = readDutyWords(text, 2);
    expect(read.ok && read.value.map(({ from, to }) => [from, to])).toEqual(spans);
    if (read.ok) expect(readDutyWords(dutyWords(read.value, 2), 2)).toEqual(read);
  });

  it.each(['nine', '17-9', '9-25', '9'])('“%s” are none', (text) => {
    expect(readDutyWords(text, 1).ok).toBe(false);
  });
});
