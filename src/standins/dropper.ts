import { randomBytes } from 'node:crypto';
import type { IncomingMessage, ServerResponse } from 'node:http';
import type { SimulatedCarrier } from './carrier';
import type { BenchClock } from './clock';
import type { Behaviour } from './faults';
import type { Handsets } from './handsets';
import { keep, kept } from './kept';
import { tellUntilTaken, USUAL_TELLING, type TellingMoods } from './telling';

/** How voicemail boxes are: shares of all numbers, 0 to 1, always the same of one number. */
export interface DropMoods extends TellingMoods {
  box_full_share: number;
  answered_share: number;
  no_voicemail_share: number;
  carrier_refused_share: number;
  /** From taking one to having left it, in real milliseconds. */
  ring_ms: number;
}

const USUAL: DropMoods = {
  ...USUAL_TELLING,
  ...{ box_full_share: 0, answered_share: 0, no_voicemail_share: 0, carrier_refused_share: 0, ring_ms: 40 },
};

type State = 'taken' | 'left' | 'failed';

interface Account {
  id: string;
  token: string;
  name: string;
  state: 'open' | 'closed';
  price: number;
  callbacks: { url: string; secret: string } | null;
}

interface Sound {
  id: string;
  bytes: Buffer;
  seconds: number;
}

type Said = [status: number, body: unknown];

const problem = (status: number, reason: string, detail: string): Said => [
  status,
  { title: 'Not taken', status, reason, detail },
];

const ALWAYS: Partial<Record<Behaviour, string>> = {
  'unknown-number': 'number-gone',
  landline: 'landline',
  refused: 'carrier-refused',
  'spam-blocked': 'carrier-refused',
  'box-full': 'box-full',
  'no-voicemail': 'no-voicemail',
  answers: 'answered',
};

const LARGEST = 4_000_000;

/**
 * Who leaves voicemails, as `docs/formats/voicemail-account.json` describes it: recordings, drops taken once by their reference, a
 * phone that rings at most once, and signed callbacks that are tried until they are taken.
 */
export class SimulatedDropper {
  moods: DropMoods = { ...USUAL };
  readonly counts = { taken: 0, refused: 0, left: 0, failed: 0, told: 0 };
  readonly accounts: Account[];
  readonly #sounds = new Map<string, Sound>();
  readonly #drops = new Map<string, State>();
  readonly #telling = new Map<string, object[]>();

  constructor(
    private readonly file: string | null,
    private readonly clock: BenchClock,
    private readonly handsets: Handsets,
    private readonly carrier: SimulatedCarrier,
  ) {
    const { accounts = [] } = kept<{ accounts: Account[] }>(file);
    this.accounts = [
      {
        id: 'juniper',
        token: 'bench',
        name: 'Juniper Gap Observatory',
        state: 'open',
        price: 4,
        callbacks: null,
      },
      {
        id: 'closed',
        token: 'bench',
        name: 'An account that is closed',
        state: 'closed',
        price: 4,
        callbacks: null,
      },
      { id: 'cedar', token: 'bench', name: 'Cedar Dome', state: 'open', price: 5, callbacks: null },
    ].map((one) => ({ ...one, ...accounts.find(({ id }) => id === one.id) }) as Account);
  }

  sound(id: string): Buffer | null {
    return this.#sounds.get(id)?.bytes ?? null;
  }

  view(): object {
    return {
      accounts: this.accounts.map(({ token: _, callbacks, ...one }) => ({
        ...one,
        called: callbacks?.url ?? null,
      })),
      moods: this.moods,
      ...this.counts,
    };
  }

  setAccount(id: string, state: unknown): boolean {
    const account = this.accounts.find((one) => one.id === id);
    if (!account || (state !== 'open' && state !== 'closed')) return false;
    account.state = state;
    this.#changed();
    this.#tell(account, { kind: 'account.changed' });
    return true;
  }

