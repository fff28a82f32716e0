import { Temporal } from 'temporal-polyfill';
import type { Timing } from '@/core/broadcast/timing';
import { parseJson } from '@/core/shared/json';
import { localTime } from '@/ui/kit/time';
import { MOST_WORDINGS, type Comparison } from '@/core/broadcast/wordings';
import {
  USUAL_COMPARISON,
  USUAL_TIMING,
  type DraftTiming,
  type DraftValues,
  type When,
} from '@/ui/sends/draft-values';

/** The instant a wall-clock time names in a zone; null when it cannot be read. Times in a spring gap move forward. */
export function instantOfLocal(local: string, zone: string): number | null {
  if (!/^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}$/.test(local)) return null;
  try {
    return Temporal.PlainDateTime.from(local).toZonedDateTime(zone).epochMilliseconds;
  } catch {
    return null;
  }
}

/** The timing of a draft as a screen sent it, as words; anything else is as is usual. */
export function draftTiming(words: string | null | undefined): DraftTiming {
  const read = parseJson(words ?? '');
  return read.ok && read.value && typeof read.value === 'object'
    ? ({ ...USUAL_TIMING, ...read.value } as DraftTiming)
    : USUAL_TIMING;
}

/** As the service takes it. A pace that is not finished yet is none; times are the workspace’s. */
export function timingFields(
  { hours, pace, senders }: Partial<DraftTiming>,
  zone: string,
): Record<string, unknown> {
  return {
    hours,
    pace: pace ? paceFields(pace, zone) : null,
    ...(senders ? { sender_numbers: senders } : {}),
  };
}

/** A pace as a screen sent it, as words. */
export function draftPace(words: string): DraftTiming['pace'] {
  const read = parseJson(words);
  return { ...USUAL_TIMING.pace, ...(read.ok && typeof read.value === 'object' ? read.value : {}) };
}

/** As fields hold it. */
export function paceValues(pace: Timing['pace'], zone: string): DraftTiming['pace'] {
  const none = USUAL_TIMING.pace;
  if (pace === null) return none;
  if ('phones' in pace) return { ...none, kind: 'phones' };
  if ('hands' in pace) return { ...none, kind: 'hands', adapt: pace.adapt === true };
  if ('until' in pace) return { ...none, kind: 'until', until: localTime(pace.until, zone) };
  return 'every' in pace
    ? { ...none, kind: 'waves', people: String(pace.people), every: String(pace.every) }
    : { ...none, kind: 'rate', people: String(pace.people), per: pace.per };
}

function paceFields({ kind, people, per, until, every, adapt }: DraftTiming['pace'], zone: string) {
  if (kind === 'phones') return { phones: true };
  if (kind === 'hands') return { hands: true, ...(adapt ? { adapt } : {}) };
  if (kind === 'waves')
    return people === '' || every === '' ? null : { people: Number(people), every_minutes: Number(every) };
  if (kind === 'rate') return people === '' ? null : { people: Number(people), per };
  const at = kind === 'until' ? instantOfLocal(until, zone) : null;
  return at === null ? null : { until: new Date(at).toISOString() };
}

/** As fields hold it. */
export const timingValues = ({ hours, pace, senders }: Timing, zone: string): DraftTiming => ({
  ...{ hours, senders, pace: paceValues(pace, zone) },
});

/** Other wordings of a draft as a screen sent them, as words. */
export function draftWordings(words: string | null | undefined): { subject: string; body: string }[] {
  const read = parseJson(words ?? '');
  const list: unknown[] = read.ok && Array.isArray(read.value) ? read.value : [];
  return list.slice(0, MOST_WORDINGS - 1).map((one) => {
    const { subject, body } = (one ?? {}) as { subject?: unknown; body?: unknown };
    return { subject: String(subject ?? ''), body: String(body ?? '') };
  });
}

/** The comparison as the service takes it; null: there is one wording. */
export const comparisonFields = ({ others, comparison, channel }: DraftValues) =>
  others.length === 0
    ? null
    : {
        others: others.map(({ subject, body }) => ({ ...(channel === 'email' ? { subject } : {}), body })),
        ...{ by: comparison.by, by_itself: comparison.byItself },
        first: comparison.first === '' ? null : Number(comparison.first),
      };

/** As fields hold it. */
export const comparisonValues = (
  comparison: Comparison | null,
): Pick<DraftValues, 'others' | 'comparison'> => ({
  others: (comparison?.others ?? []).map(({ subject, body }) => ({ subject: subject ?? '', body })),
  comparison: comparison
    ? {
        ...{ by: comparison.by, byItself: comparison.byItself },
        first: comparison.first === null ? '' : String(comparison.first),
      }
    : USUAL_COMPARISON,
});

/** When a draft was to go before it was called back: it does not become "now" by itself. */
export const whenBefore = (at: Date, local: string | null, zone: string): When =>
  local === null ? { kind: 'at', local: localTime(at, zone) } : { kind: 'each', local: local.slice(0, 16) };
