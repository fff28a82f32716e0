import { describe, expect, it } from 'vitest';
import { isAnotherName } from './names';

const named = (name: string) => {
  const [first = '', ...last] = name.split(' ');
  return { first: first || null, last: last.join(' ') || null };
};

describe('another name', () => {
  it.each([
    ['Ana Ortiz', 'Ben Vale', true],
    ['Ana', 'Maria', true],
    ['Ana Ortiz', 'Maria Ortiz', false],
    ['Ana Ortiz', 'Ana Vale', false],
    ['Ana Ortiz', 'Ortiz Ana', false],
    ['Ana', 'Anna', false],
    ['A. Ortiz', 'Ana', false],
    ['Alex', 'Alexandra Vale', false],
    ['José Núñez', 'jose nunez', false],
    ['', 'Ana', false],
    ['Ana', '', false],
    ['Cy', 'Cyril', false],
    ['Ed Vale', 'Nora Moor', true],
    ['Łucja', 'Lucja', false],
    ['Bo Lind', 'Bob Marsh', false],
    ['Ana', ' Ortiz', false],
  ])('%s / %s: %s', (one, other, another) => {
    expect(isAnotherName(named(one), named(other))).toBe(another);
    expect(isAnotherName(named(other), named(one))).toBe(another);
  });
});
