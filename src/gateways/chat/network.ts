import { isRecord } from '@/core/shared/json';
import { readAccount, type AccountReport, type Category } from '@/core/chat/network';
import { piecesOf, type Button, type ChatWords } from '@/core/chat/template';
import { REVIEWED, type WordingEvent } from '@/core/chat/wording-life';
import type { FailureReason } from '@/core/delivery/failure';
import { cutText, cleanText } from '@/core/shared/clean-text';
import { ok, refuse, type Result } from '@/core/shared/result';
import type { SubmitOutcome } from '../carrier';
import { call, type Call, type Called } from '../call';
import { doneBy, jsonBy, problemOf, type CallRefusal } from '../answered';

/** How an account is reached at its network: the interface is described in `docs/formats/chat-network.json`. */
export interface ChatAccess {
  url: string;
  account: string;
  token: string;
}

export interface OutgoingChat {
  /** Ours, and the same at every try: a network takes it once. */
  reference: string;
  to: string;
  content:
    | {
        text: string;
        buttons?: readonly Extract<Button, { kind: 'reply' }>[];
        files?: readonly ChatFileOut[];
      }
    | { template: { id: string; filled: Record<string, string> } };
}

/** A file a network fetches from where it stands. */
interface ChatFileOut {
  url: string;
  name: string;
  type: string;
  /** What it shows, for who cannot see it. */
  alt: string;
}

export interface HandedIn {
  name: string;
  language: string;
  category: Category;
  words: ChatWords;
  samples: Readonly<Record<string, string>>;
}

export interface ChatNetwork {
  account(access: ChatAccess): Promise<Result<AccountReport, CallRefusal>>;
  /** Where the network calls us back, and what it signs with. */
  register(access: ChatAccess, back: { url: string; secret: string }): Promise<Result<null, CallRefusal>>;
  /** Gives the network’s own id of it. */
  handIn(
    access: ChatAccess,
    template: HandedIn,
  ): Promise<Result<{ id: string; event: Reviewed | null }, CallRefusal>>;
  /** How the review of a template stands; null: it goes on. */
  review(access: ChatAccess, id: string): Promise<Result<Reviewed | null, CallRefusal>>;
  withdraw(access: ChatAccess, id: string): Promise<Result<null, CallRefusal>>;
  /** Never throws. A line that broke after the message may have gone out is asked about before it is called unknown. */
  send(access: ChatAccess, chat: OutgoingChat): Promise<SubmitOutcome>;
  /** Whether the network has a message of ours; null: it cannot be asked now. */
  has(access: ChatAccess, reference: string): Promise<boolean | null>;
  file(access: ChatAccess, id: string): Promise<Buffer | null>;
}

export interface Reviewed {
  event: WordingEvent;
  reason: string | null;
}

/** How the id of a chat message is known to delivery, as the carrier’s id of a text part is. */
export const carrierIdOf = (reference: string): string => `chat:${reference}`;

const at = ({ url, account }: ChatAccess, path: string): string =>
  `${url.replace(/\/+$/, '')}/accounts/${encodeURIComponent(account)}${path}`;

const FAILURES: Readonly<Record<string, FailureReason>> = {
  'unknown-person': 'chat-unknown',
  blocked: 'chat-blocked',
  'window-closed': 'window-closed',
  'template-not-approved': 'template-refused',
  'begin-limit': 'begin-limit',
  busy: 'network-busy',
  unreachable: 'unreachable',
};

/** Why a network says a message failed, as a reason of ours. */
export const failureCalled = (reason: unknown): FailureReason =>
  (typeof reason === 'string' ? FAILURES[reason] : undefined) ?? 'chat-refused';

