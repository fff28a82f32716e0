import { describe, expect, it } from 'vitest';
import { readMail } from './listener';

const proved = () => Promise.reject(new Error('nobody asks whose it is'));
const read = (type: string, body: string) =>
  readMail(
    Buffer.from(
      `From: Ana <ana@example.org>\r\nSubject: A visit\r\nContent-Type: ${type}; charset=utf-8\r\n\r\n${body}`,
    ),
    'in@example.org',
    proved,
  );
/** One of the parts of a letter whose boundary is `x`. */
const part = (type: string, words: string) => `--x\r\nContent-Type: ${type}\r\n\r\n${words}\r\n`;
const html = async (body: string) => (await read('text/html', body)).text.split('\n').filter(Boolean);

describe('a letter of HTML alone', () => {
  it.each([
    ['terms', '<dl><dt>Name</dt><dd>Ana</dd><dt>Phone</dt><dd>1</dd></dl>', ['Name', 'Ana', 'Phone', '1']],
    ['cells', '<table><tr><td>Name</td><td>Ana</td></tr></table>', ['Name', 'Ana']],
    ['links to a number', '<p><a href="tel:3035550101">(303) 555-0101</a></p>', ['(303) 555-0101']],
    ['what nobody sees', '<p>Hi</p><div style="display:none">t-123</div><img alt="x">', ['Hi']],
    ['a link', '<a href="https://example.org/x">see</a>', ['see [https://example.org/x]']],
  ])('of %s is read line by line', async (_, body, lines) => expect(await html(body)).toEqual(lines));

  it.each([
    ['nested deeper than anybody writes', `${'<div>'.repeat(20_000)}Name: Ana${'</div>'.repeat(20_000)}`],
    ['nested, and never closed', `${'<b>'.repeat(20_000)}Name: Ana`],
    ['nested without end below its words', `Name: Ana${'<div>'.repeat(200_000)}`],
    ['of nothing but beginnings', `Name: Ana${'<'.repeat(300_000)}`],
  ])('%s is read all the same', async (_, body) =>
    expect((await html(body)).some((line) => line.startsWith('Name: Ana'))).toBe(true),
  );

  it('with many paragraphs that nobody ended is none of those', async () =>
    expect(await html('<p>a'.repeat(3_000))).toHaveLength(3_000));
});

it('of a letter with a million lines the beginning is read', async () => {
  const { text } = await read('text/plain', `Name: Ana\r\n${'a\r\n'.repeat(1_000_000)}`);
  expect(text.startsWith('Name: Ana')).toBe(true);
  expect(text.split('\n').length).toBeLessThan(20_001);
});

it('what is attached does not keep its words from being read', async () => {
  const picture = `${'A'.repeat(76)}\r\n`.repeat(60_000);
  const mail = await read(
    'multipart/mixed; boundary=x',
    `${part('text/plain', 'Name: Ana')}${part('image/png', picture)}--x--\r\n`,
  );
  expect(mail.text.trim()).toBe('Name: Ana');
});

it('a letter of two parts is read by the plain one, and keeps the other beside it', async () => {
  const mail = await read(
    'multipart/alternative; boundary=x',
    `${part('text/plain', 'You have mail.')}${part('text/html', '<p>Name: Ana</p>')}--x--\r\n`,
  );
  expect([mail.text.trim(), await mail.beside()]).toEqual(['You have mail.', 'Name: Ana']);
});
