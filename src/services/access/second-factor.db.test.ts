import { Secret, TOTP } from 'otpauth';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest';
import { addAccount } from './create-workspace';
import { setOwnersNeedFactor } from './change-workspace';
import { beginFactor, confirmFactor, dropFactor, readFactor, renewCodes, takeCode } from './second-factor';
import { readSession, signIn } from './sessions';
import { must } from '@/services/testing/people';
import { makeWorld, type World } from '@/services/testing/world';

const ORIGIN = { address: '10.0.0.1', userAgent: 'test' };
const EMAIL = 'ana@example.org';
let world: World;
let accountId: string;
beforeAll(async () => {
  world = await makeWorld();
  accountId = await addAccount(world.ctx, world.workspaceId, {
    ...{ email: EMAIL, name: 'Ana Ortiz', password: 'long enough', role: 'owner' },
  });
});
afterAll(() => world.close());
beforeEach(async () => {
  // Codes are of the machine's clock.
  vi.useFakeTimers({ now: Date.now(), toFake: ['Date'] });
  await dropFactor(world.ctx, accountId);
  await world.within((scope) => scope.run(`delete from sign_in_try where :workspace <> ''`));
});
afterEach(() => void vi.useRealTimers());

const later = (seconds: number) => vi.setSystemTime(Date.now() + seconds * 1_000);
const codeOf = (secret: string) => new TOTP({ secret: Secret.fromBase32(secret) }).generate();
/** Sets one up; gives its secret and the codes on paper. */
async function setUp(): Promise<{ secret: string; codes: string[] }> {
  const { secret } = must(await beginFactor(world.ctx, { accountId, email: EMAIL }));
  const codes = must(await confirmFactor(world.ctx, accountId, codeOf(secret)));
  later(31);
  return { secret, codes };
}
const enter = (code = '', password = 'long enough') =>
  signIn(world.ctx, EMAIL, password, ORIGIN, null, code).then((result) => (result.ok ? 'in' : result.reason));

describe('a second factor', () => {
  it('counts from its first code on, and is asked after the password', async () => {
    expect(await enter()).toBe('in');
    const { secret } = must(await beginFactor(world.ctx, { accountId, email: EMAIL }));
    expect(await enter()).toBe('in');
    expect(await confirmFactor(world.ctx, accountId, '000000')).toMatchObject({ ok: false });
    expect((await readFactor(world.ctx, accountId)).since).toBeNull();
    must(await confirmFactor(world.ctx, accountId, codeOf(secret)));
    expect(await enter()).toBe('code');
    expect(await enter('', 'wrong')).toBe('wrong');
    later(31);
    expect(await enter(codeOf(secret), 'wrong')).toBe('wrong');
    expect(await enter(codeOf(secret))).toBe('in');
  });

  it('takes each code once, also the one before and the next', async () => {
    const { secret } = await setUp();
    const code = codeOf(secret);
    expect(await enter(code)).toBe('in');
    expect(await enter(code)).toBe('wrong-code');
    later(60);
    const before = codeOf(secret);
    later(30);
    expect(await enter(before)).toBe('in');
    later(300);
    expect(await enter(before)).toBe('wrong-code');
  });

  it('opens by each code on paper once, however it is typed', async () => {
    const { codes } = await setUp();
    expect(codes).toHaveLength(10);
    expect(await enter(codes[0]!.toUpperCase().replace('-', ' '))).toBe('in');
    expect(await enter(codes[0])).toBe('wrong-code');
    expect((await readFactor(world.ctx, accountId)).codesLeft).toBe(9);
    const others = await renewCodes(world.ctx, accountId);
    expect(await enter(codes[1])).toBe('wrong-code');
    expect(await enter(others[1])).toBe('in');
  });

  it('is not guessed: a few wrong codes close it for a quarter of an hour, the right one included', async () => {
    const { secret } = await setUp();
    for (let i = 0; i < 8; i++) expect(await takeCode(world.ctx, accountId, '000000')).toBe(false);
    expect(await takeCode(world.ctx, accountId, codeOf(secret))).toBe(false);
    await world.within((scope) =>
      scope.run(`update sign_in_try set since = since - interval '16 minutes' where :workspace <> ''`),
    );
    expect(await takeCode(world.ctx, accountId, codeOf(secret))).toBe(true);
  });

  it('is not put in the place of one that counts', async () => {
    await setUp();
    expect(await beginFactor(world.ctx, { accountId, email: EMAIL })).toMatchObject({ ok: false });
  });

  it('is asked of owners whose business wants it, before anything opens', async () => {
    const signedIn = await signIn(world.ctx, EMAIL, 'long enough', ORIGIN);
    const token = must(signedIn);
    const needs = async () => (await readSession(world.ctx, token))!.needsFactor;
    expect(await needs()).toBe(false);
    must(await world.within((scope) => setOwnersNeedFactor(world.ctx, scope, true, 'test')));
    expect(await needs()).toBe(true);
    await setUp();
    expect(await needs()).toBe(false);
    must(await world.within((scope) => setOwnersNeedFactor(world.ctx, scope, false, 'test')));
  });
});
