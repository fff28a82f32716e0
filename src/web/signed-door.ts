import type { IncomingMessage, ServerResponse } from 'node:http';
import { signatureProblem, SIGNATURE_WORDS } from '@/core/inquiry/signature';
import { log } from '@/log/log';
import { readUpTo } from './read-up-to';

const LARGEST = 2 * 1024 * 1024;
const PATIENCE_MS = 15_000;

export interface SignedDoor {
  /** Whose door it is, by what signs at it; null: nobody's. Without a secret nothing is signed. */
  find(): Promise<{ secret: string | null; keep(body: string): Promise<'kept' | 'unreadable'> } | null>;
  /** What is said to whom nobody's door was called, and to what cannot be read. */
  nobody: string;
  unreadable: string;
}

/**
 * A door at which somebody outside tells us things, signed as Standard Webhooks has it, against the machine’s clock. They
 * hear “kept” once everything of it is, and tell it again until then.
 */
export async function letTellerIn(
  door: SignedDoor,
  request: IncomingMessage,
  response: ServerResponse,
): Promise<void> {
  const say = (status: number, detail: string) =>
    void response
      .writeHead(status, { 'content-type': 'application/problem+json', 'cache-control': 'no-store' })
      .end(JSON.stringify({ status, detail }));
  try {
    const found = await door.find();
    if (!found) return say(404, door.nobody);
    const body = await readUpTo(request, LARGEST, PATIENCE_MS);
    if (body === 'too-large') return say(413, 'It is larger than 2 MB. Tell it in smaller pieces.');
    if (body === 'too-slow') return say(408, 'It took longer than 15 seconds.');
    if (found.secret !== null) {
      const headers = request.headers as Record<string, string | undefined>;
      const signs = { signs: 'standard' as const, signHeader: null, secrets: [found.secret] };
      // Whoever tells signs by their own clock, which is the machine’s, not the bench’s.
      const problem = signatureProblem(signs, { headers, body, at: Date.now() });
      if (problem) return say(401, SIGNATURE_WORDS[problem]);
    }
    if ((await found.keep(body.toString('utf8'))) === 'unreadable') return say(422, door.unreadable);
    return void response.writeHead(204).end();
  } catch (error) {
    log.error({ err: error }, 'What was told at a door could not be kept; it is to be told again.');
    if (!response.headersSent) say(503, 'Tell it again.');
  }
}
