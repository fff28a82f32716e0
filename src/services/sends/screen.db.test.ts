import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { DAY, HOUR, MINUTE } from '@/core/shared/instant';
import type { OutgoingPart, Receipt } from '@/gateways/carrier';
import { checkConsent } from '@/services/consent/check-consent';
import { createWorkspace } from '@/services/access/create-workspace';
import { finishBroadcasts } from './prepare-broadcast';
import { findAnything, readRibbon } from '@/services/shell/screen';
import { readBehindBroadcast, readSend, readSends } from './screen';
import { readNumbers } from '@/services/numbers/screen';
import { readProgramScreen } from '@/services/programs/screen';
import { readResults } from '@/services/results/screen';
import { readToday } from '@/services/today/screen';
import { stopBroadcast } from './move-broadcast';
import { storeAnswers } from '@/services/delivery/store-answers';
import { broadcastTo, receipt, round, Scripted, sent } from '@/services/testing/sending';
import { makeWorld, NOON, NUMBER, phone, type World } from '@/services/testing/world';

const ZONE = 'America/Denver';

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

/** The i-th person's receipt, as a carrier's error code; those without one are delivered. */
async function deliverTo(people: number, errs: Record<number, string>, silent: readonly number[] = []) {
  const carrier = new Scripted();
  await round(world, carrier);
  const told = ({ to }: OutgoingPart) => Array.from({ length: people }, (_, i) => phone(i)).indexOf(to);
  const receipts = carrier.parts.flatMap((part, n): Receipt[] => {
    const i = told(part);
    if (silent.includes(i)) return [];
    const err = errs[i];
    return [receipt(part, `c${n + 1}-${part.userReference}`, err ? 'UNDELIV' : 'DELIVRD', err)];
  });
  await storeAnswers(world.ctx, [], receipts);
  await finishBroadcasts(world.ctx);
}

const behind = async (id: string, what: string) =>
  (await world.within((scope) => readBehindBroadcast(scope, id, what))).map(({ address }) => address);
const run = (sql: string) => world.within((scope) => scope.run(sql));

describe('a broadcast’s result', () => {
  it('counts each text in one state, and each answer to the broadcast it followed', async () => {
    const id = await broadcastTo(world, 8);
    await run(`update consent_state set state = 'out' where workspace_id = :workspace and person_id =
      (select id from person where number = '${phone(7)}')`);
    await deliverTo(8, { 0: '027', 1: '027', 2: '040' }, [3]);
    world.clock.at += MINUTE;
    await world.texts(phone(4), 'when does it start');
    await world.texts(phone(4), 'and where');
    await world.texts(phone(5), 'Stop.');
    const { result } = (await world.within((scope) => readSend(scope, id)))!;
    expect(result).toMatchObject({
      people: 8,
      delivered: 3,
      failed: 3,
      submitted: 1,
      blocked: 1,
      open: 0,
      replies: 1,
      optOuts: 1,
      parts: 7,
    });
    expect(result.failures).toEqual([
      { reason: 'unreachable', count: 2 },
      { reason: 'spam-blocked', count: 1 },
    ]);
    expect(result.blocks).toEqual([{ reason: expect.stringMatching(/opt|consent/), count: 1 }]);
    // What has no receipt yet is neither good nor bad.
    expect(result.deliveryRate).toMatchObject({ count: 3, of: 6, share: 0.5 });
  });

  it('opens to the people behind each of its numbers', async () => {
    const id = await broadcastTo(world, 6);
    await deliverTo(6, { 0: '027', 1: '040' });
    await world.texts(phone(2), 'lovely');
    await world.texts(phone(3), 'stop');
    expect((await behind(id, '')).length).toBe(6);
    expect((await behind(id, 'state:delivered')).sort()).toEqual([2, 3, 4, 5].map(phone));
    expect((await behind(id, 'state:failed,delivered')).length).toBe(6);
    expect(await behind(id, 'failure:spam-blocked')).toEqual([phone(1)]);
    expect(await behind(id, 'replies')).toEqual([phone(2)]);
    expect(await behind(id, 'opt-outs')).toEqual([phone(3)]);
    expect(await behind(id, 'code:credits')).toEqual([]);
  });

  it('says what was called back, and what had left stays', async () => {
    const id = await broadcastTo(world, 5);
    expect(await round(world, new Scripted(), 2)).toBe(2);
    await world.within((scope) => stopBroadcast(world.ctx, scope, id));
    const { result } = (await world.within((scope) => readSend(scope, id)))!;
    expect(result).toMatchObject({ people: 5, submitted: 2, cancelled: 3, open: 0, parts: 2, credits: 2 });
    expect(await behind(id, 'state:cancelled')).toHaveLength(3);
  });

  it('stands in the list of sends, page by page, the newest first', async () => {
    const ids: string[] = [];
    for (let i = 0; i < 3; i++) {
      ids.unshift(await broadcastTo(world, 1, `Clear tonight, ${i}.`));
      await deliverTo(1, {});
    }
    const first = await world.within((scope) => readSends(scope, '', 2));
    expect(first.rows.map(({ id, result }) => [id, result.delivered])).toEqual([
      [ids[0], 1],
      [ids[1], 1],
    ]);
    const second = await world.within((scope) => readSends(scope, first.next!, 2));
    expect(second.rows.map(({ id }) => id)).toEqual([ids[2]]);
    expect(second.next).toBeNull();
  });

  it('is nobody else’s: another workspace finds no such broadcast, and nothing to search', async () => {
    const id = await broadcastTo(world, 2);
    const other = await createWorkspace(world.ctx, {
      slug: 'other',
      name: 'Other',
      business: 'Other',
      contact: '(719) 555-0111',
      zone: ZONE,
      weeklyCap: null,
      credits: 10,
    });
    await world.within(async (scope) => {
      expect(await readSend(scope, id)).toBeNull();
      expect((await readSends(scope, '', 10)).rows).toEqual([]);
      expect(await readBehindBroadcast(scope, id, '')).toEqual([]);
      expect(await findAnything(scope, '303')).toEqual([]);
      expect((await readToday(scope, world.clock.at, ZONE, 'acc_nobody')).counts).toMatchObject({
        sent: 0,
        joined: 0,
        held: 0,
      });
      expect(
        (await readRibbon(scope, world.clock.at)).hours.every(({ left, came }) => left + came === 0),
      ).toBe(true);
    }, other.id);
  });
});

