import { log } from '@/log/log';
import PostalMime, { type Email } from 'postal-mime';
import type { DNSResolver } from 'mailauth';
import { SMTPServer, type SMTPServerDataStream } from 'smtp-server';
import { isAutomatic, isAutoReply, lettersAnswered, ownWords } from '@/core/mail/answer';
import { cutText } from '@/core/shared/clean-text';
import { readStatuses, type DeliveryStatus } from '@/core/mail/returned';
import { proveSender, type Handed, type SenderProof } from './proof';

/** A letter that came, read. */
export interface IncomingMail {
  /** Which of our addresses it came to. */
  to: string;
  from: string;
  fromName: string;
  subject: string;
  /** Their own words, without what was quoted. */
  words: string;
  /** None are surely theirs: what stands there may be what they quote. */
  quoted: boolean;
  messageId: string;
  /** Letters it answers, the closest first. */
  answers: string[];
  /** A machine wrote it. */
  automatic: boolean;
  /** A machine answers for somebody who is away; what a machine sends on its own account is none. */
  autoReply: boolean;
  /** The plain part, else the HTML part as text, whole. */
  text: string;
  /** The HTML part as text, where there is a plain part beside it: it may say more. Made when it is asked for; empty: there is none. */
  beside(): Promise<string>;
  /** Rows of two or more cells of the tables in the HTML part. */
  rows: string[][];
  /** A notice of what became of one of ours; empty: it is none. */
  statuses: DeliveryStatus[];
  /** Somebody told their provider that ours is spam (RFC 5965). */
  complaint: boolean;
  /** The id of the letter such a notice is about. */
  about: string | null;
  /** Looked up when it is asked: whose it provably is. */
  prove(): Promise<SenderProof>;
}

export interface MailEvents {
  /** Whether we know an address. What is not known is refused at the door. */
  knows(address: string): Promise<boolean>;
  /** Resolves once it is stored; when it throws, the sender's server keeps the letter and brings it again. */
  mail(mail: IncomingMail): Promise<void>;
}

export interface MailListener {
  port: number;
  close(): Promise<void>;
}

const LARGEST = 25 * 1024 * 1024;
const MOST_RECIPIENTS = 20;

/** Our mailbox: an SMTP server that takes letters for addresses of ours. Null: the port is another process's. */
export async function listenForMail(
  port: number,
  host: string,
  events: MailEvents,
  resolver: DNSResolver,
): Promise<MailListener | null> {
  const server = new SMTPServer({
    ...{ disabledCommands: ['AUTH', 'STARTTLS'], authOptional: true, logger: false, size: LARGEST },
    ...{ banner: 'mail for our own addresses only', disableReverseLookup: true, maxClients: 100 },
    onConnect: (session, callback) => callback(),
    onRcptTo(address, session, callback) {
      if (session.envelope.rcptTo.length >= MOST_RECIPIENTS)
        return callback(refusal(452, '4.5.3 too many recipients at once'));
      events.knows(address.address.toLowerCase()).then(
        (known) => callback(known ? null : refusal(550, '5.1.1 no such mailbox here')),
        () => callback(refusal(451, '4.3.0 try again later')),
      );
    },
    onData(stream, session, callback) {
      const recipients = session.envelope.rcptTo.map(({ address }) => address.toLowerCase());
      const from = session.envelope.mailFrom;
      const handed = {
        ip: session.remoteAddress,
        helo: session.hostNameAppearsAs || session.clientHostname,
        mailFrom: from ? from.address : '',
      };
      take(stream, recipients, { events, handed, resolver }).then(
        (told) => callback(told),
        (error: unknown) => {
          log.error({ err: error }, 'A letter could not be stored; its sender keeps it.');
          callback(refusal(451, '4.3.0 could not be stored, try again later'));
        },
      );
    },
  });
  // A connection that breaks off is the other side's affair.
  server.on('error', () => {});
  return new Promise((resolve, reject) => {
    server.server.once('error', (error: NodeJS.ErrnoException) =>
      error.code === 'EADDRINUSE' ? resolve(null) : reject(error),
    );
    server.listen(port, host, () => {
      server.server.on('connection', (socket) => socket.setNoDelay(true));
      const address = server.server.address();
      resolve({
        port: typeof address === 'object' && address ? address.port : port,
        close: () => new Promise((closed) => server.close(closed)),
      });
    });
  });
}

