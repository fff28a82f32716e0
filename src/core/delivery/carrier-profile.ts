import type { FailureReason } from './failure';
import { CONSEQUENCES } from './failure';
import type { ReceiptIds } from './carrier-id';
import { RECEIPT_IDS } from './carrier-id';

/**
 * What a message centre does differently. SMPP 3.4 leaves much open, and centres differ in it; each of these is a setting of
 * the carrier, kept as JSON. What is not named here is understood by itself: bodies in `message_payload`, parts told by a
 * header of 8 or 16 bits or by `sar_*`, Latin-1, UCS-2 and national tables in what comes in, receipts without optional
 * parameters or told by their words only, on whichever link.
 */
export interface CarrierProfile {
  /** One connection for both ways, or one for each. */
  bind: 'transceiver' | 'transmitter and receiver';
  /** TLS from the first byte. */
  tls: boolean;
  /** `system_type` of the bind, where the carrier asks for one. */
  systemType: string;
  /** What `data_coding` 0 means, in both directions. */
  alphabet: CarrierAlphabet;
  /** How long texts are cut: a header in the body, or `sar_*` parameters beside it. */
  parts: 'header' | 'sar';
  /** Type and plan of international numbers and of short codes (3.4, 5.2.5 and 5.2.6). */
  internationalTon: number;
  internationalNpi: number;
  shortCodeTon: number;
  shortCodeNpi: number;
  /** Whether international numbers are written with a plus. */
  plus: boolean;
  /** The country of numbers that come without one, two letters. */
  country: string;
  /** How receipts tell the id of the answer; `unknown` until the first one that can be told. */
  receiptIds: ReceiptIds | 'unknown';
  /** Its own meanings of `command_status` (by its number in decimal), before the standard's. */
  statuses: Readonly<Record<string, FailureReason>>;
  /** Its own meanings of `err` in receipts, before the usual ones. */
  errors: Readonly<Record<string, FailureReason>>;
  /** Most submits without an answer at once; null: what the installation says. */
  window: number | null;
}

export type CarrierAlphabet = 'GSM 7-bit' | 'Latin-1' | 'ASCII';

export const STANDARD_PROFILE: CarrierProfile = {
  ...{ bind: 'transceiver', tls: false, systemType: '', alphabet: 'GSM 7-bit', parts: 'header' },
  ...{
    internationalTon: 1,
    internationalNpi: 1,
    shortCodeTon: 3,
    shortCodeNpi: 0,
    plus: false,
    country: 'US',
  },
  ...{ receiptIds: 'unknown', statuses: {}, errors: {}, window: null },
};

/** What each setting says, and what may stand there: for whoever writes one. */
export const SETTING_WORDS: Record<keyof CarrierProfile, string> = {
  bind: '“transceiver”: one connection for both ways; “transmitter and receiver”: one for each',
  tls: 'true: TLS from the first byte',
  systemType: 'the system type of the bind, where the carrier asks for one',
  alphabet: 'what data_coding 0 means: “GSM 7-bit”, “Latin-1” or “ASCII”',
  parts: 'how long texts are cut: “header” in the body, or “sar” parameters beside it',
  internationalTon: 'type of international numbers, usually 1',
  internationalNpi: 'plan of international numbers, usually 1',
  shortCodeTon: 'type of short codes, usually 3',
  shortCodeNpi: 'plan of short codes, usually 0',
  plus: 'true: international numbers are written with a plus',
  country: 'the country of numbers that come without one, such as “US”',
  receiptIds:
    'how receipts tell ids: “the same”, “decimal of hexadecimal”, “hexadecimal of decimal”; “unknown” until it shows',
  statuses: 'its own refusals by number, such as {"1024": "spam-blocked"}',
  errors: 'its own codes in receipts, such as {"602": "landline"}',
  window: 'most submits without an answer; null: as the installation says',
};

/** The carrier whose connection stands in the environment: it belongs to no workspace, and any may use it. */
export const HOUSE = 'house';

