import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { HOUR, MINUTE, SECOND } from '@/core/shared/instant';
import { holdWalk } from '@/db/delivery/quiet';
import { acrossWorkspaces } from '@/db/kit/scope';
import type { Carrier, OutgoingPart, SubmitOutcome } from '@/gateways/carrier';
import { pauseBroadcast, resumeBroadcast, stopBroadcast } from '@/services/sends/move-broadcast';
import { addSenderNumber } from '@/services/access/create-workspace';
import { lapseSilentTexts } from './quiet';
import { loseTextsOfDeadWorkers, settleLongSilence } from './recover';
import { claimDueTexts, type LeavingText } from './send-due-texts';
import { storeAnswers } from './store-answers';
import * as sending from '@/services/testing/sending';
import { receipt, Scripted } from '@/services/testing/sending';
import { makeWorld, NUMBER, phone, type World } from '@/services/testing/world';

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const round = (carrier: Carrier, room?: number) => sending.round(world, carrier, room);
const broadcastTo = (people: number, body?: string) => sending.broadcastTo(world, people, body);
const sent = () => sending.sent(world);
const pace = async () =>
  (
    await world.within((scope) =>
      scope.rows<{ next_free_at: Date; throttled_in_a_row: number }>(
        `select next_free_at, throttled_in_a_row from sender_number where workspace_id = :workspace and number = '${NUMBER}'`,
      ),
    )
  )[0]!;