describe('today', () => {
  it('counts from midnight in the workspace’s zone', async () => {
    // 23:30 the evening before in Denver is the same day in Greenwich.
    world.clock.at = Date.UTC(2026, 10, 25, 6, 30);
    await world.texts(phone(0), 'sky');
    await round(world, new Scripted());
    world.clock.at = NOON + DAY;
    await world.texts(phone(1), 'sky');
    await round(world, new Scripted());
    const { counts } = await world.within((scope) => readToday(scope, world.clock.at, ZONE, 'acc_nobody'));
    expect(counts).toMatchObject({ joined: 1, sent: 1, left: 0 });
  });

  it('counts people once, and what waits until it leaves', async () => {
    const id = await broadcastTo(world, 4);
    const counts = async () =>
      (await world.within((scope) => readToday(scope, world.clock.at, ZONE, 'acc_nobody'))).counts;
    expect(await counts()).toMatchObject({ joined: 4, sent: 4, held: 4 });
    await deliverTo(4, { 0: '027' });
    world.clock.at += MINUTE;
    await world.texts(phone(1), 'Stop.');
    await world.texts(phone(2), 'what is this');
    await world.texts(phone(3), 'this is spam');
    expect(await counts()).toMatchObject({
      sent: 8,
      failed: 1,
      delivered: 3,
      left: 1,
      replies: 2,
      waiting: 2,
      unclear: 1,
      held: 1,
    });
    // The text that confirms the opt-out is what waits.
    await round(world, new Scripted());
    expect(await counts()).toMatchObject({ sent: 9, held: 0 });
    const { recent } = await world.within((scope) => readToday(scope, world.clock.at, ZONE, 'acc_nobody'));
    expect(recent.map((row) => row.id)).toEqual([id]);
  });
});

describe('the day ribbon', () => {
  it('shows hour by hour what left, what came and what waits for its hour', async () => {
    await broadcastTo(world, 3);
    await run(
      `update message set not_before = not_before + interval '3 hours' where workspace_id = :workspace and kind = 'broadcast'`,
    );
    world.clock.at += HOUR;
    await world.texts(phone(0), 'when');
    await world.texts(phone(1), 'Stop.');
    const { hours, now } = await world.within((scope) => readRibbon(scope, world.clock.at));
    expect([hours.length, now]).toEqual([25, world.clock.at]);
    const busy = hours.filter(({ left, came, stopped, coming }) => left + came + stopped + coming > 0);
    expect(busy).toEqual([
      { at: NOON, left: 3, came: 3, stopped: 0, coming: 0 },
      // The confirmation of the opt-out is due at once; the person who left waits for nothing else.
      { at: NOON + HOUR, left: 0, came: 1, stopped: 1, coming: 1 },
      { at: NOON + 3 * HOUR, left: 0, came: 0, stopped: 0, coming: 2 },
    ]);
  });
});