/** Profiles to begin with. What a carrier really does shows when it is checked, and in what comes over it. */
export const SHIPPED_PROFILES: readonly { name: string; about: string; profile: CarrierProfile }[] = [
  {
    name: 'As the standard says',
    about: 'SMPP 3.4 with one connection and the 7-bit alphabet. Begin here.',
    profile: STANDARD_PROFILE,
  },
  {
    name: 'Encrypted',
    about: 'The same over TLS: for a carrier reached over the open internet.',
    profile: { ...STANDARD_PROFILE, tls: true },
  },
  {
    name: 'Two connections, Latin-1',
    about: 'One connection out and one in; letters as Latin-1; ids in hexadecimal, told in decimal.',
    profile: {
      ...STANDARD_PROFILE,
      ...{ bind: 'transmitter and receiver', alphabet: 'Latin-1', receiptIds: 'decimal of hexadecimal' },
    },
  },
  {
    name: 'Parts by parameters',
    about: 'Long texts cut by the carrier’s own parameters instead of a header in the body.',
    profile: { ...STANDARD_PROFILE, parts: 'sar' },
  },
];

/** What a profile says beside the standard: what somebody has to read. */
export const differences = (profile: CarrierProfile): Partial<CarrierProfile> =>
  Object.fromEntries(
    Object.entries(profile).filter(
      ([name, value]) => value !== STANDARD_PROFILE[name as keyof CarrierProfile],
    ),
  );

const oneOf =
  (...values: readonly string[]) =>
  (value: unknown) =>
    values.includes(value as string) ? null : `must be one of: ${values.join(', ')}.`;
const octet = (value: unknown) =>
  Number.isInteger(value) && (value as number) >= 0 && (value as number) <= 255
    ? null
    : 'must be a whole number from 0 to 255.';
const flag = (value: unknown) => (typeof value === 'boolean' ? null : 'must be true or false.');
const matching = (pattern: RegExp, sentence: string) => (value: unknown) =>
  typeof value === 'string' && pattern.test(value) ? null : sentence;
const REASONS = Object.keys(CONSEQUENCES);
const codes = (value: unknown) => {
  const sentence = `must be an object of codes and reasons, each reason one of: ${REASONS.join(', ')}.`;
  if (typeof value !== 'object' || value === null || Array.isArray(value)) return sentence;
  const entries = Object.entries(value);
  return entries.length <= 200 &&
    entries.every(([code, reason]) => /^\w{1,8}$/.test(code) && REASONS.includes(reason as string))
    ? null
    : sentence;
};

/** What may stand at each setting, or the sentence that says what must. */
const CHECKS: Record<keyof CarrierProfile, (value: unknown) => string | null> = {
  bind: oneOf('transceiver', 'transmitter and receiver'),
  tls: flag,
  systemType: matching(/^[\x20-\x7e]{0,12}$/, 'must be at most 12 plain characters.'),
  alphabet: oneOf('GSM 7-bit', 'Latin-1', 'ASCII'),
  parts: oneOf('header', 'sar'),
  internationalTon: octet,
  internationalNpi: octet,
  shortCodeTon: octet,
  shortCodeNpi: octet,
  plus: flag,
  country: matching(/^[A-Z]{2}$/, 'must be a country, two capital letters such as US.'),
  receiptIds: oneOf(...RECEIPT_IDS, 'unknown'),
  statuses: codes,
  errors: codes,
  window: (value) =>
    value === null || (Number.isInteger(value) && (value as number) >= 1 && (value as number) <= 10_000)
      ? null
      : 'must be a whole number from 1 to 10000, or null.',
};

/** A profile of JSON that somebody wrote: what is left out is as in `base`. Problems by setting, empty where there are none. */
export function readProfile(
  input: Readonly<Record<string, unknown>>,
  base: CarrierProfile = STANDARD_PROFILE,
): { profile: CarrierProfile; problems: { field: string; message: string }[] } {
  const problems = Object.entries(input).flatMap(([name, value]) => {
    if (!Object.hasOwn(CHECKS, name))
      return [
        {
          field: name,
          message: `${name}: no setting of a carrier. They are ${Object.keys(CHECKS).join(', ')}.`,
        },
      ];
    const wrong = CHECKS[name as keyof CarrierProfile](value);
    return wrong === null ? [] : [{ field: name, message: `${name}: ${wrong}` }];
  });
  return { profile: problems.length > 0 ? base : ({ ...base, ...input } as CarrierProfile), problems };
}
