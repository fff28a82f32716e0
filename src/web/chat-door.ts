import type { IncomingMessage, ServerResponse } from 'node:http';
import { signatureProblem, SIGNATURE_WORDS } from '@/core/inquiry/signature';
import { readTold } from '@/gateways/chat/told';
import { log } from '@/log/log';
import { chatDoorOf, keepTold } from '@/services/chat/take-told';
import type { Context } from '@/services/kit/context';
import { readUpTo } from './read-up-to';

/** The key of the account that is called; null: none is. */
export const chatCalls = (method: string | undefined, url: string): string | null =>
  method === 'POST' ? (/^\/chat\/([a-z0-9]{8,80})(?:\?|$)/.exec(url)?.[1] ?? null) : null;

const LARGEST = 2 * 1024 * 1024;
const PATIENCE_MS = 15_000;

/**
 * What a chat network tells: receipts, messages, blocks, reviews. Signed as Standard Webhooks has it, against the machine’s
 * clock; it hears “kept” once everything of it is, and tells it again until then.
 */
export async function letNetworkIn(
  contextOf: () => Promise<Context>,
  key: string,
  request: IncomingMessage,
  response: ServerResponse,
): Promise<void> {
  const say = (status: number, detail: string) =>
    void response
      .writeHead(status, { 'content-type': 'application/problem+json', 'cache-control': 'no-store' })
      .end(JSON.stringify({ status, detail }));
  try {
    const ctx = await contextOf();
    const door = await chatDoorOf(ctx, key);
    if (!door) return say(404, 'No account is called back here.');
    const body = await readUpTo(request, LARGEST, PATIENCE_MS);
    if (body === 'too-large') return say(413, 'It is larger than 2 MB. Tell it in smaller pieces.');
    if (body === 'too-slow') return say(408, 'It took longer than 15 seconds.');
    const headers = request.headers as Record<string, string | undefined>;
    const signs = { signs: 'standard' as const, signHeader: null, secrets: [door.secret] };
    // The network signs by its own clock, which is the machine’s, not the bench’s.
    const problem = signatureProblem(signs, { headers, body, at: Date.now() });
    if (problem) return say(401, SIGNATURE_WORDS[problem]);
    const told = readTold(body.toString('utf8'), new Date(ctx.now()));
    if (!told) return say(422, 'This is no list of events.');
    await keepTold(ctx, door, told);
    return void response.writeHead(204).end();
  } catch (error) {
    log.error({ err: error }, 'What a chat network told could not be kept; it is to tell it again.');
    if (!response.headersSent) say(503, 'Tell it again.');
  }
}
