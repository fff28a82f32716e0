import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { writeWave } from '@/core/voicemail/wav';
import { VoicemailAccount } from '@/db/voicemail/entities';
import type { SubmitOutcome } from '@/gateways/carrier';
import { voicemailDropper, type Dropper } from '@/gateways/voicemail/dropper';
import { CALL_EVENT_QUEUE } from '@/services/calls/take-event';
import { CALL_TEXT_QUEUE } from '@/services/calls/follow-outcome';
import { recordConsent } from '@/services/consent/record-consent';
import { storeAnswers } from '@/services/delivery/store-answers';
import { workThrough } from '@/services/kit/trouble';
import { findProgram } from '@/services/programs/find-program';
import { createBroadcast, sendBroadcast } from '@/services/sends/broadcasts';
import type { CreateBroadcastInput } from '@/services/sends/inputs';
import { beginDueBroadcasts, prepareBroadcast } from '@/services/sends/prepare-broadcast';
import {
  checkVoicemailAgain,
  connectVoicemail,
  VOICEMAIL_ACCOUNT_QUEUE,
} from '@/services/voicemail/accounts';
import { createVoiceMessage } from '@/services/voicemail/messages';
import { claimDueVoicemails, handOverVoicemail } from '@/services/voicemail/send-voicemail';
import { SimulatedCarrier } from '@/standins/carrier';
import type { BenchClock } from '@/standins/clock';
import { SimulatedDropper } from '@/standins/dropper';
import { NO_FAULTS } from '@/standins/faults';
import { Handsets } from '@/standins/handsets';
import { SimulatedSwitchboard } from '@/standins/switchboard';
import { callsTold, switchboardDoor } from '@/web/call-door';
import { letTellerIn } from '@/web/signed-door';
import { dropDoor, voicemailCalls } from '@/web/voicemail-door';
import { must } from './people';
import { phone, type World } from './world';

const ME = { name: 'test', accountId: null };

export const SAID =
  'Hello, this is Ada of Juniper Gap Observatory. Would you like to see Saturn? The dome is open on Friday. Call me back at 719 555 0110. Text STOP to that number and we will not call again.';

/** Something that sounds, so many seconds of it: a voice is a tone that comes and goes. */
export function spoken(seconds: number, { rate = 16_000, level = 0.2, pitch = 220 } = {}): Float32Array {
  return Float32Array.from({ length: Math.round(seconds * rate) }, (_, i) => {
    const t = i / rate;
    return level * (0.6 + 0.4 * Math.sin(2 * Math.PI * 3 * t)) * Math.sin(2 * Math.PI * pitch * t);
  });
}

export const spokenWave = (seconds = 18): Buffer =>
  Buffer.from(writeWave({ samples: spoken(seconds), rate: 16_000 }));

const listening = (server: Server): Promise<number> =>
  new Promise((resolve) =>
    server.listen(0, '127.0.0.1', () => resolve((server.address() as AddressInfo).port)),
  );

/** Who leaves voicemails, a telephone system, and our own doors for what they tell, over HTTP; `world` is asked at each use. */
export class VoiceDesk {
  handsets!: Handsets;
  dropper!: SimulatedDropper;
  board!: SimulatedSwitchboard;
  readonly gateway: Dropper = voicemailDropper(['127.0.0.1']);
  /** Our doors answer 503 to whatever comes. */
  broken = false;
  url = '';
  /** Where our doors are. */
  back = '';
  #servers: Server[] = [];
  #calls = 0;

  constructor(readonly world: () => World) {}