  #changed(): void {
    keep(this.file, { accounts: this.accounts });
  }

  /** A request to the interface; `path` begins with /accounts. */
  async take(request: IncomingMessage, response: ServerResponse, path: string): Promise<void> {
    const [, id, rest = ''] = /^\/accounts\/([^/]+)(\/.*)?$/.exec(path) ?? [];
    const account = this.accounts.find((one) => one.id === decodeURIComponent(id ?? ''));
    const say = ([status, body]: Said) =>
      void response.writeHead(status, { 'content-type': 'application/json' }).end(JSON.stringify(body));
    if (!account || request.headers.authorization !== `Bearer ${account.token}`)
      return say(problem(401, 'unknown-account', 'No account is known by this token.'));
    const chunks: Buffer[] = [];
    let size = 0;
    for await (const chunk of request as AsyncIterable<Buffer>) {
      size += chunk.length;
      if (size > LARGEST) return say(problem(413, 'too-large', 'A recording has at most 4 MB.'));
      chunks.push(chunk);
    }
    say(await this.#answer(account, `${request.method} ${rest}`, Buffer.concat(chunks)));
  }

  async #answer(account: Account, asked: string, bytes: Buffer): Promise<Said> {
    const { id, name, state, price } = account;
    if (asked === 'GET ') return [200, { id, name, state, price }];
    const recording = /^PUT \/recordings\/([^/]+)$/.exec(asked)?.[1];
    if (recording) return this.#record(decodeURIComponent(recording), bytes);
    const drop = /^GET \/drops\/([^/]+)$/.exec(asked)?.[1];
    if (drop) {
      const known = this.#drops.get(`${account.id} ${decodeURIComponent(drop)}`);
      return known ? [200, { state: known }] : problem(404, 'unknown', 'No drop has this reference.');
    }
    const body = json(bytes);
    if (!body) return problem(400, 'misshapen', 'The body is no JSON.');
    if (asked === 'PUT /callbacks') {
      if (typeof body.url !== 'string' || typeof body.secret !== 'string')
        return problem(422, 'misshapen', 'url and secret: give both.');
      account.callbacks = { url: body.url, secret: body.secret };
      this.#changed();
      return [200, { url: body.url }];
    }
    if (asked === 'POST /drops') return this.#drop(account, body);
    return problem(404, 'unknown', 'There is nothing here.');
  }

  #record(reference: string, bytes: Buffer): Said {
    const rate = bytes.length > 44 ? bytes.readUInt32LE(24) : 0;
    if (bytes.toString('latin1', 0, 4) !== 'RIFF' || rate === 0)
      return problem(422, 'misshapen', 'Bring a WAVE file.');
    const seconds = (bytes.length - 44) / 2 / rate;
    if (seconds > 60) return problem(422, 'too-long', 'A recording has at most 60 seconds.');
    const id = `snd-${reference}`;
    this.#sounds.set(id, { id, bytes, seconds });
    return [201, { id }];
  }

  async #drop(account: Account, { reference, to, from, recording }: Record<string, unknown>): Promise<Said> {
    if (typeof reference !== 'string' || typeof to !== 'string' || typeof from !== 'string')
      return problem(422, 'misshapen', 'reference, to and from: give all three.');
    const key = `${account.id} ${reference}`;
    if (this.#drops.has(key)) return [409, { title: 'Taken before', status: 409 }];
    const { faults } = this.carrier;
    await new Promise((resolve) => setTimeout(resolve, faults.submit_latency_ms));
    if (Math.random() < faults.refuse_share) return problem(503, 'busy', 'An error of its own.');
    const sound = this.#sounds.get(String(recording));
    const refused =
      account.state === 'closed'
        ? problem(422, 'account-closed', 'This account leaves nothing.')
        : sound
          ? null
          : problem(422, 'unknown-recording', 'There is no such recording.');
    if (refused) {
      this.counts.refused++;
      return refused;
    }
    this.#drops.set(key, 'taken');
    this.counts.taken++;
    setTimeout(() => this.#leave(account, { key, reference, to, from, sound: sound! }), this.moods.ring_ms);
    return [202, { reference }];
  }

  #leave(
    account: Account,
    {
      key,
      reference,
      to,
      from,
      sound,
    }: { key: string; reference: string; to: string; from: string; sound: Sound },
  ): void {
    const { behaviour } = this.handsets.get(to);
    const fails = ALWAYS[behaviour] ?? this.#byChance(to);
    this.#drops.set(key, fails ? 'failed' : 'left');
    this.counts[fails ? 'failed' : 'left']++;
    if (!fails)
      this.handsets.showVoicemail({
        ...{
          from,
          to,
          at: new Date(this.clock.now()).toISOString(),
          sound: sound.id,
          seconds: sound.seconds,
        },
      });
    if (behaviour === 'receipt-lost') return;
    const told = fails ? { kind: 'drop.failed', reference, reason: fails } : { kind: 'drop.left', reference };
    for (let i = behaviour === 'receipt-twice' ? 2 : 1; i > 0; i--) this.#tell(account, told);
  }

  /** The same boxes are always full. */
  #byChance(to: string): string | null {
    let sum = 7;
    for (const letter of to) sum = (sum * 131 + letter.charCodeAt(0)) % 10_007;
    let at = sum / 10_007;
    for (const [share, reason] of [
      [this.moods.box_full_share, 'box-full'],
      [this.moods.answered_share, 'answered'],
      [this.moods.no_voicemail_share, 'no-voicemail'],
      [this.moods.carrier_refused_share, 'carrier-refused'],
    ] as const) {
      if (at < share) return reason;
      at -= share;
    }
    return null;
  }

  /** What comes together is told together. */
  #tell(account: Account, event: object): void {
    const { twice_share: twice, disorder_share: disorder, late_ms: late } = this.moods;
    const at = new Date(this.clock.now()).toISOString();
    const one = { id: `e-${randomBytes(6).toString('hex')}`, at, ...event };
    const waiting = this.#telling.get(account.id);
    const events = waiting ?? [];
    if (Math.random() < disorder) events.unshift(one);
    else events.push(one);
    if (Math.random() < twice) events.push(one);
    if (waiting) return;
    this.#telling.set(account.id, events);
    setTimeout(() => {
      this.#telling.delete(account.id);
      for (let i = 0; i < events.length; i += 200) {
        const some = events.slice(i, i + 200);
        void tellUntilTaken(() => account.callbacks, { account: account.id, events: some }).then((taken) => {
          if (taken) this.counts.told += some.length;
        });
      }
    }, 5 + late);
  }
}

function json(bytes: Buffer): Record<string, unknown> | null {
  try {
    const read: unknown = JSON.parse(bytes.toString('utf8'));
    return typeof read === 'object' && read !== null ? (read as Record<string, unknown>) : null;
  } catch {
    return null;
  }
}
