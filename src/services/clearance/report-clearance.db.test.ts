import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { HOUR } from '@/core/shared/instant';
import { clearAudience } from './clear-audience';
import { loadProgramFacts } from './clearance-facts';
import { personFacts } from '@/db/clearance/clearance-facts';
import { acrossWorkspaces } from '@/db/kit/scope';
import { plansOf } from '@/db/testing/plans';
import { checkClearance } from './check-clearance';
import { findProgram } from '@/services/programs/find-program';
import { peopleBehind, reportClearance, type DraftQuestion } from './report-clearance';
import type { DraftStep } from './so-far';
import { AT_ONCE } from '@/core/broadcast/timing';
import { parseTemplate } from '@/core/text/template';
import { addCrowd } from '@/services/testing/crowd';
import { createBroadcast, sendBroadcast } from '@/services/sends/broadcasts';
import { must } from '@/services/testing/people';
import { makeWorld, NOON, type World } from '@/services/testing/world';

let world: World;
const BODY =
  'Juniper Gap Observatory: Hi {$person.first_name :wren:field fallback=friend}. Reply STOP to stop.';
const question = (over: Partial<DraftQuestion> = {}): DraftQuestion => ({
  program: 'Clear Sky Alerts',
  body: BODY,
  at: NOON,
  senderName: 'Tess',
  personId: null,
  ...over,
});

beforeAll(async () => {
  world = await makeWorld({ program: { promise: { count: 2, period: 'month' } } });
  const program = await world.within((scope) => findProgram(scope, 'clear sky alerts'));
  await world.within((scope) => addCrowd(scope, program!.id, 1_200));
  const change = (sql: string) => world.within((scope) => scope.run(`${sql} and workspace_id = :workspace`));
  await change(
    `update address set line_type = 'landline' where person_id in ('per_crowd00000001', 'per_crowd00000002')`,
  );
  await change(`update person set unclear_since = now() where id = 'per_crowd00000003'`);
  await change(
    `update consent_state set state = 'out' where person_id in ('per_crowd00000004', 'per_crowd00000005', 'per_crowd00000006')`,
  );
  await change(`update person set first_name = 'Łucja' where id = 'per_crowd00000007'`);
});
afterAll(() => world.close());

const report = async (over: Partial<DraftQuestion> = {}) => {
  const result = await world.within((scope) => reportClearance(scope, question(over)));
  if (!result.ok) throw new Error(result.reason.problems[0]!.message);
  return result.value;
};

describe('the facts of a slice', () => {
  it('are looked up person by person: no table is read whole for each two hundred who are asked about', async () => {
    await acrossWorkspaces(world.ctx.orm, (crossing) => crossing.run(`analyze address`));
    const plans = await world.within(async (scope) => {
      const program = await findProgram(scope, 'clear sky alerts');
      const ids = Array.from({ length: 200 }, (_, i) => `per_crowd${String(i + 1).padStart(8, '0')}`);
      const asked = { programId: program!.id, channel: 'sms' as const, ids };
      return plansOf(scope, (explaining) => personFacts(explaining, asked));
    });
    expect(plans).toContain('"Index Name":"address_pkey"');
    expect(plans).not.toContain('"Hash Join"');
    expect(plans).not.toMatch(/"Node Type":"Seq Scan"[^{}]*"Relation Name":"address"/);
  });
});

