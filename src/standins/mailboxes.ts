import { createTransport } from 'nodemailer';
import PostalMime from 'postal-mime';
import { SMTPServer, type SMTPServerSession } from 'smtp-server';
import type { BenchClock } from './clock';

/** A letter in somebody's mailbox. */
export interface BenchMail {
  id: string;
  to: string;
  from: string;
  replyTo: string;
  /** Where notices go. */
  returnPath: string;
  subject: string;
  text: string;
  html: string;
  messageId: string;
  headers: Record<string, string>;
  links: string[];
  at: string;
  /** What was done with it. */
  done: string[];
}

/** Mailboxes that always behave in one way, by how their name begins. */
export const FIXED_MAILBOXES: readonly { begins: string; does: string }[] = [
  { begins: 'nobody', does: 'is refused at once: no such mailbox' },
  { begins: 'returned', does: 'is taken, and comes back as undeliverable' },
  { begins: 'full', does: 'is taken, and comes back: mailbox full' },
  { begins: 'busy', does: 'is refused for now' },
  { begins: 'silent', does: 'is taken, and the connection is cut before the answer' },
  { begins: 'away', does: 'answers by itself that they are away' },
];

const behaves = (address: string, begins: string): boolean => address.startsWith(begins);

export type MailAct = 'answer' | 'return' | 'full' | 'complain' | 'leave' | 'follow';

/** The simulated mail world: a server that takes letters for everybody, and people who act on them. */
export class Mailboxes {
  readonly #mails: BenchMail[] = [];
  #next = 1;

  constructor(
    private readonly clock: BenchClock,
    /** Where letters to the application go. */
    private readonly door: { host: string; port: number },
  ) {}

  addresses(): { address: string; mails: number }[] {
    const counts = new Map<string, number>();
    for (const { to } of this.#mails) counts.set(to, (counts.get(to) ?? 0) + 1);
    return [...counts].map(([address, mails]) => ({ address, mails }));
  }

  /** The latest first. */
  mails(address: string | null): BenchMail[] {
    return this.#mails.filter(({ to }) => address === null || to === address).reverse();
  }

  find(id: string): BenchMail | null {
    return this.#mails.find((mail) => mail.id === id) ?? null;
  }

  listen(port: number): Promise<number> {
    const server = new SMTPServer({
      ...{
        authOptional: true,
        disabledCommands: ['AUTH', 'STARTTLS'],
        disableReverseLookup: true,
        logger: false,
      },
      onRcptTo: ({ address }, _, callback) => {
        if (behaves(address, 'nobody')) return callback(coded(550, '5.1.1 no such mailbox'));
        if (behaves(address, 'busy')) return callback(coded(451, '4.7.1 greylisted, come back later'));
        callback();
      },
      onData: (stream, session, callback) => {
        const chunks: Buffer[] = [];
        stream.on('data', (chunk: Buffer) => chunks.push(chunk));
        stream.on('end', () => {
          const to = session.envelope.rcptTo[0]?.address ?? '';
          void this.#take(Buffer.concat(chunks), session).then(() => {
            if (behaves(to, 'silent')) this.#cut(session);
            else callback();
          });
        });
      },
    });
    server.on('error', () => {});
    server.server.on('connection', (socket) => {
      socket.setNoDelay(true);
      this.#sockets.set(`${socket.remoteAddress}:${socket.remotePort}`, socket);
      socket.once('close', () => this.#sockets.delete(`${socket.remoteAddress}:${socket.remotePort}`));
    });
    return new Promise((resolve, reject) => {
      server.server.once('error', reject);
      server.listen(port, '127.0.0.1', () => {
        const address = server.server.address();
        resolve(typeof address === 'object' && address ? address.port : port);
      });
    });
  }

  readonly #sockets = new Map<string, { destroy(): void }>();

