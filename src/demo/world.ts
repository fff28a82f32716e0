import { ROOMS } from '@/services/rooms';
import { createServer, type Server } from 'node:http';
import { MikroORM } from '@mikro-orm/postgresql';
import type { CreateProgramInput } from '@/services/programs/inputs';
import { makeId } from '@/core/shared/ids';
import { MINUTE, SECOND, HOUR } from '@/core/shared/instant';
import { ormConfig } from '@/db/kit/config';
import { acrossWorkspaces, inWorkspace, type Scope } from '@/db/kit/scope';
import { SmppLink } from '@/gateways/smpp/link';
import type { Context } from '@/services/kit/context';
import { addAccount, addSenderNumber, createWorkspace } from '@/services/access/create-workspace';
import { lookAtVouchers } from '@/services/offers/room';
import { createKeyword, createProgram } from '@/services/programs/create-program';
import { beginDueBroadcasts, finishBroadcasts, prepareBroadcast } from '@/services/sends/prepare-broadcast';
import { listenForMail, type MailListener } from '@/gateways/mail/listener';
import { resolverOf } from '@/gateways/mail/proof';
import { smtpMail } from '@/gateways/mail/sender';
import { mailboxes } from '@/services/mailboxes';
import { setMailFrom } from '@/services/email/settings';
import { carrierSettings, mailDoor, mailSettings, nameServers, relaySettings } from '@/services/kit/settings';
import { Delivery } from '@/worker/delivery';
import { voicemailDropper } from '@/gateways/voicemail/dropper';
import { CALL_TEXT_QUEUE } from '@/services/calls/follow-outcome';
import { CALL_EVENT_QUEUE } from '@/services/calls/take-event';
import { TURNS_QUEUE } from '@/services/sends/give-turns';
import { REGISTRAR_QUEUE } from '@/services/registration/accounts';
import { REGISTRATION_QUEUE } from '@/services/registration/review';
import { VOICEMAIL_ACCOUNT_QUEUE } from '@/services/voicemail/accounts';
import { callsTold, switchboardDoor } from '@/web/call-door';
import { registrarCalls, registrarDoor } from '@/web/registrar-door';
import { dropDoor, voicemailCalls } from '@/web/voicemail-door';
import { chats, letters, pictures, voicemails } from '@/worker/ways';
import { chatNetwork } from '@/gateways/chat/network';
import { chatCalls, networkDoor } from '@/web/chat-door';
import { letTellerIn, type SignedDoor } from '@/web/signed-door';
import { ACCOUNT_QUEUE } from '@/services/chat/accounts';
import { REVIEW_QUEUE } from '@/services/chat/review';
import { TOLD_QUEUE } from '@/services/chat/take-told';
import { ARRIVAL_QUEUE } from '@/services/inquiries/take-arrival';
import { mm7Relay } from '@/gateways/mm7/relay';
import { letRelayIn, relayCalls } from '@/web/relay-door';
import { KEYWORDS } from './story';
import { follow } from '@/services/kit/happenings';
import { SEQUENCES_FOLLOW } from '@/services/sequences/follow';
import { THREADS_FOLLOW } from '@/services/inbox/follow-threads';
import { TASKS_FOLLOW } from '@/services/tasks/tasks';
import { ASKING_QUEUE, QUESTIONS_FOLLOW } from '@/services/questions/after-silence';
import { SUBMISSION_QUEUE } from '@/services/forms/ask-for-proof';
import { workThrough } from '@/services/kit/trouble';
import { joinReceipts } from '@/services/delivery/store-answers';
import { runDue } from '@/services/sequences/run';
import { stream } from './chance';

/** What waits in rows of its own, beside messages. */
const QUEUES = [
  ...[ACCOUNT_QUEUE, REVIEW_QUEUE, TOLD_QUEUE, ARRIVAL_QUEUE],
  ...[VOICEMAIL_ACCOUNT_QUEUE, TURNS_QUEUE, CALL_EVENT_QUEUE, CALL_TEXT_QUEUE],
  ...[REGISTRAR_QUEUE, REGISTRATION_QUEUE],
];

/** The real engines under a clock and a chance of the story's own, against a real carrier on the test bench. */
export class DemoWorld {
  at: number;
  readonly ctx: Context;
  readonly benchUrl: string;
  readonly #delivery: Delivery;
  readonly #mails: ReturnType<typeof letters>;
  readonly #pictures: ReturnType<typeof pictures>;
  readonly #chats: ReturnType<typeof chats>;
  readonly #voicemails: ReturnType<typeof voicemails>;
  readonly #delivering: Promise<unknown>;
  readonly #door: Promise<MailListener | null>;
  readonly #relayDoor: Server;
  /** Two streams: what the engines draw depends on timing, what the story draws must not. */
  readonly #engine = stream(303_555);
  readonly #story = stream(719_555);

