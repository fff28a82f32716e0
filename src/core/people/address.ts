import type { ConsentState } from '../consent/ledger';
import type { Channel } from '../message/channel';
import { clean } from './values';
import type { Brand } from '../shared/brand';
import { ok, refuse, type Result } from '../shared/result';
import type { Millis } from '../shared/instant';

export type AddressKind = 'number' | 'email' | 'chat';

/**
 * in-service  as far as anybody knows
 * stale       could not be reached several times in a row; the next message may still go
 * gone        a number that is not in service
 * bounced     an e-mail address that took nothing and never will
 * blocked     the person blocked us there
 */
export type AddressState = 'in-service' | 'stale' | 'gone' | 'bounced' | 'blocked';

export type LineType = 'mobile' | 'landline' | 'voip' | 'unknown';

export const KIND_WORDS: Record<AddressKind, string> = {
  number: 'number',
  email: 'e-mail address',
  chat: 'chat id',
};

export const ADDRESS_STATE_WORDS: Record<AddressState, string> = {
  'in-service': 'in service',
  stale: 'not reached lately',
  gone: 'out of service',
  bounced: 'bounces',
  blocked: 'blocked us',
};

/** The kind of address each channel reaches people by. */
export const KIND_OF: Record<Channel, AddressKind> = {
  sms: 'number',
  email: 'email',
  chat: 'chat',
  voicemail: 'number',
};

/** So many failures in a row make an address stale. */
export const STALE_AFTER = 3;

export type EmailAddress = Brand<string, 'EmailAddress'>;

export const EMAIL_WORDS = 'is no e-mail address, such as ana@example.org.';

/**
 * An e-mail address as it is kept: in small letters, since no mailbox of today tells them apart. Quoted local parts and
 * addresses at a number are refused: nobody reads mail there.
 */
export function parseEmail(text: string): Result<EmailAddress, 'no-email'> {
  const address = clean(text)
    .replace(/^mailto:/i, '')
    .toLowerCase();
  const match = /^([^\s@"(),:;<>[\\\]]{1,64})@([^\s@"(),:;<>[\\\]]+)$/.exec(address);
  const [, local, domain] = match ?? [];
  if (!local || !domain || address.length > 254 || /^\.|\.\.|\.$/.test(local)) return refuse('no-email');
  const labels = domain.split('.');
  if (labels.length < 2 || !labels.every((label) => DOMAIN_LABEL.test(label))) return refuse('no-email');
  return /^\d+$/.test(labels.at(-1)!) ? refuse('no-email') : ok(address as EmailAddress);
}

const DOMAIN_LABEL = /^[\p{L}\p{N}](?:[\p{L}\p{N}-]{0,61}[\p{L}\p{N}])?$/u;

/** What one address of a person said to a program on a channel. */
export interface AddressConsent {
  address: string;
  state: ConsentState;
  since: Millis | null;
  /** Place among the person's addresses of that kind, 0 the preferred one; null: it is theirs no more. */
  rank: number | null;
}

/**
 * Which of several addresses speaks for the person: the one their last word came by. After an opt-out none of the
 * others counts, until one of them agrees again. Of addresses that agree since, the preferred one is written to.
 */
export function currentAddress<C extends AddressConsent>(consents: readonly C[]): C | null {
  const theirs = consents.some(({ rank }) => rank !== null)
    ? consents.filter(({ rank }) => rank !== null)
    : consents;
  // It was their word, whatever became of the address since: taking that away brings nobody back.
  const outs = consents.filter(({ state }) => state === 'out');
  const latest = Math.max(...outs.map(({ since }) => since ?? 0));
  const left = first(outs.filter(({ since }) => (since ?? 0) === latest));
  const agreed = theirs.filter((one) => one.state === 'in' && (one.since ?? 0) > (left?.since ?? -Infinity));
  return first(agreed) ?? left ?? first(theirs);
}

const first = <C extends AddressConsent>(consents: readonly C[]): C | null =>
  [...consents].sort(
    (a, b) =>
      (a.rank ?? Infinity) - (b.rank ?? Infinity) ||
      (b.since ?? 0) - (a.since ?? 0) ||
      (a.address < b.address ? -1 : 1),
  )[0] ?? null;
