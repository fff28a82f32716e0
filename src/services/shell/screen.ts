import { type Millis, HOUR } from '@/core/shared/instant';
import { startOf, dayOf } from '@/core/audience/days';
import type { Scope } from '@/db/kit/scope';
import { hoursPast, hoursAhead } from '@/db/shell/ribbon';
import { upcomingBroadcasts } from '@/db/sends/broadcasts';

/** What each screen shows, read in one transaction. */

/** Midnight before an instant in a zone. */
export const startOfDay = (at: Millis, zone: string): Millis => startOf(dayOf(at, zone), zone);

export interface RibbonHour {
  at: Millis;
  left: number;
  came: number;
  stopped: number;
  /** Texts that wait. */
  coming: number;
  /** Lines of sequences that fall due. */
  lines: number;
}

export interface Ribbon {
  now: Millis;
  hours: RibbonHour[];
  upcoming: { id: string; name: string; at: Millis }[];
}

const BACK = 12;

const AHEAD = 12;

export async function readRibbon(scope: Scope, now: Millis): Promise<Ribbon> {
  const first = Math.floor(now / HOUR) * HOUR - BACK * HOUR;
  const last = first + (BACK + AHEAD + 1) * HOUR;
  const past = new Map(
    (await hoursPast(scope, new Date(first), new Date(now + 1))).map((row) => [row.hour.getTime(), row]),
  );
  const coming = new Map(
    (await hoursAhead(scope, new Date(now), new Date(last))).map((row) => [row.hour.getTime(), row]),
  );
  const hours = Array.from({ length: BACK + AHEAD + 1 }, (_, i) => {
    const at = first + i * HOUR;
    const { left = 0, came = 0, stopped = 0 } = past.get(at) ?? {};
    const { texts = 0, lines = 0 } = coming.get(at) ?? {};
    return { at, left, came, stopped, coming: texts, lines };
  });
  const upcoming = (await upcomingBroadcasts(scope)).filter((row) => row.send_at.getTime() < last);
  return {
    now,
    hours,
    upcoming: upcoming.map((row) => ({ id: row.id, name: row.name, at: row.send_at.getTime() })),
  };
}
