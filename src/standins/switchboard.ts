import { randomBytes } from 'node:crypto';
import type { BenchClock } from './clock';
import { keep, kept } from './kept';
import { tellUntilTaken, USUAL_TELLING, type TellingMoods } from './telling';

export interface BoardCall {
  id: string;
  direction: 'inbound' | 'outbound';
  from: string;
  to: string;
  state: 'ringing' | 'answered' | 'missed' | 'ended';
  agent: string;
  started: string;
  answered: string | null;
  ended: string | null;
  outcome: string;
}

interface Kept {
  to: string;
  secret: string;
}

/** Numbers it has, beside those of the carrier. */
export const BOARD_NUMBERS = [
  { number: '+17195550175', name: 'Front desk', sms: true, voice: true, registered: true },
  { number: '+17195550176', name: 'Visits', sms: true, voice: true, registered: false },
  { number: '+17195550177', name: 'Door', sms: false, voice: true, registered: false },
];

export type CallAct = 'answer' | 'miss' | 'hang-up' | 'tag';

/** A telephone system of a shape of its own: it tells what happens to calls by webhook, and lists its numbers. */
export class SimulatedSwitchboard {
  moods: TellingMoods = { ...USUAL_TELLING };
  readonly counts = { told: 0 };
  readonly #calls: BoardCall[] = [];
  #where: Kept;

  constructor(
    private readonly clock: BenchClock,
    private readonly file: string | null,
  ) {
    this.#where = { to: '', secret: '', ...kept<Kept>(file) };
  }

  view(): object {
    return { ...this.#where, moods: this.moods, ...this.counts, calls: this.#calls.slice(-30).reverse() };
  }

  set({ to = this.#where.to, secret = this.#where.secret }: Partial<Kept>): void {
    this.#where = { to, secret };
    keep(this.file, this.#where);
  }

  #now = (): string => new Date(this.clock.now()).toISOString();

  ring(from: string, to: string, direction: BoardCall['direction'], agent = ''): BoardCall {
    const call: BoardCall = {
      ...{ id: `c-${randomBytes(6).toString('hex')}`, direction, from, to, agent, state: 'ringing' },
      ...{ started: this.#now(), answered: null, ended: null, outcome: '' },
    };
    this.#calls.push(call);
    if (this.#calls.length > 2_000) this.#calls.shift();
    this.#tell('call.ringing', call);
    return call;
  }

  /** Gives why it cannot be; null: it is done. */
  act(
    id: string,
    act: CallAct,
    { agent, outcome, note }: { agent?: string; outcome?: string; note?: string },
  ): string | null {
    const call = this.#calls.find((one) => one.id === id);
    if (!call) return 'There is no such call.';
    if (agent) call.agent = agent;
    switch (act) {
      case 'answer':
        if (call.state !== 'ringing') return 'It does not ring any more.';
        Object.assign(call, { state: 'answered', answered: this.#now() });
        this.#tell('call.answered', call);
        return null;
      case 'miss':
      case 'hang-up':
        if (call.ended !== null) return 'It is over already.';
        Object.assign(call, { state: call.answered ? 'ended' : 'missed', ended: this.#now() });
        this.#tell(call.answered ? 'call.hangup' : 'call.missed', call);
        return null;
      case 'tag':
        if (!outcome) return 'outcome: say what it came to.';
        call.outcome = outcome;
        this.#tell('call.tagged', call, note);
        return null;
    }
  }

  #tell(event: string, call: BoardCall, note?: string): void {
    const { twice_share: twice, disorder_share: disorder, late_ms: late } = this.moods;
    const { id, direction, from, to, agent, started, answered, ended, outcome } = call;
    const body = {
      event,
      time: this.#now(),
      call: {
        ...{ uuid: id, direction, caller: from, called: to, started_at: started },
        ...(answered ? { answered_at: answered } : {}),
        ...(ended ? { ended_at: ended } : {}),
      },
      ...(agent ? { agent: { name: agent } } : {}),
      ...(outcome ? { disposition: outcome } : {}),
      ...(note ? { note } : {}),
    };
    const say = () =>
      void tellUntilTaken(
        () => (this.#where.to === '' ? null : { url: this.#where.to, secret: this.#where.secret || null }),
        body,
      ).then((taken) => {
        if (taken) this.counts.told += 1;
      });
    // What is told out of its order comes after what follows it.
    const after = late + (Math.random() < disorder ? 400 : 0);
    for (let i = Math.random() < twice ? 2 : 1; i > 0; i--) setTimeout(say, after);
  }
}
