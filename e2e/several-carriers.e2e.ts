import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { addSenderNumber } from '@/services/access/create-workspace';
import { enterCarrier } from '@/services/numbers/carriers';
import type { CarrierInput } from '@/services/numbers/inputs';
import { createProgram } from '@/services/programs/create-program';
import { createBroadcast, sendBroadcast } from '@/services/sends/broadcasts';
import { addCrowd } from '@/services/testing/crowd';
import { scratchDatabase, until } from './support/app';
import { ME, Works, type House } from './support/works';

const PORT = 4700;
const PEOPLE = 40;
const NUMBERS = { Sky: '+17195550110', Walks: '+17195550111' };

let works: Works;
let sky: House;
let walks: House;
beforeAll(async () => {
  works = await Works.start(PORT, await scratchDatabase('test_carriers'));
  await works.toNoon();
  sky = await furnished('Sky', null);
  walks = await furnished('Walks', {
    ...{ name: 'Second', host: '127.0.0.1', port: PORT + 5, system_id: 'second', password: 'bench' },
  });
});
afterAll(() => works?.close());

/** A workspace with a program, its people and a number: of a carrier of its own, or of the installation's. */
async function furnished(name: keyof typeof NUMBERS, carrier: CarrierInput | null): Promise<House> {
  const house = await works.house(name.toLowerCase());
  const { ctx } = house;
  await house.within(async (scope) => {
    const own = carrier && (await enterCarrier(ctx, scope, carrier, 'test'));
    if (own?.ok === false) throw new Error(JSON.stringify(own.reason));
    await addSenderNumber(ctx, scope, {
      ...{ number: NUMBERS[name], kind: 'short-code', registration: 'registered', partsPerSecond: 500 },
      ...(own ? { carrierId: own.value.id } : {}),
    });
    const program = await createProgram(ctx, scope, { name, purpose: 'utility' }, 'test');
    if (!program.ok) throw new Error(JSON.stringify(program.reason));
    await addCrowd(scope, program.value.id, PEOPLE, { name });
  });
  return house;
}

const send = ({ ctx, within }: House, program: string): Promise<void> =>
  within(async (scope) => {
    const made = await createBroadcast(
      ctx,
      scope,
      { program, name: program, body: `${program} tonight.` },
      ME,
    );
    if (!made.ok || !(await sendBroadcast(ctx, scope, made.value.id, {}, ME)).ok) throw new Error('refused');
  });

const states = async ({ within }: House): Promise<Record<string, number>> =>
  Object.fromEntries(
    (
      await within((scope) =>
        scope.rows<{ state: string; n: number }>(
          `select state, count(*)::int as n from message where workspace_id = :workspace group by 1`,
        ),
      )
    ).map(({ state, n }) => [state, n]),
  );

describe('two carriers, one of them away', () => {
  it('hold only the texts of the numbers of that one; the other’s odd receipts are understood', async () => {
    await works.bench.call('PUT', '/second/habits', {
      ...{ ids: 'hexadecimal, then decimal', receipt_parameters: 'none', packets: 'cut anywhere' },
    });
    // The first does not let anybody in.
    await works.bench.call('PUT', '/carrier/habits', { binds: 'one out and one in' });
    await works.startWorker();
    await send(walks, 'Walks');
    await send(sky, 'Sky');
    await until(
      () => states(walks),
      (found) => (found.submitted ?? 0) + (found.delivered ?? 0) === PEOPLE,
      20_000,
    );
    // The other is made ready at its own time; then it waits.
    expect(
      await until(
        () => states(sky),
        (found) => found.queued === PEOPLE,
        20_000,
      ),
    ).toEqual({ queued: PEOPLE });
    // Another meaning of an id counts only after the very id had time to come.
    await works.bench.advance('PT10S');
    expect(
      await until(
        () => states(walks),
        (found) => found.delivered === PEOPLE,
        20_000,
      ),
    ).toEqual({ delivered: PEOPLE });
    await works.bench.call('PUT', '/carrier/habits', { binds: 'any' });
    expect(
      await until(
        () => states(sky),
        (found) => found.delivered === PEOPLE,
        60_000,
      ),
    ).toEqual({ delivered: PEOPLE });
  });
});
