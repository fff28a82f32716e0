import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { chatNetwork, type ChatNetwork } from '@/gateways/chat/network';
import { ChatAccount, ChatWording } from '@/db/chat/entities';
import { ACCOUNT_QUEUE, checkAgain, connectAccount } from '@/services/chat/accounts';
import { REVIEW_QUEUE } from '@/services/chat/review';
import { claimDueChats, handOverChat } from '@/services/chat/send-chat';
import { TOLD_QUEUE } from '@/services/chat/take-told';
import { changeWording, createTemplate, handIn } from '@/services/chat/templates';
import type { ChatTemplateInput, ChatWordingInput } from '@/services/chat/inputs';
import { recordConsent } from '@/services/consent/record-consent';
import { storeAnswers } from '@/services/delivery/store-answers';
import { workThrough } from '@/services/kit/trouble';
import { createBroadcast, sendBroadcast } from '@/services/sends/broadcasts';
import type { CreateBroadcastInput } from '@/services/sends/inputs';
import { beginDueBroadcasts, prepareBroadcast } from '@/services/sends/prepare-broadcast';
import type { SubmitOutcome } from '@/gateways/carrier';
import { findProgram } from '@/services/programs/find-program';
import { addAddress } from '@/db/people/addresses';
import { SimulatedCarrier } from '@/standins/carrier';
import { NetworkBook } from '@/standins/chat/book';
import { USUAL_MOODS } from '@/standins/chat/moods';
import { SimulatedNetwork } from '@/standins/chat/network';
import type { BenchClock } from '@/standins/clock';
import { NO_FAULTS } from '@/standins/faults';
import { Handsets } from '@/standins/handsets';
import { chatCalls, networkDoor } from '@/web/chat-door';
import { letTellerIn } from '@/web/signed-door';
import { must } from './people';
import { phone, type World } from './world';

const ME = { name: 'test', accountId: null };

const listening = (server: Server): Promise<number> =>
  new Promise((resolve) =>
    server.listen(0, '127.0.0.1', () => resolve((server.address() as AddressInfo).port)),
  );

/** The bench’s chat network and our own door for what it tells, both over HTTP; `world` is asked at each use. */
export class ChatDesk {
  handsets!: Handsets;
  network!: SimulatedNetwork;
  readonly gateway: ChatNetwork = chatNetwork(['127.0.0.1']);
  /** Our door answers 503 to whatever comes. */
  broken = false;
  /** Where the network’s interface begins. */
  url = '';
  #servers: Server[] = [];
  #calls = 0;

  constructor(readonly world: () => World) {}

