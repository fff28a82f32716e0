import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { Listener } from '../webhooks/testing';
import { looker } from './look';

let listener: Listener;
beforeEach(async () => {
  listener = new Listener();
  await listener.open();
});
afterEach(() => listener.close());

const at = (path: string) => `http://127.0.0.1:${listener.port}${path}`;
const look = looker(['127.0.0.1']);
const leads = (addresses: string[]) =>
  looker([], (_host, _options, callback) =>
    callback(
      null,
      addresses.map((address) => ({ address, family: address.includes(':') ? 6 : 4 })),
    ),
  );

describe('whether a link leads somewhere', () => {
  it.each([
    [200, 'there'],
    [404, 'dead'],
    [410, 'dead'],
    [403, 'unknown'],
    [500, 'unknown'],
  ])('a page that answers %d is %s', async (status, kind) => {
    listener.answers = [{ status }];
    expect(await look(at('/'))).toMatchObject({ kind });
  });

  it('follows where it is sent on', async () => {
    listener.answers = [{ status: 301, headers: { location: '/b' } }, { status: 200 }];
    expect(await look(at('/a'))).toEqual({ kind: 'there' });
  });

  it('not in a circle, and not into a private network', async () => {
    listener.answers = Array.from({ length: 9 }, () => ({ status: 302, headers: { location: '/' } }));
    expect(await look(at('/'))).toMatchObject({ kind: 'dead', why: expect.stringContaining('circle') });
    expect(listener.came).toHaveLength(6);
    listener.answers = [{ status: 302, headers: { location: 'http://169.254.169.254/latest' } }];
    expect(await look(at('/'))).toMatchObject({ kind: 'dead', why: expect.stringContaining('nobody else') });
    listener.answers = [{ status: 302, headers: { location: 'javascript:alert(1)' } }];
    expect(await look(at('/'))).toMatchObject({ kind: 'dead' });
  });

  it.each([['127.0.0.1'], ['10.0.0.7'], ['::1'], ['169.254.169.254']])(
    'a name that leads to %s is connected to by nobody',
    async (address) => {
      const looked = await leads([address])(`http://pages.example.org:${listener.port}/`);
      expect(looked).toMatchObject({ kind: 'dead', why: expect.stringContaining('private network') });
      expect(listener.came).toHaveLength(0);
    },
  );

  it.each(['http://127.0.0.1/', 'http://[::1]/', 'ftp://example.org/', 'nothing', 'http://2130706433/'])(
    '%s is looked at by nobody',
    async (url) => {
      const looked = await leads(['203.0.114.7'])(url);
      expect(looked).toMatchObject({ kind: 'dead' });
    },
  );

  it('a host that is not there, and one that answers to nobody', async () => {
    const nowhere = looker([], (host, _options, callback) =>
      callback(Object.assign(new Error(host), { code: 'ENOTFOUND' }), []),
    );
    expect(await nowhere('https://nowhere.example.org/')).toEqual({
      kind: 'dead',
      why: 'there is no such host',
    });
    const { port } = listener;
    await listener.close();
    expect(await look(`http://127.0.0.1:${port}/`)).toMatchObject({
      kind: 'dead',
      why: 'nobody answers there',
    });
  });
});
