import { Resolver } from 'node:dns/promises';
import { Readable } from 'node:stream';
import { setImmediate } from 'node:timers/promises';
import type { DNSResolver } from 'mailauth';

/** Which server handed a letter over, and in whose name (RFC 5321). */
export interface Handed {
  ip: string;
  helo: string;
  mailFrom: string;
}

/** Whose a letter provably is. */
export interface SenderProof {
  /** Domains that signed it whole (DKIM, RFC 6376), or whose server it came from (SPF, RFC 7208). */
  domains: readonly string[];
  /** Something could not be looked up just now: asked again, it may be proved. */
  undecided: boolean;
}

/** Each signature is a look-up: whoever writes hundreds into a letter proves nothing by it. */
const MOST_SIGNATURES = 10;

/** @param handed null: only the letter itself is known, so its signatures alone count */
export async function proveSender(
  raw: Uint8Array,
  handed: Handed | null,
  resolver: DNSResolver,
): Promise<SenderProof> {
  const bytes = Buffer.from(raw);
  if (signaturesIn(bytes) > MOST_SIGNATURES) return { domains: [], undecided: false };
  // Loaded with the first letter: it takes a third of a second, and most processes read none.
  const { authenticate } = await import('mailauth');
  const { dkim, spf } = await authenticate(Readable.from(inPieces(bytes)), {
    ...(handed ? { ip: handed.ip, helo: handed.helo, sender: handed.mailFrom } : {}),
    ...{ resolver, disableArc: true, disableDmarc: true, disableBimi: true },
  });
  // A signature over a part of the body says nothing of what was written below it.
  const signed = dkim.results.filter(
    ({ status, signingDomain }) => status.result === 'pass' && !status.underSized && signingDomain,
  );
  const handedBy = spf && spf.status.result === 'pass' && spf.domain ? [spf.domain] : [];
  return {
    domains: [...new Set([...signed.map(({ signingDomain }) => signingDomain), ...handedBy].map(lowered))],
    undecided:
      dkim.results.some(({ status }) => status.result === 'temperror') ||
      (spf !== false && spf.status.result === 'temperror'),
  };
}

const PIECE = 64 * 1024;

/** A signature is checked line by line, and a letter can hold millions: others have their turn between two pieces. */
async function* inPieces(bytes: Buffer): AsyncGenerator<Buffer> {
  for (let at = 0; at < bytes.length; at += PIECE) {
    yield bytes.subarray(at, at + PIECE);
    await setImmediate();
  }
}

const lowered = (domain: string | false): string => String(domain).toLowerCase();

/** Counted in the head of the letter alone. */
function signaturesIn(bytes: Buffer): number {
  const text = bytes.toString('latin1');
  const end = /\r?\n\r?\n/.exec(text)?.index ?? text.length;
  return text.slice(0, end).match(/^dkim-signature:/gim)?.length ?? 0;
}

/** Looks names up at these servers; none: as the machine does. */
export function resolverOf(servers: readonly string[]): DNSResolver {
  const resolver = new Resolver({ timeout: 3_000, tries: 2 });
  if (servers.length > 0) resolver.setServers([...servers]);
  return (domain, type) => resolver.resolve(domain, type) as Promise<string[] | string[][]>;
}