  /** Opens both ends; before each test `anew` makes the network forget. */
  async open(): Promise<void> {
    const door = createServer((request, response) => {
      const key = chatCalls(request.method, request.url ?? '');
      if (this.broken || key === null) return void response.writeHead(503).end();
      this.#calls += 1;
      response.once('close', () => (this.#calls -= 1));
      void letTellerIn(
        networkDoor(() => Promise.resolve(this.world().ctx), key),
        request,
        response,
      );
    });
    process.env.WREN_PUBLIC_URL = `http://127.0.0.1:${await listening(door)}`;
    const network = createServer((request, response) => {
      void this.network.take(request, response, (request.url ?? '').split('?')[0]!);
    });
    this.url = `http://127.0.0.1:${await listening(network)}`;
    this.#servers = [door, network];
    this.anew();
  }

  anew(): void {
    this.broken = false;
    const clock = { now: () => this.world().clock.at, onMove: () => () => {} } as unknown as BenchClock;
    this.handsets = new Handsets();
    const carrier = new SimulatedCarrier({ systemId: 'x', password: 'y' }, clock, this.handsets);
    carrier.faults = { ...NO_FAULTS, receipt_latency_ms: 1 };
    this.network = new SimulatedNetwork(new NetworkBook(null), clock, this.handsets, carrier);
    this.network.moods = { ...USUAL_MOODS, review_after: 'PT0S', read_after: 'PT0S', read_share: 0 };
  }

  /** Until nothing of a test is on its way any more. */
  quiet = async (): Promise<void> => {
    this.network.hangUp();
    await new Promise((resolve) => setTimeout(resolve, 20));
    await this.until(() => Promise.resolve(this.#calls === 0 ? true : null));
  };

  close(): void {
    delete process.env.WREN_PUBLIC_URL;
    this.#servers.forEach((server) => server.close());
  }

  connect = async (account = 'juniper', token = 'bench'): Promise<ChatAccount> => {
    const { ctx, within } = this.world();
    const { id } = must(
      await within((scope) => connectAccount(ctx, scope, { url: this.url, account, token }, ME)),
    );
    return this.check(id);
  };

  check = async (id: string): Promise<ChatAccount> => {
    const { ctx, within } = this.world();
    await within((scope) => checkAgain(ctx, scope, id));
    await workThrough(ctx, ACCOUNT_QUEUE);
    return within((scope) => scope.em.findOneOrFail(ChatAccount, { id }));
  };

  /** A template with words in one language, still a draft. */
  draft = async (
    words: Partial<ChatWordingInput> = {},
    more: Partial<ChatTemplateInput> = {},
  ): Promise<{ templateId: string; wordingId: string }> => {
    const { ctx, within } = this.world();
    return within(async (scope) => {
      const input = { name: 'sky_week', category: 'marketing' as const, language: 'en', ...more };
      const template = must(await createTemplate(ctx, scope, input, ME));
      const wording = await scope.em.findOneOrFail(ChatWording, { templateId: template.id });
      must(await changeWording(ctx, scope, wording.id, { stamp: 0, ...GOOD, ...words }));
      return { templateId: template.id, wordingId: wording.id };
    });
  };

  /** The same, handed in and reviewed. */
  template = async (
    words: Partial<ChatWordingInput> = {},
    more: Partial<ChatTemplateInput> = {},
  ): Promise<{ templateId: string; wordingId: string }> => {
    const { ctx, within } = this.world();
    const made = await this.draft(words, more);
    must(await within((scope) => handIn(ctx, scope, made.wordingId, ME)));
    await this.reviewed(made.wordingId);
    return made;
  };

  /** Until the network has decided and we know of it. */
  reviewed = (wordingId: string): Promise<ChatWording> =>
    this.until(async () => {
      await workThrough(this.world().ctx, REVIEW_QUEUE);
      await workThrough(this.world().ctx, TOLD_QUEUE);
      const wording = await this.wording(wordingId);
      return wording.state === 'in-review' ? null : wording;
    });

  wording = (id: string): Promise<ChatWording> =>
    this.world().within((scope) => scope.em.findOneOrFail(ChatWording, { id }));

  /** Somebody who agreed by chat, by the number of the i-th person of a test or another id. */
  member = async (
    i: number | string,
    { language = null, name = `Ada${i}` }: { language?: string | null; name?: string } = {},
  ): Promise<string> => {
    const { ctx, within } = this.world();
    const chatId = typeof i === 'number' ? phone(i) : i;
    const personId = ctx.id('per');
    await within(async (scope) => {
      await scope.run(
        `insert into person (id, workspace_id, number, first_name, language, source, created_at) values (:personId, :workspace, :number, :name, :language, 'test', :at)`,
        { personId, number: typeof i === 'number' ? chatId : null, name, language, at: new Date(ctx.now()) },
      );
      await addAddress(scope, { personId, kind: 'chat', value: chatId, at: new Date(ctx.now()) });
      const program = (await findProgram(scope, 'Clear Sky Alerts'))!;
      must(
        await recordConsent(ctx, scope, {
          ...{ personId, programId: program.id, channel: 'chat', address: chatId, kind: 'opted-in' },
          ...{ method: 'form', evidence: { wording: 'Yes, write to me by chat.' } },
        }),
      );
    });
    return personId;
  };

  /** A broadcast by chat, begun and made ready. */
  broadcast = async (templateId: string, more: Partial<CreateBroadcastInput> = {}): Promise<string> => {
    const { ctx, within, workspaceId } = this.world();
    const input = {
      program: 'Clear Sky Alerts',
      name: 'Sky week',
      channel: 'chat',
      chat_template: templateId,
      ...more,
    };
    const { id } = must(
      await within((scope) => createBroadcast(ctx, scope, input as CreateBroadcastInput, ME)),
    );
    must(await within((scope) => sendBroadcast(ctx, scope, id, {}, ME)));
    await beginDueBroadcasts(ctx);
    await prepareBroadcast(ctx, workspaceId, id);
    return id;
  };

  /** Hands over whatever is due once; gives what became of each. */
  round = async (): Promise<string[]> => {
    const { ctx } = this.world();
    const claimed = await claimDueChats(ctx, 1, 100);
    const handed = [];
    for (const chat of claimed) handed.push(await handOverChat(ctx, this.gateway, chat));
    await storeAnswers(ctx, handed, []);
    return handed.map(({ parts }) => outcomeWord(parts[0]!));
  };

  /** What a handset shows of a chat. */
  shown = (who: string): string[] =>
    (this.handsets.find(who)?.texts ?? [])
      .filter(({ direction }) => direction === 'in')
      .map(({ body }) => body);

  /** Writes from a handset, and works on it once it has come. */
  writes = async (
    from: string,
    text: string,
    more: { button?: string; profile?: object } = {},
  ): Promise<void> => {
    const { within, ctx } = this.world();
    const count = () =>
      within((scope) =>
        scope.rows<{ n: number }>(`select count(*)::int as n from chat_told where workspace_id = :workspace`),
      );
    const [before] = await count();
    const trouble = this.network.write(from, 'juniper', { text, ...more } as Parameters<
      SimulatedNetwork['write']
    >[2]);
    if (trouble) throw new Error(trouble);
    await this.until(async () => ((await count())[0]!.n > before!.n ? true : null));
    await workThrough(ctx, TOLD_QUEUE);
  };

  /** Works on what the network told until something holds. */
  told = async <T>(look: () => Promise<T | null>): Promise<T> =>
    this.until(async () => {
      await workThrough(this.world().ctx, TOLD_QUEUE);
      return look();
    });

  until = async <T>(look: () => Promise<T | null>): Promise<T> => {
    for (let i = 0; i < 400; i++) {
      const found = await look();
      if (found !== null && found !== (false as never)) return found;
      await new Promise((resolve) => setTimeout(resolve, 10));
    }
    throw new Error('It did not happen.');
  };

  states = async (): Promise<string[]> =>
    (
      await this.world().rows<{ state: string; failure: string | null }>(
        `select state, failure from message where workspace_id = :workspace and channel = 'chat' order by created_at, id`,
      )
    ).map(({ state, failure }) => (failure ? `${state}: ${failure}` : state));
}

const GOOD = {
  header: 'Saturn week',
  body: 'Hi {$person.first_name :wren:field fallback=friend}, Saturn is up this week. The dome opens at 8.',
  footer: 'Juniper Gap',
  buttons: [
    { kind: 'reply', words: 'I will come' },
    { kind: 'reply', words: 'Leave', leaves: true },
  ],
  samples: { first_name: 'Ada' },
};

const outcomeWord = (part: SubmitOutcome): string => (part.kind === 'refused' ? part.reason : part.kind);