  constructor(
    readonly orm: MikroORM,
    start: number,
    benchUrl: string,
    workerId: number,
  ) {
    this.at = start;
    this.benchUrl = benchUrl;
    let last = 0;
    const bytes = (length: number) => Uint8Array.from({ length }, () => Math.floor(this.#engine() * 256));
    this.ctx = {
      orm,
      rooms: ROOMS,
      now: () => this.at,
      chance: this.#engine,
      id: (prefix) => makeId(prefix, (last = Math.max(this.at, last + 1)), bytes(11)),
      bytes,
    };
    this.#delivery = new Delivery(this.ctx, workerId, () => {});
    this.#mails = letters(this.ctx, workerId, null, smtpMail(mailSettings()!));
    this.#pictures = pictures(this.ctx, workerId, null, mm7Relay(relaySettings()!));
    this.#voicemails = voicemails(this.ctx, workerId, null, voicemailDropper(['127.0.0.1']), 10);
    this.#chats = chats(this.ctx, workerId, null, chatNetwork(['127.0.0.1']), 20);
    this.#delivering = Promise.all([
      this.#delivery.run(new SmppLink(carrierSettings(), this.#delivery.events())),
      this.#mails.run(),
      this.#pictures.run(),
      this.#chats.run(),
      this.#voicemails.run(),
    ]);
    this.#relayDoor = createServer((request, response) => {
      const contextOf = () => Promise.resolve(this.ctx);
      const door = this.#doorCalled(request.method, request.url ?? '', contextOf);
      if (door) return void letTellerIn(door, request, response);
      const named = relayCalls(request.method, request.url ?? '');
      void letRelayIn(contextOf, named ?? '', request, response);
    }).listen(Number(new URL(process.env.WREN_MM7_BACK!).port), '127.0.0.1');
    const { port, host } = mailDoor();
    this.#door = listenForMail(port, host, mailboxes(this.ctx), resolverOf(nameServers()));
  }

  /** Whoever tells us something signed: the chat network, the voicemail account, the telephone system. */
  #doorCalled(method: string | undefined, url: string, contextOf: () => Promise<Context>): SignedDoor | null {
    const chat = chatCalls(method, url);
    if (chat !== null) return networkDoor(contextOf, chat);
    const dropped = voicemailCalls(method, url);
    if (dropped !== null) return dropDoor(contextOf, dropped);
    const registrar = registrarCalls(method, url);
    if (registrar !== null) return registrarDoor(contextOf, registrar);
    const board = callsTold(method, url);
    return board === null ? null : switchboardDoor(contextOf, board);
  }

  static open(databaseUrl: string): MikroORM {
    return MikroORM.initSync(ormConfig(databaseUrl)) as MikroORM;
  }

  chance(): number {
    return this.#story();
  }

  pick<T>(list: readonly T[]): T {
    return list[Math.floor(this.chance() * list.length)]!;
  }

  within<T>(workspaceId: string, work: (scope: Scope) => Promise<T>): Promise<T> {
    return inWorkspace(this.orm, workspaceId, work);
  }

  async bench(method: string, path: string, body: object): Promise<void> {
    const response = await fetch(`${this.benchUrl}${path}`, {
      method,
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
    });
    if (!response.ok) throw new Error(`The bench refused ${path}: ${await response.text()}`);
  }

  /** Somebody answers the last letter in their box. */
  async answerMail(address: string, words: string): Promise<void> {
    const response = await fetch(`${this.benchUrl}/mailboxes/${encodeURIComponent(address)}/mails`);
    const { mails } = (await response.json()) as { mails: { id: string }[] };
    await this.bench('POST', `/mails/${mails[0]!.id}`, { act: 'answer', words });
  }

  /** Moves time forward, for us and for the bench, and lets everything that falls due happen. */
  async moveTo(at: number): Promise<void> {
    while (this.at < at) {
      // Held texts and long schedules need an hour's grain; an empty stretch is crossed at once.
      const grain = (await this.#waiting()) > 0 ? 30 * MINUTE : await this.#untilNextLine();
      const step = Math.min(at - this.at, grain);
      this.at += step;
      await this.bench('POST', '/clock', { advance: `PT${Math.max(1, Math.round(step / SECOND))}S` });
      await this.settle();
    }
  }

  /** Runs until nothing is due, nothing is on its way, and no receipt is outstanding that will come. */
  async settle(): Promise<void> {
    for (let round = 0; round < 5_000; round++) {
      await beginDueBroadcasts(this.ctx);
      await follow(this.ctx, SEQUENCES_FOLLOW);
      await follow(this.ctx, TASKS_FOLLOW);
      await follow(this.ctx, THREADS_FOLLOW);
      await follow(this.ctx, QUESTIONS_FOLLOW);
      await workThrough(this.ctx, ASKING_QUEUE);
      await workThrough(this.ctx, SUBMISSION_QUEUE);
      for (const queue of QUEUES) await workThrough(this.ctx, queue);
      await lookAtVouchers(this.ctx);
      // Receipts of picture messages come by another way than the answers, and may be quicker.
      await joinReceipts(this.ctx);
      await runDue(this.ctx);
      for (const { id, workspace_id: workspaceId } of await this.#preparing())
        await prepareBroadcast(this.ctx, workspaceId, id);
      const open = await this.#open();
      if (open.due === 0 && open.submitting === 0 && open.fresh === 0) break;
      if (open.due > 0) this.at += SECOND;
      this.#delivery.wake();
      this.#mails.wake();
      this.#pictures.wake();
      this.#chats.wake();
      this.#voicemails.wake();
      await new Promise((resolve) => setTimeout(resolve, open.due > 0 ? 15 : 5));
      if (open.due === 0 && open.submitting === 0) this.#quiet += 1;
      else this.#quiet = 0;
      // Some receipts never come, or come hours later: a moment without change is the end.
      if (this.#quiet > 40) break;
    }
    this.#quiet = 0;
    await finishBroadcasts(this.ctx);
  }

  #quiet = 0;

  async close(): Promise<void> {
    this.#delivery.stop();
    this.#mails.stop();
    this.#pictures.stop();
    this.#chats.stop();
    this.#voicemails.stop();
    await this.#delivering;
    this.#relayDoor.close();
    await (await this.#door)?.close();
    await this.orm.close(true);
  }

  #preparing = () =>
    acrossWorkspaces(this.orm, (crossing) =>
      crossing.rows<{ id: string; workspace_id: string }>(
        `select id, workspace_id from broadcast where state = 'preparing'`,
      ),
    );

  async #open(): Promise<{ due: number; submitting: number; fresh: number }> {
    const [row] = await acrossWorkspaces(this.orm, (crossing) =>
      crossing.rows<{ due: number; submitting: number; fresh: number }>(
        `select count(*) filter (where not_before <= :at)::int as due, count(*) filter (where state = 'submitting')::int as submitting,
                count(*) filter (where state = 'submitted' and submitted_at > :recent)::int as fresh from message where state in ('queued', 'submitting', 'submitted')`,
        { at: new Date(this.at), recent: new Date(this.at - 10 * MINUTE) },
      ),
    );
    return row!;
  }

  /** How long until the next line of a sequence is due, in full hours; Infinity: none is. */
  async #untilNextLine(): Promise<number> {
    const [row] = await acrossWorkspaces(this.orm, (crossing) =>
      crossing.rows<{ at: Date | null }>(`select min(look_at) as at from enrolment`),
    );
    if (!row?.at) return Infinity;
    return Math.max(1, Math.ceil((row.at.getTime() - this.at) / HOUR)) * HOUR;
  }

  async #waiting(): Promise<number> {
    const [row] = await acrossWorkspaces(this.orm, (crossing) =>
      crossing.rows<{ n: number }>(`select count(*)::int as n from message where not_before is not null`),
    );
    return row!.n;
  }
}