  #cut({ remoteAddress, remotePort }: SMTPServerSession & { remotePort?: number }): void {
    this.#sockets.get(`${remoteAddress}:${remotePort}`)?.destroy();
  }

  async #take(raw: Buffer, session: SMTPServerSession): Promise<void> {
    const email = await PostalMime.parse(raw);
    const from = session.envelope.mailFrom;
    for (const { address } of session.envelope.rcptTo) {
      const mail: BenchMail = {
        id: String(this.#next++),
        to: address.toLowerCase(),
        from: email.from?.address ?? '',
        replyTo: email.replyTo?.[0]?.address ?? email.from?.address ?? '',
        returnPath: from ? from.address : '',
        subject: email.subject ?? '',
        text: email.text ?? '',
        html: email.html ?? '',
        messageId: email.messageId ?? '',
        headers: Object.fromEntries(email.headers.map(({ key, value }) => [key, value])),
        links: [...new Set((email.text ?? '').match(/https?:\/\/\S+/g) ?? [])],
        at: new Date(this.clock.now()).toISOString(),
        done: [],
      };
      this.#mails.push(mail);
      if (this.#mails.length > 5_000) this.#mails.shift();
      this.#afterwards(mail);
    }
  }

  /** What happens to a letter by itself, a moment later. */
  #afterwards(mail: BenchMail): void {
    const act = behaves(mail.to, 'returned')
      ? () => this.act(mail, 'return', '')
      : behaves(mail.to, 'full')
        ? () => this.act(mail, 'full', '')
        : behaves(mail.to, 'away')
          ? () => this.#answer(mail, 'I am away until Monday.', { 'Auto-Submitted': 'auto-replied' })
          : behaves(mail.to, 'silent')
            ? null
            : () =>
                this.#notice(mail, {
                  action: 'delivered',
                  status: '2.0.0',
                  words: 'delivered to the mailbox',
                });
    if (act) setTimeout(() => void Promise.resolve(act()).catch(() => {}), 60).unref();
  }

  /** What somebody does with a letter. A sentence when it cannot be done. */
  async act(mail: BenchMail, act: MailAct, words: string): Promise<string | null> {
    const done = await this.#doing[act](mail, words);
    if (done === null) mail.done.push(act);
    return done;
  }

  readonly #doing: Record<MailAct, (mail: BenchMail, words: string) => Promise<string | null>> = {
    answer: (mail, words) => this.#answer(mail, words, {}),
    return: (mail) =>
      this.#notice(mail, { action: 'failed', status: '5.1.1', words: '550 5.1.1 no such mailbox' }),
    full: (mail) =>
      this.#notice(mail, { action: 'failed', status: '4.2.2', words: '452 4.2.2 mailbox full' }),
    complain: (mail) => this.#complain(mail),
    leave: (mail) => this.#leave(mail),
    follow: (mail) => this.#follow(mail),
  };

  #send(mail: { from: string; to: string; raw?: string } & Record<string, unknown>): Promise<string | null> {
    const transport = createTransport({ ...this.door, secure: false, ignoreTLS: true });
    const { from, to, raw, ...rest } = mail;
    return transport
      .sendMail({ envelope: { from, to }, ...(raw ? { raw } : { from, to, ...rest }) })
      .then(
        () => null,
        (error: Error) => `The application did not take it: ${error.message}`,
      )
      .finally(() => transport.close());
  }

  #answer(mail: BenchMail, words: string, headers: Record<string, string>): Promise<string | null> {
    const quoted = mail.text
      .split('\n')
      .map((line) => `> ${line}`)
      .join('\n');
    return this.#send({
      ...{
        from: mail.to,
        to: mail.replyTo,
        subject: `Re: ${mail.subject}`,
        headers,
        date: new Date(this.clock.now()),
      },
      ...{ inReplyTo: mail.messageId, references: mail.messageId },
      text: `${words}\n\nOn ${mail.at.slice(0, 10)}, ${mail.from} wrote:\n${quoted}\n`,
    });
  }

  /** A delivery status notification (RFC 3464). */
  #notice(
    mail: BenchMail,
    { action, status, words }: { action: string; status: string; words: string },
  ): Promise<string | null> {
    if (!mail.returnPath) return Promise.resolve('It has no return path.');
    const report = [
      'Reporting-MTA: dns; bench.test',
      '',
      `Final-Recipient: rfc822; ${mail.to}`,
      `Action: ${action}`,
      `Status: ${status}`,
      `Diagnostic-Code: smtp; ${words}`,
    ].join('\r\n');
    return this.#report(mail, 'delivery-status', 'message/delivery-status', report, mail.returnPath, '');
  }

  /** A feedback report (RFC 5965): somebody pressed “this is spam”. */
  #complain(mail: BenchMail): Promise<string | null> {
    const report = ['Feedback-Type: abuse', 'User-Agent: bench/1', 'Version: 1'].join('\r\n');
    return this.#report(
      mail,
      'feedback-report',
      'message/feedback-report',
      report,
      mail.replyTo,
      'feedback@bench.test',
    );
  }

  #report(
    mail: BenchMail,
    kind: string,
    type: string,
    report: string,
    to: string,
    from: string,
  ): Promise<string | null> {
    const part = (headers: string, body: string) => `--wren-report\r\n${headers}\r\n\r\n${body}\r\n`;
    const raw = [
      `From: postmaster@bench.test\r\nTo: ${to}\r\nSubject: Report\r\nDate: ${new Date(this.clock.now()).toUTCString()}\r\n`,
      `Message-ID: <report-${mail.id}-${Math.random().toString(36).slice(2)}@bench.test>\r\nMIME-Version: 1.0\r\nAuto-Submitted: auto-generated\r\n`,
      `Content-Type: multipart/report; report-type=${kind}; boundary="wren-report"\r\n\r\n`,
      part('Content-Type: text/plain; charset=utf-8', 'A report about a letter.'),
      part(`Content-Type: ${type}`, report),
      part(
        'Content-Type: message/rfc822',
        `From: ${mail.from}\r\nTo: ${mail.to}\r\nMessage-ID: ${mail.messageId}\r\nSubject: a letter\r\n\r\n${mail.text.slice(0, 200)}`,
      ),
      '--wren-report--\r\n',
    ].join('');
    return this.#send({ from, to, raw });
  }

  /** The one click of a mail program (RFC 8058). */
  async #leave({ headers }: BenchMail): Promise<string | null> {
    const url = /<(https?:[^>]+)>/.exec(headers['list-unsubscribe'] ?? '')?.[1];
    if (!url) return 'It does not say how to leave.';
    const response = await fetch(url, {
      method: 'POST',
      headers: { 'content-type': 'application/x-www-form-urlencoded' },
      body: 'List-Unsubscribe=One-Click',
    });
    return response.ok ? null : `The application answered ${response.status}.`;
  }

  async #follow({ links }: BenchMail): Promise<string | null> {
    const link = links.find((one) => one.includes('/l/'));
    if (!link) return 'There is no link in it.';
    const response = await fetch(link, {
      redirect: 'manual',
      headers: { 'user-agent': 'Mozilla/5.0 (X11; Linux x86_64) a person reading mail' },
    });
    return response.status === 302 ? null : `The application answered ${response.status}.`;
  }
}

const coded = (responseCode: number, words: string): Error =>
  Object.assign(new Error(words), { responseCode });
