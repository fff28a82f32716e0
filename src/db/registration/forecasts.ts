import type { RegistrationAbout } from '@/core/registration/file';
import { forecastOf, type Forecast } from '@/core/registration/forecast';
import { isUnderWay } from '@/core/registration/life';
import type { Millis } from '@/core/shared/instant';
import type { Scope } from '@/db/kit/scope';
import { RegistrarAccount, Registration } from './entities';

/** Until when each that is under way is likely to be decided, by what such reviews took here so far. */
export async function forecastsOf(
  scope: Scope,
  rows: readonly Registration[],
  now: Millis,
): Promise<Map<string, Forecast>> {
  const found = new Map<string, Forecast>();
  const account = await scope.em.findOne(RegistrarAccount, { removedAt: null });
  for (const row of rows) {
    if (!isUnderWay(row.state) || row.handedInAt === null) continue;
    const handedIn = row.handedInAt.getTime();
    const usual = account?.usual[row.about];
    found.set(
      row.id,
      forecastOf(
        await reviewsOf(scope, row.about, now),
        usual === undefined ? null : usual * 1_000,
        handedIn,
        now,
      ),
    );
  }
  return found;
}

/** How long reviews of a kind took, those that go on among them. */
const reviewsOf = async (scope: Scope, about: RegistrationAbout, now: Millis) =>
  (
    await scope.rows<{ took: number; decided: boolean }>(
      `with steps as (
         select s.registration_id, s.event, s.at, lead(s.event) over w as next, lead(s.at) over w as next_at
           from registration_step s join registration r on r.id = s.registration_id and r.about = :about
          where s.workspace_id = :workspace and s.event in ('hand-in', 'register', 'refuse', 'call-back')
         window w as (partition by s.registration_id order by s.id))
       select extract(epoch from coalesce(next_at, :now) - at)::double precision * 1000 as took, next in ('register', 'refuse') is true as decided
         from steps where event = 'hand-in'`,
      { about, now: new Date(now) },
    )
  ).filter(({ took }) => took >= 0);

/** Until when texts from a number are likely held; null: its registration is not under way. */
export async function readUntilRegistered(
  scope: Scope,
  numberId: string,
  now: Millis,
): Promise<Forecast | null> {
  const rows = await scope.em.find(Registration, { about: 'number', subject: numberId });
  return [...(await forecastsOf(scope, rows, now)).values()][0] ?? null;
}
