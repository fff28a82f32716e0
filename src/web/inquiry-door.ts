import type { IncomingMessage, ServerResponse } from 'node:http';
import { BODY_WORDS, formatOf, readBody, treeOfPairs, type BodyRefusal } from '@/core/inquiry/read-body';
import { signatureProblem, SIGNATURE_WORDS } from '@/core/inquiry/signature';
import type { ArrivalFormat, Tree } from '@/core/inquiry/tree';
import { refuse, type Result } from '@/core/shared/result';
import { log } from '@/log/log';
import { doorOf, keepArrival } from '@/services/inquiries/intake';
import type { Context } from '@/services/kit/context';
import { readUpTo } from './read-up-to';

/** The key of the source that is written to; null: none is. */
export const sourceCalled = (url: string): string | null =>
  /^\/in\/([a-z0-9]{8,80})(?:\?|$)/.exec(url)?.[1] ?? null;

const LARGEST = 256 * 1024;
/** Whoever sends a quarter of a megabyte for longer than this is no portal. */
const PATIENCE_MS = 15_000;

const FROM_ANYWHERE = {
  'access-control-allow-origin': '*',
  'access-control-allow-methods': 'POST, GET, OPTIONS',
  'access-control-allow-headers': 'content-type, idempotency-key',
};

/**
 * An inquiry, taken at the door: it is kept as it came, and answered 202 at once; what it says is the worker's to read, so that
 * nothing is lost by a mapping that does not fit. The framework is too slow for three hundred a second.
 */
export async function takeInquiry(
  contextOf: () => Promise<Context>,
  key: string,
  request: IncomingMessage,
  response: ServerResponse,
): Promise<void> {
  const say = (status: number, detail: string, more: Record<string, string> = {}) =>
    void response
      .writeHead(status, { ...FROM_ANYWHERE, ...typeOf(status), 'cache-control': 'no-store', ...more })
      .end(JSON.stringify(status === 202 ? { kept: true } : { title: TITLES[status], status, detail }));
  try {
    if (request.method === 'OPTIONS') return void response.writeHead(204, FROM_ANYWHERE).end();
    if (request.method !== 'POST' && request.method !== 'GET')
      return say(405, 'Send it by POST, or its values in the address by GET.', { allow: 'POST, GET' });
    const ctx = await contextOf();
    const source = await doorOf(ctx, key);
    if (!source) return say(404, 'There is no source at this address. Ask whoever gave it to you.');
    if (source.closed) return say(410, 'This source is closed, and takes nothing.');
    const body = await readUpTo(request, LARGEST, PATIENCE_MS);
    if (body === 'too-large')
      return say(413, 'It is larger than 256 kB. Leave files out.', { connection: 'close' });
    if (body === 'too-slow') return say(408, 'It took longer than 15 seconds.', { connection: 'close' });
    const headers = request.headers as Record<string, string | undefined>;
    const signs = { signs: source.signs, signHeader: source.sign_header, secrets: source.secrets };
    const problem = signatureProblem(signs, { headers, body, at: ctx.now() });
    if (problem) return say(401, SIGNATURE_WORDS[problem]);
    const read = await contentOf(request, body);
    if (!read.ok) return say(read.reason === 'unknown-type' ? 415 : 422, BODY_WORDS[read.reason]);
    const deliveryId = headers['webhook-id'] ?? headers['idempotency-key'] ?? null;
    await keepArrival(ctx, source, { ...read.value, deliveryId });
    return say(202, '');
  } catch (error) {
    log.error({ err: error }, 'An inquiry could not be kept; whoever sent it is told to send it again.');
    if (!response.headersSent) say(503, 'It could not be kept now. Send it again.', { 'retry-after': '5' });
  }
}

const typeOf = (status: number) => ({
  'content-type': status === 202 ? 'application/json' : 'application/problem+json',
});

const TITLES: Record<number, string> = {
  401: 'Not signed by this source',
  404: 'No such source',
  405: 'Not allowed',
  408: 'Too slow',
  410: 'Closed',
  413: 'Too large',
  415: 'Not understood',
  422: 'Cannot be read',
  503: 'Not now',
};

async function contentOf(
  request: IncomingMessage,
  body: Buffer,
): Promise<Result<{ format: ArrivalFormat; content: Tree }, BodyRefusal>> {
  const type = request.headers['content-type'] ?? '';
  const query = (request.url ?? '').split('?')[1] ?? '';
  // Values in the address count where there is no body, whatever the method.
  const format = body.length === 0 && query !== '' ? 'query' : formatOf(type);
  if (format === null || format === 'mail' || format === 'row') return refuse('unknown-type');
  const read = /^multipart\//i.test(type)
    ? await readParts(type, body)
    : readBody(format, format === 'query' ? query : textOf(body, type));
  return read.ok ? { ok: true, value: { format, content: read.value } } : read;
}

/** Files are left out: nobody needs them to be answered. */
async function readParts(type: string, body: Buffer): Promise<Result<Tree, BodyRefusal>> {
  try {
    const parts = await new Response(new Uint8Array(body), { headers: { 'content-type': type } }).formData();
    const pairs = [...parts].flatMap(([name, value]): [string, string][] =>
      typeof value === 'string' ? [[name, value]] : [],
    );
    return readBody('json', JSON.stringify(treeOfPairs(pairs)));
  } catch {
    return refuse('not-readable');
  }
}

/** In the letters its type names, UTF-8 else. */
function textOf(body: Buffer, type: string): string {
  const charset = /charset\s*=\s*"?([\w-]+)/i.exec(type)?.[1] ?? 'utf-8';
  try {
    return new TextDecoder(charset).decode(body);
  } catch {
    return body.toString('utf8');
  }
}
