import pg from 'pg';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { HOUR } from '@/core/shared/instant';
import { acrossWorkspaces } from '@/db/kit/scope';
import type { Receipt, SubmitOutcome } from '@/gateways/carrier';
import { finishBroadcasts } from '@/services/sends/prepare-broadcast';
import { loseTextsOfDeadWorkers, settleLongSilence } from './recover';
import { tellLink } from './carriers';
import { registerWorker } from './register-worker';
import { claimDueTexts, type LeavingText, type TextOutcome } from './send-due-texts';
import { joinReceipts, storeAnswers } from './store-answers';
import { broadcastTo, receipt, round, Scripted, sent } from '@/services/testing/sending';
import { makeWorld, phone, type World } from '@/services/testing/world';

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(async () => {
  await Promise.all(workers.splice(0).map((worker) => worker.end()));
  await world.close();
});

const across = <T extends object>(sql: string): Promise<T[]> =>
  acrossWorkspaces(world.ctx.orm, (crossing) => crossing.rows<T>(sql));
const departures = () =>
  across<{ worker: number; size: number; unanswered: number }>(
    `select worker, cardinality(texts) as size, unanswered from departure order by id`,
  );
const states = async () => (await sent(world)).map(({ state }) => state).sort();

const answered = (text: LeavingText, ...parts: SubmitOutcome[]): TextOutcome => ({ text, parts });
const taken = (text: LeavingText): TextOutcome =>
  answered(text, { kind: 'taken', carrierId: `c-${text.id}` });
const told = (text: LeavingText, stat: Receipt['stat'] = 'DELIVRD', err = '000'): Receipt =>
  receipt({ to: text.number, userReference: text.reference }, `c-${text.id}`, stat, err);
const store = (outcomes: TextOutcome[], receipts: Receipt[] = []) =>
  storeAnswers(world.ctx, outcomes, receipts);

const workers: pg.Client[] = [];

/** A worker that lives as long as its connection, or the test. */
async function liveWorker(): Promise<{ id: number; connection: pg.Client }> {
  const [row] = await across<{ name: string }>(`select current_database() as name`);
  const url = new URL(world.ctx.orm.config.get('clientUrl')!);
  url.pathname = `/${row!.name}`;
  const connection = new pg.Client({ connectionString: url.href });
  await connection.connect();
  workers.push(connection);
  return { id: await registerWorker(world.ctx, connection), connection };
}

