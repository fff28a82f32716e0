import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { inWorkspace } from '@/db/kit/scope';
import { readNumber, readNumbers } from './screen';
import { broadcastTo, deliverTo } from '@/services/testing/sending';
import { numberWeeks } from '@/db/numbers/standing';
import { makeWorld, NUMBER, phone, type World } from '@/services/testing/world';

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());
const run = (sql: string) => world.within((scope) => scope.run(sql));

describe('a sender number', () => {
  it('is measured against its own past, and is said to have dropped on enough texts only', async () => {
    await broadcastTo(world, 1);
    await deliverTo(world, 1, {});
    const add = (count: number, state: string, daysAgo: number) =>
      run(`insert into message (id, workspace_id, person_id, program_id, channel, kind, address, sender_id, body, body_hash, alphabet, parts, credits, state, priority, created_at, submitted_at)
        select 'txt_' || '${state}' || '${daysAgo}' || i, t.workspace_id, t.person_id, t.program_id, 'sms', 'broadcast', t.address, t.sender_id, 'x', 'x', 'GSM-7', 1, 1, '${state}', 5, at, at
          from generate_series(1, ${count}) i cross join (select * from message where workspace_id = :workspace and kind = 'broadcast' limit 1) t
          cross join (select to_timestamp(${world.clock.at / 1_000}) - interval '${daysAgo} days' as at) a`);
    await add(100, 'delivered', 20);
    await add(8, 'delivered', 2);
    await add(1, 'failed', 2);
    const standing = async () => (await world.within((scope) => readNumbers(scope, world.clock.at)))[0]!;
    expect(await standing()).toMatchObject({ number: NUMBER, rateBefore: 1, dropped: false });
    await add(20, 'failed', 3);
    const { sent_7, delivered_7, failed_7, dropped, rateNow } = await standing();
    expect({ sent_7, delivered_7, failed_7, dropped }).toEqual({
      sent_7: 31,
      delivered_7: 9,
      failed_7: 21,
      dropped: true,
    });
    expect(rateNow).toBeCloseTo(9 / 30);
  });

  it('is answered and left by when its message left, whichever text was the first and however it is read since', async () => {
    await broadcastTo(world, 4);
    await deliverTo(world, 4, {});
    const heard = async (where = world.workspaceId) =>
      inWorkspace(world.ctx.orm, where, async (scope) => {
        const [one] = await numberWeeks(scope, '2026-11-18', '2026-09-01');
        return one && { answered: one.now.answered, lost: one.now.lost, before: one.before.answered };
      });
    await world.texts(phone(0), 'Which hill is it on?');
    await world.texts(phone(0), 'And may I bring my sister?');
    await world.texts(phone(1), 'Lovely, see you there');
    await world.texts(phone(2), 'STOP');
    expect(await heard()).toEqual({ answered: 2, lost: 1, before: 0 });
    // Read anew as nothing that anybody said, the first is no answer, and what comes next is.
    await run(
      `update inbound_text set meaning = 'automatic' where workspace_id = :workspace and body like 'Lovely%'`,
    );
    expect(await heard()).toEqual({ answered: 1, lost: 1, before: 0 });
    await world.texts(phone(1), 'I am back now, which hill is it on?');
    expect(await heard()).toEqual({ answered: 2, lost: 1, before: 0 });
    // It left earlier than the week: so did what came back to it.
    expect((await world.within((scope) => numberWeeks(scope, '2026-11-25', '2026-09-01')))[0]).toMatchObject({
      now: { answered: 0 },
      before: { answered: 2, lost: 1 },
    });
    expect(await heard((await world.another()).id)).toBeUndefined();
  });

  it('has a page of its own: what it carried, what nobody expected, and none of another workspace', async () => {
    await broadcastTo(world, 3);
    await deliverTo(world, 3, {});
    await world.texts('+17205550190', 'Is this the observatory?');
    const { id } = (await world.within((scope) => readNumbers(scope, world.clock.at)))[0]!;
    const page = await world.within((scope) => readNumber(scope, id, world.clock.at));
    expect(page).toMatchObject({ today: 6, unexpected: [{ body: 'Is this the observatory?' }] });
    expect(page!.days.at(-1)).toEqual({ day: '2026-11-24', n: 6 });
    expect(await world.within((scope) => readNumber(scope, 'snd_none', world.clock.at))).toBeNull();
    const { id: other } = await world.another();
    expect(
      await inWorkspace(world.ctx.orm, other, (scope) => readNumber(scope, id, world.clock.at)),
    ).toBeNull();
  });

  it('has no rate before the first receipt', async () => {
    expect((await world.within((scope) => readNumbers(scope, world.clock.at)))[0]).toMatchObject({
      rateNow: null,
      rateBefore: null,
      dropped: false,
      programs: ['Clear Sky Alerts'],
    });
  });
});