export const PASSWORD = 'clear-skies-tonight';

export const TEAM = [
  { email: 'odile@juniper-gap.example.org', name: 'Odile Farrow', role: 'owner' },
  { email: 'marek@juniper-gap.example.org', name: 'Marek Holloway', role: 'manager' },
  { email: 'tess@juniper-gap.example.org', name: 'Tess Nightjar', role: 'teammate' },
  { email: 'ravi@juniper-gap.example.org', name: 'Ravi Coldwater', role: 'teammate' },
  { email: 'june@juniper-gap.example.org', name: 'June Oakhanger', role: 'teammate' },
  { email: 'pip@juniper-gap.example.org', name: 'Pip Dovecote', role: 'counter' },
] as const;

export const SENDERS = ['+17195550110', '+17205550170', '+15055550111', '+18015550112'] as const;

const PROGRAMS: CreateProgramInput[] = [
  {
    name: 'Clear Sky Alerts',
    purpose: 'recurring',
    promise: { count: 6, period: 'month' },
    welcome: 'You are on the list: clear nights ahead!',
  },
  {
    name: 'Dome Members',
    purpose: 'marketing',
    promise: { count: 4, period: 'month' },
    welcome: 'Welcome under the dome.',
  },
  {
    name: 'Gift Shop Offers',
    purpose: 'marketing',
    promise: { count: 4, period: 'month' },
    welcome: 'Your second hot chocolate is on us.',
  },
  { name: 'School & Group Visits', purpose: 'inquiry' },
  { name: 'Night Walk Reminders', purpose: 'utility' },
];

