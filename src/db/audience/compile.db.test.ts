import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Condition } from '@/core/audience/condition';
import { evaluate } from '@/core/audience/evaluate';
import { fold } from '@/core/audience/fold';
import { planOf, type PlanContext } from '@/core/audience/plan';
import { condition, days, FIELDS, numbers, THINGS, words } from '@/core/audience/testing/random';
import { DAY, HOUR } from '@/core/shared/instant';
import { makeWorld, type World } from '@/services/testing/world';
import { countPeople, countSteps } from './cut';
import { compile } from './compile';
import { personRecords } from './records';

const ZONE = 'America/Denver';
/** Half past eleven at night in Denver: the day there is not the day in UTC. */
const NOW = Date.UTC(2026, 10, 25, 6, 30);
const SEGMENT: Condition = {
  any: [
    { ask: 'tag', id: 'lab_a', has: true },
    { ask: 'field', field: 'first_name', test: 'is', value: 'ana' },
  ],
};
const CONTEXT: PlanContext = {
  now: NOW,
  zone: ZONE,
  fields: FIELDS,
  segments: new Map([[THINGS.segment, SEGMENT]]),
};
const PEOPLE = 160;

let world: World;
beforeAll(async () => {
  world = await makeWorld();
  await makePeople();
});
afterAll(() => world.close());

/** Instants on both sides of midnight in Denver and of the change of clocks on 1 November. */
const instants = fc.constantFrom(
  ...[
    0,
    HOUR,
    7 * HOUR,
    DAY,
    3 * DAY,
    7 * DAY + 23.5 * HOUR,
    8 * DAY,
    24 * DAY + HOUR,
    30 * DAY,
    200 * DAY,
  ].map((ago) => new Date(NOW - ago)),
  new Date(Date.UTC(2026, 10, 24, 7, 0)),
  new Date(Date.UTC(2026, 10, 24, 6, 59, 59)),
);
const some = <T>(values: readonly T[]) => fc.subarray([...values]);
const maybe = <T>(value: fc.Arbitrary<T>) => fc.option(value, { freq: 3 });

const person = fc.record({
  firstName: maybe(fc.oneof(words, fc.constant(''))),
  email: maybe(words),
  source: words,
  lineType: fc.constantFrom('mobile', 'landline', 'unknown'),
  region: maybe(fc.constantFrom('CO', 'AZ')),
  zones: maybe(some(['America/Denver', 'America/Phoenix'])),
  fields: fc.record(
    {
      planet: fc.oneof(words, fc.constant('')),
      visits: numbers,
      born: days,
      member: fc.constantFrom('yes', 'no'),
      interests: some(['moon', 'mars', 'Sun']),
    },
    { requiredKeys: [] },
  ),
  created: instants,
  wrote: maybe(instants),
  paused: maybe(instants),
  lastText: maybe(instants),
  labels: some([...THINGS.tags, THINGS.list]),
  further: some(['+13035559001', 'more@example.org']),
  gone: fc.boolean(),
  consents: fc.array(
    fc.tuple(
      fc.constantFrom(...THINGS.programs),
      fc.constantFrom('in', 'out', 'asked', 'lapsed'),
      fc.constantFrom('sms', 'email'),
      instants,
    ),
    { maxLength: 2 },
  ),
  texts: fc.array(
    fc.record({
      broadcast: maybe(fc.constantFrom(...THINGS.broadcasts)),
      step: maybe(fc.constantFrom(...THINGS.steps)),
      program: fc.constantFrom(...THINGS.programs),
      state: fc.constantFrom('queued', 'submitted', 'delivered', 'failed', 'unconfirmed', 'blocked'),
      failure: maybe(fc.constantFrom('unreachable', 'landline')),
      at: maybe(instants),
      reply: maybe(fc.constantFrom('reply', 'unclear', 'opt-out', 'help')),
      engaged: maybe(fc.constantFrom('clicked', 'redeemed')),
    }),
    { maxLength: 4 },
  ),
  loose: maybe(fc.tuple(fc.constantFrom('reply', 'opt-out'), instants)),
  left: fc.array(fc.tuple(fc.constantFrom(...THINGS.programs), instants), { maxLength: 2 }),
  imported: fc.boolean(),
  batched: fc.boolean(),
  vouchers: fc.array(
    fc.record({
      offer: fc.constantFrom(...THINGS.offers),
      left: fc.constantFrom(0, 1),
      ends: maybe(
        fc.oneof(
          instants,
          fc.constantFrom(HOUR, DAY, 5 * DAY).map((on) => new Date(NOW + on)),
        ),
      ),
      used: fc.constantFrom('no', 'yes', 'undone'),
    }),
    { maxLength: 2 },
  ),
});

