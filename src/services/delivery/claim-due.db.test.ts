import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { lockDueSenders, lockDueTexts, lockUnsentTexts } from '@/db/delivery/due-texts';
import { plansOf } from '@/db/testing/plans';
import { acrossWorkspaces, byKeyInOrder, type Crossing } from '@/db/kit/scope';
import { DAY, HOUR, MINUTE } from '@/core/shared/instant';
import { pauseBroadcast, resumeBroadcast, stopBroadcast } from '@/services/sends/move-broadcast';
import { finishBroadcasts } from '@/services/sends/prepare-broadcast';
import { loseTextsOfDeadWorkers, settleLongSilence } from './recover';
import { claimDueTexts, submitText, type LeavingText } from './send-due-texts';
import { RECEIPT_QUEUE } from '@/services/delivery/queues';
import { joinReceipts, storeAnswers } from './store-answers';
import { broadcastTo, receipt, round, Scripted, sent } from '@/services/testing/sending';
import { workThrough } from '@/services/kit/trouble';
import { makeWorld, phone, type World } from '@/services/testing/world';

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const rows = <T extends object>(sql: string) => world.within((scope) => scope.rows<T>(sql));
const states = async () => (await sent(world)).map(({ state }) => state);
const codes = async () =>
  (
    await rows<{ code: string }>(
      `select distinct r ->> 'code' as code from message t, jsonb_array_elements(t.clearance -> 'reasons') r where t.workspace_id = :workspace and t.kind = 'broadcast'`,
    )
  ).map(({ code }) => code);
const act = (verb: typeof pauseBroadcast, id: string) => world.within((scope) => verb(world.ctx, scope, id));
const THROTTLED = { kind: 'refused' as const, reason: 'throttled' as const, status: 0x58 };
/** Claims what is due, and answers it after something happened meanwhile. */
async function answered(
  outcome: 'throttled' | 'not-written',
  meanwhile: () => Promise<unknown>,
): Promise<void> {
  const leaving = await claimDueTexts(world.ctx, 1, 100);
  await meanwhile();
  const parts = [outcome === 'throttled' ? THROTTLED : { kind: 'not-written' as const }];
  await storeAnswers(
    world.ctx,
    leaving.map((text) => ({ text, parts })),
    [],
  );
}

describe('what goes back into the queue', () => {
  it.each(['throttled', 'not-written'] as const)(
    '%s: waits while its broadcast is paused',
    async (outcome) => {
      const id = await broadcastTo(world, 3);
      await answered(outcome, () => act(pauseBroadcast, id));
      world.clock.at += HOUR;
      expect(await round(world, new Scripted())).toBe(0);
      expect(await states()).toEqual(['queued', 'queued', 'queued']);
      await act(resumeBroadcast, id);
      expect(await round(world, new Scripted())).toBe(3);
    },
  );

  it.each(['throttled', 'not-written'] as const)(
    '%s: is called back when its broadcast was stopped',
    async (outcome) => {
      const id = await broadcastTo(world, 3);
      await answered(outcome, () => act(stopBroadcast, id));
      expect(await states()).toEqual(['cancelled', 'cancelled', 'cancelled']);
      world.clock.at += HOUR;
      expect(await round(world, new Scripted())).toBe(0);
    },
  );

  it('after a silence that proved nothing was taken, asks too', async () => {
    const id = await broadcastTo(world, 1);
    await claimDueTexts(world.ctx, 999, 100);
    await loseTextsOfDeadWorkers(world.ctx);
    expect(await states()).toEqual(['unconfirmed']);
    await neighbours();
    await act(stopBroadcast, id);
    await silence();
    expect(await states()).toEqual(['cancelled']);
  });

  it('however it came to be due, does not leave while its broadcast is paused or over', async () => {
    for (const [verb, state] of [
      [pauseBroadcast, 'queued'],
      [stopBroadcast, 'cancelled'],
    ] as const) {
      const id = await broadcastTo(world, 2, `Clear ${state}.`);
      await act(verb, id);
      await world.within((scope) =>
        scope.run(
          `update message set state = 'queued', not_before = :at, settled_at = null where workspace_id = :workspace and send_id = :id`,
          { id, at: new Date(world.clock.at) },
        ),
      );
      expect(await round(world, new Scripted())).toBe(0);
      expect(
        await rows(
          `select distinct state from message where workspace_id = :workspace and send_id = '${id}'`,
        ),
      ).toEqual([{ state }]);
    }
  });
});

