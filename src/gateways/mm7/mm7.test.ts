import { createServer, type IncomingMessage } from 'node:http';
import type { AddressInfo } from 'node:net';
import PostalMime from 'postal-mime';
import { afterEach, describe, expect, it } from 'vitest';
import { httpOutcome } from './answers';
import { readArrival } from './arrivals';
import { partsOf, wordsOfPart } from './parts';
import { mm7Relay } from './relay';
import { submitRequest, type OutgoingPicture } from './submit';

/** With what looks like ends of lines and of parts. */
const JPEG = Buffer.from([255, 216, 0, 10, 13, 10, 45, 45, 13, 255, 10]);

const picture = (more: Partial<OutgoingPicture> = {}): OutgoingPicture => ({
  ...{ transactionId: 'txt_1.1', from: '+17195550110', to: '+13035550101', text: 'Saturn & “rings” 🪐' },
  files: [{ name: 'Große Kuppel.jpg', type: 'image/jpeg', bytes: JPEG }],
  at: new Date('2026-11-27T10:00:00Z'),
  expires: new Date('2026-11-27T14:00:00Z'),
  ...more,
});

describe('a picture message that is handed over', () => {
  it('is read by a reader of mail as it was written', async () => {
    const { contentType, body } = submitRequest(picture(), { vaspId: 'a<b', vasId: 'wren' });
    const read = await PostalMime.parse(
      Buffer.concat([Buffer.from(`Content-Type: ${contentType}\r\n\r\n`), body]),
    );
    expect(read.text?.trim()).toBe('Saturn & “rings” 🪐');
    const [envelope, file] = read.attachments;
    expect(Buffer.from(envelope!.content as ArrayBuffer).toString('utf8')).toContain(
      '<VASPID>a&#60;b</VASPID>',
    );
    expect(file).toMatchObject({ mimeType: 'image/jpeg', filename: '1-Gro-e-Kuppel.jpg' });
  });

  it('keeps every byte of a picture', () => {
    const { contentType, body } = submitRequest(picture(), { vaspId: 'a', vasId: 'b' });
    const parts = partsOf(contentType, body);
    expect(parts.map(({ type }) => type)).toEqual(['text/xml', 'image/jpeg', 'text/plain']);
    expect(parts[1]!.bytes.equals(JPEG)).toBe(true);
    expect(wordsOfPart(parts[2]!)).toBe('Saturn & “rings” 🪐');
  });

  it('names a short code as one', () => {
    const { body } = submitRequest(picture({ from: '55501' }), { vaspId: 'a', vasId: 'b' });
    expect(body.toString('latin1')).toContain('<SenderAddress><ShortCode>55501</ShortCode></SenderAddress>');
  });
});

const soap = (body: string, prefix = 'soap') =>
  `<?xml version="1.0"?><${prefix}:Envelope xmlns:${prefix}="http://schemas.xmlsoap.org/soap/envelope/"><${prefix}:Header><m:TransactionID xmlns:m="x">t</m:TransactionID></${prefix}:Header><${prefix}:Body>${body}</${prefix}:Body></${prefix}:Envelope>`;
const status = (code: number, words = '') =>
  `<Status><StatusCode>${code}</StatusCode><StatusText>${words}</StatusText></Status>`;

describe('what a relay answers', () => {
  it.each<[string, number, string, object]>([
    [
      'taken',
      200,
      soap(`<SubmitRsp>${status(1000)}<MessageID> m-1 </MessageID></SubmitRsp>`),
      { kind: 'taken', carrierId: 'mm7:m-1' },
    ],
    [
      'taken in part, with a prefix',
      200,
      soap(
        `<a:SubmitRsp>${status(1100).replace(/<(\/?)/g, '<$1a:')}<a:MessageID>7</a:MessageID></a:SubmitRsp>`,
        'env',
      ),
      { kind: 'taken', carrierId: 'mm7:7' },
    ],
    ['taken without an id', 200, soap(`<SubmitRsp>${status(1000)}</SubmitRsp>`), { kind: 'unknown' }],
    [
      'nobody there',
      500,
      soap(`<Fault><detail><RSErrorRsp>${status(2003)}</RSErrorRsp></detail></Fault>`),
      { kind: 'refused', reason: 'number-unknown' },
    ],
    [
      'too large',
      500,
      soap(`<Fault><detail><RSErrorRsp>${status(2004, 'too large')}</RSErrorRsp></detail></Fault>`),
      { reason: 'picture-refused' },
    ],
    [
      'busy',
      500,
      soap(`<Fault><detail><RSErrorRsp>${status(4006)}</RSErrorRsp></detail></Fault>`),
      { reason: 'carrier-error' },
    ],
    [
      'a phone that cannot',
      200,
      soap(`<SubmitRsp>${status(2001, 'Recipient is not MMS capable')}</SubmitRsp>`),
      { reason: 'no-pictures' },
    ],
    ['a proxy that is away', 503, '<html>', { reason: 'carrier-error' }],
    ['a proxy that lost it', 502, '<html>', { kind: 'unknown' }],
    ['a proxy that waited', 504, '', { kind: 'unknown' }],
    ['a wrong password', 401, '', { reason: 'sender-refused' }],
    ['too much', 413, '', { reason: 'picture-refused' }],
    ['nonsense, said to be fine', 200, 'OK', { kind: 'unknown' }],
    [
      'a file that refers to itself',
      200,
      '<!DOCTYPE a [<!ENTITY a "&a;&a;">]><a>&a;</a>',
      { kind: 'unknown' },
    ],
  ])('%s', (_, code, text, outcome) => expect(httpOutcome({ status: code, text })).toMatchObject(outcome));
});

