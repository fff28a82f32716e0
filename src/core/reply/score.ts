import { cutText } from '../shared/clean-text';
import { featuresOf } from './features';
import WEIGHTS from './weights.json' with { type: 'json' };

/**
 * How sure a scored model is that a reply wishes to leave: a logistic regression over what `featuresOf` finds, learnt from the
 * corpus beside it by `scripts/train-replies.ts`. Nothing but these numbers decides, and what they rest on can be shown.
 */
export interface Score {
  /** 0 to 1. */
  leaves: number;
  /** The words that speak most for leaving, the strongest first. */
  because: string[];
}

const weights: ReadonlyMap<string, number> = new Map(Object.entries(WEIGHTS));

/** Words that are shown. */
const SHOWN = 3;

export function scoreOf(text: string): Score {
  const features = featuresOf(text);
  const size = 1 / Math.sqrt(features.length);
  const parts = features.map((feature) => ({ feature, weight: weights.get(feature) ?? 0 }));
  const sum = parts.reduce((total, { weight }) => total + weight, 0) * size;
  const because = parts
    .filter(({ feature, weight }) => weight > 0 && /^[wbn]:/.test(feature))
    .sort((a, b) => b.weight - a.weight)
    .map(({ feature }) => feature.slice(2).replace(/[\^$]/g, '').trim())
    .filter((words) => words !== '');
  // Where no word speaks for it, the pieces of an unknown one do.
  const shown = because.length > 0 ? [...new Set(because)].slice(0, SHOWN) : [cutText(text, LONGEST_SHOWN)];
  return { leaves: 1 / (1 + Math.exp(-sum)), because: shown };
}

const LONGEST_SHOWN = 60;