/** A chat network over HTTP. `allowed`: hosts of private networks that may be called. */
export function chatNetwork(allowed: readonly string[]): ChatNetwork {
  const ask = (access: ChatAccess, asked: Omit<Call, 'token' | 'url'> & { path: string }) => {
    const { path, ...rest } = asked;
    return call({ ...rest, url: at(access, path), token: access.token }, allowed);
  };
  const has = async (access: ChatAccess, reference: string): Promise<boolean | null> => {
    const called = await ask(access, {
      method: 'GET',
      path: `/messages/${encodeURIComponent(reference)}`,
      timeoutMs: 5_000,
    });
    if (called.kind !== 'answered') return null;
    return called.status === 200 ? true : called.status === 404 ? false : null;
  };
  return {
    has,
    account: async (access) => {
      const body = jsonOf(await ask(access, { method: 'GET', path: '' }));
      if (!body.ok) return body;
      const report = readAccount(body.value);
      return report
        ? ok(report)
        : refuse({ kind: 'refused', why: 'What answered there is no chat network.' });
    },
    register: async (access, back) =>
      done(await ask(access, { method: 'PUT', path: '/callbacks', body: back })),
    handIn: async (access, template) => {
      const body = jsonOf(
        await ask(access, { method: 'POST', path: '/templates', body: templateBody(template) }),
      );
      if (!body.ok) return body;
      const { id, state, reason } = isRecord(body.value) ? body.value : {};
      if (typeof id !== 'string')
        return refuse({ kind: 'refused', why: 'The network gave the template no id.' });
      return ok({ id, event: reviewed(state, reason) });
    },
    review: async (access, id) => {
      const body = jsonOf(await ask(access, { method: 'GET', path: `/templates/${encodeURIComponent(id)}` }));
      return body.ok ? ok(isRecord(body.value) ? reviewed(body.value.state, body.value.reason) : null) : body;
    },
    withdraw: async (access, id) =>
      done(await ask(access, { method: 'DELETE', path: `/templates/${encodeURIComponent(id)}` })),
    send: async (access, chat) => {
      const called = await ask(access, { method: 'POST', path: '/messages', body: messageBody(chat) });
      if (called.kind === 'unreachable') return { kind: 'not-written' };
      if (called.kind === 'answered') return outcomeOf(called, chat);
      // It takes each reference once, so asking tells, and what it does not have may be sent again.
      const known = await has(access, chat.reference);
      if (known === null) return { kind: 'unknown' };
      return known ? { kind: 'taken', carrierId: carrierIdOf(chat.reference) } : { kind: 'not-written' };
    },
    file: async (access, id) => {
      const called = await ask(access, {
        method: 'GET',
        path: `/files/${encodeURIComponent(id)}`,
        most: LARGEST_FILE,
      });
      return called.kind === 'answered' && called.status === 200 ? called.body : null;
    },
  };
}

const LARGEST_FILE = 10_000_000;

function outcomeOf(
  called: Extract<Called, { kind: 'answered' }>,
  { reference }: OutgoingChat,
): SubmitOutcome {
  const { status } = called;
  // 409: it has it from an earlier try.
  if ((status >= 200 && status < 300) || status === 409)
    return { kind: 'taken', carrierId: carrierIdOf(reference) };
  if (status === 429 || status >= 500) return { kind: 'refused', reason: 'network-busy', status };
  return { kind: 'refused', reason: failureCalled(problemOf(called).reason), status };
}

const NETWORK = { name: 'The network', kind: 'chat network' };
const jsonOf = (called: Called) => jsonBy(called, NETWORK);
const done = (called: Called) => doneBy(called, NETWORK);

function reviewed(state: unknown, reason: unknown): Reviewed | null {
  const event = typeof state === 'string' && Object.hasOwn(REVIEWED, state) ? REVIEWED[state]! : null;
  return event && { event, reason: typeof reason === 'string' ? cutText(cleanText(reason), 500) : null };
}

const templateBody = ({ name, language, category, words, samples }: HandedIn) => ({
  ...{ name, language, category },
  ...(words.header ? { header: { text: words.header } } : {}),
  body: piecesOf(words.body).pieces,
  ...(words.footer ? { footer: words.footer } : {}),
  buttons: words.buttons.map(buttonBody),
  samples,
});

const messageBody = ({ reference, to, content }: OutgoingChat) => ({
  ...{ reference, to },
  ...('template' in content
    ? { template: { id: content.template.id, values: content.template.filled } }
    : {
        text: content.text,
        ...(content.buttons ? { buttons: content.buttons.map(buttonBody) } : {}),
        ...(content.files ? { files: content.files } : {}),
      }),
});

function buttonBody(button: Button) {
  switch (button.kind) {
    case 'reply':
      return { kind: 'reply', words: button.words, key: button.leaves ? LEAVE_KEY : button.words };
    case 'link':
      return { kind: 'link', words: button.words, url: button.url };
    case 'call':
      return { kind: 'call', words: button.words, number: button.number };
  }
}

/** What comes back when the button that leaves is pressed. */
export const LEAVE_KEY = 'leave';
