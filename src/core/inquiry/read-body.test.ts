import { describe, expect, it } from 'vitest';
import { formatOf, readBody } from './read-body';
import { valueAt } from './tree';

describe('a body', () => {
  it.each([
    ['application/json; charset=utf-8', 'json'],
    ['application/vnd.portal+json', 'json'],
    ['application/x-www-form-urlencoded', 'form'],
    ['multipart/form-data; boundary=x', 'form'],
    ['text/xml', 'xml'],
    ['image/png', null],
    ['', null],
  ])('of %s is %s', (type, format) => {
    expect(formatOf(type)).toBe(format);
  });

  it('is read as JSON, also after a byte order mark', () => {
    expect(readBody('json', '\uFEFF{"a":{"b":"1"}}')).toEqual({ ok: true, value: { a: { b: '1' } } });
  });

  it('is read as form data, names with several values as a list', () => {
    expect(readBody('form', 'name=Ana+Orr&day=Mon&day=Tue&__proto__=x')).toMatchObject({
      ok: true,
      value: { name: 'Ana Orr', day: ['Mon', 'Tue'] },
    });
  });

  it('is read into what a value holds as JSON, and what only looks like it is left as it is', () => {
    const inner = JSON.stringify({ name: { first: 'Ana' }, more: JSON.stringify({ phone: '303 555 0101' }) });
    expect(readBody('form', new URLSearchParams({ raw: inner }).toString())).toEqual({
      ok: true,
      value: { raw: { name: { first: 'Ana' }, more: { phone: '303 555 0101' } } },
    });
    const words = { said: '{ "name" is what I asked }', list: '[1, 2]' };
    expect(readBody('json', JSON.stringify(words))).toEqual({ ok: true, value: words });
    let deep = '{"a":"x"}';
    for (let i = 0; i < 10; i++) deep = JSON.stringify({ a: deep });
    expect(readBody('json', deep).ok).toBe(true);
  });

  it('is read whole where one name stands a hundred thousand times', () => {
    const read = readBody('form', 'a=1&'.repeat(100_000));
    expect(read.ok && (read.value as { a: string[] }).a).toHaveLength(100_000);
  });

  it('is read as XML, elements and attributes alike, entities of its letters included', () => {
    const read = readBody(
      'xml',
      '<?xml version="1.0"?><lead id="7"><contact><name>Ana &amp; Bo</name><phone type="cell">303 555 0101</phone></contact></lead>',
    );
    expect(read.ok && valueAt(read.value, '/lead/contact/name')).toBe('Ana & Bo');
    expect(read.ok && valueAt(read.value, '/lead/id')).toBe('7');
    expect(read.ok && valueAt(read.value, '/lead/contact/phone/value')).toBe('303 555 0101');
  });

  it.each([
    ['json that breaks off', 'json', '{"a":', 'not-readable'],
    ['json ten thousand deep', 'json', '['.repeat(10_000) + ']'.repeat(10_000), 'too-deep'],
    ['json forty deep', 'json', '['.repeat(40) + '1' + ']'.repeat(40), 'too-deep'],
    ['json of nothing', 'json', '{}', 'empty'],
    [
      'xml that grows without end',
      'xml',
      '<!DOCTYPE l [<!ENTITY a "ha"><!ENTITY b "&a;&a;&a;&a;">]><l>&b;</l>',
      'declares-entities',
    ],
    [
      'xml that reads a file',
      'xml',
      '<!DOCTYPE l [<!ENTITY f SYSTEM "file:///etc/passwd">]><l>&f;</l>',
      'declares-entities',
    ],
    ['xml ten thousand deep', 'xml', '<a>'.repeat(10_000) + '</a>'.repeat(10_000), 'too-deep'],
    ['xml that is none', 'xml', 'hello', 'not-readable'],
    ['xml that does not close', 'xml', '<a><b></a>', 'not-readable'],
    ['form data of nothing', 'form', '', 'empty'],
  ] as const)('%s is refused', (_, format, body, reason) => {
    expect(readBody(format, body)).toEqual({ ok: false, reason });
  });

  it('holds no half characters and no NUL afterwards', () => {
    const read = readBody('json', '{"a":"\\u0000x\\ud800"}');
    expect(read.ok && valueAt(read.value, '/a')).toBe('x\uFFFD');
  });
});
