import { createHmac, randomBytes } from 'node:crypto';

/** Where somebody is told things, and what with it is signed; null: it is not. */
export interface Callback {
  url: string;
  secret: string | null;
}

/** Headers of Standard Webhooks for a body, signed at this moment. */
export function signedHeaders(id: string, body: string, secret: string): Record<string, string> {
  const time = Math.floor(Date.now() / 1_000);
  const key = Buffer.from(secret.replace(/^whsec_/, ''), 'base64');
  const signature = createHmac('sha256', key).update(`${id}.${time}.${body}`).digest('base64');
  return {
    'webhook-id': id,
    'webhook-timestamp': String(time),
    'webhook-signature': `v1,${signature}`,
  };
}

const newId = (): string => `w-${randomBytes(8).toString('hex')}`;

/** Tells it again and again until it is taken, signed anew each time. Gives whether it was. `to` is asked each time: it may change. */
export async function tellUntilTaken(to: () => Callback | null, said: unknown): Promise<boolean> {
  const body = JSON.stringify(said);
  const id = newId();
  for (let i = 0; i < 400; i++) {
    const callback = to();
    if (!callback) return false;
    const signed = callback.secret === null ? {} : signedHeaders(id, body, callback.secret);
    const answer = await fetch(callback.url, {
      method: 'POST',
      headers: { 'content-type': 'application/json', ...signed },
      body,
    }).catch(() => null);
    await answer?.arrayBuffer().catch(() => null);
    if (answer?.ok) return true;
    // What is refused for good is not brought for ever.
    if (answer && answer.status >= 400 && answer.status < 500 && answer.status !== 429) return false;
    await new Promise((resolve) => setTimeout(resolve, Math.min(100 * 2 ** i, 2_000)));
  }
  return false;
}

/** Shares of what is told, 0 to 1, that come twice or before what they should follow, and how late, in real milliseconds. */
export interface TellingMoods {
  twice_share: number;
  disorder_share: number;
  late_ms: number;
}

export const USUAL_TELLING: TellingMoods = { twice_share: 0, disorder_share: 0, late_ms: 0 };

/** Moods as somebody sent them; a string: what is wrong. */
export function readTelling<T extends TellingMoods>(input: Record<string, unknown>, now: T): T | string {
  const next = { ...now };
  for (const [name, value] of Object.entries(input)) {
    if (!(name in now)) return `${name}: is no mood. There are ${Object.keys(now).join(', ')}.`;
    const most = name.endsWith('_share') ? 1 : 600_000;
    if (typeof value !== 'number' || !(value >= 0 && value <= most))
      return `${name}: give a number from 0 to ${most}.`;
    Object.assign(next, { [name]: value });
  }
  return next;
}
