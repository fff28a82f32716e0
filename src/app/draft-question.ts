import { Temporal } from 'temporal-polyfill';
import type { Timing } from '@/core/broadcast/timing';
import { parseJson } from '@/core/shared/json';
import { localTime } from '@/ui/kit/time';
import { USUAL_TIMING, type DraftTiming } from '@/ui/sends/draft-values';

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

function paceFields({ kind, people, per, until }: DraftTiming['pace'], zone: string) {
  if (kind === 'rate') return people === '' ? null : { people: Number(people), per };
  const at = kind === 'until' ? instantOfLocal(until, zone) : null;
  return at === null ? null : { until: new Date(at).toISOString() };
}

/** As fields hold it. */
export function timingValues({ hours, pace, senders }: Timing, zone: string): DraftTiming {
  const none = USUAL_TIMING.pace;
  return {
    ...{ hours, senders },
    pace:
      pace === null
        ? none
        : 'until' in pace
          ? { ...none, kind: 'until', until: localTime(pace.until, zone) }
          : { ...none, kind: 'rate', people: String(pace.people), per: pace.per },
  };
}