/** The observatory with its team, numbers, programs and keywords. */
export async function foundObservatory(
  world: DemoWorld,
): Promise<{ workspaceId: string; accounts: Record<string, string> }> {
  const { ctx } = world;
  const { id: workspaceId } = await createWorkspace(ctx, {
    slug: 'juniper-gap',
    name: 'Juniper Gap Observatory',
    business: 'Juniper Gap Observatory',
    contact: '(719) 555-0110',
    zone: 'America/Denver',
    weeklyCap: 4,
    wording: { kind: 'events', hosts: ['juniper-gap.example.org'], weights: {} },
    credits: 38_000,
  });
  const accounts: Record<string, string> = {};
  for (const member of TEAM)
    accounts[member.role + member.name] = await addAccount(ctx, workspaceId, {
      ...member,
      password: PASSWORD,
    });
  await world.within(workspaceId, async (scope) => {
    const actor = { name: accounts['ownerOdile Farrow']!, accountId: accounts['ownerOdile Farrow']! };
    must(
      await setMailFrom(
        ctx,
        scope,
        {
          from: 'letters@juniper-gap.example.org',
          postal_address: 'Juniper Gap Observatory, 1 Summit Road, Juniper Gap CO 81200',
        },
        actor,
      ),
    );
    for (const number of SENDERS.slice(0, 3))
      await addSenderNumber(ctx, scope, {
        number,
        kind: 'local',
        registration: 'registered',
        partsPerSecond: 10,
        // The third is for texts only: whoever knows the house by it gets a link to the picture.
        mms: number !== SENDERS[2],
      });
    await addSenderNumber(ctx, scope, {
      number: SENDERS[3],
      kind: 'local',
      registration: 'none',
      partsPerSecond: 4,
    });
    const registered = SENDERS.slice(0, 3);
    for (const program of PROGRAMS)
      must(
        await createProgram(
          ctx,
          scope,
          { ...program, sender_numbers: [...registered] },
          accounts['ownerOdile Farrow']!,
        ),
      );
    for (const { word, program } of KEYWORDS)
      must(await createKeyword(ctx, scope, { word, program }, accounts['ownerOdile Farrow']!));
  });
  return { workspaceId, accounts };
}

/** A second, small workspace of the same agency, which must never see the first. */
export async function foundRovingDome(world: DemoWorld): Promise<string> {
  const { ctx } = world;
  const { id } = await createWorkspace(ctx, {
    slug: 'roving-dome',
    name: 'Roving Dome',
    business: 'Roving Dome',
    contact: '(505) 555-0110',
    zone: 'America/Denver',
    weeklyCap: 3,
    credits: 2_000,
  });
  await addAccount(ctx, id, {
    email: 'ilse@roving-dome.example.org',
    name: 'Ilse Wetherall',
    role: 'owner',
    password: PASSWORD,
  });
  await world.within(id, async (scope) => {
    await addSenderNumber(ctx, scope, {
      number: '+15055550110',
      kind: 'local',
      registration: 'registered',
      partsPerSecond: 10,
    });
    must(
      await createProgram(
        ctx,
        scope,
        { name: 'Where the Dome Stands', purpose: 'recurring', promise: { count: 2, period: 'month' } },
        'demo',
      ),
    );
    must(await createKeyword(ctx, scope, { word: 'ROVE', program: 'Where the Dome Stands' }, 'demo'));
  });
  return id;
}

/** The story must not go wrong quietly. */
export function must<T>(result: { ok: true; value: T } | { ok: false; reason: unknown }): T {
  if (result.ok) return result.value;
  throw new Error(`The story was refused: ${JSON.stringify(result.reason)}`);
}
