import { describe, expect, it, vi } from 'vitest';
import { log, withoutNumbers } from './log';

describe('what is logged', () => {
  it.each([
    ['Key (number)=(+13035550142) already exists.', 'Key (number)=(••••••••••42) already exists.'],
    ['3035550142 wrote', '••••••••42 wrote'],
    ['no mailbox ana.ortiz@example.org', 'no mailbox •@•'],
    ['message msg_1m7tjw4w0t5wwspmxnk3, 12 of 400', 'message msg_1m7tjw4w0t5wwspmxnk3, 12 of 400'],
  ])('%s: %s', (text, shown) => expect(withoutNumbers(text)).toBe(shown));

  it('names a fault by what it is, not by the row it is about', () => {
    const said = vi.spyOn(console, 'error').mockImplementation(() => {});
    log.error(
      { err: Object.assign(new Error('of +13035550142'), { code: '23505', detail: 'Hi Ana' }) },
      'No.',
    );
    const line = String(said.mock.calls[0]);
    expect(line).toContain('"code":"23505"');
    expect(line).not.toMatch(/5550142|Hi Ana/);
    said.mockRestore();
  });
});
