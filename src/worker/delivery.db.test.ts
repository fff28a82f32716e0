import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Carrier, OutgoingPart, SubmitOutcome } from '@/gateways/carrier';
import { makeWorld, NUMBER, phone, type World } from '@/services/testing/world';
import { Delivery } from './delivery';

/** A carrier with a window, that takes all it is given when told to. */
class Held implements Carrier {
  readonly parts: OutgoingPart[] = [];
  readonly #open: ((refusal?: SubmitOutcome) => void)[] = [];
  constructor(private readonly window: number) {}

  free = () => this.window - this.#open.length;
  close = async () => this.answer();

  submit(part: OutgoingPart): Promise<SubmitOutcome> {
    this.parts.push(part);
    const carrierId = `c${this.parts.length}`;
    return new Promise((resolve) =>
      this.#open.push((refusal) => resolve(refusal ?? { kind: 'taken', carrierId })),
    );
  }

  answer(most = this.#open.length, refusal?: SubmitOutcome): void {
    for (const resolve of this.#open.splice(0, most)) resolve(refusal);
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
      scope.rows<{ state: string }>(`select state from message where workspace_id = :workspace`),
    )
  ).map(({ state }) => state);
const count = (all: readonly string[]): Record<string, number> => {
  const counts: Record<string, number> = {};
  for (const one of all) counts[one] = (counts[one] ?? 0) + 1;
  return counts;
};
const soon = (good: () => unknown) => vi.waitFor(good, { timeout: 60_000, interval: 20 });

/** Confirmations wait for as many people; the loop has handed the first of them to a carrier with this window. */
async function sending({ people, window, holdMs }: { people: number; window: number; holdMs?: number }) {
  for (let i = 0; i < people; i++) await world.texts(phone(i), 'sky');
  const carrier = new Held(window);
  const delivery = new Delivery(world.ctx, 1, () => {}, { holdMs });
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

  it('has the next texts at hand while the carrier answers; what finds no room goes back, and leaves once', async () => {
    const { carrier, stop } = await sending({ people: 7, window: 2, holdMs: 3_000 });
    carrier.answer();
    // Two are on the wire, two at hand: no more, however many wait.
    await soon(async () => expect(count(await states())).toEqual({ submitted: 2, submitting: 4, queued: 1 }));
    expect(carrier.parts).toHaveLength(4);
    // The carrier is silent: nobody is texted long after they were cleared.
    await soon(async () => expect(count(await states())).toEqual({ submitted: 2, submitting: 2, queued: 3 }));
    expect(carrier.parts).toHaveLength(4);
    await soon(() => {
      carrier.answer();
      expect(carrier.parts).toHaveLength(7);
    });
    carrier.answer();
    await soon(async () => expect(await states()).toEqual(Array(7).fill('submitted')));
    expect(new Set(carrier.parts.map(({ to }) => to)).size).toBe(7);
    await stop();
  });

  it('gives back what is at hand when the carrier asks to slow down, without counting an attempt', async () => {
    const { carrier, stop } = await sending({ people: 6, window: 2, holdMs: 60_000 });
    carrier.answer();
    await soon(async () => expect(count(await states()).submitting).toBe(4));
    carrier.answer(1, { kind: 'refused', reason: 'throttled', status: 0x58 });
    await soon(async () => expect(count(await states())).toEqual({ submitted: 2, submitting: 1, queued: 3 }));
    const waiting = await world.within((scope) =>
      scope.rows<{ attempts: number; failure: string | null }>(
        `select attempts, failure from message where workspace_id = :workspace and state = 'queued' order by attempts`,
      ),
    );
    expect(waiting).toEqual([
      { attempts: 0, failure: null },
      { attempts: 0, failure: null },
      { attempts: 1, failure: 'throttled' },
    ]);
    expect(carrier.parts).toHaveLength(4);
    await stop();
  });

  it('does not text somebody from what is at hand whose STOP came meanwhile', async () => {
    const { carrier, delivery, stop } = await sending({ people: 4, window: 1, holdMs: 60_000 });
    carrier.answer();
    await soon(async () => expect(count(await states())).toEqual({ submitted: 1, submitting: 2, queued: 1 }));
    const atHand = await world.within((scope) =>
      scope.rows<{ number: string }>(
        `select address as number from message where workspace_id = :workspace and state = 'submitting' and not address = any(:written)`,
        { written: carrier.parts.map(({ to }) => to) },
      ),
    );
    expect(atHand).toHaveLength(1);
    const { number } = atHand[0]!;
    await delivery.events().text({ carrierId: 'stop', from: number, to: NUMBER, body: 'STOP', concat: null });
    await soon(() => {
      carrier.answer();
      expect(carrier.parts).toHaveLength(4);
    });
    // Their welcome was called back; all they get is the confirmation that they are out.
    const toThem = carrier.parts.filter(({ to }) => to === number);
    expect(toThem.map(({ body }) => body)).toEqual([expect.stringContaining('opted out')]);
    await stop();
  });

  it('gives back what is at hand when it is stopped', async () => {
    const { carrier, stop } = await sending({ people: 6, window: 2, holdMs: 60_000 });
    carrier.answer();
    await soon(async () => expect(count(await states()).submitting).toBe(4));
    await stop();
    expect(count(await states())).toEqual({ submitted: 4, queued: 2 });
  });

  it('stores what became of submits when a receipt beside them cannot be stored, and refuses only that', async () => {
    const silent = vi.spyOn(console, 'error').mockImplementation(() => {});
    const { carrier, delivery, stop } = await sending({ people: 2, window: 10 });
    carrier.answer();
    const receipt = { stat: 'DELIVRD' as const, err: '000', number: phone(0), userReference: null };
    // This one fails the transaction it is in.
    await world.poison('orphan_receipt', `new.carrier_id = 'poison'`);
    const refused = delivery.events().receipt({ ...receipt, carrierId: 'poison' });
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
