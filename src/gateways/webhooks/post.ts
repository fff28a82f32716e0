import { lookup } from 'node:dns';
import { request as httpRequest } from 'node:http';
import { request as httpsRequest } from 'node:https';
import type { LookupFunction } from 'node:net';
import { Webhook } from 'standardwebhooks';
import { cleanText, cutText } from '@/core/shared/clean-text';
import type { Answer } from '@/core/webhook/schedule';
import { publicLookup, type Resolve } from '../public-lookup';
import { refusedUrl } from './allowed';

export interface Post {
  url: string;
  /** The same at every try of one delivery. */
  id: string;
  body: string;
  /** The newest first; each signs. */
  secrets: readonly string[];
}

/** Sends one delivery; never throws. */
export type Poster = (post: Post) => Promise<Answer>;

const PATIENCE_MS = 10_000;
const LONGEST_ANSWER = 2_000;

/**
 * Posts a signed webhook (Standard Webhooks). The name is looked up once, the addresses it has are judged, and the
 * connection goes to the very address that was judged, so that a name which answers otherwise a second later leads
 * nowhere. A redirect is no arrival and is not followed. `allowed`: hosts an operator lets through as they are.
 */
export const poster =
  (allowed: readonly string[], resolve: Resolve = lookup): Poster =>
  async ({ url, id, body, secrets }) => {
    const began = performance.now();
    const ms = () => Math.round(performance.now() - began);
    const refused = refusedUrl(url, allowed);
    if (refused) return { kind: 'unreachable', why: `The address ${refused}`, ms: 0 };
    const target = new URL(url);
    // A receiver holds the time against its own clock: it is the machine's, not the bench's.
    const at = new Date();
    try {
      const { status, text } = await send(
        target,
        body,
        {
          'content-type': 'application/json',
          'user-agent': 'Steady Wren',
          'webhook-id': id,
          'webhook-timestamp': String(Math.floor(at.getTime() / 1_000)),
          'webhook-signature': secrets.map((secret) => new Webhook(secret).sign(id, at, body)).join(' '),
        },
        allowed.includes(target.hostname) ? lookup : publicLookup(resolve),
      );
      return { kind: 'answered', status, body: text, ms: ms() };
    } catch (error) {
      return { kind: 'unreachable', why: cutText((error as Error).message || 'no answer', 300), ms: ms() };
    }
  };

function send(
  target: URL,
  body: string,
  headers: Record<string, string>,
  how: LookupFunction,
): Promise<{ status: number; text: string }> {
  return new Promise((resolve, reject) => {
    const request = (target.protocol === 'https:' ? httpsRequest : httpRequest)(
      target,
      { method: 'POST', headers, lookup: how, agent: false, signal: AbortSignal.timeout(PATIENCE_MS) },
      (response) => {
        let text = '';
        response.setEncoding('utf8');
        response.on('data', (chunk: string) => {
          if (text.length < LONGEST_ANSWER) text += chunk;
          // Nobody reads on: an answer without end must not hold the sender.
          else response.destroy();
        });
        const done = () =>
          resolve({ status: response.statusCode ?? 0, text: cutText(cleanText(text), LONGEST_ANSWER) });
        response.once('end', done);
        response.once('close', done);
        response.once('error', done);
      },
    );
    request.once('error', reject);
    request.end(body);
  });
}
