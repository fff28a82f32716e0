import { commaList } from '@/core/shared/comma-list';
import { readProfile, STANDARD_PROFILE, type CarrierProfile } from '@/core/delivery/carrier-profile';
import { parseJson } from '@/core/shared/json';
import { followBenchClock, systemClock, type Clock } from '@/gateways/clock';
import { httpLookup, noLookup, type LineLookup } from '@/gateways/lookup';
import { log } from '@/log/log';
import type { MailSettings } from '@/gateways/mail/sender';
import type { ObjectStoreSettings } from '@/gateways/media/s3';
import type { RelaySettings } from '@/gateways/mm7/relay';
import { SAFE_SIZE } from '@/core/media/kinds';
import type { SessionOptions } from '@/gateways/smpp/session';

/** Settings come from the environment; `docs/operations.md` lists them. */

function whole(name: string, fallback: number, most = 86_400_000): number {
  const text = process.env[name];
  if (text === undefined || text === '') return fallback;
  const value = Number(text);
  if (!Number.isInteger(value) || value < 1 || value > most)
    throw new Error(`${name} must be a whole number from 1 to ${most}, not "${text}".`);
  return value;
}

const port = (name: string, fallback: number): number => whole(name, fallback, 65_535);

/** Proxies before the web process whose `X-Forwarded-For` is believed; 0: none. */
export function trustedProxies(): number {
  const text = process.env.WREN_TRUST_PROXY;
  return text === undefined || text === '' || text === '0' ? 0 : whole('WREN_TRUST_PROXY', 0, 10);
}

/** True when texts go to a real carrier: then there is no test bench and time is the machine's. */
export const usesRealCarrier = (): boolean => Boolean(process.env.WREN_SMPP_HOST);

export const benchUrl = (): string | null =>
  usesRealCarrier() ? null : `http://127.0.0.1:${port('WREN_BENCH_PORT', 4401)}`;

export const carrierSettings = (): SessionOptions => ({
  host: process.env.WREN_SMPP_HOST || '127.0.0.1',
  port: port('WREN_SMPP_PORT', usesRealCarrier() ? 2775 : 4402),
  systemId: process.env.WREN_SMPP_SYSTEM_ID ?? 'wren',
  password: process.env.WREN_SMPP_PASSWORD ?? 'bench',
  window: whole('WREN_SMPP_WINDOW', 200, 10_000),
  responseTimeoutMs: whole('WREN_SMPP_TIMEOUT_MS', 20_000),
  enquireEveryMs: whole('WREN_SMPP_ENQUIRE_MS', 15_000),
});

/** What the installation's carrier does differently, as JSON; `learned`: what showed by itself, and nobody said otherwise. */
export function carrierProfile(learned: Partial<CarrierProfile> = {}): CarrierProfile {
  const text = process.env.WREN_SMPP_PROFILE;
  const base = { ...STANDARD_PROFILE, ...learned };
  if (!text) return base;
  const given = parseJson(text);
  if (!given.ok || typeof given.value !== 'object' || given.value === null)
    throw new Error('WREN_SMPP_PROFILE must be a JSON object, such as {"bind": "transmitter and receiver"}.');
  const { profile, problems } = readProfile(given.value as Record<string, unknown>, base);
  if (problems.length > 0)
    throw new Error(`WREN_SMPP_PROFILE: ${problems.map(({ message }) => message).join(' ')}`);
  return profile;
}

/** Hosts of private networks that a workspace's own carrier may be at; the bench's is, where there is one. */
export const carrierHosts = (): string[] => [
  ...listed(process.env.WREN_CARRIER_HOSTS),
  ...(usesRealCarrier() ? [] : ['127.0.0.1']),
];

const listed = (text: string | undefined): string[] => commaList(text ?? '');

