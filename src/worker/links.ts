import { log, withoutNumbers } from '@/log/log';
import type { LinkState } from '@/core/delivery/link';
import { SmppLink } from '@/gateways/smpp/link';
import {
  dropLink,
  readCarriers,
  sameLink,
  tellLink,
  tellSights,
  type CarrierToLink,
} from '@/services/delivery/carriers';
import type { Context } from '@/services/kit/context';
import { Delivery } from './delivery';
import { every, type Timer } from './every';
import type { Pulse } from './pulse';

/** How soon a carrier that is entered, changed or taken away is seen. */
const LOOK_MS = 1_000;

interface Running {
  carrier: CarrierToLink;
  link: SmppLink;
  delivery: Delivery;
  ended: Promise<void>;
  /** What was told last of what came over it. */
  told: string;
}

/** One link and one delivery for each carrier there is: one that is down holds up only the texts of its own numbers. */
export class Links {
  readonly #running = new Map<string, Running>();
  #timer: Timer | null = null;
  readonly #said = new Map<string, string>();

  constructor(
    private readonly ctx: Context,
    private readonly workerId: number,
    private readonly pulse: Pulse,
  ) {}

  /** Resolves when the links are begun. */
  async start(): Promise<void> {
    await this.#look();
    this.#timer = every(LOOK_MS, () => this.#look());
  }

  /** Something may be due. */
  wake(): void {
    for (const { delivery } of this.#running.values()) delivery.wake();
  }

  /** Resolves when everything that was begun has its outcome. */
  async stop(): Promise<void> {
    this.#timer?.stop();
    await Promise.all([...this.#running.keys()].map((id) => this.#end(id)));
  }

  async #look(): Promise<void> {
    const carriers = await readCarriers(this.ctx);
    for (const id of this.#running.keys())
      if (!carriers.some((carrier) => carrier.id === id)) await this.#end(id, true);
    for (const carrier of carriers) {
      const running = this.#running.get(carrier.id);
      if (running && sameLink(running.carrier, carrier)) this.#follow(running, carrier);
      else {
        await this.#end(carrier.id);
        this.#begin(carrier);
      }
    }
    for (const running of this.#running.values()) await this.#tellSights(running);
  }

  #begin(carrier: CarrierToLink): void {
    const { id, workspaceId, options } = carrier;
    const delivery = new Delivery(this.ctx, this.workerId, (state, why) => this.#tellState(id, state, why), {
      ours: { carrier: id, workspaceId },
      pulse: this.pulse,
    });
    const link = new SmppLink(options, delivery.events());
    this.#running.set(id, { carrier, link, delivery, ended: delivery.run(link), told: '' });
  }

  /** Stored for whoever looks, and said once in the log when it changes. */
  #tellState(carrier: string, state: LinkState, why: string | null): void {
    const words = `${state} ${why}`;
    if (state !== 'binding' && this.#said.get(carrier) !== words) {
      this.#said.set(carrier, words);
      log[state === 'up' ? 'info' : 'warn'](
        { carrier, link: state, ...(why ? { why: withoutNumbers(why) } : {}) },
        state === 'up' ? 'The link to the carrier is up.' : 'The link to the carrier is down.',
      );
    }
    void tellLink(this.ctx, this.workerId, carrier, state, why).catch((error: unknown) =>
      log.error({ err: error }, 'How a link stands could not be stored.'),
    );
  }

  #follow(running: Running, carrier: CarrierToLink): void {
    const { receiptIds } = carrier.options.profile;
    if (receiptIds !== running.carrier.options.profile.receiptIds) running.link.learn(receiptIds);
    running.carrier = carrier;
  }

  /** `gone`: the carrier was taken away. */
  async #end(id: string, gone = false): Promise<void> {
    const running = this.#running.get(id);
    if (!running) return;
    this.#running.delete(id);
    running.delivery.stop();
    await running.ended;
    if (gone) await dropLink(this.ctx, this.workerId, id);
  }

  async #tellSights(running: Running): Promise<void> {
    const sights = JSON.stringify(running.link.sights);
    if (sights === running.told) return;
    await tellSights(this.ctx, this.workerId, running.carrier.id, running.link.sights);
    running.told = sights;
  }
}
