import { describe, expect, it } from 'vitest';
import { adaptText } from './adapt';

const parts = (text: string) => Math.ceil(text.length / 40);
const WRITTEN = 'Hi Ana, shall we save you a chair? https://s.example.org/Ab3';

describe('a text that is changed by whoever presses it', () => {
  it.each([
    ['Hello Ana! A chair on Friday? https://s.example.org/Ab3', true],
    ['  https://s.example.org/Ab3 Chair?\u0000 ', true],
    ['', 'empty'],
    [' \n ', 'empty'],
    [`${'x'.repeat(601)} https://s.example.org/Ab3`, 'too-long'],
    ['Hello Ana! A chair on Friday?', 'link'],
    ['Hello https://s.example.org/Ab3 and https://elsewhere.example.org', 'link'],
    ['Hello https://s.example.org/Ab4', 'link'],
    ['Hello elsewhere.example.org/x https://s.example.org/Ab3', 'link'],
    [`${'x'.repeat(110)} https://s.example.org/Ab3`, 'more-parts'],
  ])('%j: %s', (typed, expected) => {
    const read = adaptText(WRITTEN, typed, parts);
    expect(read.ok || read.reason).toBe(expected);
    if (read.ok) expect(read.value).toBe(read.value.trim());
  });
});
