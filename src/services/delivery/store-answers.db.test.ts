import fc from 'fast-check';
import type pg from 'pg';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { MINUTE } from '@/core/shared/instant';
import { acrossWorkspaces } from '@/db/kit/scope';
import type { Receipt, SubmitOutcome } from '@/gateways/carrier';
import { claimDueTexts, type LeavingText, type TextOutcome } from './send-due-texts';
import { storeAnswers } from './store-answers';
import { broadcastTo, receipt, sent } from '@/services/testing/sending';
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

describe('what follows from a failure', () => {
  const refuseConsent = `create function refuse_consent() returns trigger language plpgsql as $$ begin raise exception 'not now'; end $$;
    create trigger refuse_consent before insert on consent_event for each row execute function refuse_consent()`;

  it('is stored with it or not at all: the receipt comes again, and both are', async () => {
    await broadcastTo(world, 1);
    const [text] = await claimDueTexts(world.ctx, 1, 10);
    await store([taken(text!)]);
    const optedOut = told(text!, 'UNDELIV', '013');
    await across(refuseConsent);
    await expect(store([], [optedOut])).rejects.toThrow('not now');
    expect(await states()).toEqual(['submitted']);
    await across(`drop trigger refuse_consent on consent_event`);
    await store([], [optedOut]);
    expect(await states()).toEqual(['failed']);
    expect(await across(`select state, method from consent_state`)).toEqual([
      { state: 'out', method: 'carrier' },
    ]);
  });
});

describe('a carrier that gives an id again', () => {
  const same = (text: LeavingText) => answered(text, { kind: 'taken', carrierId: 'again' });

  it('took both texts, and its receipt is of the later one', async () => {
    await broadcastTo(world, 2);
    const [first, second] = await claimDueTexts(world.ctx, 1, 10);
    await store([same(first!)]);
    await store([same(second!)]);
    expect(await states()).toEqual(['submitted', 'submitted']);
    const { number, reference } = second!;
    await store([], [receipt({ to: number, userReference: reference }, 'again')]);
    const byId = new Map((await sent(world)).map(({ id, state }) => [id, state]));
    expect([byId.get(first!.id), byId.get(second!.id)]).toEqual(['submitted', 'delivered']);
  });

  it('took all of them, answered together', async () => {
    await broadcastTo(world, 3);
    const all = await claimDueTexts(world.ctx, 1, 10);
    await store(all.map(same));
    expect(await states()).toEqual(['submitted', 'submitted', 'submitted']);
  });

  it('took every part of a text, told by one id', async () => {
    await broadcastTo(world, 1, 'a'.repeat(400));
    const [text] = await claimDueTexts(world.ctx, 1, 10);
    expect(text!.parts).toBe(3);
    const part: SubmitOutcome = { kind: 'taken', carrierId: 'again' };
    await store([answered(text!, part, part, part)]);
    expect(await states()).toEqual(['submitted']);
  });

  it('answered twice for one text took it once', async () => {
    await broadcastTo(world, 1);
    const [text] = await claimDueTexts(world.ctx, 1, 10);
    await store([same(text!)]);
    await store([same(text!)]);
    expect(await states()).toEqual(['submitted']);
    expect(await across(`select carrier_id from text_part where carrier_id like '%again%'`)).toHaveLength(1);
  });
});

describe('answers and receipts', () => {
  type Step = { text: number; kind: 'answer' | 'receipt' };

  const steps = fc
    .shuffledSubarray(
      [0, 1, 2].flatMap((text): Step[] => [
        { text, kind: 'answer' },
        { text, kind: 'receipt' },
        { text, kind: 'receipt' },
      ]),
      { minLength: 9 },
    )
    .chain((order) =>
      fc.tuple(fc.constant(order), fc.array(fc.integer({ min: 1, max: 4 }), { maxLength: 9 })),
    );

  it('end as delivered, each text written once, in whatever order and batches they come', async () => {
    let people = 0;
    await fc.assert(
      fc.asyncProperty(steps, async ([order, sizes]) => {
        for (let i = 0; i < 3; i++) await world.texts(phone(people++), 'sky');
        const leaving = await claimDueTexts(world.ctx, 1, 10);
        expect(leaving).toHaveLength(3);
        const rest = [...order];
        for (let i = 0; rest.length > 0; i++) {
          const batch = rest.splice(0, sizes[i] ?? 9);
          const of = (kind: Step['kind']) =>
            batch.filter((step) => step.kind === kind).map(({ text }) => leaving[text]!);
          await store(
            of('answer').map(taken),
            of('receipt').map((text) => told(text)),
          );
        }
        const events = await across<{ state: string; delivered: number }>(
          `select t.state, count(*) filter (where e.event = 'deliver')::int as delivered from message t join message_event e on e.message_id = t.id
            where t.id in (${leaving.map(({ id }) => `'${id}'`).join(', ')}) group by t.id, t.state`,
        );
        expect(events).toEqual(Array(3).fill({ state: 'delivered', delivered: 1 }));
        expect(await departures()).toEqual([]);
        world.clock.at += MINUTE;
      }),
      { numRuns: 8 },
    );
  });
});

describe('what an answer or a receipt changes of a message', () => {
  it('stands in none of its indexes, so that its row is written in place', async () => {
    const indexes = await across<{ made: string }>(
      `select pg_get_indexdef(indexrelid) as made from pg_index where indrelid = 'message'::regclass`,
    );
    expect(indexes.length).toBeGreaterThan(10);
    expect(indexes.filter(({ made }) => /\b(state|settled_at|failure|worker)\b/.test(made))).toEqual([]);
  });
});

describe('when somebody was last texted', () => {
  const last = () => across<{ at: Date }>(`select at from last_text`);

  it('is told by what was taken or may have been; not by what was refused or went back', async () => {
    await world.texts(phone(0), 'sky');
    const [text] = await claimDueTexts(world.ctx, 1, 10);
    const began = new Date(world.clock.at);
    expect(await last()).toEqual([]);
    await store([answered(text!, { kind: 'not-written' })]);
    expect(await last()).toEqual([]);
    const [again] = await claimDueTexts(world.ctx, 1, 10);
    await store([answered(again!, { kind: 'unknown' })]);
    expect(await last()).toEqual([{ at: began }]);
  });

  it('stays when a receipt of an older one comes after', async () => {
    await world.texts(phone(0), 'sky');
    const [older] = await claimDueTexts(world.ctx, 1, 10);
    await store([taken(older!)]);
    world.clock.at += MINUTE;
    await world.texts(phone(0), 'help');
    const [newer] = await claimDueTexts(world.ctx, 1, 10);
    await store([taken(newer!)]);
    const at = new Date(world.clock.at);
    world.clock.at += MINUTE;
    await store([], [told(older!)]);
    expect(await last()).toEqual([{ at }]);
  });
});
