import type { MailGateway } from '@/gateways/mail/sender';
import { storeEach, storeAnswers } from '@/services/delivery/store-answers';
import { claimDueMails, handOverMail } from '@/services/email/send-mail';
import type { Context } from '@/services/kit/context';

const IDLE_MS = 250;

/** Hands letters over for as long as it runs. Several workers can, each with its own connections. */
export class MailDelivery {
  #running = true;
  #wake: () => void = () => {};
  readonly #underWay = new Set<Promise<void>>();

  constructor(
    private readonly ctx: Context,
    private readonly workerId: number,
    private readonly gateway: MailGateway,
  ) {}

  async run(): Promise<void> {
    while (this.#running) if (!(await this.#round())) await this.#idle();
    await Promise.all(this.#underWay);
    await this.gateway.close();
  }

  /** Something may be due. */
  wake(): void {
    this.#wake();
  }

  stop(): void {
    this.#running = false;
    this.wake();
  }

  /** False when there is nothing to do at once. */
  async #round(): Promise<boolean> {
    const room = this.gateway.free() - this.#underWay.size;
    if (room <= 0) return false;
    try {
      const leaving = await claimDueMails(this.ctx, this.workerId, room);
      for (const mail of leaving) this.#take(this.#send(mail));
      return leaving.length > 0;
    } catch (error) {
      console.error('Letters could not be claimed; it is tried again.', error);
      return false;
    }
  }

  #take(work: Promise<void>): void {
    const done = work.finally(() => (this.#underWay.delete(done), this.wake()));
    this.#underWay.add(done);
  }

  /** What became of a letter is known here only: it is stored as soon as the database can be reached. */
  async #send(mail: Awaited<ReturnType<typeof claimDueMails>>[number]): Promise<void> {
    const outcome = await handOverMail(this.ctx, this.gateway, mail);
    for (;;)
      try {
        await storeAnswers(this.ctx, [outcome], []).catch(() => storeEach(this.ctx, [outcome], []));
        return;
      } catch (error) {
        console.error('What became of a letter is stored when the database can be reached.', error);
        await new Promise((resolve) => setTimeout(resolve, 500));
      }
  }

  #idle(): Promise<void> {
    return new Promise((resolve) => {
      this.#wake = resolve;
      setTimeout(resolve, IDLE_MS);
    });
  }
}
