import { generateKeyPairSync } from 'node:crypto';
import { createTransport } from 'nodemailer';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { listenForMail, type MailListener } from '@/gateways/mail/listener';
import { mailboxes } from '@/services/mailboxes';
import { InquiryDesk, MAPPING } from '@/services/testing/inquiries';
import { makeWorld, phone, type World } from '@/services/testing/world';
import { inquiryAddress } from './mailbox';
import { playUnreadAgain } from './sources';

let world: World;
let door: MailListener;
/** What is written at names; an error where nobody answers. */
let names: Record<string, string[][] | Error> = {};
const desk = new InquiryDesk(() => world);
beforeEach(async () => {
  world = await makeWorld();
  await desk.program();
  names = {};
  door = (await listenForMail(0, '127.0.0.1', mailboxes(world.ctx), async (name) => {
    const found = names[name] ?? Object.assign(new Error('no such name'), { code: 'ENOTFOUND' });
    if (found instanceof Error) throw found;
    return found;
  }))!;
});
afterEach(async () => {
  await door.close();
  await world.close();
});

const LABELS = {
  ...MAPPING,
  rules: [
    { to: 'number', from: ['/labels/Telephone'] },
    { to: 'email', from: ['/labels/E-mail'] },
    { to: 'full_name', from: ['/labels/Name'] },
    { to: 'kind', from: ['/labels/Interested in'] },
    { to: 'words', from: ['/labels/Message'] },
  ],
};

/** Sends a letter as a portal does, over SMTP, by a library that is none of ours. */
const send = (to: string, letter: object) =>
  createTransport({ host: '127.0.0.1', port: door.port, ignoreTLS: true }).sendMail({
    ...{ from: '"Night Sky Guide" <inquiries@portal.example.org>', to, subject: 'New inquiry' },
    ...letter,
  });

const TABLE = `<html><body><table width="600"><tr><td><h1>New inquiry</h1>
  <table><tr><td><b>Name</b></td><td>Odalys&nbsp;Brightwater</td></tr><tr><td>Telephone:</td><td><a href="tel:+13035550100">(303)&#8203;555-0100</a></td></tr>
  <tr><td>E-mail</td><td>odalys@example.org</td></tr><tr><td>Interested in</td><td>Class trip</td></tr><tr><td>Message</td><td>We are 24.<br>Is March free?</td></tr></table>
  </td></tr></table><p>This e-mail was sent by a portal.</p></body></html>`;

describe('a letter to the mailbox of a source', () => {
  it('is read by the labels of its table, within the table that lays it out', async () => {
    const one = await desk.source({ mapping: LABELS });
    await send(inquiryAddress(one.key, 'mail.wren.test'), { html: TABLE });
    await desk.work();
    expect(await desk.arrivals()).toMatchObject([{ state: 'taken' }]);
    expect(await desk.people()).toMatchObject([
      { number: phone(0), email: 'odalys@example.org', first_name: 'Odalys', last_name: 'Brightwater' },
    ]);
    expect(await desk.inquiries()).toMatchObject([{ kind: 'school visit' }]);
  });

  it('is read as plain text too, in other letters than ours, and kept once', async () => {
    const one = await desk.source({ mapping: LABELS });
    const letter = {
      text: 'Name: Zoë Łukasiewicz\nTelephone: 303 555 0100\nMessage: Is Friday free?\nWe are two.\n\n--\nThe Portal Team',
      ...{ messageId: '<one@portal.example.org>', encoding: 'iso-8859-2', textEncoding: 'base64' as const },
    };
    await send(inquiryAddress(one.key.toUpperCase(), 'mail.wren.test'), letter);
    await send(inquiryAddress(one.key, 'mail.wren.test'), letter);
    await desk.work();
    expect(await desk.inquiries()).toMatchObject([{ words: 'Is Friday free?\nWe are two.' }]);
    expect(await desk.people()).toMatchObject([{ first_name: 'Zoë', last_name: 'Łukasiewicz' }]);
  });

  it.each([
    ['an automatic answer', { headers: { 'auto-submitted': 'auto-replied' } }, 'an automatic answer'],
    ['somebody out of office', { subject: 'Out of office: back on Monday' }, 'an automatic answer'],
    ['one of our own that came back', { from: 'bounce+x@mail.wren.test' }, 'it comes from ourselves'],
  ])('of %s starts nothing, and is kept and shown', async (_, more, because) => {
    const one = await desk.source({ mapping: LABELS });
    await send(inquiryAddress(one.key, 'mail.wren.test'), {
      text: 'Name: Ana\nTelephone: 303 555 0100',
      ...more,
    });
    await desk.work();
    expect(await desk.arrivals()).toMatchObject([{ state: 'dropped', because }]);
    expect(await desk.inquiries()).toEqual([]);
  });

  it('that a portal’s machine wrote is an inquiry all the same', async () => {
    const one = await desk.source({ mapping: LABELS });
    const headers = { 'auto-submitted': 'auto-generated', precedence: 'bulk' };
    await send(inquiryAddress(one.key, 'mail.wren.test'), { text: 'Telephone: 303 555 0100', headers });
    await desk.work();
    expect(await desk.arrivals()).toMatchObject([{ state: 'taken' }]);
  });

  it('with a bomb attached is read by its words, and nothing is unpacked', async () => {
    const one = await desk.source({ mapping: LABELS });
    const attachments = [{ filename: 'list.zip', content: Buffer.alloc(2_000_000, 0x50) }];
    await send(inquiryAddress(one.key, 'mail.wren.test'), { text: 'Telephone: 303 555 0100', attachments });
    await desk.work();
    const [row] = await world.rows<{ size: number }>(
      `select length(content::text) as size from arrival where workspace_id = :workspace`,
    );
    expect(row!.size).toBeLessThan(1_000);
  });

  it('is refused at the door where there is no such source, or it is closed', async () => {
    const one = await desk.source({ closed: true });
    await expect(send(inquiryAddress(one.key, 'mail.wren.test'), { text: 'x' })).rejects.toThrow(/550/);
    await expect(send('inquiry+0123456789ab@mail.wren.test', { text: 'x' })).rejects.toThrow(/550/);
  });
});