  async open(): Promise<void> {
    const contextOf = () => Promise.resolve(this.world().ctx);
    const door = createServer((request, response) => {
      const [method, url] = [request.method, request.url ?? ''] as const;
      const dropped = voicemailCalls(method, url);
      const called = callsTold(method, url);
      if (this.broken || (dropped === null && called === null)) return void response.writeHead(503).end();
      this.#calls += 1;
      response.once('close', () => (this.#calls -= 1));
      void letTellerIn(
        dropped === null ? switchboardDoor(contextOf, called!) : dropDoor(contextOf, dropped),
        request,
        response,
      );
    });
    this.back = `http://127.0.0.1:${await listening(door)}`;
    process.env.WREN_PUBLIC_URL = this.back;
    const account = createServer((request, response) => {
      void this.dropper.take(request, response, (request.url ?? '').split('?')[0]!);
    });
    this.url = `http://127.0.0.1:${await listening(account)}`;
    this.#servers = [door, account];
    this.anew();
  }

  anew(): void {
    this.broken = false;
    const clock = { now: () => this.world().clock.at, onMove: () => () => {} } as unknown as BenchClock;
    this.handsets = new Handsets();
    const carrier = new SimulatedCarrier({ systemId: 'x', password: 'y' }, clock, this.handsets);
    carrier.faults = { ...NO_FAULTS };
    this.dropper = new SimulatedDropper(null, clock, this.handsets, carrier);
    this.dropper.moods = { ...this.dropper.moods, ring_ms: 1 };
    this.board = new SimulatedSwitchboard(clock, null);
  }

  /** Until nothing of a test is on its way any more. */
  quiet = async (): Promise<void> => {
    this.board.set({ to: '' });
    for (const account of this.dropper.accounts) account.callbacks = null;
    await new Promise((resolve) => setTimeout(resolve, 30));
    await this.until(() => Promise.resolve(this.#calls === 0 ? true : null));
  };

  close(): void {
    delete process.env.WREN_PUBLIC_URL;
    this.#servers.forEach((server) => server.close());
  }

  connect = async (account = 'juniper', token = 'bench'): Promise<VoicemailAccount> => {
    const { within } = this.world();
    const { id } = must(
      await within((scope) =>
        connectVoicemail(this.world().ctx, scope, { url: this.url, account, token }, ME),
      ),
    );
    return this.check(id);
  };

  check = async (id: string): Promise<VoicemailAccount> => {
    const { ctx, within } = this.world();
    await within((scope) => checkVoicemailAgain(ctx, scope, id));
    await workThrough(ctx, VOICEMAIL_ACCOUNT_QUEUE);
    return within((scope) => scope.em.findOneOrFail(VoicemailAccount, { id }));
  };

  /** A voice message; gives the id of its recording. */
  record = async (words = SAID, name = 'Saturn'): Promise<string> => {
    const { ctx, within } = this.world();
    const made = must(
      await within((scope) => createVoiceMessage(ctx, scope, { name, words, wave: spokenWave() }, ME)),
    );
    return made.recording.id;
  };

  /** Somebody who agreed to voicemails, and by `texts` to texts too. */
  member = async (i: number, { texts = false } = {}): Promise<string> => {
    const { ctx, within } = this.world();
    const personId = ctx.id('per');
    await within(async (scope) => {
      await scope.run(
        `insert into person (id, workspace_id, number, first_name, source, created_at) values (:personId, :workspace, :number, :name, 'test', :at)`,
        { personId, number: phone(i), name: `Ada${i}`, at: new Date(ctx.now()) },
      );
      const program = (await findProgram(scope, 'Clear Sky Alerts'))!;
      for (const channel of texts ? (['voicemail', 'sms'] as const) : (['voicemail'] as const))
        must(
          await recordConsent(ctx, scope, {
            ...{ personId, programId: program.id, channel, address: phone(i), kind: 'opted-in' },
            ...{ method: 'form', evidence: { wording: 'Yes, you may leave me voicemails.' } },
          }),
        );
    });
    return personId;
  };

  /** A drop, begun and made ready. */
  drop = async (recording: string, more: Partial<CreateBroadcastInput> = {}): Promise<string> => {
    const { ctx, within, workspaceId } = this.world();
    const input = { program: 'Clear Sky Alerts', name: 'Saturn', channel: 'voicemail', recording, ...more };
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
    const claimed = await claimDueVoicemails(ctx, 1, 200);
    const handed = [];
    for (const one of claimed) handed.push(await handOverVoicemail(ctx, this.gateway, one));
    await storeAnswers(ctx, handed, []);
    return handed.map(({ parts }) => outcomeWord(parts[0]!));
  };

  /** What the telephone system told is worked on, with what follows from it. */
  followCalls = async (): Promise<void> => {
    const { ctx } = this.world();
    await workThrough(ctx, CALL_EVENT_QUEUE);
    await workThrough(ctx, CALL_TEXT_QUEUE);
  };

  /** Until nothing is on its way to a receipt. */
  settled = (): Promise<string[]> =>
    this.until(async () => {
      const states = await this.states();
      return states.some((state) => state === 'submitted') ? null : states;
    });

  states = async (): Promise<string[]> =>
    (
      await this.world().rows<{ state: string; failure: string | null }>(
        `select state, failure from message where workspace_id = :workspace and channel = 'voicemail' order by address, created_at, id`,
      )
    ).map(({ state, failure }) => (failure ? `${state}: ${failure}` : state));

  /** Voicemails a handset got. */
  heard = (who: string): number =>
    (this.handsets.find(who)?.texts ?? []).filter(({ voicemail }) => voicemail !== undefined).length;

  until = async <T>(look: () => Promise<T | null>): Promise<T> => {
    for (let i = 0; i < 400; i++) {
      const found = await look();
      if (found !== null) return found;
      await new Promise((resolve) => setTimeout(resolve, 10));
    }
    throw new Error('It did not happen.');
  };
}

const outcomeWord = (part: SubmitOutcome): string => (part.kind === 'refused' ? part.reason : part.kind);
