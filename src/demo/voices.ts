import { DAY, HOUR, MINUTE } from '@/core/shared/instant';
import { writeWave } from '@/core/voicemail/wav';
import { Account } from '@/db/access/entities';
import { Switchboard } from '@/db/calls/entities';
import { VoicemailAccount } from '@/db/voicemail/entities';
import type { Scope } from '@/db/kit/scope';
import { recordCall } from '@/services/calls/by-hand';
import { createOutcome } from '@/services/calls/outcomes';
import { connectSwitchboard, mapSwitchboard } from '@/services/calls/switchboards';
import { recordConsent } from '@/services/consent/record-consent';
import { changeDuty } from '@/services/inquiries/duty';
import { findProgram } from '@/services/programs/find-program';
import { createBroadcast, sendBroadcast } from '@/services/sends/broadcasts';
import type { CreateBroadcastInput } from '@/services/sends/inputs';
import { connectVoicemail } from '@/services/voicemail/accounts';
import { addRecording, createVoiceMessage } from '@/services/voicemail/messages';
import { stream } from './chance';
import { murmur } from './voice';
import { must, SENDERS, type DemoWorld } from './world';

/** From this day on voicemails are dropped. */
export const VOICES_OPEN = 40;

const RATE = 16_000;

const SECOND_LOOK =
  'Hello, this is Tess of Juniper Gap Observatory. Have you looked up at Saturn this week? Members come in free on Friday at eight, and we keep a place for you. Call me back at 719 555 0110. To hear no more from us, text STOP to that number.';
const SECOND_LOOK_SHORTER =
  'Hello, Tess here, of Juniper Gap Observatory. Will you come and see the rings on Friday? Call me at 719 555 0110 and I keep a place. To hear no more from us, text STOP to that number.';
const LONG_NIGHT =
  'Hello, this is Ravi of Juniper Gap Observatory. Would you like to bring somebody to the long night of the dome? It is on the nineteenth, with soup. Call 719 555 0110 and say how many you are. If you would rather not get these calls, tell us and we stop.';

const DROPS = [
  { day: 44, name: 'A second look at Saturn', recording: 'first' },
  { day: 66, name: 'The long night of the dome', recording: 'night' },
  { day: 94, name: 'The rings on Friday', recording: 'shorter' },
];

const NO_ANSWER =
  'Hi {$person.first_name :wren:field fallback=there}, {$sender.first_name :wren:field fallback=|the team|} of Juniper Gap Observatory here: I just tried to call you back. When is a good time? Reply STOP to end texts.';
const MISSED =
  'Juniper Gap Observatory: sorry, all of us are under the dome. We call you back today. Reply STOP to end texts.';

const MAPPING = {
  ...{
    id: '/call/uuid',
    state: '/event',
    direction: '/call/direction',
    from: '/call/caller',
    to: '/call/called',
  },
  ...{ teammate: '/agent/name', rang: '/call/started_at', answered: '/call/answered_at' },
  ...{ ended: '/call/ended_at', at: '/time', outcome: '/disposition', note: '/note' },
};

const TAKERS = ['Tess Nightjar', 'Ravi Coldwater', 'June Oakhanger'];
const WROTE = [
  'Yes, two of us please',
  'Got your message. Is there still room?',
  'Friday works!',
  'How late does it go?',
];
const NOTES = [
  'wants two places',
  'brings her brother',
  'asks about the stairs',
  'will come with the class',
  '',
];

/** Somebody who calls back. */
interface Caller {
  number: string;
  at: number;
}

/**
 * Voicemails dropped on members who agreed to them, in waves as the phones carry, and the calls they bring back through the
 * telephone system. What happens here draws from a stream of its own.
 */
export class Voices {
  readonly #chance = stream(914_555);
  #recordings: Record<string, string> = {};

  constructor(
    readonly world: DemoWorld,
    readonly workspaceId: string,
    readonly accounts: Record<string, string>,
  ) {}

  async open(day: number): Promise<void> {
    if (day === VOICES_OPEN) await this.#furnish();
    for (const drop of DROPS.filter((one) => one.day === day)) await this.#drop(drop);
  }

  /** On the last morning some have called, and wait. */
  async close(): Promise<void> {
    const waiting = await this.#left('The rings on Friday');
    for (const { address } of waiting.slice(3, 6)) {
      await this.#ring(address, false);
      await this.world.moveTo(this.world.at + 4 * MINUTE);
    }
    await this.#heard();
  }

  #within = <T>(work: (scope: Scope) => Promise<T>): Promise<T> => this.world.within(this.workspaceId, work);
  #actorOf = (name: string) => ({ name: this.accounts[name]!, accountId: this.accounts[name]! });
  #manager = () => this.#actorOf('managerMarek Holloway');
  #pick = <T>(list: readonly T[]): T => list[Math.floor(this.#chance() * list.length)]!;

