import { randomBytes } from 'node:crypto';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { parseDuration, type BenchClock } from '../clock';
import type { SimulatedCarrier } from '../carrier';
import type { Behaviour } from '../faults';
import type { Handsets } from '../handsets';
import type { NetworkAccount, NetworkBook, NetworkButton, NetworkTemplate } from './book';
import { tellUntilTaken } from '../telling';
import { USUAL_MOODS, type Moods } from './moods';
import { LIMITS, misshapen, objection, PRICES } from './reviewer';

const DAY = 86_400_000;

/** A file somebody sent, until it is fetched. */
interface KeptFile {
  id: string;
  name: string;
  type: string;
  bytes: Buffer;
}

/** A file that goes to somebody: it is shown from where it stands. */
interface SentFile {
  url: string;
  name: string;
  type: string;
}

interface Taken {
  id: string;
  to: string;
  state: 'sent' | 'delivered' | 'read' | 'failed';
}

type Said = [status: number, body: unknown];

const problem = (status: number, reason: string, detail: string): Said => [
  status,
  { title: 'Not taken', status, reason, detail },
];

/** What becomes of a message at a handset that behaves so. */
const FAILS: Partial<Record<Behaviour, string>> = {
  off: 'unreachable',
  'spam-blocked': 'blocked',
};

const REFUSES: Partial<Record<Behaviour, [reason: string, words: string]>> = {
  'unknown-number': ['unknown-person', 'Nobody has this id.'],
  landline: ['unknown-person', 'Nobody has this id.'],
  refused: ['refused', 'The network does not carry this.'],
};

/**
 * A chat network as `docs/formats/chat-network.json` describes it: accounts, templates with a reviewer, messages taken once
 * by their reference, and signed callbacks that are tried until they are taken.
 */
export class SimulatedNetwork {
  moods: Moods = { ...USUAL_MOODS };
  readonly counts = { taken: 0, refused: 0, told: 0, brought: 0 };
  readonly #taken = new Map<string, Map<string, Taken>>();
  readonly #files = new Map<string, KeptFile>();
  readonly #telling = new Map<string, object[]>();
  #ids = 0;