async function makePeople(): Promise<void> {
  const drawn = fc.sample(person, { numRuns: PEOPLE, seed: 4 });
  await world.within(async (scope) => {
    const run = (sql: string, values = {}) => scope.run(sql, values);
    for (const [i, id] of THINGS.programs.entries())
      await run(
        `insert into program (id, workspace_id, name, purpose, created_at) values (:id, :workspace, :name, 'recurring', now())`,
        { id, name: `P${i}` },
      );
    for (const id of THINGS.broadcasts) {
      await run(
        `insert into send (id, workspace_id, kind, goes) values (:id, :workspace, 'broadcast', 'on')`,
        { id },
      );
      await run(
        `insert into broadcast (id, workspace_id, program_id, name, channel, body, state, created_at, updated_at) values (:id, :workspace, 'prg_a', :id, 'sms', 'x', 'finished', now(), now())`,
        { id },
      );
    }
    // One is named by a whole send, the other by one line of the other.
    for (const [i, id] of THINGS.items.entries()) {
      await run(
        `insert into item (id, workspace_id, number, key, kind, name, place, price, url, all_day, state, created_at, updated_at) values (:id, :workspace, :id, :id, 'event', :id, '', '', '', false, 'on', now(), now())`,
        { id },
      );
      await run(
        `insert into written_about (workspace_id, send_id, step_id, item_id) values (:workspace, :send, :step, :id)`,
        { id, send: THINGS.broadcasts[i]!, step: i === 0 ? '' : THINGS.steps[0] },
      );
    }
    for (const id of THINGS.offers)
      await run(
        `insert into offer (id, workspace_id, name, words, uses, created_at) values (:id, :workspace, :id, 'x', 1, now())`,
        { id },
      );
    for (const id of [...THINGS.tags, THINGS.list])
      await run(
        `insert into label (id, workspace_id, kind, name, created_at) values (:id, :workspace, 'tag', :id, now())`,
        { id },
      );
    await run(
      `insert into import (id, workspace_id, name, file_name, format, bytes, digest, state, cursor, created_at, updated_at) values ('imp_a', :workspace, 'i', 'i', 'csv', 1, '', 'finished', 120, now(), now())`,
    );
    await run(
      `insert into batch (id, workspace_id, name, action, state, start_at, next_at, total, created_at, updated_at) values ('bat_a', :workspace, 'b', '{}', 'finished', now(), now(), 0, now(), now())`,
    );
    const [sender] = await scope.rows<{ id: string }>(
      `select id from sender_number where workspace_id = :workspace`,
    );
    for (const [i, one] of drawn.entries()) {
      const id = `per_${String(i).padStart(4, '0')}`;
      await run(
        `insert into person (id, workspace_id, number, first_name, email, source, line_type, place_region, place_zones, fields, created_at, last_wrote_at, paused_until)
         values (:id, :workspace, :number, :firstName, :email, :source, :lineType, :region, :zones::text[], :fields::jsonb, :created, :wrote::timestamptz, :paused::timestamptz)`,
        {
          id,
          number: i % 9 === 0 ? `+4420${10_000_000 + i}` : `+1303555${String(1000 + i)}`,
          firstName: one.firstName,
          email: one.email,
          source: one.source,
          lineType: one.lineType,
          region: one.region,
          zones: one.zones,
          fields: JSON.stringify(one.fields),
          created: one.created,
          wrote: one.wrote,
          paused: one.paused,
        },
      );
      await run(
        `insert into address (workspace_id, person_id, kind, rank, value, since)
         select :workspace, :id, case when v like '%@%' then 'email' else 'number' end, 1 + i, v || :nth, now() from unnest(:further::text[]) with ordinality as u (v, i)`,
        { id, further: one.further, nth: String(i) },
      );
      if (one.gone)
        await run(
          `update address set state = case kind when 'number' then 'gone' else 'bounced' end where workspace_id = :workspace and person_id = :id and rank = 0`,
          { id },
        );
      if (one.lastText)
        await run(`insert into last_text values (:id, :workspace, :at)`, { id, at: one.lastText });
      for (const label of one.labels)
        await run(`insert into person_label values (:workspace, :label, :id, null, now())`, { label, id });
      for (const [program, state, channel, since] of new Map(
        one.consents.map((told) => [`${told[0]} ${told[2]}`, told]),
      ).values())
        await run(
          `insert into consent_state (workspace_id, person_id, program_id, channel, address, state, method, since, event_id, was_in, current)
           values (:workspace, :id, :program, :channel, 'here', :state, 'keyword', :since, 'x', true, true), (:workspace, :id, :program, :channel, 'there', 'in', 'keyword', now(), 'x', true, false)`,
          { id, program, state, channel, since },
        );
      for (const [j, text] of [
        ...new Map(one.texts.map((text, j) => [text.broadcast ?? `none${j}`, text])).values(),
      ].entries()) {
        const textId = `txt_${i}_${j}`;
        await run(
          `insert into message (id, workspace_id, person_id, program_id, send_id, step_id, channel, kind, address, body, body_hash, alphabet, parts, credits, state, priority, not_before, lost_at, failure, created_at, submitted_at)
           values (:textId, :workspace, :id, :program, :broadcast, :step, 'sms', 'broadcast', '+1', 'x', 'x', 'GSM-7', 1, 1, :state, 1, case :state::text when 'queued' then now() end, case :state when 'unconfirmed' then now() end, :failure, now(), :at::timestamptz)`,
          {
            textId,
            id,
            program: text.program,
            broadcast: text.broadcast,
            step: text.step,
            state: text.state,
            failure: text.failure,
            at: text.at,
          },
        );
        if (text.reply)
          await reply(`inb_${i}_${j}`, id, sender!.id, text.reply, textId, text.at ?? new Date(NOW));
        if (text.engaged)
          await run(
            `insert into engagement (workspace_id, person_id, kind, text_id, at) values (:workspace, :id, :kind, :textId, :at)`,
            { id, kind: text.engaged, textId, at: text.at ?? new Date(NOW) },
          );
      }
      if (one.loose) await reply(`inb_${i}_l`, id, sender!.id, one.loose[0], null, one.loose[1]);
      for (const [j, [program, at]] of one.left.entries())
        await run(
          `insert into consent_event (id, workspace_id, person_id, program_id, channel, address, kind, method, evidence, at) values (:event, :workspace, :id, :program, 'sms', 'here', 'opted-out', 'reply', '{}', :at)`,
          { event: `con_${i}_${j}`, id, program, at },
        );
      if (one.imported)
        await run(
          `insert into import_row (workspace_id, import_id, line, verdict, person_id) values (:workspace, 'imp_a', :i, :verdict, :id)`,
          { i: i + 1, id, verdict: i % 4 === 0 ? 'left-alone' : 'add' },
        );
      for (const voucher of new Map(one.vouchers.map((drawn) => [drawn.offer, drawn])).values()) {
        const voucherId = `vou_${i}_${voucher.offer}`;
        await run(
          `insert into voucher (id, workspace_id, offer_id, person_id, code, made_at, expires_at, uses_left)
           values (:voucherId, :workspace, :offer, :id, :voucherId, now(), :ends::timestamptz, :left)`,
          { voucherId, id, offer: voucher.offer, ends: voucher.ends, left: voucher.left },
        );
        if (voucher.used !== 'no')
          await run(
            `insert into redemption (id, workspace_id, voucher_id, at, undone_at) values (:voucherId, :workspace, :voucherId, now(), case when :undone then now() end)`,
            { voucherId, undone: voucher.used === 'undone' },
          );
      }
      if (one.batched)
        await run(
          `insert into batch_person (workspace_id, batch_id, seq, person_id) values (:workspace, 'bat_a', :i, :id)`,
          { i: i + 1, id },
        );
    }
    function reply(
      inbound: string,
      id: string,
      senderId: string,
      meaning: string,
      after: string | null,
      at: Date,
    ) {
      return run(
        `insert into inbound_text (id, workspace_id, person_id, channel, sender_id, from_number, carrier_id, body, meaning, rule, evidence, after_text_id, at) values (:inbound, :workspace, :id, 'sms', :senderId, '', :inbound, 'x', :meaning, 'x', 'x', :after, :at)`,
        { inbound, id, senderId, meaning, after, at },
      );
    }
  });
}

