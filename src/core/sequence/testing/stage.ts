import { parseInstant, type Millis } from '../../shared/instant';
import type { Facts } from '../advance';
import type { Line, SequenceDocument, What, When } from '../document';
import type { Stage, Verdict } from '../rehearse';
import { blank } from './random';

export const at = (text: string): Millis => parseInstant(text)!;
/** Noon in Denver on a Tuesday. */
export const NOON = at('2026-11-24T12:00:00-07:00');

export const facts = (more: Partial<Facts> = {}): Facts => ({
  zone: 'America/Denver',
  dateOf: () => null,
  holds: () => false,
  ...more,
});

export const CLEARED: Verdict = { verdict: 'cleared', until: null, because: null };

/** Everything may go, to somebody in Denver, unless said otherwise. */
export const stage = (more: Partial<Facts> = {}, clear: Stage['clear'] = () => CLEARED): Stage => ({
  facts: () => facts(more),
  clear,
});

export const line = (id: string, when: When, what: What, more: Partial<Line> = {}): Line => ({
  ...{ id, when, what, late: 'go' },
  ...more,
});
export const text = (body: string): What => ({ do: 'text', body });
export const sequence = (lines: Line[], more: Partial<SequenceDocument> = {}): SequenceDocument => ({
  ...blank,
  ...{ lines },
  ...more,
});
