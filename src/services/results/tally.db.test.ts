import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { acrossWorkspaces } from '@/db/kit/scope';
import { broadcastCounts, putTogether } from '@/db/results/results';
import { senderRows } from '@/db/numbers/numbers';
import { broadcastTo, deliverTo } from '@/services/testing/sending';
import { makeWorld, phone, type World } from '@/services/testing/world';

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const PEOPLE = 12;

const together = () => acrossWorkspaces(world.ctx.orm, putTogether);

const counts = async (id: string) => (await world.within((scope) => broadcastCounts(scope, [id])))[0]!;

/** The same, from the messages themselves. */
async function anew(id: string) {
  const [row] = await world.rows<Record<string, number>>(
    `select ${['queued', 'submitted', 'delivered', 'failed', 'unconfirmed', 'blocked', 'cancelled']
      .map((state) => `count(*) filter (where state = '${state}')::int as ${state}`)
      .join(', ')}, count(*) filter (where state = 'submitting')::int as sending,
            coalesce(sum(parts) filter (where submitted_at is not null), 0)::int as parts,
            coalesce(sum(credits) filter (where submitted_at is not null), 0)::int as credits
       from message where workspace_id = :workspace and send_id = :id`,
    { id },
  );
  const failures = await world.rows(
    `select failure as reason, count(*)::int as count from message where workspace_id = :workspace and send_id = :id and state = 'failed'
      group by 1 order by 2 desc, 1`,
    { id },
  );
  const blocks = await world.rows(
    `select (select r ->> 'code' from jsonb_array_elements(clearance -> 'reasons') with ordinality as e (r, nth) where r ->> 'effect' = 'block' order by nth limit 1) as reason, count(*)::int as count
       from message where workspace_id = :workspace and send_id = :id and state = 'blocked' group by 1 order by 2 desc, 1`,
    { id },
  );
  return { ...row!, failures, blocks };
}

describe('the tally of messages', () => {
  it('says what counting anew would say, before and after its differences are put together', async () => {
    for (let i = 0; i < 2; i++) {
      await world.texts(phone(PEOPLE - 1 - i), 'sky');
      await world.texts(phone(PEOPLE - 1 - i), i === 0 ? 'stop' : 'sky');
    }
    const id = await broadcastTo(world, PEOPLE - 2);
    await deliverTo(world, PEOPLE, { 0: '001', 1: '009' }, [2]);
    await world.texts(phone(3), 'Lovely, thank you');
    await world.texts(phone(3), 'See you there');
    await world.texts(phone(4), 'stop');
    const told = await counts(id);
    expect(told).toMatchObject(await anew(id));
    expect(told).toMatchObject({
      submitted: 1,
      failed: 2,
      delivered: 8,
      blocked: 1,
      replies: 1,
      opt_outs: 1,
    });
    expect(told.blocks).toEqual([{ reason: 'opted-out', count: 1 }]);
    await together();
    expect(await counts(id)).toEqual(told);
    const [{ apart, rows }] = (await world.rows<{ apart: number; rows: number }>(
      `select count(*) filter (where not together)::int as apart, count(*)::int as rows from tally where workspace_id = :workspace and about in ('send', 'sender')`,
    )) as [{ apart: number; rows: number }];
    expect(apart).toBe(0);
    // One row for each state and reason of the send and of the number's day, however many statements there were.
    expect(rows).toBeLessThan(12);
  });

  it('follows whatever is changed, and whatever goes', async () => {
    const id = await broadcastTo(world, PEOPLE);
    // Numbers drawn by a fixed rule: another order each time the test is changed, the same each time it is run.
    let seed = 7;
    const draw = (most: number): number => (seed = (seed * 1_103_515_245 + 12_345) % 2_147_483_648) % most;
    const states = ['queued', 'submitting', 'submitted', 'delivered', 'failed', 'unconfirmed', 'cancelled'];
    for (let step = 0; step < 40; step++) {
      const state = states[draw(states.length)]!;
      const some = { id, from: draw(PEOPLE), most: 1 + draw(4) };
      const which = `workspace_id = :workspace and id in (select id from message where send_id = :id order by id offset :from limit :most)`;
      await world.within((scope) =>
        step % 13 === 12
          ? scope.run(`delete from message where ${which}`, some)
          : scope.run(
              `update message set state = :state, failure = case when :state = 'failed' then 'no-service' end, not_before = case when :state = 'queued' then :at::timestamptz end, credits = credits + 1, lost_at = case when :state = 'unconfirmed' then :at::timestamptz end,
                      submitted_at = case when :state in ('queued', 'cancelled') then null else :at::timestamptz end where ${which}`,
              { ...some, state, at: new Date(world.clock.at) },
            ),
      );
      if (step % 7 === 3) await together();
      expect(await counts(id)).toMatchObject(await anew(id));
    }
  });

  it('knows what each number carried on which day', async () => {
    await broadcastTo(world, PEOPLE);
    await deliverTo(world, PEOPLE, { 0: '001' });
    const on = async (week: string) =>
      (await world.within((scope) => senderRows(scope, week, '2026-11-01')))[0]!;
    // Each has got a confirmation, too, of which no receipt came.
    expect(await on('2026-11-24')).toMatchObject({
      ...{ sent_7: 2 * PEOPLE, delivered_7: PEOPLE - 1, failed_7: 1, delivered_before: 0 },
    });
    await together();
    expect(await on('2026-11-25')).toMatchObject({
      ...{ sent_7: 0, delivered_7: 0, delivered_before: PEOPLE - 1, failed_before: 1 },
    });
  });
});
