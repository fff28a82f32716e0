import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import { addSenderNumber } from '@/services/access/create-workspace';
import { setMailFrom } from '@/services/email/settings';
import { createProgram } from '@/services/programs/create-program';
import { addCrowd, fictionNumbers } from '@/services/testing/crowd';
import { createBroadcast, sendBroadcast } from '../src/services/sends/broadcasts';
import { scratchDatabase, until } from './support/app';
import { Series } from './support/series';
import { ME, Works } from './support/works';

const PEOPLE = 2_000;
const LETTERS = 600;
const IN_SEQUENCE = 400;

let works: Works;

beforeAll(async () => {
  works = await Works.start(4531, await scratchDatabase('test_kill'));
});
afterEach(() => works.killWorkers());
afterAll(() => works?.close());

describe('a worker killed in the middle of a broadcast', () => {
  it(`texts each of ${PEOPLE} people exactly once, and loses none`, async () => {
    const { ctx, within } = await works.house('kill');
    await within((scope) =>
      addSenderNumber(ctx, scope, {
        number: '55501',
        kind: 'short-code',
        registration: 'registered',
        partsPerSecond: 350,
      }),
    );
    const program = await within((scope) =>
      createProgram(ctx, scope, { name: 'Sky', purpose: 'utility' }, 'test'),
    );
    if (!program.ok) throw new Error('no program');
    await within((scope) => addCrowd(scope, program.value.id, PEOPLE));
    const state = () =>
      within((scope) =>
        scope.rows<{ state: string; n: number }>(
          `select state, count(*)::int as n from message where workspace_id = :workspace group by state`,
        ),
      );
    await works.toNoon();
    const sent = await within(async (scope) => {
      const made = await createBroadcast(
        ctx,
        scope,
        { program: 'Sky', name: 'Kill', body: 'Clear tonight.' },
        ME,
      );
      if (!made.ok) throw new Error('no broadcast');
      return sendBroadcast(ctx, scope, made.value.id, {}, ME);
    });
    expect(sent.ok).toBe(true);
    const underWay = async () => (await state()).find((row) => row.state === 'submitting')?.n ?? 0;
    // Killed while preparing, and again and again while sending: at moments nobody chose, and as texts are on their way.
    const kills: number[] = [];
    for (let round = 0; round < 7; round++) {
      await works.startWorker();
      if (round % 2 === 0)
        await new Promise((resolve) => setTimeout(resolve, 60 + Math.random() * (round === 0 ? 300 : 900)));
      else await until(underWay, (n) => n > 0, 20_000, 5);
      await works.killWorker();
      kills.push(await underWay());
    }
    // Two to the end: receipts come over one's link while the answers come over the other's.
    await works.startTwo();
    await until(
      state,
      (rows) =>
        rows.every((row) => row.state === 'delivered' || row.state === 'unconfirmed') &&
        rows.reduce((sum, row) => sum + row.n, 0) === PEOPLE,
      60_000,
    );
    // What the carrier never took stays unconfirmed until its silence proves it: after the validity and a margin.
    await works.bench.advance('PT4H20M');
    await new Promise((resolve) => setTimeout(resolve, 2_500));
    await works.bench.advance('PT15M');
    const end = await until(state, (rows) => rows.length === 1 && rows[0]!.state === 'delivered', 60_000);
    expect(end, `texts on the way at the kills: ${kills.join(', ')}`).toEqual([
      { state: 'delivered', n: PEOPLE },
    ]);
    const counts = new Map<number, number>();
    for (const number of fictionNumbers(PEOPLE)) {
      const got = (await works.bench.texts(number)).length;
      counts.set(got, (counts.get(got) ?? 0) + 1);
    }
    expect([...counts.entries()]).toEqual([[1, PEOPLE]]);
    // No receipt lies beside the part it is about.
    expect(
      await within((scope) =>
        scope.rows(
          `select 1 from orphan_receipt o join text_part p on p.carrier_id = o.carrier_id where p.workspace_id = :workspace`,
        ),
      ),
    ).toEqual([]);
    // The test is worth something only if a kill found texts on their way.
    expect(Math.max(...kills)).toBeGreaterThan(0);
  });
});

describe('a worker killed in the middle of letters', () => {
  it(`writes to each of ${LETTERS} mailboxes once at most, and says of each letter whether it came`, async () => {
    const { ctx, within } = await works.house('letters');
    const program = await within(async (scope) => {
      await setMailFrom(ctx, scope, { from: 'sky@example.org', postal_address: '1 Hill Road' }, ME);
      return createProgram(ctx, scope, { name: 'Letters', purpose: 'utility' }, 'test');
    });
    if (!program.ok) throw new Error('no program');
    await within((scope) =>
      addCrowd(scope, program.value.id, LETTERS, { name: 'letters', channel: 'email' }),
    );
    const letters = () =>
      within((scope) =>
        scope.rows<{ address: string; state: string }>(
          `select address, state from message where workspace_id = :workspace`,
        ),
      );
    await within(async (scope) => {
      const made = await createBroadcast(
        ctx,
        scope,
        {
          ...{ program: 'Letters', name: 'Letters', channel: 'email' },
          ...{ subject: 'Clear', body: 'Clear tonight.' },
        },
        ME,
      );
      if (!made.ok) throw new Error(JSON.stringify(made.reason));
      return sendBroadcast(ctx, scope, made.value.id, {}, ME);
    });
    const underWay = async () => (await letters()).filter(({ state }) => state === 'submitting').length;
    const kills: number[] = [];
    for (let round = 0; round < 5; round++) {
      await works.startWorker();
      await until(underWay, (n) => n > 0, 20_000, 5);
      await works.killWorker();
      kills.push(await underWay());
    }
    await works.startWorker();
    const end = await until(
      letters,
      (rows) =>
        rows.length === LETTERS &&
        rows.every(({ state }) => state === 'delivered' || state === 'unconfirmed'),
      60_000,
    );
    const { mailboxes } = await works.bench.call<{ mailboxes: { address: string; mails: number }[] }>(
      'GET',
      '/mailboxes',
    );
    expect(mailboxes.filter(({ mails }) => mails !== 1)).toEqual([]);
    // Nothing is written again on a guess: what may have come stays open, what came is known by its notice.
    const came = new Set(mailboxes.map(({ address }) => address));
    expect(
      end.filter(({ address, state }) => state !== (came.has(address) ? 'delivered' : 'unconfirmed')),
    ).toEqual([]);
    expect(came.size).toBeGreaterThanOrEqual(LETTERS - kills.reduce((sum, n) => sum + n, 0));
    expect(Math.max(...kills)).toBeGreaterThan(0);
  });
});

describe('a worker killed in the middle of a sequence', () => {
  it(`gives each of ${IN_SEQUENCE} people each of its lines once, and loses nobody`, async () => {
    const series = await Series.begin(works, IN_SEQUENCE);
    // Killed as they come in, as their texts are queued, and as these leave.
    await works.startWorker();
    await until(series.enrolled, (n) => n > 0, 20_000, 2);
    await works.killWorker();
    for (let round = 0; round < 6; round++) {
      await works.startWorker();
      await new Promise((resolve) => setTimeout(resolve, 100 + Math.random() * 700));
      await works.killWorker();
      if (round === 2) await works.bench.advance('PT1M');
    }
    await works.startTwo();
    await series.expectOnceEach();
  });
});