const servers: ReturnType<typeof createServer>[] = [];
afterEach(() => servers.splice(0).forEach((server) => server.close()));

async function serving(answer: (request: IncomingMessage, body: Buffer) => string | null): Promise<string> {
  const server = createServer((request, response) => {
    const chunks: Buffer[] = [];
    request.on('data', (chunk: Buffer) => chunks.push(chunk));
    request.on('end', () => {
      const said = answer(request, Buffer.concat(chunks));
      if (said === null) request.socket.destroy();
      else response.end(said);
    });
  });
  servers.push(server);
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  return `http://127.0.0.1:${(server.address() as AddressInfo).port}/`;
}

/** Where nobody listens. */
async function closedPort(): Promise<string> {
  const url = await serving(() => '');
  const server = servers.pop()!;
  await new Promise((resolve) => server.close(resolve));
  return url;
}

const settings = (url: string) => ({
  ...{ url, user: 'wren', password: 'pässword', vaspId: 'a', vasId: 'b', atOnce: 2, timeoutMs: 2_000 },
});

describe('the line to a relay', () => {
  it('that breaks before the answer leaves it unknown; where nobody listens it was not written', async () => {
    const cut = mm7Relay(settings(await serving(() => null)));
    expect(await cut.send(picture())).toEqual({ kind: 'unknown' });
    expect(await mm7Relay(settings(await closedPort())).send(picture())).toEqual({ kind: 'not-written' });
  });

  it('carries name, password and no more at once than is set', async () => {
    const relay = mm7Relay(
      settings(
        await serving((request, body) =>
          request.headers.authorization === `Basic ${Buffer.from('wren:pässword').toString('base64')}` &&
          body.includes('SubmitReq')
            ? soap(`<SubmitRsp>${status(1000)}<MessageID>9</MessageID></SubmitRsp>`)
            : 'no',
        ),
      ),
    );
    const sent = [relay.send(picture()), relay.send(picture())];
    expect(relay.free()).toBe(0);
    expect(await Promise.all(sent)).toEqual([
      { kind: 'taken', carrierId: 'mm7:9' },
      { kind: 'taken', carrierId: 'mm7:9' },
    ]);
    expect(relay.free()).toBe(2);
  });
});

/** As other programs write them: with SMIL, base 64, a nested multipart, bare line ends. */
const related = (parts: string[], { ends = '\r\n', boundary = '==NextPart_1' } = {}) =>
  Buffer.from(
    [
      ...parts.map((part) => `--${boundary}${ends}${part.replace(/\n/g, ends)}${ends}`),
      `--${boundary}--${ends}`,
    ].join(''),
  );
const DELIVER = soap(
  `<mm7:DeliverReq xmlns:mm7="x"><mm7:MM7Version>5.3.0</mm7:MM7Version><mm7:LinkedID>abc-7</mm7:LinkedID><mm7:Sender><mm7:Number>13035550101</mm7:Number></mm7:Sender><mm7:Recipients><mm7:To><mm7:Number>+17195550110</mm7:Number></mm7:To></mm7:Recipients><mm7:Subject>dome &amp; sky</mm7:Subject></mm7:DeliverReq>`,
);
const PIXEL = 'iVBORw0KGgo=';