/** Where e-mail is handed over: a server that is set, else the bench's; null: texts go to a real carrier and no mail server is set. */
export function mailSettings(): MailSettings | null {
  const host = process.env.WREN_MAIL_HOST;
  if (!host && usesRealCarrier()) return null;
  return {
    host: host || '127.0.0.1',
    port: port('WREN_MAIL_PORT', host ? 587 : 4403),
    secure: process.env.WREN_MAIL_SECURE === '1',
    user: process.env.WREN_MAIL_USER || null,
    password: process.env.WREN_MAIL_PASSWORD || null,
  };
}

/** Where letters to us come in, and the domain of our own addresses: return paths, answers, leaving. */
export const mailDoor = (): { port: number; host: string; domain: string } => ({
  port: port('WREN_MAIL_IN_PORT', 4404),
  host: process.env.WREN_MAIL_IN_HOST || '127.0.0.1',
  domain: (process.env.WREN_MAIL_DOMAIN || 'mail.wren.test').toLowerCase(),
});

/** Servers that names are looked up at, for who sent a letter: those that are set, the bench's, else the machine's. */
export const nameServers = (): string[] => {
  const set = listed(process.env.WREN_DNS);
  return set.length > 0 || usesRealCarrier() ? set : [`127.0.0.1:${port('WREN_BENCH_PORT', 4401)}`];
};

/** Where people reach the web process from outside: the links in letters lead there. */
export const publicUrl = (): string =>
  (process.env.WREN_PUBLIC_URL || `http://localhost:${port('PORT', 4400)}`).replace(/\/+$/, '');

/** The service that tells what kind of line a number is: the bench's, a real one, or none. */
export function lineLookup(): LineLookup {
  const url = process.env.WREN_LOOKUP_URL || benchUrl();
  return url ? httpLookup(url) : noLookup;
}

/** The clock everything follows. Waits for the bench where there is one. */
export async function openClock(): Promise<Clock> {
  const url = benchUrl();
  return url
    ? followBenchClock(url, () =>
        log.warn(
          `The test bench at ${url} does not answer yet: waiting for it. With a real carrier set WREN_SMPP_HOST.`,
        ),
      )
    : systemClock;
}

/** How long somebody waits for the bench's clock before they go on with the machine's. */
const PATIENCE_MS = 3_000;

/** A clock, or the machine's where it does not come in time: the bench may not be running. */
export const soon = (clock: Promise<Clock>): Promise<Clock> =>
  Promise.race([clock, new Promise<Clock>((resolve) => setTimeout(() => resolve(systemClock), PATIENCE_MS))]);

/** Hosts that webhooks may go to as they are, whatever network they are in: for who runs both ends. */
export const webhookHosts = (): string[] => listed(process.env.WREN_WEBHOOK_HOSTS);

/** Hosts of private networks that a chat network may be at; the bench’s is, where there is one. */
export const chatHosts = (): string[] => [
  ...listed(process.env.WREN_CHAT_HOSTS),
  ...(usesRealCarrier() ? [] : ['127.0.0.1']),
];

/** The bench’s chat network; null: there is no bench. */
export const benchNetwork = (): string | null => benchUrl() && `${benchUrl()}/network`;

/** Where a chat network calls us back: the web process, as it is reached from outside. */
export const chatBack = (): string => (process.env.WREN_CHAT_BACK || publicUrl()).replace(/\/+$/, '');

/** Hosts of private networks at which voicemail accounts and telephone systems may be called. */
export const callHosts = (): string[] => [
  ...listed(process.env.WREN_CALL_HOSTS),
  ...(usesRealCarrier() ? [] : ['127.0.0.1']),
];

/** The bench’s voicemail account, and its telephone system; null: there is no bench. */
export const benchDropper = (): string | null => benchUrl() && `${benchUrl()}/voicemail`;
export const benchSwitchboard = (): string | null => benchUrl() && `${benchUrl()}/switchboard`;

/** Where a voicemail account calls us back: the web process, as it is reached from outside. */
export const voicemailBack = (): string =>
  (process.env.WREN_VOICEMAIL_BACK || publicUrl()).replace(/\/+$/, '');