describe('the clearance report', () => {
  it('sorts the whole audience, slice after slice, with the reasons', async () => {
    const { report: sorted } = await report();
    expect(sorted).toMatchObject({ people: 1_200, cleared: 1_194, held: 1, blocked: 5 });
    expect(Object.fromEntries(sorted.lines.map(({ code, people }) => [code, people]))).toEqual({
      'opted-out': 3,
      landline: 2,
      'reply-unclear': 1,
    });
  });

  it('costs copy by copy, only those who get one', async () => {
    const { cost } = await report();
    expect(cost).toMatchObject({ people: 1_195, parts: 1_195 });
    expect(cost.groups).toMatchObject([
      { alphabet: 'GSM-7', parts: 1, people: 1_194 },
      { alphabet: 'UCS-2', parts: 1, people: 1, because: ['Ł'] },
    ]);
  });

  it('shows how it reads for a chosen person, else for the first who gets it', async () => {
    expect((await report()).sample).toMatchObject({ verdict: expect.stringMatching(/cleared|held/) });
    expect((await report({ personId: 'per_crowd00000007' })).sample).toMatchObject({
      name: 'Łucja',
      text: 'Juniper Gap Observatory: Hi Łucja. Reply STOP to stop.',
      alphabet: 'UCS-2',
    });
    expect((await report({ personId: 'per_crowd00000009' })).sample!.text).toContain('Hi friend.');
    expect((await report({ personId: 'per_crowd00000004' })).sample).toMatchObject({ verdict: 'blocked' });
  });

  it('holds those whose hours are closed, each until their own morning', async () => {
    const { report: night } = await report({ at: NOON + 10 * HOUR });
    expect(night.cleared).toBe(0);
    const quiet = night.lines.find(({ code }) => code === 'quiet-hours')!;
    // Whoever is blocked as well waits for no morning.
    const unclear = night.lines.find(({ code }) => code === 'reply-unclear')!;
    expect(quiet.people + unclear.people).toBe(night.held);
    expect(night.held + night.blocked).toBe(1_200);
    expect(quiet.earliest!).toBeLessThan(quiet.latest!);
  });

  it('says when credits do not suffice', async () => {
    await world.within((scope) =>
      scope.run(`update workspace set credit_balance = 1000 where id = :workspace`),
    );
    const short = await report();
    expect(short.report.lines.find(({ code }) => code === 'no-credits')!.people).toBeGreaterThanOrEqual(194);
    expect(short.creditsLeft).toBe(1_000);
    await world.within((scope) =>
      scope.run(`update workspace set credit_balance = 100000 where id = :workspace`),
    );
  });

  it('offers swaps in the source and says what they save over all who get it', async () => {
    const { swaps, cost } = await report({ body: `${BODY} It’s clear – come` });
    expect(swaps).toMatchObject({ text: `${BODY} It's clear - come`, partsBefore: cost.parts });
    const plain = await report({ body: swaps!.text });
    expect(swaps!.partsAfter).toBe(plain.cost.parts);
    expect(plain.cost.parts).toBeLessThan(cost.parts);
    expect((await report()).swaps).toBeNull();
  });

  it('opens to the people behind a reason, or a verdict', async () => {
    const behind = async (
      verdict: 'cleared' | 'held' | 'blocked' | null,
      code: 'opted-out' | 'landline' | null,
      most = 10,
    ) => {
      const result = await world.within((scope) => peopleBehind(scope, question(), { verdict, code }, most));
      return result.ok ? result.value : null;
    };
    expect((await behind(null, 'opted-out'))!.people.map(({ personId }) => personId)).toEqual([
      'per_crowd00000004',
      'per_crowd00000005',
      'per_crowd00000006',
    ]);
    expect(await behind('cleared', null, 3)).toMatchObject({ total: 1_194, people: { length: 3 } });
    expect((await behind('blocked', null))!.total).toBe(5);
  });

  it.each([
    [{ program: 'Nope' }, 'program'],
    [{ body: 'Hi {name}' }, 'body'],
    [{ body: 'Hi {$person.first_name' }, 'body'],
  ])('refuses %j', async (over, field) => {
    const result = await world.within((scope) => reportClearance(scope, question(over)));
    expect(result).toMatchObject({ ok: false, reason: { code: 'invalid', problems: [{ field }] } });
  });

  it('of several wordings counts what each of them gets, and shows the one that is looked at', async () => {
    const long = `${BODY} ${'Bring a coat. '.repeat(12)}`;
    const wordings = [
      { subject: null, body: BODY },
      { subject: null, body: long },
    ];
    const both = await report({ body: long, wordings });
    expect(both.sample!.text).toContain('Bring a coat');
    const [short, all] = [await report(), await report({ body: long })];
    expect(both.cost.parts).toBeGreaterThan(short.cost.parts);
    expect(both.cost.parts).toBeLessThan(all.cost.parts);
  });

  it('says when how many would leave, and what each number would carry', async () => {
    const pace = { people: 60, per: 'hour' as const };
    const { leaving, senders, report: sorted } = await report({ timing: { ...AT_ONCE, pace } });
    const people = leaving.steps.reduce((sum, step) => sum + step.people, 0);
    expect(people + leaving.never).toBe(sorted.cleared);
    expect(leaving.last! - leaving.first!).toBeGreaterThan(24 * 3_600_000);
    expect(senders.map(({ people: carried }) => carried)).toEqual([people]);
  });

  it('tells who waits how many there are and what is known of those looked at, and is given up when nobody does', async () => {
    const luc = JSON.stringify({ all: [{ ask: 'field', field: 'first_name', test: 'is', value: 'Łucja' }] });
    for (const audience of [null, luc]) {
      const told: DraftStep[] = [];
      const { signal } = new AbortController();
      const watch = { tell: (step: DraftStep) => told.push(step), everyMs: 0, signal };
      const whole = await world.within(async (scope) =>
        reportClearance(scope, question({ audience }), watch),
      );
      if (!whole.ok) throw new Error('refused');
      expect(told.length).toBe(audience ? 1 : 2);
      expect(new Set(told.map(({ people }) => people))).toEqual(new Set([whole.value.report.people]));
      expect(told.at(-1)).toMatchObject({ report: whole.value.report, sample: whole.value.sample });
      expect(told[0]!.report.people).toBe(Math.min(1_000, whole.value.report.people));
    }
    const several = [
      { subject: null, body: 'One.' },
      { subject: null, body: 'Two.' },
    ];
    for (const { body } of several) {
      const told: DraftStep[] = [];
      const watch = { tell: (step: DraftStep) => told.push(step), everyMs: 0, signal: AbortSignal.any([]) };
      await world.within((scope) => reportClearance(scope, question({ body, wordings: several }), watch));
      expect(told.map(({ sample }) => sample?.text)).toEqual([body, body]);
    }
    const left = new AbortController();
    const leaving = { tell: () => left.abort(), everyMs: 0, signal: left.signal };
    const given = world.within((scope) => reportClearance(scope, question(), leaving));
    await expect(given).rejects.toThrow(/abort/i);
    await expect(
      world.within((scope) => peopleBehind(scope, question(), { verdict: null, code: null }, 5, left.signal)),
    ).rejects.toThrow(/abort/i);
  });

  it('goes on from where a slice ended', async () => {
    const template = parseTemplate(BODY);
    if (!template.ok) throw new Error('unreadable');
    const ids = await world.within(async (scope) => {
      const program = await findProgram(scope, 'Clear Sky Alerts');
      const facts = (await loadProgramFacts(scope, program!.id, NOON))!;
      const seen: string[] = [];
      for await (const slice of clearAudience(
        scope,
        { facts, wording: { body: template.value, subject: null }, senderName: null, at: NOON },
        'per_crowd00000600',
      ))
        seen.push(...slice.map(({ person }) => person.id));
      return seen;
    });
    expect([ids.length, ids[0], ids.at(-1)]).toEqual([600, 'per_crowd00000601', 'per_crowd00001200']);
  });
});