  constructor(
    private readonly book: NetworkBook,
    private readonly clock: BenchClock,
    private readonly handsets: Handsets,
    private readonly carrier: SimulatedCarrier,
  ) {
    setInterval(() => this.#review(), 200).unref();
    clock.onMove(() => this.#review());
  }

  accounts(): object[] {
    return this.book.accounts.map(({ token: _, callbacks, people, ...account }) => ({
      ...account,
      ...{
        connected: callbacks !== null,
        blocked: Object.values(people).filter((one) => one.blocked).length,
      },
    }));
  }

  /** All it knows, with the moment it knows it. */
  written(): object {
    return { now: this.clock.now(), accounts: this.book.accounts };
  }

  /** Knows what was written elsewhere, with every moment moved by whole days next to now. */
  rewrite({ now, accounts }: Record<string, unknown>): void {
    if (typeof now !== 'number' || !Array.isArray(accounts)) return;
    const by = Math.floor((this.clock.now() - now) / DAY) * DAY;
    this.book.replace(accounts as NetworkAccount[], by);
  }

  /** Tells nobody anything any more. */
  hangUp(): void {
    for (const account of this.book.accounts) account.callbacks = null;
  }

  /** The interface for those who send. */
  async take(request: IncomingMessage, response: ServerResponse, path: string): Promise<void> {
    if (this.moods.network === 'down') return void request.socket.destroy();
    const body = await bodyOf(request);
    const [, id = '', rest = ''] = /^\/accounts\/([^/]+)(\/.*)?$/.exec(path) ?? [];
    const account = this.book.account(decodeURIComponent(id));
    const say = ([status, said]: Said) => {
      const type = status >= 400 ? 'application/problem+json' : 'application/json';
      response.writeHead(status, { 'content-type': type }).end(said === null ? '' : JSON.stringify(said));
    };
    if (!account || request.headers.authorization !== `Bearer ${account.token}`)
      return say(problem(401, 'unknown-account', 'No account is known by this token.'));
    if (this.moods.network === 'busy') return say(problem(503, 'busy', 'Too much at once.'));
    const file = /^\/files\/([^/]+)$/.exec(rest)?.[1];
    if (file && request.method === 'GET') return this.#give(file, response);
    let asked: Record<string, unknown> = {};
    try {
      asked = body.length > 0 ? (JSON.parse(body.toString('utf8')) as Record<string, unknown>) : {};
    } catch {
      return say(problem(400, 'unreadable', 'The body is no JSON.'));
    }
    const answer = await this.#answer(account, `${request.method} ${rest}`, asked);
    if (this.moods.network === 'cuts' && rest === '/messages') return void request.socket.destroy();
    say(answer);
  }

  async #answer(account: NetworkAccount, asked: string, body: Record<string, unknown>): Promise<Said> {
    const named = /^(?:GET|DELETE) \/(?:templates|messages)\/([^/]+)$/.exec(asked)?.[1];
    const id = named && decodeURIComponent(named);
    if (asked === 'GET ') return [200, this.#report(account)];
    if (asked === 'PUT /callbacks') return this.#register(account, body);
    if (asked === 'POST /templates') return this.#takeTemplate(account, body as unknown as NetworkTemplate);
    if (asked === 'POST /messages') return this.#takeMessage(account, body);
    if (id && asked.startsWith('GET /messages/')) {
      const taken = this.#takenOf(account).get(id);
      return taken
        ? [200, { message: taken.id, state: taken.state }]
        : problem(404, 'unknown', 'No message has this reference.');
    }
    const template = id && account.templates.find((one) => one.id === id);
    if (!template) return problem(404, 'unknown', 'There is nothing here.');
    if (asked.startsWith('DELETE')) {
      template.state = 'withdrawn';
      this.book.changed();
      return [200, { id, state: 'withdrawn' }];
    }
    return [200, { id, state: template.state, ...(template.reason ? { reason: template.reason } : {}) }];
  }

  #report({ id, name, address, state, missing, quality, begin_limit }: NetworkAccount): object {
    return { id, name, address, state, missing, quality, begin_limit, limits: LIMITS, prices: PRICES };
  }

  #register(account: NetworkAccount, { url, secret }: Record<string, unknown>): Said {
    if (typeof url !== 'string' || typeof secret !== 'string')
      return problem(422, 'misshapen', 'url and secret: give both.');
    account.callbacks = { url, secret };
    this.book.changed();
    return [200, { url }];
  }

