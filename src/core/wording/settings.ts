import type { BusinessKind } from './context';
import { FINDING_CODES, WEIGHTS, type FindingCode, type OwnWeights, type Weight } from './finding';

/** How a workspace wants its wordings checked. */
export interface WordingSettings {
  kind: BusinessKind;
  /** Its own hosts, such as `example.org`: links to others are pointed out. Empty: none are. */
  hosts: readonly string[];
  /** What it weighs differently. */
  weights: OwnWeights;
}

export const USUAL_SETTINGS: WordingSettings = { kind: 'general', hosts: [], weights: {} };

/** Everything is let through: for tests of what comes after. */
export const UNCHECKED: WordingSettings = {
  ...USUAL_SETTINGS,
  weights: Object.fromEntries(FINDING_CODES.map((code) => [code, 'off'])) as Record<FindingCode, Weight>,
};

export const isFindingCode = (code: string): code is FindingCode => FINDING_CODES.some((one) => one === code);
export const isWeight = (weight: unknown): weight is Weight => WEIGHTS.some((one) => one === weight);

const HOST = /^(?:[\p{L}\p{N}](?:[\p{L}\p{N}-]{0,61}[\p{L}\p{N}])?\.)+(?:[a-z]{2,24}|xn--[a-z0-9-]+)$/u;

/** A host as somebody types it, perhaps as a whole address; null: it is none. */
export function readHost(typed: string): string | null {
  const host = typed
    .trim()
    .toLowerCase()
    .replace(/^https?:\/\//, '')
    .replace(/^www\./, '')
    .replace(/[/?#:].*$/, '');
  return HOST.test(host) ? host : null;
}
