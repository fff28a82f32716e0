import { describe, expect, it, vi } from 'vitest';
import { log, shownError, withoutNumbers } from './log';

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

describe('an error in the log', () => {
  it('says what was wrong, and nothing of the values of the statement it was said of', () => {
    const error = new Error(
      `insert into "inquiry" ("words") values ('My daughter - she is 8 - has her birthday, call +13035550101') - poisoned`,
    );
    const shown = JSON.stringify(shownError(error));
    expect(shown).toContain('poisoned');
    expect(shown).not.toMatch(/daughter|3035550101/);
    expect(shown).toContain('log.test.ts');
  });

  it('stands as it is where there is no statement, but for numbers and addresses', () => {
    expect(shownError(new Error('No route - to ana@example.org'))).toMatchObject({
      message: 'No route - to •@•',
    });
    expect(shownError('select of +13035550101')).toMatchObject({
      message: expect.not.stringContaining('3035550101') as string,
    });
  });
});
