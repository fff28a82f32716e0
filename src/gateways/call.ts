import { Agent as HttpAgent, request as httpRequest } from 'node:http';
import { Agent as HttpsAgent, request as httpsRequest } from 'node:https';
import { refusedUrl } from './webhooks/allowed';
import { hostLookup } from './public-lookup';

/** What a network answered, or how nothing was heard of it. */
export type Called =
  | { kind: 'answered'; status: number; type: string; body: Buffer; retryAfter: number | null }
  /** Nothing went out. */
  | { kind: 'unreachable'; why: string }
  /** It went out, and nobody knows what became of it. */
  | { kind: 'silent'; why: string };

export interface Call {
  method: 'GET' | 'POST' | 'PUT' | 'DELETE';
  url: string;
  token: string;
  /** Sent as JSON, or as it is where it has a type. */
  body?: unknown;
  type?: string;
  /** Most bytes of an answer that are read. */
  most?: number;
  timeoutMs?: number;
}

const PATIENCE_MS = 20_000;
const LONGEST = 1_000_000;

const agents = { http: new HttpAgent({ keepAlive: true }), https: new HttpsAgent({ keepAlive: true }) };

/** One call to the interface of a network; never throws. `allowed`: hosts of private networks an operator lets through. */
export function call(
  { method, url, token, body, type, most = LONGEST, timeoutMs = PATIENCE_MS }: Call,
  allowed: readonly string[],
): Promise<Called> {
  const refused = refusedUrl(url, allowed);
  if (refused) return Promise.resolve({ kind: 'unreachable', why: `The address ${refused}` });
  const target = new URL(url);
  const secure = target.protocol === 'https:';
  const payload = body === undefined ? null : type ? (body as Buffer) : JSON.stringify(body);
  return new Promise((resolve) => {
    let connected = false;
    const broken = (error: Error) => {
      const why = error.message || 'no answer';
      // What is asked for by GET changes nothing: it may be asked again.
      resolve(connected ? { kind: 'silent', why } : { kind: 'unreachable', why });
    };
    const request = (secure ? httpsRequest : httpRequest)(
      target,
      {
        method,
        agent: secure ? agents.https : agents.http,
        lookup: hostLookup(target.hostname, allowed),
        signal: AbortSignal.timeout(timeoutMs),
        headers: {
          authorization: `Bearer ${token}`,
          accept: 'application/json',
          ...(payload === null
            ? {}
            : { 'content-type': type ?? 'application/json', 'content-length': Buffer.byteLength(payload) }),
        },
      },
      (response) => {
        const chunks: Buffer[] = [];
        let length = 0;
        response.on('data', (chunk: Buffer) => {
          length += chunk.length;
          if (length > most) response.destroy(new Error('The answer is too long'));
          else chunks.push(chunk);
        });
        response.once('error', broken);
        response.once('end', () =>
          resolve({
            kind: 'answered',
            status: response.statusCode ?? 0,
            type: response.headers['content-type'] ?? '',
            body: Buffer.concat(chunks),
            retryAfter: Number(response.headers['retry-after']) || null,
          }),
        );
      },
    );
    // A connection kept from before is there at once; a new one when it is made.
    request.once('socket', (socket) => {
      if (!socket.connecting) connected = true;
      else socket.once(secure ? 'secureConnect' : 'connect', () => (connected = true));
    });
    request.once('error', broken);
    request.end(payload);
  });
}
