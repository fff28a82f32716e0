import type { Scope } from '@/db/kit/scope';
import { type Millis, DAY } from '@/core/shared/instant';
import { readSends } from '@/services/sends/screen';
import { growthByWeek } from '@/db/results/results';
import { programRows } from '@/db/programs/programs';

export async function readResults(scope: Scope, now: Millis) {
  const sends = await readSends(scope, '', 60);
  const growth = await growthByWeek(scope, new Date(now - 98 * DAY));
  return {
    sends: sends.rows.filter((row) => row.begun_at !== null),
    growth,
    programs: await programRows(scope, new Date(now - 30 * DAY)),
  };
}
