import { randomBytes } from 'node:crypto';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { parseDuration, type BenchClock } from './clock';
import type { SimulatedCarrier } from './carrier';
import type { Behaviour } from './faults';
import type { Handsets } from './handsets';

/** A file of a picture message, as a handset keeps it. */
export interface BenchFile {
  id: string;
  name: string;
  type: string;
  bytes: Buffer;
}

export interface RelayOptions {
  user: string;
  password: string;
  /** Where receipts and messages from handsets are brought. */
  back: string;
}

const NS = 'http://www.3gpp.org/ftp/Specs/archive/23_series/23.140/schema/REL-6-MM7-1-4';
/** What a carrier takes in one message. */
const LARGEST = 1_000_000;
const MOST_FILES = 400;
const TRIES = 200;

interface Report {
  status: string;
  words: string;
}

/** What becomes of a message that was taken, by how its handset is. */
const REPORTS: Partial<Record<Behaviour, Report>> = {
  off: { status: 'Expired', words: 'Not fetched in time' },
  'spam-blocked': { status: 'Rejected', words: 'Refused as unwanted' },
  'no-pictures': { status: 'Rejected', words: 'Terminal does not support MMS' },
};

/** What is refused at once. */
const REFUSALS: Partial<Record<Behaviour, { code: number; words: string }>> = {
  'unknown-number': { code: 2003, words: 'Address Not Found' },
  landline: { code: 2003, words: 'Address Not Found' },
  refused: { code: 3002, words: 'Message rejected' },
  'carrier-opt-out': { code: 2001, words: 'Operation restricted' },
};

/** A relay of picture messages: MM7 in (3GPP TS 23.140), handsets that show them, reports and messages back. */
export class SimulatedRelay {
  readonly counts = { taken: 0, refused: 0, reports: 0, brought: 0 };
  readonly #files = new Map<string, BenchFile>();
  #ids = 0;

  constructor(
    private readonly options: RelayOptions,
    private readonly clock: BenchClock,
    private readonly handsets: Handsets,
    private readonly carrier: SimulatedCarrier,
  ) {}

  file(id: string): BenchFile | undefined {
    return this.#files.get(id);
  }

  /** MM7_submit.REQ. */
  async take(request: IncomingMessage, response: ServerResponse): Promise<void> {
    const known = `Basic ${Buffer.from(`${this.options.user}:${this.options.password}`).toString('base64')}`;
    if (request.headers.authorization !== known) return void response.writeHead(401).end();
    const body = await bodyOf(request);
    const say = (status: number, xml: string) =>
      void response.writeHead(status, { 'content-type': 'text/xml; charset=utf-8' }).end(xml);
    const parts = multipart(String(request.headers['content-type'] ?? ''), body);
    const envelope = parts[0]?.body.toString('utf8') ?? '';
    const transaction = element(envelope, 'TransactionID');
    const from = element(element(envelope, 'SenderAddress'), 'Number|ShortCode');
    const to = element(element(envelope, 'Recipients'), 'Number');
    const fault = (code: number, words: string) => {
      this.counts.refused++;
      return say(500, faultOf(transaction, code, words));
    };
    if (!/<(?:\w+:)?SubmitReq\b/.test(envelope) || !parts[1]) return fault(2007, 'Message format corrupt');
    if (!from || !to) return fault(2002, 'Address Error');
    const { faults } = this.carrier;
    await new Promise((resolve) => setTimeout(resolve, faults.submit_latency_ms));
    const { behaviour } = this.handsets.get(to);
    const refusal = REFUSALS[behaviour];
    if (refusal) return fault(refusal.code, refusal.words);
    if (Math.random() < faults.refuse_share) return fault(3000, 'Server Error');
    if (body.length > LARGEST + 20_000) return fault(2004, 'Multimedia content refused: message too large');
    const contents = multipart(parts[1].type, parts[1].body);
    const words = contents.find(({ type }) => type.startsWith('text/plain'))?.body.toString('utf8') ?? '';
    const files = contents.filter(({ type }) => !type.startsWith('text/plain') && !/smil/.test(type));
    const id = `mm${(this.#ids += 1)}-${randomBytes(4).toString('hex')}`;
    this.counts.taken++;
    const report = REPORTS[behaviour] ?? { status: 'Retrieved', words: '' };
    if (report.status === 'Retrieved')
      this.handsets.showPicture({
        ...{ from, to, body: words.replace(/\r\n$/, '') },
        at: new Date(this.clock.now()).toISOString(),
        files: files.map(({ type, name, body: bytes }) =>
          this.#keep({ name, type: type.split(';', 1)[0]!.trim(), bytes }),
        ),
      });
    this.#report(id, to, transaction, behaviour, report);
    if (Math.random() < faults.picture_cut_share) return void request.socket.destroy();
    say(200, answerOf(transaction, id));
  }

