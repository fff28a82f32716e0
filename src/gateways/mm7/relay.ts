import { httpOutcome, type RelayAnswer } from './answers';
import { submitRequest, type OutgoingPicture } from './submit';
import type { SubmitOutcome } from '@/gateways/carrier';

export interface RelaySettings {
  url: string;
  user: string;
  password: string;
  /** Who we are to the relay: provider and service (TS 23.140, 8.7.1.1). */
  vaspId: string;
  vasId: string;
  /** Messages on their way at once. */
  atOnce: number;
  timeoutMs: number;
}

export interface Relay {
  /** Messages that may be started now without waiting. */
  free(): number;
  /** Hands one message over. Nothing is thrown: a broken line is an outcome. */
  send(picture: OutgoingPicture): Promise<SubmitOutcome>;
  /** Resolves when every started message has its outcome. */
  close(): Promise<void>;
}

/** A relay that takes picture messages over MM7 (3GPP TS 23.140, 8.7): SOAP over HTTP with attachments. */
export function mm7Relay(settings: RelaySettings): Relay {
  const underWay = new Set<Promise<SubmitOutcome>>();
  return {
    free: () => settings.atOnce - underWay.size,
    send(picture) {
      const outcome = handOver(settings, picture).finally(() => underWay.delete(outcome));
      underWay.add(outcome);
      return outcome;
    },
    close: async () => void (await Promise.all(underWay)),
  };
}

async function handOver(
  { url, user, password, vaspId, vasId, timeoutMs }: RelaySettings,
  picture: OutgoingPicture,
): Promise<SubmitOutcome> {
  const { contentType, body } = submitRequest(picture, { vaspId, vasId });
  const authorization = `Basic ${Buffer.from(`${user}:${password}`).toString('base64')}`;
  let answer: RelayAnswer;
  try {
    const response = await fetch(url, {
      method: 'POST',
      headers: { 'content-type': contentType, soapaction: '""', authorization },
      body: new Uint8Array(body),
      signal: AbortSignal.timeout(timeoutMs),
      redirect: 'manual',
    });
    answer = { status: response.status, text: await response.text() };
  } catch (error) {
    return neverReached(error) ? { kind: 'not-written' } : { kind: 'unknown' };
  }
  return httpOutcome(answer);
}

/** There was nobody to take it. Everything else that breaks may have broken after it was taken. */
const NOBODY: ReadonlySet<string> = new Set([
  'ECONNREFUSED',
  'ENOTFOUND',
  'EAI_AGAIN',
  'EHOSTUNREACH',
  'UND_ERR_CONNECT_TIMEOUT',
]);

function neverReached(error: unknown): boolean {
  const { cause } = error as { cause?: { code?: string; errors?: { code?: string }[] } };
  const codes = [cause?.code, ...(cause?.errors ?? []).map(({ code }) => code)];
  return codes.some((code) => code !== undefined && NOBODY.has(code));
}
