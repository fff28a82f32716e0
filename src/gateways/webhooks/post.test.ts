import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { poster } from './post';
import { Listener } from './testing';

let listener: Listener;
beforeEach(async () => {
  listener = new Listener();
  await listener.open();
});
afterEach(() => listener.close());

describe('the guard', () => {
  const post = (to: string, allowed: string[] = []) =>
    poster(allowed)({ url: to, id: 'x', body: '{}', secrets: [`whsec_${'a'.repeat(32)}`] });

  it('calls no private address, by number or by a name that leads there', async () => {
    const port = listener.port;
    for (const to of [`https://127.0.0.1:${port}/`, `https://[::1]:${port}/`, `https://localhost:${port}/`])
      expect(await post(to)).toMatchObject({ kind: 'unreachable', why: expect.stringContaining('private') });
    expect(listener.came).toHaveLength(0);
  });

  it('asks for a name once and connects to nothing private it leads to, however it answers', async () => {
    let asked = 0;
    const answers = [['127.0.0.1'], ['10.0.0.7', '::1'], ['169.254.169.254']];
    for (const addresses of answers) {
      const guarded = poster([], (_, __, callback) => {
        asked++;
        callback(
          null,
          addresses.map((address) => ({ address, family: address.includes(':') ? 6 : 4 })),
        );
      });
      const { port } = listener;
      const body = { id: 'x', body: '{}', secrets: [`whsec_${'a'.repeat(32)}`] };
      expect(await guarded({ url: `https://hooks.example.org:${port}/`, ...body })).toMatchObject({
        kind: 'unreachable',
        why: 'hooks.example.org leads to an address of a private network',
      });
    }
    expect(asked).toBe(answers.length);
    expect(listener.came).toHaveLength(0);
  });

  it('follows no redirect: it is an answer like any other that is no arrival', async () => {
    listener.answers = [{ status: 302, headers: { location: listener.url } }];
    expect(await post(listener.url, ['127.0.0.1'])).toMatchObject({ kind: 'answered', status: 302 });
    expect(listener.came).toHaveLength(1);
  });

  it('reads no answer without end', async () => {
    listener.answers = [{ status: 200, body: 'x'.repeat(500_000) }];
    const answer = await post(listener.url, ['127.0.0.1']);
    expect(answer).toMatchObject({ kind: 'answered', status: 200 });
    expect(answer.kind === 'answered' && answer.body.length).toBeLessThanOrEqual(2_000);
  });
});