describe('a hold', () => {
  const credits = (n: number) =>
    world.within((scope) =>
      scope.run(`update workspace set credit_balance = :n where id = :workspace`, { n }),
    );

  it('for credits ends a day and a half after the send began, not when credits come next week', async () => {
    await broadcastTo(world, 2);
    await credits(0);
    for (let i = 0; i < 40; i++) {
      world.clock.at += HOUR;
      await claimDueTexts(world.ctx, 1, 100);
    }
    expect(await states()).toEqual(['blocked', 'blocked']);
    expect(await codes()).toContain('no-credits');
    await credits(100);
    world.clock.at += 7 * DAY;
    expect(await round(world, new Scripted())).toBe(0);
    await finishBroadcasts(world.ctx);
    expect(await rows(`select state from broadcast where workspace_id = :workspace`)).toEqual([
      { state: 'finished' },
    ]);
  });

  it('is counted from when somebody resumed it', async () => {
    const id = await broadcastTo(world, 2);
    await act(pauseBroadcast, id);
    world.clock.at += 3 * DAY;
    await act(resumeBroadcast, id);
    expect(await round(world, new Scripted())).toBe(2);
  });

  it('with a time of its own may not reach beyond it either', async () => {
    // 20:00 in Denver: held until morning, and cleared anew then.
    world.clock.at += 8 * HOUR + 30 * MINUTE;
    await broadcastTo(world, 1);
    expect(await states()).toEqual(['queued']);
    world.clock.at += 12 * HOUR;
    expect(await round(world, new Scripted())).toBe(1);
  });

  it('of the confirmation of an opt-out ends after five minutes', async () => {
    await world.texts(phone(5), 'sky');
    await round(world, new Scripted());
    await world.texts(phone(5), 'stop');
    world.clock.at += 6 * MINUTE;
    expect(await round(world, new Scripted())).toBe(0);
    expect(
      await rows(
        `select state from message where workspace_id = :workspace and kind = 'opt-out-confirmation'`,
      ),
    ).toEqual([{ state: 'blocked' }]);
  });
});

/** Twenty-five texts of the same hour whose receipts came, so that silence can prove something. */
async function neighbours(): Promise<void> {
  // The receipts of what went before came too.
  await world.within((scope) =>
    scope.run(
      `update message set state = 'delivered' where workspace_id = :workspace and state = 'submitted'`,
    ),
  );
  for (let i = 0; i < 25; i++) await world.texts(phone(30 + i), 'sky');
  const carrier = new Scripted();
  await round(world, carrier);
  await storeAnswers(
    world.ctx,
    [],
    carrier.parts.map((part, i) => receipt(part, carrier.ids[i]!)),
  );
}
/** The validity and its margin pass, with the link up. */
async function silence(): Promise<void> {
  await world.within((scope) =>
    scope.run(
      `with w as (insert into worker (started_at) select :at where :workspace <> '' returning id)
       insert into carrier_link (worker, carrier_id, state, up_since) select id, 'house', 'up', :at from w`,
      { at: new Date(world.clock.at) },
    ),
  );
  const [worker] = await rows<{ id: number }>(`select max(id) as id from worker where :workspace <> ''`);
  const holding = world.within(async (scope) => {
    await scope.rows(`select pg_advisory_lock(7301, ${worker!.id}) where :workspace <> ''`);
    world.clock.at += 5 * HOUR;
    await settleLongSilence(world.ctx);
    await scope.rows(`select pg_advisory_unlock(7301, ${worker!.id}) where :workspace <> ''`);
  });
  await holding;
}

describe('a silence', () => {
  const LONG = 'Clear skies tonight over the whole valley, come up the hill and bring a lamp. '.repeat(3);
  const lose = async () => {
    const leaving = await claimDueTexts(world.ctx, 999, 100);
    await loseTextsOfDeadWorkers(world.ctx);
    return leaving;
  };

  it('after which nothing was taken leads to the text once more', async () => {
    await broadcastTo(world, 1);
    await lose();
    await neighbours();
    await silence();
    expect(await states()).toEqual(['queued']);
  });

  it('in which one part was delivered leads to no second text', async () => {
    await broadcastTo(world, 1, LONG);
    const [text] = (await lose()) as [LeavingText];
    const carrier = new Scripted();
    await submitText(carrier, text);
    expect(carrier.parts.length).toBeGreaterThan(1);
    await storeAnswers(world.ctx, [], [receipt(carrier.parts[0]!, 'lost-1')]);
    await neighbours();
    await silence();
    expect(await states()).toEqual(['unconfirmed']);
  });
});

