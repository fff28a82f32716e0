import { isRecord } from '../shared/json';

/** What a message that begins a conversation is for; the network prices them apart. */
export const CATEGORIES = ['marketing', 'utility', 'authentication'] as const;
export type Category = (typeof CATEGORIES)[number];

export const CATEGORY_WORDS: Record<Category, { name: string; hint: string }> = {
  marketing: {
    name: 'marketing',
    hint: 'news, invitations, offers: whatever they did not ask for themselves',
  },
  utility: { name: 'utility', hint: 'about something they asked for or booked: a date, a change, an answer' },
  authentication: { name: 'authentication', hint: 'a code by which they prove who they are' },
};

/** What a template may hold. The network tells its own; these count until it has. Lengths in characters. */
export interface ChatLimits {
  name: number;
  header: number;
  body: number;
  footer: number;
  /** Free text within the window. */
  text: number;
  quickReplies: number;
  /** Buttons that open an address, and that call a number. */
  links: number;
  calls: number;
  button: number;
  variables: number;
  /** Bytes of one file. */
  file: number;
}

export const USUAL_LIMITS: ChatLimits = {
  ...{ name: 60, header: 60, body: 1_000, footer: 60, text: 4_000 },
  ...{ quickReplies: 3, links: 1, calls: 1, button: 20, variables: 10, file: 5_000_000 },
};

/** Credits by what it is; `conversation`: free text within the window. */
export type ChatPrices = Record<Category | 'conversation', number>;

export const USUAL_PRICES: ChatPrices = { marketing: 4, utility: 2, authentication: 2, conversation: 1 };

/** How people take what an account sends, as the network judges. It falls with blocks. */
export type Quality = 'good' | 'middling' | 'poor';

export const QUALITY_WORDS: Record<Quality, string> = {
  good: 'good',
  middling: 'middling: some people block it',
  poor: 'poor: many people block it, and the network lowers how many it may begin with',
};

/** open: it may send. restricted: it may only answer. closed: nothing. */
export type AccountState = 'open' | 'restricted' | 'closed';

export const ACCOUNT_STATE_WORDS: Record<AccountState, string> = {
  open: 'connected',
  restricted: 'may only answer, the network says',
  closed: 'closed by the network',
};

/** What a network says of an account. */
export interface AccountReport {
  name: string;
  address: string;
  state: AccountState;
  /** What is missing before it may send, in the network's words. */
  missing: string[];
  quality: Quality;
  /** People it may begin with in a day; null: as many as it likes. */
  beginLimit: number | null;
  limits: ChatLimits;
  prices: ChatPrices;
}

const oneOf = <T extends string>(value: unknown, known: readonly T[], otherwise: T): T =>
  known.find((one) => one === value) ?? otherwise;

const count = (value: unknown, otherwise: number): number =>
  typeof value === 'number' && Number.isInteger(value) && value >= 0 ? value : otherwise;

const words = (value: unknown, most = 200): string => (typeof value === 'string' ? value.slice(0, most) : '');

/** Reads what a network says; what it leaves out or says in another way is as usual. */
export function readAccount(body: unknown): AccountReport | null {
  if (!isRecord(body) || typeof body.address !== 'string' || body.address === '') return null;
  const limits = isRecord(body.limits) ? body.limits : {};
  const prices = isRecord(body.prices) ? body.prices : {};
  const named = (field: string) => field.replace(/[A-Z]/g, (letter) => `_${letter.toLowerCase()}`);
  return {
    ...{ name: words(body.name), address: words(body.address, 100) },
    state: oneOf(body.state, ['open', 'restricted', 'closed'] as const, 'restricted'),
    missing: Array.isArray(body.missing) ? body.missing.slice(0, 20).map((one) => words(one)) : [],
    quality: oneOf(body.quality, ['good', 'middling', 'poor'] as const, 'good'),
    beginLimit: body.begin_limit === null ? null : count(body.begin_limit, 0),
    limits: Object.fromEntries(
      Object.entries(USUAL_LIMITS).map(([field, usual]) => [field, count(limits[named(field)], usual)]),
    ) as unknown as ChatLimits,
    prices: Object.fromEntries(
      Object.entries(USUAL_PRICES).map(([field, usual]) => [field, count(prices[field], usual)]),
    ) as ChatPrices,
  };
}
