import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Carrier, OutgoingPart, SubmitOutcome } from '@/gateways/carrier';
import { makeWorld, NUMBER, phone, type World } from '@/services/testing/world';
import { Delivery } from './delivery';

/** A carrier with a window, that takes all it is given when told to. */
class Held implements Carrier {
  readonly parts: OutgoingPart[] = [];
  readonly #open: (() => void)[] = [];
  constructor(private readonly window: number) {}

  free = () => this.window - this.#open.length;
  close = async () => this.answer();

  submit(part: OutgoingPart): Promise<SubmitOutcome> {
    this.parts.push(part);
    const carrierId = `c${this.parts.length}`;
    return new Promise((resolve) => this.#open.push(() => resolve({ kind: 'taken', carrierId })));
  }

  answer(most = this.#open.length): void {
    for (const resolve of this.#open.splice(0, most)) resolve();
  }
}

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const states = async () =>
  (
    await world.within((scope) =>
      scope.rows<{ state: string }>(`select state from text where workspace_id = :workspace`),
    )
  ).map(({ state }) => state);
const soon = (good: () => unknown) => vi.waitFor(good, { timeout: 20_000, interval: 20 });

/** Confirmations wait for as many people; the loop has handed the first of them to a carrier with this window. */
async function sending({ people, window }: { people: number; window: number }) {
  for (let i = 0; i < people; i++) await world.texts(phone(i), 'sky');
  const carrier = new Held(window);
  const delivery = new Delivery(world.ctx, 1, () => {});
  const running = delivery.run(carrier);
  await soon(() => expect(carrier.parts).toHaveLength(Math.min(people, window)));
  const stop = () => {
    delivery.stop();
    return running;
  };
  return { carrier, delivery, stop };
}

describe('the loop that sends', () => {
  it('never has more under way than the window holds, and goes on as answers come', async () => {
    const { carrier, stop } = await sending({ people: 5, window: 2 });
    expect(carrier.free()).toBe(0);
    carrier.answer();
    await soon(() => expect(carrier.parts).toHaveLength(4));
    carrier.answer();
    await soon(() => expect(carrier.parts).toHaveLength(5));
    carrier.answer();
    await soon(async () => expect(await states()).toEqual(Array(5).fill('submitted')));
    await stop();
  });

  it('does not wait for one slow answer while there is room beside it', async () => {
    const { carrier, stop } = await sending({ people: 6, window: 3 });
    // Two of three answer: less than a claim is worth, but patience ends.
    carrier.answer(2);
    await soon(() => expect(carrier.parts.length).toBeGreaterThan(3));
    await stop();
  });

  it('stores what became of submits when a receipt beside them cannot be stored, and refuses only that', async () => {
    const silent = vi.spyOn(console, 'error').mockImplementation(() => {});
    const { carrier, delivery, stop } = await sending({ people: 2, window: 10 });
    carrier.answer();
    const receipt = { stat: 'DELIVRD' as const, err: '000', number: phone(0), userReference: null };
    // PostgreSQL stores no null character: this one fails the transaction it is in.
    const refused = delivery.events().receipt({ ...receipt, carrierId: 'c\0' });
    await expect(refused).rejects.toThrow();
    await soon(async () => expect(await states()).toEqual(['submitted', 'submitted']));
    await delivery.events().receipt({ ...receipt, carrierId: 'c1' });
    expect((await states()).sort()).toEqual(['delivered', 'submitted']);
    await stop();
    silent.mockRestore();
  });

  it('stores the answers that come while it is being stopped', async () => {
    const { carrier, stop } = await sending({ people: 1, window: 10 });
    await stop();
    expect(await states()).toEqual(['submitted']);
    expect(carrier.parts[0]!.from).toBe(NUMBER);
  });
});
