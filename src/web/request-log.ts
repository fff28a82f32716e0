import { randomBytes } from 'node:crypto';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { log } from '@/log/log';
import { timeRequest } from '@/log/metrics';
import { shownPath } from '@/log/path';

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

/** Files of the application itself, and whoever asks every few seconds whether it lives. */
const isNoise = (path: string): boolean =>
  path.startsWith('/_next/') || ['/icon.svg', '/health', '/metrics'].includes(path);
