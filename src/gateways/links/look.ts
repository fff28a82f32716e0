import { lookup } from 'node:dns';
import { request as httpRequest } from 'node:http';
import { request as httpsRequest } from 'node:https';
import ipaddr from 'ipaddr.js';
import { readTarget } from '@/core/link/target';
import { isPublic, publicLookup, type Resolve } from '../public-lookup';

/** What was found where a link leads. */
export type Looked =
  /** A page answers. */
  | { kind: 'there' }
  /** Nobody will find anything there, with the reason in words. */
  | { kind: 'dead'; why: string }
  /** It answers, but not to us, or nobody could ask: a human has to look. */
  | { kind: 'unknown'; why: string };

const PATIENCE_MS = 8_000;
const MOST_REDIRECTS = 5;

/**
 * Looks whether a page answers where a link leads. It goes only where everybody could: each address is judged when its name
 * is looked up, at every redirect, and the connection goes to the very address that was judged. Never throws.
 * `allowed`: hosts an operator lets through as they are.
 */
export const looker =
  (allowed: readonly string[], resolve: Resolve = lookup) =>
  async (url: string): Promise<Looked> => {
    let next = url;
    for (let hop = 0; hop <= MOST_REDIRECTS; hop++) {
      const target = parse(next, allowed);
      if (!target) return { kind: 'dead', why: 'it leads to an address nobody else can open' };
      const step = await ask(target, allowed.includes(target.hostname) ? lookup : publicLookup(resolve));
      if (step.kind !== 'elsewhere') return step;
      if (!URL.canParse(step.to, target)) return { kind: 'dead', why: 'it sends everybody on to no address' };
      next = new URL(step.to, target).toString();
    }
    return { kind: 'dead', why: 'it sends everybody in a circle' };
  };

/** Null: not everybody can open it. */
function parse(url: string, allowed: readonly string[]): URL | null {
  if (!URL.canParse(url)) return null;
  const target = new URL(url);
  if (allowed.includes(target.hostname)) return target;
  const literal = target.hostname.replace(/^\[|\]$/g, '');
  return readTarget(url).ok && (!ipaddr.isValid(literal) || isPublic(literal)) ? target : null;
}

type Step = Looked | { kind: 'elsewhere'; to: string };

const ask = (target: URL, how: typeof lookup | ReturnType<typeof publicLookup>): Promise<Step> =>
  new Promise((resolve) => {
    const request = (target.protocol === 'https:' ? httpsRequest : httpRequest)(
      target,
      {
        ...{ method: 'GET', agent: false, lookup: how as ReturnType<typeof publicLookup> },
        headers: {
          'user-agent': 'Steady Wren (looks whether a link leads somewhere)',
          accept: 'text/html,*/*',
        },
        signal: AbortSignal.timeout(PATIENCE_MS),
      },
      (response) => {
        resolve(stepOf(response.statusCode ?? 0, response.headers.location));
        // What the page says is not read.
        response.destroy();
      },
    );
    request.once('error', (error: NodeJS.ErrnoException) => resolve(unreached(error)));
    request.end();
  });

function stepOf(status: number, location: string | undefined): Step {
  if (status >= 300 && status < 400 && location) return { kind: 'elsewhere', to: location };
  if (status === 404 || status === 410) return { kind: 'dead', why: `there is no such page (${status})` };
  if (status >= 500) return { kind: 'unknown', why: `it answers with a fault (${status})` };
  if (status >= 400) return { kind: 'unknown', why: `it does not answer to us (${status})` };
  return { kind: 'there' };
}

function unreached({ code, name, message }: NodeJS.ErrnoException): Looked {
  if (code === 'ENOTFOUND') return { kind: 'dead', why: 'there is no such host' };
  if (code === 'ECONNREFUSED') return { kind: 'dead', why: 'nobody answers there' };
  if (message.includes('private network'))
    return { kind: 'dead', why: 'its host leads into a private network' };
  if (name === 'AbortError' || name === 'TimeoutError')
    return { kind: 'unknown', why: 'it did not answer in eight seconds' };
  return { kind: 'unknown', why: 'it could not be looked at from here' };
}
