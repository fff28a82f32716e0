import type { IncomingMessage, ServerResponse } from 'node:http';
import { LINES, problem, takeAsked, type Line, type Said } from './asked';
import { keep, kept } from './kept';

interface Account {
  id: string;
  token: string;
  name: string;
  state: 'open' | 'closed';
}

/** Who has a number, and by which reference. */
interface Let {
  account: string;
  reference: string;
}

export interface StockMoods {
  line: Line;
  /** Whether the card that credits are paid with is taken. */
  card: 'takes' | 'declines';
}

/** A number that is on its way from another provider. */
interface Port {
  account: string;
  number: string;
  at: number;
  why: string | null;
}

interface Bought {
  account: string;
  pack: string;
  at: number;
  declined: boolean;
}

interface Kept {
  let: Record<string, Let>;
  ports: Record<string, Port>;
  bought: Record<string, Bought>;
}

const PACKS = [
  { id: 'small', credits: 5_000, price: 9_900, currency: 'USD' },
  { id: 'middle', credits: 25_000, price: 44_900, currency: 'USD' },
  { id: 'large', credits: 100_000, price: 159_900, currency: 'USD' },
];

/** Milliseconds a number that is brought along is checked, and then waits for its day; and that a payment takes. */
const CHECKED = 3_000;
const CHANGES_OVER = 8_000;
const PAID = 2_000;

interface Listed {
  number: string;
  kind: 'local' | 'toll-free' | 'short-code';
  town: string;
  sms: boolean;
  mms: boolean;
  voice: boolean;
  setup_credits: number;
  monthly_credits: number;
}

/** Towns nobody lives in, by area code. */
const TOWNS: Readonly<Record<string, string>> = {
  ...{ '719': 'Juniper Gap', '303': 'Alder Flats', '720': 'Alder Flats', '970': 'Larkspur Bend' },
  ...{ '505': 'Mesa Verdugo', '801': 'Saltbush', '602': 'Ocotillo', '208': 'Camas Prairie' },
  ...{ '406': 'Wind Coulee', '307': 'Antelope Rise', '415': 'Fog Point', '503': 'Alderwood' },
  ...{ '206': 'Cedar Sound', '512': 'Limestone', '312': 'Lakehead', '212': 'Harbor Row' },
};

const TOLL_FREE = ['800', '833', '844', '855'];

/** All it ever lets: only numbers that are set aside for stories (555-0100 to 555-0199), and short codes nobody has. */
const STOCK: readonly Listed[] = [
  ...Object.entries(TOWNS).flatMap(([area, town]) =>
    Array.from({ length: 30 }, (_, i): Listed => {
      // From the upper half: the lower half belongs to people.
      const last = 150 + ((i * 7 + Number(area)) % 50);
      return {
        ...{ number: `+1${area}5550${last}`, kind: 'local', town, sms: true, mms: i % 3 !== 0, voice: true },
        ...{ setup_credits: 0, monthly_credits: 40 },
      };
    }),
  ),
  ...TOLL_FREE.flatMap((area) =>
    Array.from({ length: 8 }, (_, i): Listed => ({
      ...{ number: `+1${area}55501${String(50 + i * 6)}`, kind: 'toll-free', town: '', sms: true, mms: true },
      ...{ voice: true, setup_credits: 50, monthly_credits: 120 },
    })),
  ),
  ...['55512', '55534', '555777'].map((number): Listed => ({
    ...{ number, kind: 'short-code', town: '', sms: true, mms: true, voice: false },
    ...{ setup_credits: 5_000, monthly_credits: 9_000 },
  })),
].filter(({ number }, i, all) => all.findIndex((one) => one.number === number) === i);

const PAGE = 20;

/** A provider of numbers as `docs/formats/number-provider.json` describes it: a stock, taken once by reference, and given back; numbers brought along, and credits. */
export class SimulatedStock {
  moods: StockMoods = { line: 'up', card: 'takes' };
  readonly #kept: Kept;
  readonly accounts: Account[] = [
    { id: 'juniper', token: 'bench', name: 'Juniper Gap Observatory', state: 'open' },
    { id: 'closed', token: 'bench', name: 'An account that is closed', state: 'closed' },
    { id: 'cedar', token: 'bench', name: 'Cedar Dome', state: 'open' },
  ];

  constructor(
    private readonly file: string | null,
    private readonly now: () => number = Date.now,
  ) {
    this.#kept = { let: {}, ports: {}, bought: {}, ...kept<Kept>(file) };
  }