const PORTAL = 'portal.example.org';
const keys = generateKeyPairSync('rsa', { modulusLength: 2_048 });
const KEY = `v=DKIM1; k=rsa; p=${keys.publicKey.export({ type: 'spki', format: 'der' }).toString('base64')}`;
const signed = (domainName: string) => ({
  dkim: {
    ...{ domainName, keySelector: 'one' },
    privateKey: keys.privateKey.export({ type: 'pkcs8', format: 'pem' }).toString(),
  },
});

describe('a letter to a source that demands whose letters count', () => {
  let address: string;
  beforeEach(async () => {
    const one = await desk.source({ mapping: LABELS, letters_from: [PORTAL] });
    address = inquiryAddress(one.key, 'mail.wren.test');
  });
  const letter = { text: 'Telephone: 303 555 0100' };

  it('is read where the portal signed it', async () => {
    names[`one._domainkey.${PORTAL}`] = [[KEY.slice(0, 255), KEY.slice(255)]];
    await send(address, { ...letter, ...signed(PORTAL) });
    await desk.work();
    expect(await desk.arrivals()).toMatchObject([{ state: 'taken' }]);
  });

  it('is read where it comes from a server of the portal', async () => {
    names[PORTAL] = [['v=spf1 ip4:127.0.0.1 -all']];
    await send(address, letter);
    await desk.work();
    expect(await desk.arrivals()).toMatchObject([{ state: 'taken' }]);
  });

  it.each([
    ['nobody signed', {}, `nothing proves that it comes from ${PORTAL}`],
    [
      'somebody else signed',
      signed('elsewhere.example.org'),
      `it comes from elsewhere.example.org, not from ${PORTAL}`,
    ],
    [
      'is signed with a key that is not theirs',
      signed(PORTAL),
      `nothing proves that it comes from ${PORTAL}`,
    ],
  ])('that %s starts nothing, and is read once a human says so', async (_, more, because) => {
    names['one._domainkey.elsewhere.example.org'] = [[KEY.slice(0, 255), KEY.slice(255)]];
    names[PORTAL] = [['v=spf1 ip4:192.0.2.1 -all']];
    await send(address, { ...letter, ...more });
    await desk.work();
    const [arrival] = await desk.arrivals();
    expect(arrival).toMatchObject({ state: 'dropped', because });
    expect(await desk.inquiries()).toEqual([]);
    const source = (
      await world.rows<{ id: string }>(`select id from source where workspace_id = :workspace`)
    )[0]!;
    const again = (only?: string[]) =>
      world.within((scope) => playUnreadAgain(world.ctx, scope, source.id, only));
    expect(await again()).toBe(0);
    expect(await again([arrival!.id])).toBe(1);
    await desk.work();
    expect(await desk.inquiries()).toHaveLength(1);
  });

  it('stays with the server it comes from while nobody can be asked', async () => {
    names[`one._domainkey.${PORTAL}`] = Object.assign(new Error('timeout'), { code: 'ETIMEOUT' });
    await expect(send(address, { ...letter, ...signed(PORTAL) })).rejects.toThrow(/451/);
    expect(await desk.arrivals()).toEqual([]);
  });

  it('with hundreds of signatures is not looked up, and proves nothing', async () => {
    const asked: string[] = [];
    names = new Proxy({}, { get: (_, name) => void asked.push(String(name)) });
    const raw = `${'DKIM-Signature: v=1; a=rsa-sha256; d=portal.example.org; s=one; h=from; bh=x; b=x\r\n'.repeat(300)}From: a@portal.example.org\r\n\r\nTelephone: 303 555 0100`;
    await send(address, { raw });
    expect(await desk.arrivals()).toMatchObject([{ state: 'dropped' }]);
    expect(asked).toEqual([]);
  });
});