describe('delivery', () => {
  it('tries a throttled text again after a pause, and slows the number', async () => {
    await broadcastTo(1);
    const carrier = new Scripted([{ kind: 'refused', reason: 'throttled', status: 0x58 }]);
    await round(carrier);
    expect(await sent()).toMatchObject([{ state: 'queued', failure: 'throttled', attempts: 1 }]);
    expect(await round(carrier)).toBe(0);
    world.clock.at += 3 * SECOND;
    await round(carrier);
    expect(await sent()).toMatchObject([{ state: 'submitted', attempts: 2 }]);
  });

  it('pauses a number longer each time it is asked to slow down, and forgets that once a text is taken', async () => {
    await broadcastTo(1);
    const throttled: SubmitOutcome = { kind: 'refused', reason: 'throttled', status: 0x58 };
    const carrier = new Scripted([throttled, throttled, throttled]);
    const pauses: number[] = [];
    for (let i = 0; i < 3; i++) {
      await world.within((scope) =>
        scope.run(
          `update message set not_before = :at where workspace_id = :workspace and not_before is not null`,
          {
            at: new Date(world.clock.at),
          },
        ),
      );
      expect(await round(carrier)).toBe(1);
      const { next_free_at } = await pace();
      pauses.push(next_free_at.getTime() - world.clock.at);
      world.clock.at = next_free_at.getTime();
    }
    expect(pauses).toEqual([2 * SECOND, 4 * SECOND, 8 * SECOND]);
    world.clock.at += MINUTE;
    await round(carrier);
    expect(await sent()).toMatchObject([{ state: 'submitted', attempts: 4 }]);
    expect((await pace()).throttled_in_a_row).toBe(0);
  });

  it('counts the refusals of one burst once, and a text taken before the pause does not end it', async () => {
    await broadcastTo(4);
    const leaving = await claimDueTexts(world.ctx, 1, 100);
    const refused: SubmitOutcome[] = [{ kind: 'refused', reason: 'carrier-busy', status: 0x14 }];
    const [one, two, three, four] = leaving as [LeavingText, LeavingText, LeavingText, LeavingText];
    await storeAnswers(
      world.ctx,
      [
        { text: one, parts: refused },
        { text: two, parts: refused },
      ],
      [],
    );
    await storeAnswers(world.ctx, [{ text: three, parts: refused }], []);
    expect((await pace()).throttled_in_a_row).toBe(1);
    await storeAnswers(world.ctx, [{ text: four, parts: [{ kind: 'taken', carrierId: 'late' }] }], []);
    const { throttled_in_a_row, next_free_at } = await pace();
    expect(throttled_in_a_row).toBe(1);
    expect(next_free_at.getTime() - world.clock.at).toBe(2 * SECOND);
  });

  it('never sends again what may have left: a broken link leaves it unconfirmed until a receipt comes', async () => {
    await broadcastTo(1);
    const carrier = new Scripted([{ kind: 'unknown' }]);
    await round(carrier);
    expect(await sent()).toMatchObject([{ state: 'unconfirmed' }]);
    world.clock.at += 24 * HOUR;
    await settleLongSilence(world.ctx);
    expect(await round(carrier)).toBe(0);
    // The carrier had taken it: its receipt is known by reference and number, though its id never was.
    await storeAnswers(world.ctx, [], [receipt(carrier.parts[0]!, 'never-heard-of')]);
    expect(await sent()).toMatchObject([{ state: 'delivered' }]);
  });

  it('sends at once again what was never written', async () => {
    await broadcastTo(1);
    const carrier = new Scripted([{ kind: 'not-written' }]);
    await round(carrier);
    expect(await sent()).toMatchObject([{ state: 'queued' }]);
    await round(carrier);
    expect(await sent()).toMatchObject([{ state: 'submitted' }]);
  });

  it('sends half a text not twice', async () => {
    await broadcastTo(1, 'x'.repeat(200));
    await round(
      new Scripted([
        { kind: 'taken', carrierId: 'a' },
        { kind: 'refused', reason: 'throttled', status: 0x58 },
      ]),
    );
    expect(await sent()).toMatchObject([{ state: 'failed', failure: 'throttled' }]);
  });

  it('calls a long text delivered when all its parts are, whatever the order and however often told', async () => {
    await broadcastTo(1, 'x'.repeat(200));
    const carrier = new Scripted([
      { kind: 'taken', carrierId: 'a' },
      { kind: 'taken', carrierId: 'b' },
    ]);
    await round(carrier);
    const [one, two] = carrier.parts as [OutgoingPart, OutgoingPart];
    await storeAnswers(world.ctx, [], [receipt(two, 'b'), receipt(two, 'b')]);
    expect(await sent()).toMatchObject([{ state: 'submitted' }]);
    await storeAnswers(world.ctx, [], [receipt(one, 'a', 'UNDELIV', '027')]);
    expect(await sent()).toMatchObject([{ state: 'failed', failure: 'unreachable' }]);
    await storeAnswers(world.ctx, [], [receipt(one, 'a')]);
    await storeAnswers(world.ctx, [], [receipt(one, 'a', 'UNDELIV', '027')]);
    expect(await sent()).toMatchObject([{ state: 'delivered' }]);
  });

  it('keeps a receipt that came before the answer to its submit', async () => {
    await broadcastTo(1);
    const [leaving] = await claimDueTexts(world.ctx, 1, 10);
    await storeAnswers(
      world.ctx,
      [],
      [{ carrierId: 'early', stat: 'DELIVRD', err: '000', number: leaving!.number, userReference: null }],
    );
    await storeAnswers(world.ctx, [{ text: leaving!, parts: [{ kind: 'taken', carrierId: 'early' }] }], []);
    expect(await sent()).toMatchObject([{ state: 'delivered' }]);
  });

  it('writes a text once whose receipt comes with the answer, and tells both', async () => {
    await broadcastTo(2);
    const [one, two] = await claimDueTexts(world.ctx, 1, 10);
    await storeAnswers(
      world.ctx,
      [
        { text: one!, parts: [{ kind: 'taken', carrierId: 'one' }] },
        { text: two!, parts: [{ kind: 'taken', carrierId: 'two' }] },
      ],
      [{ carrierId: 'one', stat: 'DELIVRD', err: '000', number: one!.number, userReference: null }],
    );
    expect((await sent()).map(({ state }) => state).sort()).toEqual(['delivered', 'submitted']);
    const events = await world.within((scope) =>
      scope.rows<{ event: string }>(
        `select event from message_event where workspace_id = :workspace and message_id = :id order by id`,
        { id: one!.id },
      ),
    );
    expect(events.map(({ event }) => event).sort()).toEqual(['accept', 'deliver', 'write']);
  });

  it('ends every consent when the carrier tells of an opt-out before it answers the submit', async () => {
    await broadcastTo(1);
    const [leaving] = await claimDueTexts(world.ctx, 1, 10);
    const early = { carrierId: 'early', number: leaving!.number, userReference: null };
    await storeAnswers(world.ctx, [], [{ ...early, stat: 'UNDELIV', err: '013' }]);
    await storeAnswers(world.ctx, [{ text: leaving!, parts: [{ kind: 'taken', carrierId: 'early' }] }], []);
    expect(await sent()).toMatchObject([{ state: 'failed' }]);
    const states = await world.within((scope) =>
      scope.rows(`select state from consent_state where workspace_id = :workspace`),
    );
    expect(states).toEqual([{ state: 'out' }]);
  });

  it('claims what is urgent before a broadcast, and nothing that is held', async () => {
    await broadcastTo(3);
    await world.texts(phone(50), 'sky');
    const [held] = await sent();
    await world.within((scope) =>
      scope.run(
        `update message set not_before = :later where workspace_id = :workspace and address = :number and not_before is not null`,
        {
          later: new Date(world.clock.at + HOUR),
          number: held!.number,
        },
      ),
    );
    const first = await claimDueTexts(world.ctx, 1, 1);
    expect(first.map(({ number }) => number)).toEqual([phone(50)]);
    const rest = await claimDueTexts(world.ctx, 1, 10);
    expect(rest).toHaveLength(2);
    expect(rest.map(({ number }) => number)).not.toContain(held!.number);
  });

  it('sends a text that found no number once there is one, when nothing else is due', async () => {
    await broadcastTo(1);
    await world.within((scope) =>
      scope.run(`update message set sender_id = null where workspace_id = :workspace and kind = 'broadcast'`),
    );
    const carrier = new Scripted();
    expect(await round(carrier)).toBe(1);
    expect(carrier.parts.map(({ from }) => from)).toEqual([NUMBER]);
    expect(await sent()).toMatchObject([{ state: 'submitted' }]);
  });

  it('sends texts that found no number within the pace of the one they are given', async () => {
    await broadcastTo(3);
    await world.within((scope) =>
      scope.run(`update message set sender_id = null where workspace_id = :workspace and kind = 'broadcast'`),
    );
    await world.within((scope) =>
      scope.run(
        `update sender_number set parts_per_second = 1, next_free_at = :at where workspace_id = :workspace`,
        {
          at: new Date(world.clock.at),
        },
      ),
    );
    for (let i = 0; i < 3; i++) {
      expect(await round(new Scripted())).toBe(1);
      expect(await round(new Scripted())).toBe(0);
      world.clock.at += SECOND;
    }
  });

  it('sends what is urgent of every number before the rest of any', async () => {
    await broadcastTo(5);
    // The id of the other number comes after that of the first, and its pace is greater.
    await world.within((scope) =>
      addSenderNumber(world.ctx, scope, {
        ...{ number: '+17195550111', kind: 'local', registration: 'registered', partsPerSecond: 2_000 },
      }),
    );
    await world.within((scope) =>
      scope.run(`insert into program_sender (workspace_id, program_id, sender_id)
        select workspace_id, (select id from program where workspace_id = :workspace), id from sender_number where workspace_id = :workspace and number = '+17195550111'`),
    );
    await world.texts(phone(60), 'STOP', '+17195550111');
    const leaving = await claimDueTexts(world.ctx, 1, 1);
    expect(leaving.map(({ number, senderNumber }) => [number, senderNumber])).toEqual([
      [phone(60), '+17195550111'],
    ]);
  });

  it('says of a text that no receipt came, once its validity is over, and believes one that comes after all', async () => {
    await broadcastTo(3);
    const carrier = new Scripted();
    await round(carrier);
    const told = (i: number) => storeAnswers(world.ctx, [], [receipt(carrier.parts[i]!, carrier.ids[i]!)]);
    await told(0);
    world.clock.at += 4 * HOUR;
    await lapseSilentTexts(world.ctx);
    const states = async () => (await sent()).map(({ state }) => state).sort();
    expect(await states()).toEqual(['delivered', 'submitted', 'submitted']);
    world.clock.at += 11 * MINUTE;
    await lapseSilentTexts(world.ctx);
    expect(await states()).toEqual(['delivered', 'no-receipt', 'no-receipt']);
    await told(1);
    expect(await states()).toEqual(['delivered', 'delivered', 'no-receipt']);
    // What left later has its own time.
    await broadcastTo(2, 'Cloud tonight.');
    await round(new Scripted());
    await lapseSilentTexts(world.ctx);
    expect((await states()).filter((state) => state === 'submitted')).toHaveLength(3);
  });

  it('passes over none while another process walks', async () => {
    await broadcastTo(1);
    await round(new Scripted());
    world.clock.at += 5 * HOUR;
    await acrossWorkspaces(world.ctx.orm, async (other) => {
      await holdWalk(other, 'sms', new Date(world.clock.at));
      expect(await lapseSilentTexts(world.ctx)).toBe(0);
    });
    expect(await lapseSilentTexts(world.ctx)).toBeGreaterThan(0);
    expect(await sent()).toMatchObject([{ state: 'no-receipt' }]);
  });

  it('lapses one text beside one that cannot be, which stays as it is', async () => {
    await broadcastTo(2);
    await round(new Scripted());
    world.clock.at += 5 * HOUR;
    await world.poison('message', `new.state = 'no-receipt' and new.address = '${phone(0)}'`);
    await lapseSilentTexts(world.ctx);
    await world.cure('message');
    expect((await sent()).map(({ number, state }) => [number, state]).sort()).toEqual([
      [phone(0), 'submitted'],
      [phone(1), 'no-receipt'],
    ]);
  });

  it('makes texts of a dead worker unconfirmed, and sends them only when silence proves them not taken', async () => {
    await broadcastTo(22);
    const leaving = await claimDueTexts(world.ctx, 999, 100);
    expect(leaving).toHaveLength(22);
    // One was written and is waited for; the worker that held it does not live.
    expect(await loseTextsOfDeadWorkers(world.ctx)).toBe(22);
    const told = leaving.slice(0, 21);
    await storeAnswers(
      world.ctx,
      [],
      told.map((text, i) => ({
        carrierId: `r${i}`,
        stat: 'DELIVRD' as const,
        err: '000',
        number: text.number,
        userReference: text.reference,
      })),
    );
    expect((await sent()).filter(({ state }) => state === 'unconfirmed')).toHaveLength(1);
    expect(await settleLongSilence(world.ctx)).toBe(0);
    world.clock.at += 5 * HOUR;
    // Without a link that was up all the while, nothing is proved.
    expect(await settleLongSilence(world.ctx)).toBe(0);
    expect((await sent()).filter(({ state }) => state === 'unconfirmed')).toHaveLength(1);
  });

  it('draws the consequences of a failure: a landline, a number gone, an opt-out at the carrier', async () => {
    await broadcastTo(3);
    const carrier = new Scripted();
    await round(carrier);
    const errs = ['011', '001', '013'];
    await storeAnswers(
      world.ctx,
      [],
      carrier.parts.map((part, i) => receipt(part, carrier.ids[i]!, 'UNDELIV', errs[i]!)),
    );
    const people = await world.within((scope) =>
      scope.rows(
        `select p.line_type, p.number_state, c.state from person p join consent_state c on c.person_id = p.id where p.workspace_id = :workspace order by p.number`,
      ),
    );
    const byNumber = [...carrier.parts]
      .map((part, i) => ({ to: part.to, err: errs[i]! }))
      .sort((a, b) => (a.to < b.to ? -1 : 1));
    const expected: Record<string, object> = {
      '011': { line_type: 'landline', number_state: 'in-service', state: 'in' },
      '001': { line_type: 'unknown', number_state: 'gone', state: 'lapsed' },
      '013': { line_type: 'unknown', number_state: 'in-service', state: 'out' },
    };
    expect(people).toEqual(byNumber.map(({ err }) => expected[err]));
  });

  it('paces a number over rounds and workers', async () => {
    await broadcastTo(6);
    await world.within((scope) =>
      scope.run(
        `update sender_number set parts_per_second = 2, next_free_at = :at where workspace_id = :workspace and number = '${NUMBER}'`,
        { at: new Date(world.clock.at) },
      ),
    );
    const carrier = new Scripted();
    expect(await round(carrier)).toBe(2);
    expect(await round(carrier)).toBe(0);
    world.clock.at += SECOND;
    expect(await round(carrier)).toBe(2);
    world.clock.at += MINUTE;
    expect(await round(carrier)).toBe(2);
  });

  it('pauses, goes on, and stops what has not left', async () => {
    const id = await broadcastTo(4);
    const carrier = new Scripted();
    expect(await round(carrier, 1)).toBe(1);
    expect(await world.within((scope) => pauseBroadcast(world.ctx, scope, id))).toEqual({
      ok: true,
      value: 'paused',
    });
    world.clock.at += HOUR;
    expect(await round(carrier)).toBe(0);
    await world.within((scope) => resumeBroadcast(world.ctx, scope, id));
    expect(await round(carrier, 1)).toBe(1);
    await world.within((scope) => stopBroadcast(world.ctx, scope, id));
    expect((await sent()).map(({ state }) => state).sort()).toEqual([
      'cancelled',
      'cancelled',
      'submitted',
      'submitted',
    ]);
  });

  it('takes credits once for each text, however often it is tried, and keeps the ledger equal to the balance', async () => {
    const credits = async () => {
      const [row] = await world.within((scope) =>
        scope.rows<{ balance: number; ledger: number }>(
          `select credit_balance as balance, (select sum(delta)::int from credit_entry where workspace_id = :workspace) as ledger from workspace where id = :workspace`,
        ),
      );
      expect(row!.balance).toBe(row!.ledger);
      return row!.balance;
    };
    await broadcastTo(3);
    const before = await credits();
    await round(
      new Scripted([{ kind: 'refused', reason: 'throttled', status: 0x58 }, { kind: 'not-written' }]),
    );
    expect(await credits()).toBe(before - 3);
    // What was paid for goes out, whatever is left.
    await world.within(async (scope) => {
      await scope.run(
        `insert into credit_entry (workspace_id, kind, delta, reason, at) select id, 'corrected', - credit_balance, 'test', now() from workspace where id = :workspace`,
      );
      await scope.run(`update workspace set credit_balance = 0 where id = :workspace`);
    });
    world.clock.at += MINUTE;
    expect(await round(new Scripted())).toBe(2);
    expect(await sent()).toMatchObject(Array(3).fill({ state: 'submitted' }));
    expect(await credits()).toBe(0);
  });

  it('holds texts when credits run out, and sends them when there are some', async () => {
    await broadcastTo(2);
    await world.within((scope) => scope.run(`update workspace set credit_balance = 1 where id = :workspace`));
    expect(await round(new Scripted())).toBe(1);
    expect((await sent()).map(({ state }) => state).sort()).toEqual(['queued', 'submitted']);
    await world.within((scope) =>
      scope.run(`update workspace set credit_balance = 10 where id = :workspace`),
    );
    world.clock.at += 20 * MINUTE;
    expect(await round(new Scripted())).toBe(1);
  });

  it('goes on while a text to the same number is being stored', async () => {
    await world.texts(phone(0), 'sky');
    await world.within(async (scope) => {
      await scope.run(
        `insert into inbound_text (id, workspace_id, person_id, channel, sender_id, from_number, body, meaning, rule, evidence, at)
         select 'other', :workspace, person_id, channel, sender_id, from_number, body, meaning, rule, evidence, at from inbound_text where workspace_id = :workspace`,
      );
      expect(await round(new Scripted())).toBe(1);
    });
  });

  it('stores a text from a phone once, however often the carrier brings it', async () => {
    const { receiveText } = await import('@/services/inbox/receive-text');
    const part = { carrierId: 'same', from: phone(1), to: NUMBER, body: 'sky', concat: null };
    expect(await receiveText(world.ctx, part)).not.toBeNull();
    expect(await receiveText(world.ctx, part)).toBeNull();
    expect(await round(new Scripted())).toBe(1);
  });
});