/** Hosts of private networks that a registrar may be at. */
export const registrarHosts = (): string[] => [
  ...listed(process.env.WREN_REGISTRAR_HOSTS),
  ...(usesRealCarrier() ? [] : ['127.0.0.1']),
];

/** The bench’s registrar; null: there is no bench. */
export const benchRegistrar = (): string | null => benchUrl() && `${benchUrl()}/registrar`;

/** Hosts of private networks that a provider of numbers may be at. */
export const providerHosts = (): string[] => [
  ...listed(process.env.WREN_PROVIDER_HOSTS),
  ...(usesRealCarrier() ? [] : ['127.0.0.1']),
];

/** The bench’s provider of numbers; null: there is no bench. */
export const benchStock = (): string | null => benchUrl() && `${benchUrl()}/stock`;

/** Where a registrar calls us back: the web process, as it is reached from outside. */
export const registrarBack = (): string =>
  (process.env.WREN_REGISTRAR_BACK || publicUrl()).replace(/\/+$/, '');

/**
 * What a worker does: `sends` hands over what is due and hears carriers, `rest` does all else, so that whoever calls or asks
 * is not kept waiting by a broadcast that leaves; both, where nothing is said.
 */
export function workerDoes(): { sends: boolean; rest: boolean } {
  const only = process.env.WREN_WORKER ?? '';
  if (!['', 'sends', 'rest'].includes(only))
    throw new Error(`WREN_WORKER is “${only}”: set it to sends or rest, or leave it out for both.`);
  return { sends: only !== 'rest', rest: only !== 'sends' };
}

/** Voicemails that are handed over at once. */
export const voicemailsAtOnce = (): number => whole('WREN_VOICEMAILS_AT_ONCE', 64, 500);

/** Chat messages that are handed over at once. */
export const chatsAtOnce = (): number => whole('WREN_CHAT_AT_ONCE', 40, 500);

/** An object store that speaks S3, where files are kept instead of in the database; null: none is set. */
export function objectStoreSettings(): ObjectStoreSettings | null {
  const endpoint = process.env.WREN_S3_ENDPOINT;
  if (!endpoint) return null;
  return {
    endpoint,
    region: process.env.WREN_S3_REGION || 'us-east-1',
    bucket: needed('WREN_S3_BUCKET'),
    accessKeyId: needed('WREN_S3_KEY_ID'),
    secretAccessKey: needed('WREN_S3_SECRET'),
  };
}

function needed(name: string): string {
  const value = process.env[name];
  if (!value) throw new Error(`${name} must be set where WREN_S3_ENDPOINT is.`);
  return value;
}

/** The relay that picture messages are handed to: one that is set, the bench's, or none. */
export function relaySettings(): RelaySettings | null {
  const url = process.env.WREN_MM7_URL || (benchUrl() && `${benchUrl()}/mm7`);
  if (!url) return null;
  return {
    url,
    user: process.env.WREN_MM7_USER ?? 'wren',
    password: process.env.WREN_MM7_PASSWORD ?? 'bench',
    vaspId: process.env.WREN_MM7_VASP_ID ?? 'wren',
    vasId: process.env.WREN_MM7_VAS_ID ?? 'wren',
    atOnce: whole('WREN_MM7_AT_ONCE', 10, 200),
    timeoutMs: whole('WREN_MM7_TIMEOUT_MS', 30_000),
  };
}

/** What the relay's own calls to us are known by: the last part of `/mm7/…`. Null: nothing is taken from it. */
export const relaySecret = (): string | null =>
  process.env.WREN_MM7_SECRET || (usesRealCarrier() ? null : 'bench');

/** All files of a picture message together, in bytes. */
export const mostPictureBytes = (): number => whole('WREN_MM7_MOST_BYTES', SAFE_SIZE, 5_000_000);
