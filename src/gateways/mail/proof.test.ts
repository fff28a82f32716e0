import { expect, it } from 'vitest';
import { proveSender } from './proof';

const nobody = () => Promise.reject(Object.assign(new Error('no such name'), { code: 'ENOTFOUND' }));
const signed = (body: string): Buffer =>
  Buffer.from(
    `DKIM-Signature: v=1; a=rsa-sha256; c=relaxed/relaxed; d=example.org; s=k; h=from:subject; bh=AAAA; b=AAAA\r\nFrom: ana@example.org\r\nSubject: A visit\r\n\r\n${body}`,
  );

it('a signature that nobody vouches for proves nothing', async () =>
  expect(await proveSender(signed('Hi'), null, nobody)).toEqual({ domains: [], undecided: false }));

it('more signatures than anybody writes are not looked up', async () => {
  let asked = 0;
  const counting = () => (asked++, nobody());
  const letter = Buffer.concat([...Array.from({ length: 11 }, () => signed('')), signed('Hi')]);
  const packed = Buffer.from(letter.toString('latin1').replaceAll('\r\n\r\n', '\r\n'), 'latin1');
  expect(await proveSender(packed, null, counting)).toEqual({ domains: [], undecided: false });
  expect(asked).toBe(0);
});

it('others have their turn while a letter of many lines is checked', async () => {
  await proveSender(signed('Hi'), null, nobody);
  let turns = 0;
  let checking = true;
  const turn = () => {
    turns += 1;
    if (checking) setImmediate(turn);
  };
  setImmediate(turn);
  await proveSender(signed('a \r\n'.repeat(300_000)), null, nobody);
  checking = false;
  expect(turns).toBeGreaterThan(10);
});