const refusal = (code: number, words: string): Error =>
  Object.assign(new Error(words), { responseCode: code });

async function take(
  stream: SMTPServerDataStream,
  recipients: readonly string[],
  { events, handed, resolver }: { events: MailEvents; handed: Handed; resolver: DNSResolver },
): Promise<Error | null> {
  const chunks: Buffer[] = [];
  for await (const chunk of stream) chunks.push(chunk as Buffer);
  if (stream.sizeExceeded) return refusal(552, '5.3.4 too large');
  const raw = Buffer.concat(chunks);
  let proof: Promise<SenderProof> | null = null;
  const prove = () => (proof ??= proveSender(raw, handed, resolver));
  for (const to of recipients) await events.mail(await readMail(raw, to, prove));
  return null;
}

/** Reads a letter, whatever its parts, encodings and charsets. What cannot be read at all is an empty letter, not an error. */
export async function readMail(
  raw: Uint8Array,
  to: string,
  prove: IncomingMail['prove'],
): Promise<IncomingMail> {
  const email = await parse(beginningOf(raw));
  const headers = new Map(email.headers.map(({ key, value }) => [key.toLowerCase(), value]));
  const report = /report-type="?([\w-]+)/i.exec(headers.get('content-type') ?? '')?.[1]?.toLowerCase();
  const page = readable(email.html ?? '');
  const shown = async () => (page ? textOfHtml(page) : withoutTags(email.html ?? ''));
  const plain = email.text?.trim() ? email.text : '';
  const text = plain || (await shown());
  const statuses = report === 'delivery-status' ? readStatuses(partOf(email, 'message/delivery-status')) : [];
  return {
    to,
    from: email.from?.address?.toLowerCase() ?? '',
    fromName: email.from?.name ?? '',
    subject: email.subject ?? '',
    ...ownWords(text),
    ...{ text, beside: async () => (plain ? shown() : ''), rows: page ? await rowsOf(page) : [] },
    messageId: email.messageId ?? '',
    answers: lettersAnswered(email.inReplyTo ?? '', email.references ?? ''),
    automatic: isAutomatic(headers),
    autoReply: isAutoReply(headers, email.subject ?? ''),
    statuses,
    complaint: report === 'feedback-report',
    about: report ? aboutOf(email) : null,
    prove,
  };
}

/** So much of a letter is read: its words stand before what is attached to them. */
const MOST_BYTES = 2 * 1024 * 1024;
/** The reader takes a line at a time, and nobody else is served until it has the last: of a large picture there are half a million. */
const MOST_LINES = 20_000;

function beginningOf(raw: Uint8Array): Uint8Array {
  let end = 0;
  for (let line = 0; line < MOST_LINES; line++) {
    const next = raw.indexOf(LINE_FEED, end);
    if (next < 0) return raw.subarray(0, MOST_BYTES);
    end = next + 1;
  }
  return raw.subarray(0, Math.min(end, MOST_BYTES));
}

const LINE_FEED = 10;

/** A letter that breaks every rule is still somebody's. */
const parse = (raw: Uint8Array): Promise<Email> =>
  PostalMime.parse(raw, { attachmentEncoding: 'arraybuffer', forceRfc822Attachments: true }).catch(
    (): Email => ({ headers: [], headerLines: [], attachments: [] }) as unknown as Email,
  );

/** Longer pages are cut: what somebody asks stands at their beginning. */
const LONGEST_PAGE = 400_000;
/** Nobody who writes a letter nests deeper; a reader needs seconds for a page ten thousand deep, and ends at a hundred thousand. */
const DEEPEST = 200;
const ELEMENT = /<(\/?)([a-z][a-z0-9]*)/gi;
/** Elements that have no end, or whose end may be left out. */
const ENDS_ITSELF =
  /^(?:area|base|br|col|embed|hr|img|input|link|meta|source|track|wbr|p|li|td|th|tr|tbody|thead|dt|dd|option)$/i;