describe('a broadcast after others that are scheduled', () => {
  it('finds the promise used up by them, by whom they mean, and not by what goes after it', async () => {
    const schedule = async (name: string, days: number, audience: string | null) => {
      const input = {
        program: 'Clear Sky Alerts',
        name,
        body: `${BODY} ${name}`,
        ...(audience ? { audience } : {}),
      };
      const me = { name: 'test', accountId: null };
      const made = await world.within((scope) => createBroadcast(world.ctx, scope, input, me));
      const at = new Date(NOON + days * 24 * HOUR).toISOString();
      await world.within((scope) => sendBroadcast(world.ctx, scope, must(made).id, { at }, me));
    };
    const only = JSON.stringify({ all: [{ ask: 'field', field: 'first_name', test: 'is', value: 'Łucja' }] });
    const before = (await report({ at: NOON + 72 * HOUR })).report;
    await schedule('One', 1, null);
    await schedule('Two', 2, only);
    await schedule('Later', 4, null);
    const { lines, cleared } = (await report({ at: NOON + 72 * HOUR })).report;
    // Two a month were promised: one goes to all before it, a second to her alone.
    expect(lines.find(({ code }) => code === 'frequency-promise')).toMatchObject({
      effect: 'block',
      people: 1,
    });
    expect(cleared).toBe(before.cleared - 1);
    expect((await report()).report.lines.map(({ code }) => code)).not.toContain('frequency-promise');
  });
});

describe('a question about one person', () => {
  const check = async (input: object) => {
    const result = await world.within((scope) =>
      checkClearance(scope, {
        program: 'Clear Sky Alerts',
        at: '2026-11-24T12:00:00-07:00',
        ...input,
      } as never),
    );
    return result.ok
      ? { verdict: result.value.verdict, codes: result.value.reasons.map(({ code }) => code) }
      : result.reason.problems[0]!.field;
  };
  it.each([
    [{ person_id: 'per_crowd00000008' }, { verdict: 'cleared', codes: [] }],
    [{ person_id: 'per_crowd00000004' }, { verdict: 'blocked', codes: ['opted-out'] }],
    [{ person_id: 'per_crowd00000003' }, { verdict: 'held', codes: ['reply-unclear'] }],
    [
      { person_id: 'per_crowd00000008', at: '2026-11-25T03:00:00-07:00' },
      { verdict: 'held', codes: ['quiet-hours'] },
    ],
    [
      { person_id: 'per_crowd00000008', body: 'x'.repeat(1_600) },
      { verdict: 'blocked', codes: ['too-long'] },
    ],
    [
      { person_id: 'per_crowd00000009', body: 'Hi {$person.first_name}' },
      { verdict: 'blocked', codes: ['empty-field'] },
    ],
    [{ number: '+442079460958' }, { verdict: 'blocked', codes: ['no-consent'] }],
    [{ number: 'x' }, 'number'],
    [{ number: '+13035550199', person_id: 'per_crowd00000008' }, 'number'],
    [{ person_id: 'nobody' }, 'id'],
    [{ number: '+13035550199', address: { region: 'ZZ' } }, 'address.region'],
  ])('%j', async (input, answer) => expect(await check(input)).toEqual(answer));
});
