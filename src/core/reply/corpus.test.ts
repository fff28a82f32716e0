import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { interpret, type Meaning } from './interpret';
import { readCorpus, type Labelled } from './testing/corpus';

const corpusOf = (name: string): Labelled[] =>
  readCorpus(readFileSync(new URL(`./testing/${name}.txt`, import.meta.url), 'utf8'));

/** What replies of a kind are read as. */
function reading(replies: readonly Labelled[], label: Labelled['label']) {
  const meanings = replies
    .filter((reply) => reply.label === label)
    .map(({ text }) => interpret(text).meaning);
  const share = (meant: (meaning: Meaning) => boolean) => meanings.filter(meant).length / meanings.length;
  return {
    ...{ replies: meanings.length, leaving: share((meaning) => meaning === 'opt-out') },
    unclear: share((meaning) => meaning === 'unclear'),
    ordinary: share((meaning) => meaning !== 'opt-out' && meaning !== 'unclear'),
  };
}

describe('the corpus of replies', () => {
  const tune = corpusOf('tune');
  const seen = new Set(tune.map(({ text }) => text.toLowerCase()));
  // Nothing was learnt from these.
  const measured = corpusOf('measured').filter(({ text }) => !seen.has(text.toLowerCase()));
  const leave = reading(measured, 'out');
  const stay = reading(measured, 'reply');

  it('is large, and is measured on replies that nothing was learnt from', () => {
    console.table({ 'wish to leave': leave, ordinary: stay });
    expect(tune.length).toBeGreaterThan(3_000);
    expect(measured.length).toBeGreaterThan(450);
  });

  it('reads hardly any wish to leave as an ordinary reply', () =>
    expect(leave.ordinary).toBeLessThanOrEqual(0.005));

  it('takes hardly anybody for leaving who is not', () => expect(stay.leaving).toBeLessThanOrEqual(0.01));

  it('asks a human about few', () => {
    expect(stay.unclear).toBeLessThanOrEqual(0.05);
    expect(leave.unclear).toBeLessThanOrEqual(0.05);
  });

  it('says what it found rests on', () => {
    const unsure = measured.map(({ text }) => interpret(text)).filter(({ rule }) => rule === 'score');
    expect(unsure.length).toBeGreaterThan(0);
    expect(unsure.filter(({ evidence }) => evidence === '')).toEqual([]);
  });
});