describe('a departure', () => {
  it('is one row for what left in one go, counts down with the answers, and ends with the last', async () => {
    await broadcastTo(world, 3);
    const [one, two, three] = await claimDueTexts(world.ctx, 1, 10);
    expect(await departures()).toEqual([{ worker: 1, size: 3, unanswered: 3 }]);
    await store([taken(one!)]);
    expect(await departures()).toEqual([{ worker: 1, size: 3, unanswered: 2 }]);
    // Whatever the answer is, nothing more is waited for.
    await store([answered(two!, { kind: 'unknown' }), answered(three!, { kind: 'not-written' })]);
    expect(await departures()).toEqual([]);
    expect(await states()).toEqual(['queued', 'submitted', 'unconfirmed']);
  });

  it('keeps its broadcast unfinished until the last of its texts is answered', async () => {
    await broadcastTo(world, 2);
    const [one, two] = await claimDueTexts(world.ctx, 1, 10);
    await store([taken(one!)]);
    expect(await finishBroadcasts(world.ctx)).toBe(0);
    await store([taken(two!)]);
    expect(await finishBroadcasts(world.ctx)).toBe(1);
  });

  it('is not waited for by a receipt that is quicker than the answer: the answer finds it', async () => {
    await broadcastTo(world, 2);
    const [one, two] = await claimDueTexts(world.ctx, 1, 10);
    await store([], [told(one!)]);
    expect(await joinReceipts(world.ctx)).toBe(0);
    expect(await states()).toEqual(['submitting', 'submitting']);
    await store([taken(one!), taken(two!)]);
    expect(await states()).toEqual(['delivered', 'submitted']);
    expect(await departures()).toEqual([]);
    expect(await across(`select 1 from orphan_receipt`)).toEqual([]);
  });

  it.each(['the link broke', 'its worker ended'])(
    'leaves a receipt that came before its answer to the text once the answer is known never to come: %s',
    async (why) => {
      await broadcastTo(world, 1);
      const worker = await liveWorker();
      const [text] = await claimDueTexts(world.ctx, worker.id, 10);
      await store([], [told(text!)]);
      await worker.connection.end();
      if (why === 'the link broke') await store([answered(text!, { kind: 'unknown' })]);
      else await expect.poll(() => loseTextsOfDeadWorkers(world.ctx), { timeout: 10_000 }).toBe(1);
      expect(await states()).toEqual(['unconfirmed']);
      expect(await joinReceipts(world.ctx)).toBe(1);
      expect(await states()).toEqual(['delivered']);
      expect(await across(`select 1 from orphan_receipt`)).toEqual([]);
    },
  );

  it('leads no receipt to the text of another number or another reference', async () => {
    await broadcastTo(world, 1);
    const [text] = await claimDueTexts(world.ctx, 1, 10);
    await store([answered(text!, { kind: 'unknown' })]);
    await store(
      [],
      [
        { ...told(text!), carrierId: 'x', number: phone(70) },
        { ...told(text!), carrierId: 'y', userReference: text!.reference ^ 16 },
        { ...told(text!), carrierId: 'z', userReference: null },
      ],
    );
    expect(await joinReceipts(world.ctx)).toBe(0);
    expect(await states()).toEqual(['unconfirmed']);
    expect(await across(`select carrier_id from orphan_receipt order by 1`)).toHaveLength(3);
  });

  it('is lost with its worker only, and only what was not answered', async () => {
    await broadcastTo(world, 3);
    const [alive, dying] = [await liveWorker(), await liveWorker()];
    const kept = await claimDueTexts(world.ctx, alive.id, 1);
    const [first] = await claimDueTexts(world.ctx, dying.id, 2);
    await store([taken(first!)]);
    expect(await loseTextsOfDeadWorkers(world.ctx)).toBe(0);
    await dying.connection.end();
    await expect.poll(() => loseTextsOfDeadWorkers(world.ctx), { timeout: 10_000 }).toBe(1);
    expect(await states()).toEqual(['submitted', 'submitting', 'unconfirmed']);
    expect(await departures()).toEqual([{ worker: alive.id, size: 1, unanswered: 1 }]);
    await store(kept.map(taken));
    expect(await states()).toEqual(['submitted', 'submitted', 'unconfirmed']);
  });
});

describe('silence', () => {
  it('sends again what the receipts of all neighbours prove not taken, once', async () => {
    await broadcastTo(world, 22);
    // Their confirmations are no neighbours: they left hours ago.
    world.clock.at += 2 * HOUR;
    await tellLink(world.ctx, (await liveWorker()).id, 'house', 'up', null);
    const leaving = await claimDueTexts(world.ctx, 999, 100);
    expect(await loseTextsOfDeadWorkers(world.ctx)).toBe(22);
    await store(
      [],
      leaving.slice(1).map((text) => told(text)),
    );
    world.clock.at += 5 * HOUR;
    expect(await settleLongSilence(world.ctx)).toBe(1);
    expect((await states()).filter((state) => state !== 'delivered')).toEqual(['queued']);
    const carrier = new Scripted();
    expect(await round(world, carrier)).toBe(1);
    expect(carrier.parts.map(({ to }) => to)).toEqual([leaving[0]!.number]);
    expect(await settleLongSilence(world.ctx)).toBe(0);
  });

  it('proves nothing where one neighbour is silent too: both wait for a human', async () => {
    await broadcastTo(world, 23);
    // Their confirmations are no neighbours: they left hours ago.
    world.clock.at += 2 * HOUR;
    await tellLink(world.ctx, (await liveWorker()).id, 'house', 'up', null);
    const leaving = await claimDueTexts(world.ctx, 999, 100);
    // One was taken while the worker lived; its receipt never comes.
    await store([taken(leaving[1]!)]);
    await loseTextsOfDeadWorkers(world.ctx);
    await store(
      [],
      leaving.slice(2).map((text) => told(text)),
    );
    world.clock.at += 5 * HOUR;
    await settleLongSilence(world.ctx);
    expect((await states()).filter((state) => state !== 'delivered')).toEqual(['submitted', 'unconfirmed']);
    expect(await round(world, new Scripted())).toBe(0);
    // A receipt that comes late all the same settles it.
    await store([], [told(leaving[0]!)]);
    expect((await states()).filter((state) => state !== 'delivered')).toEqual(['submitted']);
  });
});