describe('a receipt over one worker’s link and the answer over another’s', () => {
  it('find each other, whichever is stored first, with all that follows', async () => {
    await broadcastTo(world, 40);
    const leaving = await claimDueTexts(world.ctx, 1, 100);
    const outcomes = leaving.map((text, i) => ({
      text,
      parts: [{ kind: 'taken' as const, carrierId: `r${i}` }],
    }));
    const told = leaving.map((text, i) => ({
      ...receipt(
        { to: text.number, userReference: 0 },
        `r${i}`,
        i === 7 ? 'UNDELIV' : 'DELIVRD',
        i === 7 ? '013' : '000',
      ),
      userReference: null,
    }));
    // Two workers store at the same time, over and over, in small batches: some miss each other.
    const batches = Array.from({ length: 20 }, (_, i) => [i * 2, i * 2 + 2] as const);
    await Promise.all(
      batches.flatMap(([from, to]) => [
        storeAnswers(world.ctx, outcomes.slice(from, to), []),
        storeAnswers(world.ctx, [], told.slice(from, to)),
      ]),
    );
    await joinReceipts(world.ctx);
    expect(await rows(`select 1 from orphan_receipt where :workspace <> ''`)).toEqual([]);
    expect((await states()).filter((state) => state === 'delivered')).toHaveLength(39);
    expect(
      await rows(
        `select 1 from consent_event where workspace_id = :workspace and kind = 'opted-out' and method = 'carrier'`,
      ),
    ).toHaveLength(1);
  });

  it('that cannot be joined holds up none of the others', async () => {
    await broadcastTo(world, 3);
    const leaving = await claimDueTexts(world.ctx, 1, 100);
    for (const [i, text] of leaving.entries()) {
      await storeAnswers(
        world.ctx,
        [],
        [{ ...receipt({ to: '', userReference: 0 }, `y${i}`), userReference: null }],
      );
      await world.within((scope) =>
        scope.run(
          `insert into text_part (text_id, workspace_id, index, carrier_id, state, at) values (:id, :workspace, 1, :part, 'accepted', now())`,
          { id: text.id, part: `y${i}` },
        ),
      );
    }
    await world.within((scope) =>
      scope.run(
        `update message set state = 'submitted' where workspace_id = :workspace and state = 'submitting'`,
      ),
    );
    await world.poison('text_part', `new.carrier_id = 'y1' and new.state = 'delivered'`);
    const silent = vi.spyOn(console, 'error').mockImplementation(() => {});
    await joinReceipts(world.ctx);
    silent.mockRestore();
    expect((await states()).sort()).toEqual(['delivered', 'delivered', 'submitted']);
    await world.cure('text_part');
    world.clock.at += MINUTE;
    await workThrough(world.ctx, RECEIPT_QUEUE);
    expect(await states()).toEqual(['delivered', 'delivered', 'delivered']);
  });

  it('that were both committed apart are joined later', async () => {
    await broadcastTo(world, 1);
    const [text] = await claimDueTexts(world.ctx, 1, 100);
    await storeAnswers(
      world.ctx,
      [],
      [{ ...receipt({ to: '', userReference: 0 }, 'x1'), userReference: null }],
    );
    // The answer's transaction did not see the receipt: as if it had begun before.
    await world.within(async (scope) => {
      await scope.run(
        `insert into text_part (text_id, workspace_id, index, carrier_id, state, at) values (:id, :workspace, 1, 'x1', 'accepted', :at)`,
        { id: text!.id, at: new Date(world.clock.at) },
      );
      await scope.run(`update message set state = 'submitted' where workspace_id = :workspace and id = :id`, {
        id: text!.id,
      });
    });
    expect(await joinReceipts(world.ctx)).toBe(1);
    expect(await states()).toEqual(['delivered']);
    expect(await joinReceipts(world.ctx)).toBe(0);
  });
});

describe('what is claimed of much that waits', () => {
  const LINE = { channel: 'sms', carriage: 'words', carrier: 'house' } as const;
  const at = new Date(0);

  it.each<[string, (crossing: Crossing) => Promise<unknown>]>([
    ['texts of a number', (crossing) => lockDueTexts(crossing, 'snd', 'words', [0, 1], at, 10)],
    ['texts of no number', (crossing) => lockUnsentTexts(crossing, LINE, at, 10)],
    ['whose something is due', (crossing) => lockDueSenders(crossing, LINE, at)],
  ])('%s: is walked in its order, not sorted out of all that waits', async (_, look) => {
    const plan = await acrossWorkspaces(world.ctx.orm, async (crossing) => {
      await byKeyInOrder(crossing);
      return plansOf(crossing, look);
    });
    const indexes = [...plan.matchAll(/"Index Name":"(message_\w+)"/g)].map(([, name]) => name);
    expect([...new Set(indexes)]).toEqual(['message_due']);
    expect(plan).not.toMatch(/"LockRows"[^[]*\[\{"Node Type":"Sort"/);
  });
});
