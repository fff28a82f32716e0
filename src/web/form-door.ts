import { log } from '@/log/log';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { ADDRESS_HEADER } from '@/app/address-header';
import { isForm, LARGEST_FORM, NO_SUCH_PAGE, publicHeaders, typedOf } from '@/app/public-page';
import { takeIn } from '@/services/forms/take-in';
import { getContext } from '@/services/runtime';
import { readUpTo } from './read-up-to';

/** The code of the form that is sent to this address; null: none is. */
export const formSentTo = (method: string | undefined, url: string): string | null =>
  method === 'POST' ? (/^\/f\/(\w+)$/.exec(url)?.[1] ?? null) : null;

/**
 * A form that is sent, taken at the door: the framework spends four times as long on a request as keeping it takes, and
 * what hangs on a poster is filled in by hundreds a second.
 */
export async function takeForm(
  code: string,
  request: IncomingMessage,
  response: ServerResponse,
): Promise<void> {
  const say = (status: number, html: string) =>
    void response.writeHead(status, publicHeaders({ framed: true })).end(html);
  try {
    const body = isForm(request.headers['content-type']) ? await bodyOf(request) : null;
    if (!body) return say(415, 'Send the form as it is drawn.');
    const origin = {
      address: String(request.headers[ADDRESS_HEADER] ?? 'unknown'),
      agent: request.headers['user-agent'] ?? '',
    };
    const answered = await takeIn(await getContext(), code, typedOf(body), origin);
    return answered ? say(answered.status, answered.html) : say(404, NO_SUCH_PAGE);
  } catch (error) {
    log.error({ err: error }, 'A form could not be taken; whoever sent it is told to try again.');
    if (!response.headersSent) say(503, AGAIN);
  }
}

const AGAIN =
  '<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>Try again</title><main><h1>It did not arrive</h1><p>Nothing was lost: go back, and send it again in a moment.</p></main></html>';

/** Null: it is larger than a form is, or broke off. */
async function bodyOf(request: IncomingMessage): Promise<Buffer | null> {
  const body = await readUpTo(request, LARGEST_FORM).catch(() => null);
  return body instanceof Buffer ? body : null;
}
