import { randomBytes } from 'node:crypto';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { log } from '@/log/log';
import { timeRequest } from '@/log/metrics';

/** Every request has an id, which stands in its answer and in its line of the log. */
const ID_HEADER = 'x-request-id';

/** One line for each request, when its answer is over. */
export function logRequest(request: IncomingMessage, response: ServerResponse): void {
  const id = randomBytes(9).toString('base64url');
  const began = performance.now();
  const { method = '', url = '/' } = request;
  request.headers[ID_HEADER] = id;
  response.setHeader(ID_HEADER, id);
  response.once('close', () => {
    const ms = Math.round(performance.now() - began);
    const path = shownPath(url);
    timeRequest(path, response.statusCode, ms);
    const line = { request: id, method, path, status: response.statusCode, ms };
    if (response.statusCode >= 500) log.error(line, 'answered');
    else if (!isNoise(path)) log.info(line, 'answered');
  });
}

/** Files of the application itself. */
const isNoise = (path: string): boolean => path.startsWith('/_next/') || path === '/icon.svg';

/**
 * A path without what opens something: what follows a question mark, and codes of personal links, forms, letters and
 * vouchers. Ids of rows stay.
 */
export function shownPath(url: string): string {
  const [path = ''] = url.split('?');
  const parts = path.split('/');
  const secret = SECRET_PLACES.has(parts[1] ?? '');
  return parts.map((part, i) => ((i > 1 && secret) || tellsTooMuch(part) ? '…' : part)).join('/');
}

/** The first part of addresses whose rest is a secret. */
const SECRET_PLACES: ReadonlySet<string> = new Set([
  ...['p', 'f', 'u', 'v', 'm', 'l', 'r', 'begin', 'join', 'calendar', 'mm7'],
]);

/** Long as a token, a phone number, or nothing that can be read. */
function tellsTooMuch(part: string): boolean {
  if (part.length > 60) return true;
  try {
    return /^\+?\d{7,}$|@/.test(decodeURIComponent(part));
  } catch {
    return true;
  }
}
