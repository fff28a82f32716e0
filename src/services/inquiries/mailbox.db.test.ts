import { createTransport } from 'nodemailer';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { listenForMail, type MailListener } from '@/gateways/mail/listener';
import { mailboxes } from '@/services/mailboxes';
import { InquiryDesk, MAPPING } from '@/services/testing/inquiries';
import { makeWorld, phone, type World } from '@/services/testing/world';
import { inquiryAddress } from './mailbox';

let world: World;
let door: MailListener;
const desk = new InquiryDesk(() => world);
beforeEach(async () => {
  world = await makeWorld();
  await desk.program();
  door = (await listenForMail(0, '127.0.0.1', mailboxes(world.ctx)))!;
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