describe('a sender number', () => {
  it('is measured against its own past, and is said to have dropped on enough texts only', async () => {
    await broadcastTo(world, 1);
    await deliverTo(1, {});
    const add = (count: number, state: string, daysAgo: number) =>
      run(`insert into message (id, workspace_id, person_id, program_id, channel, kind, address, sender_id, body, body_hash, alphabet, parts, credits, state, priority, created_at, submitted_at)
        select 'txt_' || '${state}' || '${daysAgo}' || i, t.workspace_id, t.person_id, t.program_id, 'sms', 'broadcast', t.address, t.sender_id, 'x', 'x', 'GSM-7', 1, 1, '${state}', 5, at, at
          from generate_series(1, ${count}) i cross join (select * from message where workspace_id = :workspace and kind = 'broadcast' limit 1) t
          cross join (select to_timestamp(${world.clock.at / 1_000}) - interval '${daysAgo} days' as at) a`);
    await add(100, 'delivered', 20);
    await add(30, 'delivered', 2);
    await add(10, 'failed', 2);
    const standing = async () => (await world.within((scope) => readNumbers(scope, world.clock.at)))[0]!;
    expect(await standing()).toMatchObject({ number: NUMBER, rateBefore: 1, dropped: false });
    await add(20, 'failed', 3);
    const { sent_7, delivered_7, failed_7, dropped, rateNow } = await standing();
    expect({ sent_7, delivered_7, failed_7, dropped }).toEqual({
      sent_7: 62,
      delivered_7: 31,
      failed_7: 30,
      dropped: true,
    });
    expect(rateNow).toBeCloseTo(31 / 61);
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

describe('growth', () => {
  it('is counted by weeks of the workspace’s zone, each person once a week', async () => {
    // Sunday 20:00 in Denver is Monday in Greenwich.
    world.clock.at = Date.UTC(2026, 10, 23, 3, 0);
    await world.texts(phone(0), 'sky');
    world.clock.at = NOON;
    await world.texts(phone(1), 'sky');
    await world.texts(phone(1), 'stop');
    await world.texts(phone(1), 'start');
    const { growth } = await world.within((scope) => readResults(scope, NOON));
    expect(growth).toEqual([
      { week: new Date('2026-11-16T07:00:00Z'), joined: 1, left: 0 },
      { week: new Date('2026-11-23T07:00:00Z'), joined: 1, left: 1 },
    ]);
  });

  it('of a program says who joined, who left, and where they came from', async () => {
    for (let i = 0; i < 3; i++) await world.texts(phone(i), 'sky');
    await world.texts(phone(2), 'stop');
    const [program] = (await world.within((scope) => readResults(scope, world.clock.at))).programs;
    const screen = await world.within((scope) => readProgramScreen(scope, program!.id, world.clock.at));
    expect(screen).toMatchObject({
      counts: { members: 2, left: 1, joined_30: 3, left_30: 1, keywords: ['sky'] },
      senders: [{ number: NUMBER }],
      sources: [{ source: 'SKY', joined: 3, left: 1 }],
    });
    world.clock.at += 40 * DAY;
    const later = await world.within((scope) => readProgramScreen(scope, program!.id, world.clock.at));
    expect(later!.counts).toMatchObject({ members: 2, left: 1, joined_30: 0, left_30: 0 });
  });
});

describe('the command box', () => {
  it('finds people by name or digits, broadcasts and programs; what means something to SQL is only text', async () => {
    await broadcastTo(world, 2);
    await run(
      `update person set first_name = 'Ana', last_name = '100%_sure' where workspace_id = :workspace and number = '${phone(0)}'`,
    );
    const find = (search: string) => world.within((scope) => findAnything(scope, search));
    expect((await find('ana')).map(({ label }) => label)).toEqual(['Ana 100%_sure']);
    expect((await find('0%_s')).map(({ kind }) => kind)).toEqual(['person']);
    expect(await find('%_%_')).toEqual([]);
    expect((await find('555-0101')).map(({ label }) => label)).toEqual([phone(1)]);
    expect((await find('clear')).map(({ kind, label }) => [kind, label])).toEqual([
      ['program', 'Clear Sky Alerts'],
    ]);
    expect((await find('B')).map(({ kind }) => kind)).toContain('broadcast');
  });
});

describe('the check of consent', () => {
  it('finds what was changed beside the ledger, and what was lost from it', async () => {
    for (let i = 0; i < 4; i++) await world.texts(phone(i), 'sky');
    const check = async () => checkConsent(world.ctx, world.workspaceId);
    expect(await check()).toEqual({ people: 4, differences: [] });
    const person = (i: number) => `(select id from person where number = '${phone(i)}')`;
    await run(
      `update consent_state set state = 'out' where workspace_id = :workspace and person_id = ${person(0)}`,
    );
    await run(`delete from consent_state where workspace_id = :workspace and person_id = ${person(1)}`);
    await run(
      `update consent_state set event_id = 'con_other' where workspace_id = :workspace and person_id = ${person(2)}`,
    );
    const { differences } = await check();
    expect(differences.map(({ ledger, stored }) => [ledger, stored]).sort()).toEqual([
      ['in', 'in'],
      ['in', 'nothing'],
      ['in', 'out'],
    ]);
    expect((await sent(world)).length).toBe(0);
  });
});