  view = (): object => ({
    accounts: this.accounts.map(({ token: _, ...account }) => account),
    ...{ stock: STOCK.length, ...this.#kept, moods: this.moods },
  });

  setMoods({ line = this.moods.line, card = this.moods.card }: Record<string, unknown>): string | null {
    if (!LINES.includes(line as Line)) return `line: one of ${LINES.join(', ')}.`;
    if (card !== 'takes' && card !== 'declines') return 'card: takes or declines.';
    this.moods = { line: line as Line, card };
    return null;
  }

  /** A request to the interface; `path` begins with /accounts, `query` is what stands behind it. */
  take = (
    request: IncomingMessage,
    response: ServerResponse,
    path: string,
    query: URLSearchParams,
  ): Promise<void> =>
    takeAsked(request, response, {
      ...{ path, line: this.moods.line, accounts: this.accounts },
      answer: (account, method, rest, body) => this.#answer(account, method, rest, query, body),
    });

  #answer(
    account: Account,
    method: string,
    rest: string,
    query: URLSearchParams,
    body: Record<string, unknown>,
  ): Said {
    if (method === 'GET' && rest === '')
      return [200, { id: account.id, name: account.name, state: account.state }];
    if (method === 'GET' && rest === '/stock') return [200, { numbers: this.#find(query) }];
    if (method === 'GET' && rest === '/credit-packs') return [200, { packs: PACKS }];
    const [, what, reference] = /^\/(ports|credit-orders)\/([^/]+)$/.exec(rest) ?? [];
    if (what === 'ports') return this.#port(account, method, reference!, body);
    if (what === 'credit-orders' && method === 'PUT') return this.#buy(account, reference!, body);
    const named = /^\/numbers\/([^/]+)$/.exec(rest)?.[1];
    const listed = named && STOCK.find(({ number }) => number === decodeURIComponent(named));
    if (!listed) return problem(404, 'unknown', 'There is nothing here.');
    const has = this.#kept.let[listed.number];
    if (method === 'DELETE') {
      if (has?.account !== account.id) return problem(404, 'unknown', 'This account has no such number.');
      delete this.#kept.let[listed.number];
      this.#keep();
      return [200, null];
    }
    if (method !== 'PUT') return problem(404, 'unknown', 'There is nothing here.');
    if (account.state === 'closed') return problem(422, 'account-closed', 'This account takes nothing.');
    if (typeof body.reference !== 'string') return problem(422, 'misshapen', 'reference: give one.');
    // Taken by this very reference before: it is theirs.
    if (has && (has.account !== account.id || has.reference !== body.reference))
      return problem(409, 'gone', 'Somebody has taken it meanwhile.');
    this.#kept.let[listed.number] = { account: account.id, reference: body.reference };
    this.#keep();
    return [has ? 200 : 201, listed];
  }

  #port(account: Account, method: string, reference: string, body: Record<string, unknown>): Said {
    const known = this.#kept.ports[reference];
    if (known && known.account !== account.id) return problem(404, 'unknown', 'There is nothing here.');
    if (method === 'DELETE') {
      if (!known) return problem(404, 'unknown', 'There is nothing here.');
      if (this.#portState(known) === 'done') return problem(409, 'late', 'It is done already.');
      delete this.#kept.ports[reference];
      this.#keep();
      return [200, null];
    }
    if (method !== 'PUT') return problem(404, 'unknown', 'There is nothing here.');
    if (account.state === 'closed') return problem(422, 'account-closed', 'This account takes nothing.');
    const { number, holder, account: there, pin, postal_code: postal } = body;
    if ([number, holder, there, postal].some((one) => typeof one !== 'string'))
      return problem(422, 'misshapen', 'number, holder, account and postal_code: give them.');
    const port = (this.#kept.ports[reference] ??= {
      ...{ account: account.id, number: number as string, at: this.now() },
      why: pin === '0000' ? 'The transfer PIN is not the one the present provider has.' : null,
    });
    this.#keep();
    return [known ? 200 : 201, this.#portView(port)];
  }

  #portState({ at, why }: Port): 'checking' | 'planned' | 'done' | 'refused' {
    const since = this.now() - at;
    if (since < CHECKED) return 'checking';
    if (why) return 'refused';
    return since < CHANGES_OVER ? 'planned' : 'done';
  }

  #portView(port: Port): object {
    const state = this.#portState(port);
    if (state === 'refused') return { state, reason: port.why };
    if (state === 'planned')
      return { state, day: new Date(port.at + CHANGES_OVER).toISOString().slice(0, 10) };
    if (state === 'checking') return { state };
    return {
      state,
      number: {
        ...{ number: port.number, kind: 'local', town: '', sms: true, mms: true, voice: true },
        ...{ setup_credits: 100, monthly_credits: 40 },
      },
    };
  }

  #buy(account: Account, reference: string, { pack }: Record<string, unknown>): Said {
    const known = this.#kept.bought[reference];
    if (known && known.account !== account.id) return problem(404, 'unknown', 'There is nothing here.');
    if (account.state === 'closed') return problem(422, 'account-closed', 'This account takes nothing.');
    const sold = PACKS.find(({ id }) => id === (known?.pack ?? pack));
    if (!sold) return problem(422, 'unknown-pack', 'pack: this is not sold.');
    const order = (this.#kept.bought[reference] ??= {
      ...{ account: account.id, pack: sold.id, at: this.now() },
      declined: this.moods.card === 'declines',
    });
    this.#keep();
    const status = known ? 200 : 201;
    if (this.now() - order.at < PAID) return [status, { state: 'waiting', credits: sold.credits }];
    return [
      status,
      order.declined
        ? { state: 'refused', reason: 'The card was declined.' }
        : { state: 'paid', credits: sold.credits },
    ];
  }

  #keep = (): void => keep(this.file, this.#kept);

  #find(query: URLSearchParams): Listed[] {
    const [kind, area, town, digits] = ['kind', 'area', 'town', 'digits'].map((name) => query.get(name));
    return STOCK.filter(
      (one) =>
        !this.#kept.let[one.number] &&
        (!kind || one.kind === kind) &&
        (!area || one.number.startsWith(`+1${area}`)) &&
        (!town || one.town.toLowerCase().includes(town.toLowerCase())) &&
        (!digits || one.number.includes(digits)) &&
        (query.get('mms') !== 'true' || one.mms) &&
        (query.get('voice') !== 'true' || one.voice),
    ).slice(0, PAGE);
  }
}