describe('the two meanings of a condition', () => {
  it('are one: the evaluator and the database give the same people for random trees', async () => {
    await world.within(async (scope) => {
      const ids = (
        await scope.rows<{ id: string }>(`select id from person where workspace_id = :workspace order by id`)
      ).map(({ id }) => id);
      const records = await personRecords(scope, ids);
      let some = 0;
      await fc.assert(
        fc.asyncProperty(condition, async (tree) => {
          const plan = planOf(tree, CONTEXT);
          if (!plan.ok) throw new Error(plan.reason.code);
          const { where, values } = compile(plan.value);
          const found = await scope.rows<{ id: string }>(
            `select p.id from person p where p.workspace_id = :workspace and ${where} order by p.id`,
            values,
          );
          const meant = ids.filter((id) => evaluate(plan.value, records.get(id)!));
          expect(found.map(({ id }) => id)).toEqual(meant);
          if (meant.length > 0 && meant.length < ids.length) some++;
        }),
        { numRuns: 300, seed: 7 },
      );
      // Trees that mean everybody or nobody prove little.
      expect(some).toBeGreaterThan(100);
    });
  });

  it('counts as many as it finds, and as many after each clause, however they are counted', async () => {
    await world.within(async (scope) => {
      // Some are gone: whoever counts in an index alone must take them off.
      await scope.run(
        `update person set erased_at = now() where workspace_id = :workspace and id in (select id from person where workspace_id = :workspace order by id limit 7)`,
      );
      await scope.run(
        `update person set merged_into = (select max(id) from person where workspace_id = :workspace)
          where workspace_id = :workspace and id in (select id from person where workspace_id = :workspace order by id offset 7 limit 6)`,
      );
      const ids = (
        await scope.rows<{ id: string }>(
          `select id from person where workspace_id = :workspace and merged_into is null and erased_at is null order by id`,
        )
      ).map(({ id }) => id);
      expect(ids).toHaveLength(PEOPLE - 13);
      const records = await personRecords(scope, ids);
      const cutOf = (compiled: ReturnType<typeof compile>) => ({
        condition: compiled,
        search: '',
        digits: '',
      });
      let quick = 0;
      await fc.assert(
        fc.asyncProperty(fc.array(condition, { minLength: 1, maxLength: 3 }), async (trees) => {
          const plans = trees
            .map((tree) => planOf(tree, CONTEXT))
            .flatMap((plan) => (plan.ok ? [plan.value] : []));
          const compiled = plans.map((plan, i) => compile(plan, `s${i}x`));
          const left = plans.map(
            (_, i) =>
              ids.filter((id) => plans.slice(0, i + 1).every((plan) => evaluate(plan, records.get(id)!)))
                .length,
          );
          const everybody = cutOf(compile({ op: 'and', of: [] }));
          const expected = [ids.length, ...left];
          expect(await countSteps(scope, everybody, compiled, 0)).toEqual(expected);
          expect(await countSteps(scope, everybody, compiled, Infinity)).toEqual(expected);
          expect(await countPeople(scope, cutOf(compiled[0]!))).toBe(left[0]);
          if (compiled[0]!.rows) quick++;
        }),
        { numRuns: 40, seed: 11 },
      );
      // Those that are counted in one table alone must be among them.
      expect(quick).toBeGreaterThan(2);
    });
  });

  it('finds nobody of another workspace', async () => {
    const plan = planOf(
      {
        any: [
          { ask: 'tag', id: 'lab_a', has: true },
          { ask: 'texts', test: 'at-least', count: 1, days: 400 },
        ],
      },
      CONTEXT,
    );
    const { where, values } = compile(plan.ok ? plan.value : { op: 'and', of: [] });
    const rows = await world.within(
      (scope) => scope.rows(`select 1 from person p where p.workspace_id = :workspace and ${where}`, values),
      'another',
    );
    expect(rows).toEqual([]);
  });

  it('fold letters alike, over the whole basic plane', async () => {
    const letters = Array.from({ length: 0xffff }, (_, i) => String.fromCharCode(i + 1)).filter(
      // Added in Unicode 16 and 17: the two sides' tables need not know them yet.
      (letter) => /\p{L}/u.test(letter) && !/[\u1c89\ua7cb-\ua7dc]/.test(letter),
    );
    const rows = await world.within((scope) =>
      scope.rows<{ letter: string; lower: string }>(
        `select letter, lower(letter) as lower from unnest(:letters::text[]) as u (letter) where :workspace is not null`,
        { letters },
      ),
    );
    expect(
      rows
        .filter(({ letter, lower }) => fold(letter) !== lower)
        .map(({ letter }) => letter.codePointAt(0)!.toString(16)),
    ).toEqual([]);
  });
});
