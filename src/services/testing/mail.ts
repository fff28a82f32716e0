import { createTransport } from 'nodemailer';
import { listenForMail, type IncomingMail, type MailListener } from '@/gateways/mail/listener';
import { resolverOf } from '@/gateways/mail/proof';
import { smtpMail, type MailGateway } from '@/gateways/mail/sender';
import { storeAnswers } from '@/services/delivery/store-answers';
import { mailboxes } from '@/services/mailboxes';
import { claimDueMails, handOverMail } from '@/services/email/send-mail';
import { setMailFrom } from '@/services/email/settings';
import { createPerson } from '@/services/people/create-person';
import { createBroadcast, sendBroadcast } from '@/services/sends/broadcasts';
import { beginDueBroadcasts, prepareBroadcast } from '@/services/sends/prepare-broadcast';
import { BenchClock } from '@/standins/clock';
import { Mailboxes, type BenchMail } from '@/standins/mailboxes';
import { must } from './people';
import { makeWorld, type World } from './world';

const ME = { name: 'test', accountId: null };

/** A world whose workspace says whom its letters are from. */
export async function makeMailWorld(): Promise<World> {
  const world = await makeWorld();
  const from = { from: 'hello@juniper-gap.example.org', name: 'Juniper Gap', postal_address: '1 Hill Road' };
  await world.within((scope) => setMailFrom(world.ctx, scope, from, ME));
  return world;
}

export interface Letter {
  to: string;
  from: string;
  subject?: string;
  text?: string;
  headers?: Record<string, string>;
  inReplyTo?: string;
  messageId?: string;
  /** The whole letter as it goes over the wire; then only its envelope is taken from the rest. */
  raw?: string;
}

/** Mailboxes of people outside and our own door for letters, both over SMTP; `world` is asked at each use. */
export class MailDoors {
  boxes!: Mailboxes;
  gateway!: MailGateway;
  /** Our door fails with whatever comes. */
  broken = false;
  #door!: MailListener;

  constructor(readonly world: () => World) {}

  async open(): Promise<void> {
    const events = {
      knows: (address: string) => mailboxes(this.world().ctx).knows(address),
      mail: (mail: IncomingMail) =>
        this.broken ? Promise.reject(new Error('broken')) : mailboxes(this.world().ctx).mail(mail),
    };
    const opened = await listenForMail(0, '127.0.0.1', events, resolverOf([]));
    this.#door = opened!;
    this.boxes = new Mailboxes(new BenchClock(null), { host: '127.0.0.1', port: this.#door.port });
    const port = await this.boxes.listen(0);
    this.gateway = smtpMail({ host: '127.0.0.1', port, secure: false, user: null, password: null });
  }

  async close(): Promise<void> {
    await this.gateway.close();
    await this.#door.close();
  }

  /** Hands over what is due; gives what became of each. */
  async round(): Promise<string[]> {
    const { ctx } = this.world();
    const leaving = await claimDueMails(ctx, 1, 50);
    const handed = await Promise.all(leaving.map((mail) => handOverMail(ctx, this.gateway, mail)));
    await storeAnswers(ctx, handed, []);
    return handed.flatMap(({ parts }) => parts.map(({ kind }) => kind));
  }

  /** The last letter in somebody's box. */
  letter = (address: string): BenchMail => this.boxes.mails(address)[0]!;

  /** Brings a letter to our door as somebody else's mail server: `taken`, or the code of the refusal. */
  async send({ raw, ...mail }: Letter): Promise<string> {
    const transport = createTransport({ host: '127.0.0.1', port: this.#door.port, ignoreTLS: true });
    try {
      await transport.sendMail(raw ? { envelope: { from: mail.from, to: mail.to }, raw } : mail);
      return 'taken';
    } catch (error) {
      return String((error as { responseCode?: number }).responseCode);
    } finally {
      transport.close();
    }
  }
}

/** What a letter of ours is known by: in its links, and to whom answers it. */
export const tokenOf = (mail: BenchMail): string => /<([^@]+)@/.exec(mail.messageId)![1]!;

/** Somebody known by an e-mail address, who agreed to get mail of the program. */
export async function addReader(world: World, email: string): Promise<string> {
  const consent = { program: 'Clear Sky Alerts', wording: 'yes, by e-mail' };
  const input = { email, first_name: email.split('@')[0]!, consent };
  return must(await world.within((scope) => createPerson(world.ctx, scope, input, 'test'))).id;
}

/** A broadcast by e-mail to all readers, made ready to go. */
export async function mailBroadcast(world: World, more: { subject?: string; body?: string } = {}) {
  const written = {
    ...{ program: 'Clear Sky Alerts', name: 'B', channel: 'email' as const },
    subject: 'Clear, {$person.first_name :wren:field fallback=friend}?',
    body: 'See https://sky.test/tonight now.',
    ...more,
  };
  const { id } = must(await world.within((scope) => createBroadcast(world.ctx, scope, written, ME)));
  await world.within((scope) => sendBroadcast(world.ctx, scope, id, {}, ME));
  await beginDueBroadcasts(world.ctx);
  await prepareBroadcast(world.ctx, world.workspaceId, id);
  await prepareBroadcast(world.ctx, world.workspaceId, id);
  return id;
}

/** The letters' states, in the order they were queued, with why they failed. */
export async function mailStates(world: World): Promise<string[]> {
  const rows = await world.rows<{ state: string; failure: string | null }>(
    `select state, failure from message where workspace_id = :workspace and channel = 'email' order by id`,
  );
  return rows.map(({ state, failure }) => (failure ? `${state}: ${failure}` : state));
}

/** Somebody's agreement to e-mail of the only program; undefined: never asked. */
export async function mailConsent(world: World, person: string): Promise<string | undefined> {
  const [row] = await world.rows<{ state: string }>(
    `select state from consent_state where workspace_id = :workspace and person_id = :person and channel = 'email' and current`,
    { person },
  );
  return row?.state;
}

/** Waits for what comes over the wire by itself; fails when it has not come after some seconds. */
export async function until(what: () => Promise<boolean>): Promise<void> {
  for (let tries = 0; !(await what()); tries++) {
    if (tries > 200) throw new Error('It did not come.');
    await new Promise((resolve) => setTimeout(resolve, 30));
  }
}
