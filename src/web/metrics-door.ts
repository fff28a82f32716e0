import { createHash, timingSafeEqual } from 'node:crypto';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { log } from '@/log/log';
import type { Context } from '@/services/kit/context';
import { readMetrics } from '@/services/metrics/read-metrics';

/** Figures for whoever watches. Without `WREN_METRICS_TOKEN` there is no such page; with it, it is given as a bearer token. */
export const metricsAsked = (method: string | undefined, url: string): boolean =>
  method === 'GET' && /^\/metrics(?:\?|$)/.test(url);

export async function giveMetrics(
  context: () => Promise<Context>,
  request: IncomingMessage,
  response: ServerResponse,
  token: string | undefined = process.env.WREN_METRICS_TOKEN,
): Promise<void> {
  if (!token) return void response.writeHead(404).end('There is nothing here.');
  if (!same(request.headers.authorization ?? '', `Bearer ${token}`))
    return void response
      .writeHead(401, { 'www-authenticate': 'Bearer' })
      .end('Give the token of WREN_METRICS_TOKEN as a bearer token.');
  try {
    const { type, body } = await readMetrics(await context());
    response.writeHead(200, { 'content-type': type }).end(body);
  } catch (error) {
    log.error({ err: error }, 'The figures could not be read.');
    response.writeHead(503).end('The database cannot be read.');
  }
}

const same = (one: string, other: string): boolean => timingSafeEqual(digest(one), digest(other));

const digest = (text: string): Buffer => createHash('sha256').update(text).digest();