  /** A message with files from a handset to a number of the application. Resolves when it is brought there. */
  async inbound(from: string, to: string, body: string, files: Omit<BenchFile, 'id'>[]): Promise<boolean> {
    this.handsets.showPicture({
      ...{ from: to, to: from, body, sent: true },
      at: new Date(this.clock.now()).toISOString(),
      files: files.map((file) => this.#keep(file)),
    });
    const boundary = `bench${randomBytes(8).toString('hex')}`;
    const inner = `${boundary}i`;
    const id = `in${(this.#ids += 1)}-${randomBytes(4).toString('hex')}`;
    const xml = envelopeOf(
      id,
      `<DeliverReq xmlns="${NS}"><MM7Version>6.8.0</MM7Version><LinkedID>${id}</LinkedID><Sender><Number>${from}/TYPE=PLMN</Number></Sender><Recipients><To><Number>${to}</Number></To></Recipients><TimeStamp>${new Date(this.clock.now()).toISOString()}</TimeStamp><Content href="cid:message"/></DeliverReq>`,
    );
    const lines: (string | Buffer)[] = [
      `--${boundary}\r\nContent-Type: text/xml; charset="utf-8"\r\nContent-ID: <soap>\r\n\r\n${xml}\r\n--${boundary}\r\nContent-Type: multipart/mixed; boundary=${inner}\r\nContent-ID: <message>\r\n\r\n`,
      ...(body === ''
        ? []
        : [
            `--${inner}\r\nContent-Type: text/plain; charset=utf-8\r\nContent-Transfer-Encoding: base64\r\n\r\n${Buffer.from(body, 'utf8').toString('base64')}\r\n`,
          ]),
      ...files.flatMap(({ name, type, bytes }) => [
        `--${inner}\r\nContent-Type: ${type}; name="${name}"\r\nContent-Transfer-Encoding: base64\r\n\r\n${bytes.toString('base64').replace(/.{76}/g, '$&\r\n')}\r\n`,
      ]),
      `--${inner}--\r\n--${boundary}--\r\n`,
    ];
    const payload = Buffer.concat(lines.map((line) => Buffer.from(line as string)));
    const type = `multipart/related; boundary=${boundary}; type="text/xml"; start="<soap>"`;
    return this.#bring(type, payload).then((brought) => (brought && this.counts.brought++, brought));
  }

  #report(
    id: string,
    to: string,
    transaction: string,
    behaviour: Behaviour,
    { status, words }: Report,
  ): void {
    const { faults } = this.carrier;
    if (behaviour === 'receipt-lost' || Math.random() < faults.lost_receipt_share) return;
    const xml = envelopeOf(
      transaction,
      `<mm7:DeliveryReportReq xmlns:mm7="${NS}"><mm7:MM7Version>6.8.0</mm7:MM7Version><mm7:Sender><mm7:Number>${to}</mm7:Number></mm7:Sender><mm7:Recipient><mm7:Number>${to}</mm7:Number></mm7:Recipient><mm7:TimeStamp>${new Date(this.clock.now()).toISOString()}</mm7:TimeStamp><mm7:MessageID>${id}</mm7:MessageID><mm7:MMStatus>${status}</mm7:MMStatus><mm7:StatusText>${words}</mm7:StatusText></mm7:DeliveryReportReq>`,
    );
    const times = behaviour === 'receipt-twice' || Math.random() < faults.double_receipt_share ? 2 : 1;
    const late = behaviour === 'receipt-late' || Math.random() < faults.late_receipt_share;
    const due = late ? this.clock.now() + (parseDuration(faults.late_by) ?? 0) : 0;
    const send = () => {
      if (this.clock.now() < due) return void setTimeout(send, 200);
      for (let i = 0; i < times; i++)
        void this.#bring('text/xml; charset=utf-8', Buffer.from(xml)).then((brought) => {
          if (brought) this.counts.reports++;
        });
    };
    setTimeout(send, faults.receipt_latency_ms);
  }

  /** Again and again until it is taken, as a relay does. */
  async #bring(type: string, body: Buffer): Promise<boolean> {
    for (let i = 0; i < TRIES; i++) {
      const answer = await fetch(this.options.back, {
        method: 'POST',
        headers: { 'content-type': type, soapaction: '""' },
        body: new Uint8Array(body),
      }).catch(() => null);
      const said = await answer?.text().catch(() => '');
      if (answer?.ok && said?.includes('<StatusCode>1000<')) return true;
      // What is not understood is not brought for ever.
      if (answer && answer.status >= 400 && answer.status < 500) return false;
      await new Promise((resolve) => setTimeout(resolve, Math.min(100 * 2 ** i, 2_000)));
    }
    return false;
  }

  #keep(file: Omit<BenchFile, 'id'>): BenchFile {
    const kept = { ...file, id: `f${(this.#ids += 1)}${randomBytes(4).toString('hex')}` };
    this.#files.set(kept.id, kept);
    if (this.#files.size > MOST_FILES) this.#files.delete(this.#files.keys().next().value!);
    return kept;
  }
}

