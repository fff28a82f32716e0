import { createHmac, timingSafeEqual } from 'node:crypto';
import { MINUTE, type Millis } from '../shared/instant';
import type { Signing } from './signing';

/** Older ones are not believed, and none of the future: somebody may have kept one to send it again. */
const TOLERANCE: Millis = 5 * MINUTE;

export interface Delivery {
  /** Names in lower case. */
  headers: Readonly<Record<string, string | undefined>>;
  body: Buffer;
  at: Millis;
}

export type SignatureProblem = 'missing' | 'wrong' | 'old';

export const SIGNATURE_WORDS: Record<SignatureProblem, string> = {
  missing: 'It is not signed, and this source takes only what is.',
  wrong: 'The signature is none of ours: sign the very bytes of the body with the secret of this source.',
  old: 'The time it was signed at is more than five minutes away. Sign it anew when it is sent again.',
};

/** What is wrong with the signature of a delivery; null: nothing. Each of `secrets` counts. */
export function signatureProblem(
  { signs, signHeader, secrets }: { signs: Signing; signHeader: string | null; secrets: readonly string[] },
  delivery: Delivery,
): SignatureProblem | null {
  if (signs === 'nothing') return null;
  return signs === 'standard'
    ? standardProblem(secrets, delivery)
    : headerProblem(signHeader ?? '', secrets, delivery);
}

/** Source: the Standard Webhooks specification, 1.0.0: `v1,` and the HMAC of id, time and body with dots between. */
function standardProblem(
  secrets: readonly string[],
  { headers, body, at }: Delivery,
): SignatureProblem | null {
  const { 'webhook-id': id, 'webhook-timestamp': time, 'webhook-signature': given } = headers;
  if (!id || !time || !given) return 'missing';
  if (!/^\d{1,12}$/.test(time)) return 'wrong';
  const signed = Buffer.concat([Buffer.from(`${id}.${time}.`), body]);
  const known = given
    .split(' ')
    .filter((one) => one.startsWith('v1,'))
    .map((one) => one.slice(3));
  const right = secrets.some((secret) => {
    const expected = createHmac('sha256', keyOf(secret)).update(signed).digest('base64');
    return known.some((one) => isSame(one, expected));
  });
  if (!right) return 'wrong';
  return Math.abs(at - Number(time) * 1000) > TOLERANCE ? 'old' : null;
}

/** A secret is shown as `whsec_` and base64, as the specification has it. */
const keyOf = (secret: string): Buffer => Buffer.from(secret.replace(/^whsec_/, ''), 'base64');

/** In hexadecimal or base64, with or without `sha256=` before it. The secret is taken as it is written. */
function headerProblem(
  header: string,
  secrets: readonly string[],
  { headers, body }: Delivery,
): SignatureProblem | null {
  const given = headers[header.toLowerCase()]?.replace(/^sha256=/i, '').trim();
  if (!given) return 'missing';
  const right = secrets.some((secret) => {
    const digest = createHmac('sha256', secret).update(body).digest();
    return isSame(given.toLowerCase(), digest.toString('hex')) || isSame(given, digest.toString('base64'));
  });
  return right ? null : 'wrong';
}

function isSame(given: string, expected: string): boolean {
  const [one, other] = [Buffer.from(given), Buffer.from(expected)];
  return one.length === other.length && timingSafeEqual(one, other);
}
