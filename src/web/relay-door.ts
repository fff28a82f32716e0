import { log } from '@/log/log';
import { timingSafeEqual } from 'node:crypto';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { readArrival } from '@/gateways/mm7/arrivals';
import { storeAnswers, storeEach } from '@/services/delivery/store-answers';
import { receivePicture } from '@/services/inbox/receive-picture';
import { relaySecret } from '@/services/kit/settings';
import type { Context } from '@/services/kit/context';
import { readUpTo } from './read-up-to';

/** What the relay names to be let in; null: it is not for the relay's door. */
export const relayCalls = (method: string | undefined, url: string): string | null =>
  method === 'POST' ? (/^\/mm7\/([\w-]{1,200})$/.exec(url)?.[1] ?? null) : null;

const LARGEST = 6 * 1024 * 1024;

/**
 * Receipts and picture messages, as the relay brings them (MM7). It hears “taken” once they are kept, and brings them
 * again until it does.
 */
export async function letRelayIn(
  contextOf: () => Promise<Context>,
  named: string,
  request: IncomingMessage,
  response: ServerResponse,
): Promise<void> {
  const say = (status: number, words: string) =>
    void response
      .writeHead(status, {
        'content-type': status === 200 ? 'text/xml; charset=utf-8' : 'text/plain; charset=utf-8',
      })
      .end(words);
  try {
    if (!isSecret(named)) return say(404, 'There is nothing here.');
    const body = await readUpTo(request, LARGEST);
    if (!(body instanceof Buffer)) return say(413, 'It is larger than 6 MB.');
    const arrival = readArrival(request.headers['content-type'] ?? '', body);
    if (!arrival) return say(400, 'This is neither MM7_deliver.REQ nor MM7_delivery_report.REQ.');
    const ctx = await contextOf();
    if (arrival.kind === 'picture') await receivePicture(ctx, arrival.picture);
    else
      await storeAnswers(ctx, [], [arrival.receipt]).catch(async () => {
        const again = await storeEach(ctx, [], [arrival.receipt]);
        if (again.size > 0) throw new Error('The receipt of a picture message could not be stored');
      });
    return say(200, arrival.answer);
  } catch (error) {
    log.error({ err: error }, 'What the relay brought could not be kept; it is to bring it again.');
    if (!response.headersSent) say(503, 'Bring it again.');
  }
}

function isSecret(named: string): boolean {
  const secret = relaySecret();
  if (secret === null) return false;
  const [given, known] = [Buffer.from(named), Buffer.from(secret)];
  return given.length === known.length && timingSafeEqual(given, known);
}
