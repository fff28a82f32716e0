import { log } from '@/log/log';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { ADDRESS_HEADER } from '@/app/address-header';
import { followLink } from '@/services/links/follow-link';
import { getContext } from '@/services/runtime';

/** The code of the link that is followed by this request; null: none is. */
export const linkFollowed = (method: string | undefined, url: string): string | null =>
  method === 'GET' || method === 'HEAD' ? (/^\/l\/(\w{1,40})(?:\?|$)/.exec(url)?.[1] ?? null) : null;

/** Leads on, at the door: a broadcast brings hundreds in a second, and each waits with a phone in the hand. */
export async function leadOn(
  code: string,
  request: IncomingMessage,
  response: ServerResponse,
): Promise<void> {
  const say = (status: number, words: string) =>
    void response.writeHead(status, { 'content-type': 'text/plain; charset=utf-8', ...NOT_KEPT }).end(words);
  try {
    const url = await followLink(await getContext(), {
      code,
      agent: request.headers['user-agent'] ?? '',
      head: request.method === 'HEAD',
      from: String(request.headers[ADDRESS_HEADER] ?? 'unknown'),
    });
    if (url === null) return say(404, 'There is no such link.');
    response.writeHead(302, { location: inHeader(url), ...NOT_KEPT }).end();
  } catch (error) {
    log.error({ err: error }, 'A link could not be followed; whoever came is told to try again.');
    if (!response.headersSent) say(503, 'Not just now. Try again in a moment.');
  }
}

const NOT_KEPT = { 'cache-control': 'no-store', 'referrer-policy': 'no-referrer' };

/** An address as a header can hold it. */
const inHeader = (url: string): string => (URL.canParse(url) ? new URL(url).href : encodeURI(url));