describe('what a relay brings', () => {
  it.each([
    ['as a relay of ours', { ends: '\r\n' }, 'multipart/related; boundary="==NextPart_1"; type="text/xml"'],
    [
      'with bare line ends',
      { ends: '\n' },
      'multipart/related;\r\n\tboundary="==NextPart_1"; start="<s>"; type="text/xml"',
    ],
  ])('a picture message %s', (_, how, type) => {
    const arrival = readArrival(
      type,
      related(
        [
          `Content-Type: text/xml; charset=utf-8\nContent-ID: <s>\n\n${DELIVER}`,
          `Content-Type: multipart/related; boundary=in; type="application/smil"\n\n--in\nContent-Type: application/smil\n\n<smil/>\n--in\nContent-Type: text/plain; charset=utf-8\nContent-Transfer-Encoding: quoted-printable\n\nSchau =E2=9C=A8\n--in\nContent-Type: image/png; name=a.png\nContent-Transfer-Encoding: base64\n\n${PIXEL}\n--in--`,
        ],
        how,
      ),
    );
    expect(arrival).toMatchObject({
      kind: 'picture',
      picture: {
        carrierId: 'mm7:abc-7',
        from: '+13035550101',
        to: '+17195550110',
        text: 'dome & sky\nSchau ✨',
      },
    });
    if (arrival?.kind !== 'picture') throw new Error('no picture');
    expect(
      arrival.picture.files.map(({ name, type: is, bytes }) => [name, is, bytes.toString('base64')]),
    ).toEqual([['a.png', 'image/png', PIXEL]]);
    expect(arrival.answer).toContain('<StatusCode>1000</StatusCode>');
  });

  it.each<[string, string, string, object]>([
    ['that came', 'Retrieved', '', { stat: 'DELIVRD' }],
    ['that nobody fetched', 'Expired', '', { stat: 'EXPIRED', failure: 'unreachable' }],
    ['to a phone that cannot', 'Rejected', 'Terminal does not support MMS', { failure: 'no-pictures' }],
    ['that was refused', 'Rejected', '', { failure: 'refused' }],
    ['of which nothing is known yet', 'Indeterminate', '', { stat: 'UNKNOWN' }],
  ])('the report of one %s', (_, mmStatus, words, receipt) => {
    const xml = soap(
      `<DeliveryReportReq><MessageID>m-1</MessageID><Recipient><Number>+13035550101/TYPE=PLMN</Number></Recipient><MMStatus>${mmStatus}</MMStatus><StatusText>${words}</StatusText></DeliveryReportReq>`,
    );
    expect(readArrival('text/xml', Buffer.from(xml))).toMatchObject({
      kind: 'receipt',
      receipt: { carrierId: 'mm7:m-1', number: '+13035550101', ...receipt },
    });
  });

  it('a picture in binary, every byte of it, and nothing from bundles without an end', () => {
    const head = Buffer.from(
      `--b\r\nContent-Type: text/xml\r\n\r\n${DELIVER}\r\n--b\r\nContent-Type: image/jpeg\r\n\r\n`,
    );
    const arrival = readArrival(
      'multipart/mixed; boundary=b',
      Buffer.concat([head, JPEG, Buffer.from('\r\n--b--')]),
    );
    expect(arrival?.kind === 'picture' && arrival.picture.files[0]!.bytes.equals(JPEG)).toBe(true);
    const nested = `--b\n${'Content-Type: multipart/mixed; boundary=b\n\n--b\n'.repeat(2_000)}`;
    expect(readArrival('multipart/mixed; boundary=b', Buffer.from(nested))).toBeNull();
  });

  it('words in a bundle whose boundary begins like the one outside', () => {
    const inner = '--bb\r\nContent-Type: text/plain\r\n\r\nSTOP\r\n--bb--';
    const body = `--b\r\nContent-Type: text/xml\r\n\r\n${DELIVER}\r\n--b\r\nContent-Type: multipart/mixed; boundary=bb\r\n\r\n${inner}\r\n--b--\r\n`;
    const arrival = readArrival('multipart/related; boundary=b', Buffer.from(body));
    expect(arrival).toMatchObject({ picture: { text: 'dome & sky\nSTOP', files: [] } });
  });

  it.each([
    '',
    'nonsense',
    '<a/>',
    soap('<Other/>'),
    soap('<DeliveryReportReq><MMStatus>Retrieved</MMStatus></DeliveryReportReq>'),
  ])('nothing that it knows: %#', (text) => expect(readArrival('text/xml', Buffer.from(text))).toBeNull());
});