/** HTML that can be taken apart; empty: it cannot, or there is none. */
function readable(html: string): string {
  const page = cutText(html, LONGEST_PAGE);
  let depth = 0;
  for (const [, ends, name] of page.matchAll(ELEMENT)) {
    if (ENDS_ITSELF.test(name!)) continue;
    depth = Math.max(0, depth + (ends ? -1 : 1));
    if (depth > DEEPEST) return '';
  }
  return page;
}

/** What stands between the tags, whatever they are. */
const withoutTags = (html: string): string =>
  cutText(html, LONGEST_PAGE)
    .split('<')
    .map((part, i) => (i === 0 ? part : part.slice(part.indexOf('>') + 1)))
    .filter((part) => part.trim() !== '')
    .join('\n');

/** Cells and terms on lines of their own; nothing that nobody sees. */
async function textOfHtml(html: string): Promise<string> {
  const { convert } = await import('html-to-text');
  return convert(html, {
    wordwrap: false,
    selectors: [
      ...['td', 'th', 'dt', 'dd'].map((selector) => ({ selector, format: 'block' })),
      // The address stands in what is shown.
      ...['a[href^="tel:"]', 'a[href^="mailto:"]'].map((selector) => ({
        ...{ selector, format: 'anchor', options: { ignoreHref: true } },
      })),
      ...['img', '[style*="display:none"]', '[style*="display: none"]'].map((selector) => ({
        ...{ selector, format: 'skip' },
      })),
    ],
  });
}

/** Letters that stand in no text part cells and rows of a table. */
const [CELL, ROW] = ['\u241F', '\u241E'];

/** Rows of tables by their cells, those of tables within tables too; a cell that holds a table is none. */
async function rowsOf(html: string): Promise<string[][]> {
  const { convert } = await import('html-to-text');
  const parted = convert(html, {
    wordwrap: false,
    formatters: {
      cell: (element, walk, builder) => {
        walk(element.children, builder);
        builder.addInline(CELL, { noWordTransform: true });
      },
      row: (element, walk, builder) => {
        walk(element.children, builder);
        builder.addInline(ROW, { noWordTransform: true });
      },
    },
    selectors: [
      { selector: 'td', format: 'cell' },
      { selector: 'th', format: 'cell' },
      { selector: 'tr', format: 'row' },
      { selector: 'img', format: 'skip' },
      { selector: 'a', options: { ignoreHref: true } },
    ],
  });
  return (
    parted
      .split(ROW)
      .map((row) => row.split(CELL).map((cell) => cell.trim()))
      .map((cells) => cells.slice(0, -1))
      .filter((cells) => cells.length > 1)
      // What stands before a table within the same cell (a heading) is no part of its first label.
      .map(([first = '', ...rest]) => [
        first
          .split(/\n\s*\n/)
          .at(-1)!
          .trim(),
        ...rest,
      ])
  );
}

const partOf = ({ attachments }: Email, type: string): string =>
  attachments
    .filter(({ mimeType }) => mimeType === type)
    .map(wordsOf)
    .join('\n\n');

const wordsOf = ({ content }: Email['attachments'][number]): string =>
  typeof content === 'string' ? content : Buffer.from(content as ArrayBuffer).toString('utf8');

/** The id of the returned letter stands in the copy of it, whole or of its headers alone. */
function aboutOf(email: Email): string | null {
  const copies = email.attachments.filter(({ mimeType }) =>
    ['message/rfc822', 'text/rfc822-headers', 'message/rfc822-headers'].includes(mimeType),
  );
  for (const copy of copies) {
    const id = /^message-id:\s*(<[^<>\s]+>)/im.exec(wordsOf(copy).replace(/\r?\n[ \t]+/g, ' '))?.[1];
    if (id) return id;
  }
  return null;
}