  #takeTemplate(account: NetworkAccount, given: NetworkTemplate): Said {
    const template: NetworkTemplate = {
      ...given,
      buttons: given.buttons ?? [],
      samples: given.samples ?? {},
      id: this.#id('t'),
      state: 'in-review',
    };
    const wrong = misshapen(template);
    if (wrong) return problem(422, 'misshapen', wrong);
    template.dueAt = this.clock.now() + (parseDuration(this.moods.review_after) ?? 0);
    account.templates.push(template);
    this.book.changed();
    return [201, { id: template.id, state: 'in-review' }];
  }

  /** Decides what is due, and tells. */
  #review(): void {
    if (this.moods.reviewer === 'never') return;
    for (const account of this.book.accounts)
      for (const template of account.templates) {
        if (
          template.state !== 'in-review' ||
          template.dueAt === undefined ||
          template.dueAt > this.clock.now()
        )
          continue;
        const reason =
          this.moods.reviewer === 'refusing' ? 'The reviewer refuses everything today.' : objection(template);
        this.setTemplate(account, template.id, reason ? 'refused' : 'approved', reason ?? undefined);
      }
  }

  /** A state by the reviewer’s hand: also one that comes later, such as paused or withdrawn. */
  setTemplate(
    account: NetworkAccount,
    id: string,
    state: NetworkTemplate['state'],
    reason?: string,
  ): boolean {
    const template = account.templates.find((one) => one.id === id);
    if (!template) return false;
    template.state = state;
    if (reason) template.reason = reason;
    else delete template.reason;
    this.book.changed();
    this.#tell(account, { kind: 'template.reviewed', template: id, state, ...(reason ? { reason } : {}) });
    return true;
  }

  /** The same by names from outside. */
  decide(accountId: string, id: string, state: string, reason?: string): boolean {
    const account = this.book.account(accountId);
    const known = ['in-review', 'approved', 'refused', 'paused', 'withdrawn'].includes(state);
    return (
      account !== undefined &&
      known &&
      this.setTemplate(account, id, state as NetworkTemplate['state'], reason)
    );
  }

  setAccount(
    id: string,
    change: Partial<Pick<NetworkAccount, 'state' | 'quality' | 'begin_limit' | 'missing'>>,
  ): boolean {
    const account = this.book.account(id);
    if (!account) return false;
    Object.assign(account, change);
    this.book.changed();
    this.#tell(account, { kind: 'account.changed' });
    return true;
  }

  #takenOf(account: NetworkAccount): Map<string, Taken> {
    const taken = this.#taken.get(account.id) ?? new Map<string, Taken>();
    this.#taken.set(account.id, taken);
    return taken;
  }

  async #takeMessage(account: NetworkAccount, body: Record<string, unknown>): Promise<Said> {
    const { reference, to } = body;
    if (typeof reference !== 'string' || typeof to !== 'string')
      return problem(422, 'misshapen', 'reference and to: give both.');
    const known = this.#takenOf(account).get(reference);
    if (known) return [409, { title: 'Taken before', status: 409, message: known.id }];
    const refused = this.#refusal(account, to, body);
    if (refused) {
      this.counts.refused++;
      return refused;
    }
    const { faults } = this.carrier;
    await new Promise((resolve) => setTimeout(resolve, faults.submit_latency_ms));
    if (Math.random() < faults.refuse_share) return problem(503, 'busy', 'An error of its own.');
    const taken: Taken = { id: this.#id('m'), to, state: 'sent' };
    this.#takenOf(account).set(reference, taken);
    this.counts.taken++;
    this.book.changed();
    this.#deliver(account, reference, taken, body);
    return [202, { message: taken.id }];
  }

  /** By the network’s own books: who may be written to, with what, and with how many a conversation may begin. */
  #refusal(account: NetworkAccount, to: string, body: Record<string, unknown>): Said | null {
    const { template, text } = body;
    const now = this.clock.now();
    const person = (account.people[to] ??= {});
    const refuses = REFUSES[this.handsets.get(to).behaviour];
    if (refuses) return problem(422, ...refuses);
    if (person.blocked) return problem(422, 'blocked', 'They blocked this account.');
    const open = person.wrote !== undefined && now < person.wrote + DAY;
    if (account.state === 'closed' || (account.state === 'restricted' && !open))
      return problem(422, 'account-restricted', 'This account may begin with nobody.');
    if (!template) {
      if (typeof text !== 'string' || text === '' || text.length > LIMITS.text)
        return problem(422, 'misshapen', 'text: 1 to 4096 characters.');
      const wrong = misshapenExtras(body);
      if (wrong) return problem(422, 'misshapen', wrong);
      return open
        ? null
        : problem(422, 'window-closed', 'They last wrote more than 24 hours ago: only a template may go.');
    }
    const { id, values = {} } = template as { id?: string; values?: Record<string, string> };
    const known = account.templates.find((one) => one.id === id);
    if (known?.state !== 'approved')
      return problem(422, 'template-not-approved', `The template is ${known?.state ?? 'not known'}.`);
    for (const piece of known.body)
      if ('variable' in piece && !values[piece.variable])
        return problem(422, 'misshapen', `values: ${piece.variable} is missing.`);
    if (open || (person.begun !== undefined && now < person.begun + DAY)) return null;
    const begun = Object.values(account.people).filter(
      (one) => one.begun !== undefined && one.begun > now - DAY,
    ).length;
    if (account.begin_limit !== null && begun >= account.begin_limit)
      return problem(422, 'begin-limit', `This account begins with ${account.begin_limit} people a day.`);
    person.begun = now;
    return null;
  }

  #deliver(account: NetworkAccount, reference: string, taken: Taken, body: Record<string, unknown>): void {
    const { faults } = this.carrier;
    const { behaviour } = this.handsets.get(taken.to);
    const fails = FAILS[behaviour];
    const shown = this.#shown(account, body);
    if (!fails)
      this.handsets.showChat(taken.to, {
        ...{ direction: 'in', from: account.address, to: taken.to, body: shown.text, parts: 1 },
        ...{ at: new Date(this.clock.now()).toISOString(), chat: account.id, buttons: shown.buttons },
        ...(shown.pictures.length > 0 ? { pictures: shown.pictures } : {}),
      });
    this.#tell(account, { kind: 'message.sent', reference, to: taken.to });
    if (behaviour === 'receipt-lost' || Math.random() < faults.lost_receipt_share) return;
    const late = behaviour === 'receipt-late' ? (parseDuration(faults.late_by) ?? 0) : 0;
    const arrived = (): void => {
      taken.state = fails ? 'failed' : 'delivered';
      const told = fails ? { kind: 'message.failed', reason: fails } : { kind: 'message.delivered' };
      for (let i = behaviour === 'receipt-twice' ? 2 : 1; i > 0; i--)
        this.#tell(account, { ...told, reference, to: taken.to });
      if (fails || !this.#reads(taken.to)) return;
      const read = () => {
        taken.state = 'read';
        this.#tell(account, { kind: 'message.read', reference, to: taken.to });
      };
      this.#after(parseDuration(this.moods.read_after) ?? 0, read);
    };
    if (late > 0) this.#after(late, arrived);
    else setTimeout(arrived, faults.receipt_latency_ms);
  }

  /** The same people always read. */
  #reads(to: string): boolean {
    let sum = 0;
    for (const letter of to) sum = (sum * 31 + letter.charCodeAt(0)) % 1_000;
    return sum / 1_000 < this.moods.read_share;
  }

  /** After so long on the bench’s clock. */
  #after(ms: number, work: () => void): void {
    const due = this.clock.now() + ms;
    const look = () => (this.clock.now() >= due ? work() : void setTimeout(look, 100).unref());
    look();
  }

  #shown(
    account: NetworkAccount,
    { template, text, buttons = [], files = [] }: Record<string, unknown>,
  ): { text: string; buttons: NetworkButton[]; pictures: SentFile[] } {
    if (!template)
      return { text: text as string, buttons: buttons as NetworkButton[], pictures: files as SentFile[] };
    const { id, values = {} } = template as { id: string; values?: Record<string, string> };
    const known = account.templates.find((one) => one.id === id)!;
    const body = known.body.map((piece) => ('text' in piece ? piece.text : values[piece.variable])).join('');
    const whole = [known.header?.text, body, known.footer].filter(Boolean).join('\n\n');
    return { text: whole, buttons: known.buttons, pictures: [] };
  }

  /** A message from a handset. Gives why it is not carried; null: it is. */
  write(
    from: string,
    to: string,
    said: {
      text: string;
      button?: string;
      files?: Omit<KeptFile, 'id'>[];
      profile?: { name?: string; language?: string };
    },
  ): string | null {
    const account = this.book.called(to);
    if (!account) return 'to: no chat account has this address.';
    const person = (account.people[from] ??= {});
    // Whoever writes to it again has taken the block back.
    if (person.blocked) this.block(from, to, false);
    const files = (said.files ?? []).map((file) => {
      const kept = { ...file, id: this.#id('f') };
      this.#files.set(kept.id, kept);
      return kept;
    });
    const shown = this.handsets
      .get(from)
      .texts.findLast(({ chat, buttons }) => chat === account.id && buttons?.length);
    const pressed =
      said.button === undefined ? null : (shown?.buttons?.find(({ words }) => words === said.button) ?? null);
    if (said.button !== undefined && !pressed) return 'button: no such button was shown.';
    person.wrote = this.clock.now();
    this.book.changed();
    const text = pressed ? pressed.words : said.text;
    this.handsets.showChat(from, {
      ...{ direction: 'out', from, to: account.address, body: text, parts: 1, chat: account.id },
      at: new Date(this.clock.now()).toISOString(),
    });
    this.counts.brought++;
    this.#tell(account, {
      ...{ kind: 'message.received', message: this.#id('in'), from, text },
      profile: { name: said.profile?.name ?? '', language: said.profile?.language ?? null },
      ...(pressed ? { button: { words: pressed.words, key: pressed.key } } : {}),
      ...(files.length > 0
        ? { files: files.map(({ id, name, type, bytes }) => ({ id, name, type, size: bytes.length })) }
        : {}),
    });
    return null;
  }

  block(from: string, to: string, blocked: boolean): string | null {
    const account = this.book.called(to);
    if (!account) return 'to: no chat account has this address.';
    const person = (account.people[from] ??= {});
    if (blocked) person.blocked = true;
    else delete person.blocked;
    this.book.changed();
    this.#tell(account, { kind: blocked ? 'person.blocked' : 'person.unblocked', from });
    return null;
  }

  #give(id: string, response: ServerResponse): void {
    const file = this.#files.get(decodeURIComponent(id));
    if (!file) return void response.writeHead(404).end();
    response.writeHead(200, { 'content-type': file.type }).end(file.bytes);
  }

  #id = (kind: string): string => `${kind}${(this.#ids += 1)}-${randomBytes(5).toString('hex')}`;

  #bring(account: NetworkAccount, events: object[]): void {
    void tellUntilTaken(() => account.callbacks, { account: account.id, events }).then((taken) => {
      if (taken) this.counts.told += events.length;
    });
  }

  /** What comes together is told together, in its order. */
  #tell(account: NetworkAccount, event: object): void {
    const { twice_share: twice, disorder_share: disorder } = this.moods;
    const one = { id: this.#id('e'), at: new Date(this.clock.now()).toISOString(), ...event };
    const waiting = this.#telling.get(account.id);
    const events = waiting ?? [];
    if (Math.random() < disorder) events.unshift(one);
    else events.push(one);
    if (Math.random() < twice) events.push(one);
    if (waiting) return;
    this.#telling.set(account.id, events);
    setTimeout(() => {
      this.#telling.delete(account.id);
      for (let i = 0; i < events.length; i += 200) this.#bring(account, events.slice(i, i + 200));
    }, 5);
  }
}

/** What is wrong with what goes along with free words; null: nothing. */
function misshapenExtras({ buttons = [], files = [] }: Record<string, unknown>): string | null {
  if (!Array.isArray(buttons) || buttons.length > LIMITS.quick_replies)
    return `buttons: at most ${LIMITS.quick_replies}.`;
  if (buttons.some(({ words }: NetworkButton) => typeof words !== 'string' || words.length > LIMITS.button))
    return `buttons: words of at most ${LIMITS.button} characters.`;
  const fits = ({ url, type }: Partial<SentFile>) =>
    /^https?:\/\//.test(url ?? '') && typeof type === 'string';
  return Array.isArray(files) && files.length <= 10 && files.every(fits)
    ? null
    : 'files: at most ten, each with url and type.';
}

async function bodyOf(request: IncomingMessage): Promise<Buffer> {
  const chunks: Buffer[] = [];
  for await (const chunk of request as AsyncIterable<Buffer>) chunks.push(chunk);
  return Buffer.concat(chunks);
}