  async #furnish(): Promise<void> {
    const { world } = this;
    const { ctx, benchUrl } = world;
    await world.bench('PUT', '/voicemails/moods', {
      ...{
        box_full_share: 0.05,
        answered_share: 0.04,
        no_voicemail_share: 0.035,
        carrier_refused_share: 0.02,
      },
    });
    const input = { url: `${benchUrl}/voicemail`, account: 'juniper', token: 'bench' };
    await this.#within((scope) => connectVoicemail(ctx, scope, input, this.#manager()));
    await world.settle();
    const account = await this.#within((scope) => scope.em.findOneOrFail(VoicemailAccount, {}));
    if (account.state !== 'open')
      throw new Error(`The voicemail account is ${account.state}: ${account.trouble}`);
    await this.#within(async (scope) => {
      const board = must(
        await connectSwitchboard(
          ctx,
          scope,
          {
            name: 'House telephones',
            signs: 'standard',
            numbers_url: `${benchUrl}/switchboard/numbers`,
            token: 'bench',
          },
          this.#manager(),
        ),
      );
      must(await mapSwitchboard(ctx, scope, board.id, { mapping: MAPPING }, this.#manager()));
      await this.#outcomes(scope);
      await this.#team(scope);
    });
    const board = await this.#within((scope) => scope.em.findOneOrFail(Switchboard, {}));
    await world.bench('PUT', '/switchboard', {
      to: `${new URL(process.env.WREN_MM7_BACK!).origin}/calls/${board.doorKey}`,
      secret: board.secret,
    });
    await this.#record();
    await this.#agree();
  }

  async #outcomes(scope: Scope): Promise<void> {
    const { ctx } = this.world;
    const program = 'Dome Members';
    for (const input of [
      { name: 'Spoke', calls: ['answered', 'talked'], reached: true },
      { name: 'No answer, left a message', calls: ['no answer', 'left voicemail'], program, body: NO_ANSWER },
      { name: 'Nobody picked up', missed: true, program, body: MISSED },
      { name: 'Wrong number' },
      { name: 'Call again later' },
    ])
      must(await createOutcome(ctx, scope, input, this.#manager()));
  }

  async #team(scope: Scope): Promise<void> {
    const { ctx } = this.world;
    for (const name of TAKERS) {
      const { id } = await scope.em.findOneOrFail(Account, { name });
      const days = name === 'June Oakhanger' ? [4, 5, 6, 7] : [1, 2, 3, 4, 5];
      must(
        await changeDuty(
          ctx,
          scope,
          id,
          { hours: days.map((day) => ({ day, from: '09:00', to: '17:30' })), calls: true },
          this.#manager(),
        ),
      );
    }
  }

  async #record(): Promise<void> {
    const { ctx } = this.world;
    const sound = (seconds: number) =>
      Buffer.from(writeWave({ samples: murmur(seconds, RATE, this.#chance), rate: RATE }));
    await this.#within(async (scope) => {
      const actor = this.#actorOf('teammateTess Nightjar');
      const first = must(
        await createVoiceMessage(
          ctx,
          scope,
          { name: 'A second look', words: SECOND_LOOK, wave: sound(19) },
          actor,
        ),
      );
      const shorter = must(
        await addRecording(
          ctx,
          scope,
          first.message.id,
          { words: SECOND_LOOK_SHORTER, wave: sound(16) },
          actor,
        ),
      );
      const night = must(
        await createVoiceMessage(
          ctx,
          scope,
          { name: 'The long night', words: LONG_NIGHT, wave: sound(21) },
          this.#actorOf('teammateRavi Coldwater'),
        ),
      );
      this.#recordings = {
        ...{ first: first.recording.id, shorter: shorter.recording.id, night: night.recording.id },
      };
    });
  }

  /** A card at the desk asks members whether they may be called. */
  async #agree(): Promise<void> {
    const { ctx } = this.world;
    await this.#within(async (scope) => {
      const program = (await findProgram(scope, 'Dome Members'))!;
      const members = await scope.rows<{ person_id: string; address: string }>(
        `select person_id, address from consent_state where workspace_id = :workspace and program_id = :id and channel = 'sms' and current and state = 'in' order by person_id`,
        { id: program.id },
      );
      for (const { person_id: personId, address } of members) {
        if (this.#chance() > 0.62) continue;
        must(
          await recordConsent(ctx, scope, {
            ...{ personId, programId: program.id, channel: 'voicemail', address, kind: 'opted-in' },
            ...{ method: 'by-hand' },
            evidence: {
              wording: 'You may leave me a voicemail about evenings under the dome.',
              source: 'card at the ticket desk',
              recordedBy: this.accounts['teammateJune Oakhanger']!,
            },
          }),
        );
      }
    });
  }

  async #drop({ name, recording }: (typeof DROPS)[number]): Promise<void> {
    const { world } = this;
    const { ctx } = world;
    await this.#toWeekday();
    await this.#within(async (scope) => {
      const input = {
        ...{ program: 'Dome Members', name, channel: 'voicemail', recording: this.#recordings[recording] },
        pace: { phones: true },
      };
      const made = must(
        await createBroadcast(
          ctx,
          scope,
          input as CreateBroadcastInput,
          this.#actorOf('teammateTess Nightjar'),
        ),
      );
      must(await sendBroadcast(ctx, scope, made.id, {}, this.#actorOf('teammateTess Nightjar')));
    });
    await world.settle();
    const calling: Caller[] = [];
    const seen = new Set<string>();
    for (let i = 0; i < 60; i += 1) {
      await world.moveTo(world.at + 15 * MINUTE);
      for (const { address } of await this.#left(name)) {
        if (seen.has(address)) continue;
        seen.add(address);
        const draw = this.#chance();
        if (draw < 0.085) calling.push({ number: address, at: world.at + this.#later() });
        else if (draw < 0.11) await this.#writes(address, this.#pick(WROTE));
        else if (draw < 0.118) await this.#writes(address, 'STOP');
      }
      await this.#ringThose(calling);
      if ((await this.#waiting(name)) === 0 && calling.every(({ at }) => at > world.at + 6 * HOUR)) break;
    }
    await this.#callBack();
  }

  /** Half within the hour, the rest over the day. */
  #later = (): number =>
    this.#chance() < 0.62
      ? -Math.log(Math.max(0.02, this.#chance())) * 22 * MINUTE
      : (1 + this.#chance() * 6) * HOUR;

  async #toWeekday(): Promise<void> {
    // Drops begin at ten on a day on which somebody is at the phones.
    const day = (at: number) => new Date(at - 7 * HOUR).getUTCDay();
    let at = Math.ceil((this.world.at - 17 * HOUR) / DAY) * DAY + 17 * HOUR;
    while (day(at) === 0 || day(at) === 6) at += DAY;
    if (at > this.world.at) await this.world.moveTo(at);
  }

  #left = (name: string) =>
    this.#within((scope) =>
      scope.rows<{ address: string }>(
        `select m.address from message m join broadcast b on b.id = m.send_id where m.workspace_id = :workspace and b.name = :name and m.state = 'delivered' order by m.settled_at, m.id`,
        { name },
      ),
    );

  async #waiting(name: string): Promise<number> {
    const [row] = await this.#within((scope) =>
      scope.rows<{ n: number }>(
        `select count(*)::int as n from message m join broadcast b on b.id = m.send_id where m.workspace_id = :workspace and b.name = :name and m.not_before is not null`,
        { name },
      ),
    );
    return row!.n;
  }

  async #ringThose(calling: Caller[]): Promise<void> {
    const due = calling.filter(({ at }) => at <= this.world.at);
    for (const one of due) calling.splice(calling.indexOf(one), 1);
    // Three at most are at the phones, and each call takes some minutes.
    for (const [i, { number }] of due.entries()) await this.#ring(number, i < 4 && this.#chance() < 0.93);
    if (due.length > 0) await this.#heard();
  }

  async #ring(number: string, answered: boolean): Promise<void> {
    const { benchUrl } = this.world;
    const call = (await (
      await fetch(`${benchUrl}/switchboard/calls`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ from: number, to: SENDERS[0] }),
      })
    ).json()) as { id: string };
    const act = (body: object) => this.world.bench('POST', `/switchboard/calls/${call.id}`, body);
    if (!answered) return act({ act: 'miss' });
    await act({ act: 'answer', agent: this.#pick(TAKERS) });
    await this.world.moveTo(this.world.at + (1 + this.#chance() * 3) * MINUTE);
    await act({ act: 'hang-up' });
    const note = this.#pick(NOTES);
    await act({ act: 'tag', outcome: 'Spoke', ...(note ? { note } : {}) });
  }

  async #writes(number: string, body: string): Promise<void> {
    await this.world.bench('POST', `/handsets/${number}/texts`, { to: SENDERS[0], body });
    await this.#heard();
  }

  /** In the afternoon those who reached nobody are called back. */
  async #callBack(): Promise<void> {
    const { ctx } = this.world;
    const missed = await this.#within((scope) =>
      scope.rows<{ person_id: string }>(
        `select distinct person_id from call where workspace_id = :workspace and direction = 'in' and answered_at is null and settled_at is null order by 1`,
      ),
    );
    for (const { person_id: person } of missed) {
      const spoke = this.#chance() < 0.6;
      const by = this.#actorOf(`teammate${this.#pick(TAKERS)}`);
      await this.#within(async (scope) => {
        const outcome = spoke ? 'Spoke' : 'No answer, left a message';
        const said = spoke ? { note: this.#pick(NOTES), seconds: 60 + Math.floor(this.#chance() * 240) } : {};
        must(await recordCall(ctx, scope, { person, outcome, ...said }, by));
      });
      await this.world.moveTo(this.world.at + 5 * MINUTE);
    }
    await this.world.settle();
  }

  async #heard(): Promise<void> {
    await new Promise((resolve) => setTimeout(resolve, 80));
    await this.world.settle();
  }
}