const envelopeOf = (transaction: string, body: string): string =>
  `<?xml version="1.0"?><env:Envelope xmlns:env="http://schemas.xmlsoap.org/soap/envelope/"><env:Header><mm7:TransactionID xmlns:mm7="${NS}" env:mustUnderstand="1">${transaction}</mm7:TransactionID></env:Header><env:Body>${body}</env:Body></env:Envelope>`;

const answerOf = (transaction: string, id: string): string =>
  envelopeOf(
    transaction,
    `<mm7:SubmitRsp xmlns:mm7="${NS}"><mm7:MM7Version>6.8.0</mm7:MM7Version><mm7:Status><mm7:StatusCode>1000</mm7:StatusCode><mm7:StatusText>Success</mm7:StatusText></mm7:Status><mm7:MessageID>${id}</mm7:MessageID></mm7:SubmitRsp>`,
  );

const faultOf = (transaction: string, code: number, words: string): string =>
  envelopeOf(
    transaction,
    `<env:Fault><faultcode>env:Client</faultcode><faultstring>${words}</faultstring><detail><mm7:RSErrorRsp xmlns:mm7="${NS}"><mm7:MM7Version>6.8.0</mm7:MM7Version><mm7:Status><mm7:StatusCode>${code}</mm7:StatusCode><mm7:StatusText>${words}</mm7:StatusText></mm7:Status></mm7:RSErrorRsp></detail></env:Fault>`,
  );

interface Part {
  type: string;
  name: string;
  body: Buffer;
}

/** The parts of a body; what stands before the first and after the last boundary is nothing. */
function multipart(type: string, body: Buffer): Part[] {
  const boundary = /boundary="?([^";]+)"?/i.exec(type)?.[1];
  if (!boundary) return [];
  const mark = Buffer.from(`--${boundary}`);
  const parts: Part[] = [];
  let from = body.indexOf(mark);
  while (from >= 0) {
    const begin = from + mark.length;
    const next = body.indexOf(mark, begin);
    if (next < 0) break;
    const part = body.subarray(begin, next);
    const head = part.indexOf('\r\n\r\n');
    if (head >= 0) {
      const headers = part.subarray(0, head).toString('latin1');
      const encoded = /content-transfer-encoding:\s*base64/i.test(headers);
      const raw = part.subarray(head + 4, part.length - 2);
      parts.push({
        type: (/content-type:\s*([^\r\n]+)/i.exec(headers)?.[1] ?? 'text/plain').trim(),
        name: /name="([^"]*)"/i.exec(headers)?.[1] ?? 'file',
        body: encoded ? Buffer.from(raw.toString('latin1'), 'base64') : raw,
      });
    }
    from = next;
  }
  return parts;
}

/** What stands in the first element of one of these names, whatever its prefix. */
const element = (xml: string, names: string): string =>
  new RegExp(`<(?:\\w+:)?(?:${names})\\b[^>]*>([\\s\\S]*?)</(?:\\w+:)?(?:${names})>`)
    .exec(xml)?.[1]
    ?.trim() ?? '';

async function bodyOf(request: IncomingMessage): Promise<Buffer> {
  const chunks: Buffer[] = [];
  for await (const chunk of request as AsyncIterable<Buffer>) chunks.push(chunk);
  return Buffer.concat(chunks);
}
