import { describe, expect, it } from 'vitest';
import { shownPath } from './path';

describe('a path in the log', () => {
  it.each([
    ['/people/per_1m7tjw4w0t5wwspmxnk3?search=ana', '/people/per_1m7tjw4w0t5wwspmxnk3'],
    ['/p/7KQ3M9T2W', '/p/…'],
    ['/u/abc/def', '/u/…/…'],
    ['/v/7KQ3-M9T2W/state', '/v/…/…'],
    ['/api/v1/people/%2B13035550142', '/api/v1/people/…'],
    ['/api/v1/people/ana@example.org', '/api/v1/people/…'],
    [`/x/${'a'.repeat(61)}`, '/x/…'],
    ['/%', '/…'],
    ['/', '/'],
  ])('%s: %s', (url, shown) => expect(shownPath(url)).toBe(shown));
});
