import { describe, expect, it } from 'vitest';
import { addressOf, isForeign, isReadable } from './origin';

describe('where a request came from', () => {
  it.each([
    ['nothing is believed without a proxy', '1.1.1.1', 0, '9.9.9.9'],
    ['one proxy: what it saw', 'made up, 1.1.1.1', 1, '1.1.1.1'],
    ['two proxies: what the outer one saw', 'made up, 1.1.1.1, 10.0.0.1', 2, '1.1.1.1'],
    ['a proxy that said nothing', undefined, 1, '9.9.9.9'],
    ['fewer than there should be', '1.1.1.1', 3, '1.1.1.1'],
  ])('%s', (_, said, proxies, address) =>
    expect(addressOf({ 'x-forwarded-for': said }, '9.9.9.9', proxies)).toBe(address),
  );
});

describe('a page of another site', () => {
  const request = (over: object) => ({
    method: 'POST',
    url: '/inbox',
    headers: { host: 'wren.test', ...over },
  });
  it.each([
    ['the same origin', { origin: 'https://wren.test' }, false],
    ['another', { origin: 'https://evil.test' }, true],
    ['another port', { origin: 'https://wren.test:8443' }, true],
    ['none that can be named', { origin: 'null' }, true],
    ['no origin, as scripts have', {}, false],
    ['what the browser calls cross-site', { 'sec-fetch-site': 'cross-site' }, true],
  ])('%s', (_, headers, foreign) => expect(isForeign(request(headers), 0)).toBe(foreign));

  it('is told by the host a trusted proxy was asked for', () => {
    const headers = { origin: 'https://wren.test', host: '127.0.0.1:4400', 'x-forwarded-host': 'wren.test' };
    expect(isForeign({ method: 'POST', url: '/', headers }, 1)).toBe(false);
    expect(isForeign({ method: 'POST', url: '/', headers }, 0)).toBe(true);
  });

  it('may read, and may use the API with a key', () => {
    expect(isForeign({ ...request({ origin: 'https://evil.test' }), method: 'GET' }, 0)).toBe(false);
    expect(isForeign({ ...request({ origin: 'https://evil.test' }), url: '/api/v1/people' }, 0)).toBe(false);
  });
});

it.each([
  ['/people/per_1?x=%ED', true],
  ['/people/%ED%A0%80', false],
  ['/people/%00', false],
  ['/people?q=%00', false],
  ['/people/%', false],
])('%s can be read: %s', (url, readable) => expect(isReadable(url)).toBe(readable));
