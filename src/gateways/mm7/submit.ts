import { randomBytes } from 'node:crypto';

/** A picture message on its way to the relay. */
export interface OutgoingPicture {
  /** Our own id of it, which the relay gives back in its answer. */
  transactionId: string;
  /** E.164 number or the digits of a short code. */
  from: string;
  to: string;
  text: string;
  files: { name: string; type: string; bytes: Buffer }[];
  at: Date;
  /** How long the relay may try. */
  expires: Date;
}

/** Of release 6; relays read older and newer ones alike. */
export const NAMESPACE = 'http://www.3gpp.org/ftp/Specs/archive/23_series/23.140/schema/REL-6-MM7-1-4';

const escaped = (text: string): string => text.replace(/[&<>"']/g, (char) => `&#${char.charCodeAt(0)};`);

/** `+17195550110` is a number, `55501` a short code (TS 23.140, 8.7.1.1). */
const address = (value: string): string =>
  value.startsWith('+') ? `<Number>${escaped(value)}</Number>` : `<ShortCode>${escaped(value)}</ShortCode>`;

/** MM7_submit.REQ: an envelope, and the words and files as one part beside it. Source: TS 23.140, 8.7.1 and annex L. */
export function submitRequest(
  picture: OutgoingPicture,
  { vaspId, vasId }: { vaspId: string; vasId: string },
): { contentType: string; body: Buffer } {
  const outer = `wren-${randomBytes(12).toString('hex')}`;
  const inner = `wren-${randomBytes(12).toString('hex')}`;
  const body = Buffer.concat([
    Buffer.from(
      `--${outer}\r\nContent-Type: text/xml; charset=utf-8\r\nContent-ID: <envelope>\r\n\r\n${envelope(picture, vaspId, vasId)}\r\n` +
        `--${outer}\r\nContent-Type: multipart/mixed; boundary="${inner}"\r\nContent-ID: <content>\r\n\r\n`,
    ),
    ...partsOf(picture).map((part) => Buffer.concat([Buffer.from(`--${inner}\r\n`), part])),
    Buffer.from(`--${inner}--\r\n\r\n--${outer}--\r\n`),
  ]);
  return {
    contentType: `multipart/related; boundary="${outer}"; type="text/xml"; start="<envelope>"`,
    body,
  };
}

const envelope = (
  { transactionId, from, to, at, expires }: OutgoingPicture,
  vaspId: string,
  vasId: string,
): string =>
  `<?xml version="1.0" encoding="UTF-8"?><env:Envelope xmlns:env="http://schemas.xmlsoap.org/soap/envelope/">` +
  `<env:Header><TransactionID xmlns="${NAMESPACE}" env:mustUnderstand="1">${escaped(transactionId)}</TransactionID></env:Header>` +
  `<env:Body><SubmitReq xmlns="${NAMESPACE}"><MM7Version>6.8.0</MM7Version>` +
  `<SenderIdentification><VASPID>${escaped(vaspId)}</VASPID><VASID>${escaped(vasId)}</VASID><SenderAddress>${address(from)}</SenderAddress></SenderIdentification>` +
  `<Recipients><To>${address(to)}</To></Recipients>` +
  `<TimeStamp>${at.toISOString()}</TimeStamp><ExpiryDate>${expires.toISOString()}</ExpiryDate>` +
  `<DeliveryReport>true</DeliveryReport><Content href="cid:content" allowAdaptations="true"/>` +
  `</SubmitReq></env:Body></env:Envelope>`;

function partsOf({ text, files }: OutgoingPicture): Buffer[] {
  const words = Buffer.concat([
    Buffer.from(
      `Content-Type: text/plain; charset=utf-8\r\nContent-Transfer-Encoding: 8bit\r\nContent-ID: <words>\r\n\r\n`,
    ),
    Buffer.from(text, 'utf8'),
    Buffer.from('\r\n'),
  ]);
  const others = files.map(({ name, type, bytes }, i) =>
    Buffer.concat([
      Buffer.from(
        `Content-Type: ${type}; name="${plainName(name, i)}"\r\nContent-Transfer-Encoding: binary\r\nContent-ID: <file-${i + 1}>\r\nContent-Location: ${plainName(name, i)}\r\n\r\n`,
      ),
      bytes,
      Buffer.from('\r\n'),
    ]),
  );
  return [...others, words];
}

/** Handsets and relays stumble over anything but plain letters. */
const plainName = (name: string, i: number): string =>
  `${i + 1}-${
    name
      .normalize('NFKD')
      .replace(/[^\w.-]+/g, '-')
      .slice(-40) || 'file'
  }`;
