import { RateLimiterMemory, RateLimiterRes } from 'rate-limiter-flexible';

/** Requests of one key in a minute, in each web process. */
export const mostAMinute = (): number => Number(process.env.WREN_API_PER_MINUTE) || 600;

const MINUTE_S = 60;
const limiter = new RateLimiterMemory({ points: mostAMinute(), duration: MINUTE_S });

/**
 * Takes one of the turns of a key, with what its caller is told of the rest.
 * Source: draft-ietf-httpapi-ratelimit-headers-10.
 */
export async function takeTurn(keyId: string): Promise<{ ok: boolean; headers: Record<string, string> }> {
  limiter.points = mostAMinute();
  const policy = { 'ratelimit-policy': `"minute";q=${limiter.points};w=${MINUTE_S}` };
  try {
    return { ok: true, headers: { ...policy, ratelimit: left(await limiter.consume(keyId)) } };
  } catch (over) {
    if (!(over instanceof RateLimiterRes)) throw over;
    return {
      ok: false,
      headers: { ...policy, ratelimit: left(over), 'retry-after': String(secondsOf(over)) },
    };
  }
}

const secondsOf = ({ msBeforeNext }: RateLimiterRes): number => Math.max(1, Math.ceil(msBeforeNext / 1_000));

const left = (turn: RateLimiterRes): string =>
  `"minute";r=${Math.max(0, turn.remainingPoints)};t=${secondsOf(turn)}`;
