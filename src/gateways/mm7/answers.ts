import { XMLParser } from 'fast-xml-parser';
import type { FailureReason } from '@/core/delivery/failure';
import type { SubmitOutcome } from '@/gateways/carrier';

export interface RelayAnswer {
  status: number;
  text: string;
}

/** What XML from outside becomes: no entities of its own, no prefixes, everything as words. */
const parser = new XMLParser({
  ...{ processEntities: false, removeNSPrefix: true, ignoreAttributes: false, attributeNamePrefix: '@' },
  ...{ parseTagValue: false, parseAttributeValue: false, trimValues: true },
});

export type Xml = { [name: string]: Xml | Xml[] | string | undefined };

/** Null: it is no XML. */
export function readXml(text: string): Xml | null {
  try {
    return parser.parse(text, true) as Xml;
  } catch {
    return null;
  }
}

/** What stands under these names, one in the other; null: there is none. */
export function under(xml: Xml | null, ...path: string[]): Xml | null {
  let at: Xml | Xml[] | string | undefined = xml ?? undefined;
  for (const name of path) {
    const one: Xml | string | undefined = Array.isArray(at) ? at[0] : at;
    if (typeof one !== 'object') return null;
    at = one[name];
  }
  if (Array.isArray(at)) at = at[0];
  return typeof at === 'object' ? at : null;
}

/** The words of an element; empty: it is not there. The few entities XML itself has are read. */
export function wordsOf(xml: Xml | null, ...path: string[]): string {
  const name = path.pop()!;
  const parent = path.length === 0 ? xml : under(xml, ...path);
  const found = parent?.[name];
  const value = Array.isArray(found) ? found[0] : found;
  const text = typeof value === 'string' ? value : typeof value === 'object' ? value['#text'] : '';
  return typeof text === 'string' ? unescaped(text) : '';
}

const NAMED: Record<string, string> = { amp: '&', lt: '<', gt: '>', quot: '"', apos: "'" };

const unescaped = (text: string): string =>
  text.replace(/&(?:#(\d{1,7})|#x([\da-f]{1,6})|(\w{1,6}));/gi, (whole, decimal, hex, name) => {
    const code = decimal ? Number(decimal) : hex ? parseInt(String(hex), 16) : null;
    if (code !== null) return code > 0 && code <= 0x10ffff ? String.fromCodePoint(code) : '\uFFFD';
    return NAMED[String(name).toLowerCase()] ?? whole;
  });

/** Ids of picture messages and of texts are given by two services: so they cannot be taken for each other. */
export const carrierIdOf = (messageId: string): string => `mm7:${messageId}`;

/** What became of a submit, told by the relay's answer. */
export function httpOutcome({ status, text }: RelayAnswer): SubmitOutcome {
  const envelope = under(readXml(text), 'Envelope', 'Body');
  const answer = under(envelope, 'SubmitRsp') ?? under(envelope, 'Fault', 'detail', 'RSErrorRsp');
  if (!answer) return withoutWords(status);
  const code = Number(wordsOf(answer, 'Status', 'StatusCode'));
  const messageId = wordsOf(answer, 'MessageID');
  if (code >= 1000 && code < 2000 && messageId !== '')
    return { kind: 'taken', carrierId: carrierIdOf(messageId) };
  // Taken, and nobody knows as what: never again on a guess.
  if (code >= 1000 && code < 2000) return { kind: 'unknown' };
  return {
    kind: 'refused',
    reason: reasonOfStatus(code, wordsOf(answer, 'Status', 'StatusText')),
    status: code,
  };
}

/** An answer that is none of MM7: what stands between us and the relay said it. */
function withoutWords(status: number): SubmitOutcome {
  if (status === 429) return { kind: 'refused', reason: 'throttled', status };
  if (status === 401 || status === 403) return { kind: 'refused', reason: 'sender-refused', status };
  if (status === 413) return { kind: 'refused', reason: 'picture-refused', status };
  if (status === 503) return { kind: 'refused', reason: 'carrier-error', status };
  if (status >= 400 && status < 500) return { kind: 'refused', reason: 'refused', status };
  return { kind: 'unknown' };
}

/** Words by which relays say that a phone takes no picture messages; there is no code for it. */
const NO_PICTURES = /(?:not|no|non|without|un)[ -]?(?:mms|multimedia|support|capab)|mms.{0,20}(?:not|un)/i;

/** Source of the codes: TS 23.140, 8.7.3. */
export function reasonOfStatus(code: number, words: string): FailureReason {
  if (NO_PICTURES.test(words)) return 'no-pictures';
  switch (code) {
    case 2002:
    case 2003:
      return 'number-unknown';
    case 2004:
      return 'picture-refused';
    case 3000:
    case 3001:
    case 4000:
    case 4005:
    case 4006:
      return 'carrier-error';
    case 4001:
    case 4007:
    case 4008:
      return 'sender-refused';
    default:
      return 'refused';
  }
}
