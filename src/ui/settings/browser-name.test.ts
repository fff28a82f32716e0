import { expect, it } from 'vitest';
import { browserName } from './browser-name';

it.each([
  [
    'Mozilla/5.0 (Windows NT 10.0; Win64; x64; rv:128.0) Gecko/20100101 Firefox/128.0',
    'Firefox 128 on Windows',
  ],
  [
    'Mozilla/5.0 (iPhone; CPU iPhone OS 18_1 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/18.1 Mobile/15E148 Safari/604.1',
    'Safari 18 on iOS',
  ],
  [
    'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0.0.0 Safari/537.36',
    'Chrome 140 on Linux',
  ],
  ['a client of ours', 'a client of ours'],
  ['<script>', '<script>'],
  ['', 'unknown'],
])('%s is told as %s', (userAgent, name) => expect(browserName(userAgent)).toBe(name));
