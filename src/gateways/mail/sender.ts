import { Readable } from 'node:stream';
import MailComposer from 'nodemailer/lib/mail-composer';
import SMTPConnection from 'nodemailer/lib/smtp-connection';
import { refusalOf } from '@/core/mail/returned';
import type { SubmitOutcome } from '../carrier';

/** One letter to one person, as it is handed over. */
export interface OutgoingMail {
  /** Its name to the outside; what comes back carries it. */
  token: string;
  from: { name: string; address: string };
  replyTo: string;
  to: string;
  /** Where notices of failure go (RFC 5321 MAIL FROM). */
  returnPath: string;
  subject: string;
  text: string;
  html: string;
  messageId: string;
  /** The letter it answers. */
  inReplyTo: string | null;
  /** Where one POST leaves (RFC 8058), and where a letter does; null: it answers somebody. */
  unsubscribe: { url: string; mailto: string } | null;
  at: Date;
}

export interface MailGateway {
  /** Letters that may be handed over now. */
  free(): number;
  /** Never throws: a broken connection is an outcome. */
  send(mail: OutgoingMail): Promise<SubmitOutcome>;
  close(): Promise<void>;
}

export interface MailSettings {
  host: string;
  port: number;
  /** TLS from the first byte; else it is begun where the server offers it. */
  secure: boolean;
  user: string | null;
  password: string | null;
}

/** How the id of a letter is known to delivery, as the carrier's id of a text part is. */
export const carrierIdOf = (token: string): string => `mail:${token}`;

const CONNECTIONS = 5;
const CONNECT_MS = 20_000;
const SILENT_MS = 120_000;

/**
 * Submission over SMTP (RFC 6409) by some connections that are kept open. Each is ours to watch: only so is it known
 * whether a letter had begun to go out when a connection breaks.
 */
export function smtpMail(settings: MailSettings): MailGateway {
  const idle: SMTPConnection[] = [];
  let underWay = 0;
  const patience = new Patience();
  const opened = async (): Promise<SMTPConnection> => {
    const connection = idle.pop();
    if (connection) return connection;
    const made = await open(settings, idle).catch((error: unknown) => {
      patience.refused();
      throw error;
    });
    patience.met();
    return made;
  };
  return {
    free: () => (patience.waits() ? 0 : CONNECTIONS - underWay),
    async send(mail) {
      underWay++;
      let connection: SMTPConnection | null = null;
      const letter = await composed(mail);
      try {
        connection = await opened();
        await handOver(connection, mail, letter);
        idle.push(connection);
        return { kind: 'taken', carrierId: carrierIdOf(mail.token) };
      } catch (error) {
        const outcome = outcomeOf(error as SmtpError, letter.begun);
        // After an answer the connection is as good as before; after anything else nobody knows.
        if (connection && outcome.kind === 'refused') await reset(connection, idle);
        else connection?.close();
        return outcome;
      } finally {
        underWay--;
      }
    },
    async close() {
      while (underWay > 0) await new Promise((resolve) => setTimeout(resolve, 20));
      for (const connection of idle.splice(0)) connection.quit();
    },
  };
}

/** While the server cannot be reached nothing is claimed for it: tried again after a second, then ever more rarely. */
class Patience {
  #until = 0;
  #pause = 0;

  waits = (): boolean => performance.now() < this.#until;

  refused(): void {
    if (this.waits()) return;
    this.#pause = Math.min(Math.max(1_000, this.#pause * 2), 60_000);
    this.#until = performance.now() + this.#pause;
  }

  met(): void {
    this.#pause = 0;
    this.#until = 0;
  }
}

function open(settings: MailSettings, idle: SMTPConnection[]): Promise<SMTPConnection> {
  const connection = new SMTPConnection({
    ...{ host: settings.host, port: settings.port, secure: settings.secure },
    ...{ connectionTimeout: CONNECT_MS, greetingTimeout: CONNECT_MS, socketTimeout: SILENT_MS },
  });
  return new Promise((resolve, reject) => {
    const broken = (error: Error) => {
      const at = idle.indexOf(connection);
      if (at >= 0) idle.splice(at, 1);
      reject(error);
    };
    connection.on('error', broken);
    connection.on('end', () => broken(new Error('The connection was closed')));
    connection.connect((error) => {
      if (error) return broken(error);
      if (!settings.user) return resolve(connection);
      connection.login(
        {
          credentials: { user: settings.user, pass: settings.password ?? '' },
        } as SMTPConnection.AuthenticationType,
        (refused) => (refused ? broken(refused) : resolve(connection)),
      );
    });
  });
}

const reset = (connection: SMTPConnection, idle: SMTPConnection[]): Promise<void> =>
  new Promise((resolve) =>
    connection.reset((error) => {
      if (error) connection.close();
      else idle.push(connection);
      resolve();
    }),
  );

/** A letter as bytes that say when they began to be read, which is after the server said that it may come. */
class Composed extends Readable {
  begun = false;
  #rest: Buffer | null;

  constructor(bytes: Buffer) {
    super();
    this.#rest = bytes;
  }

  override _read(): void {
    this.begun = true;
    if (this.#rest) this.push(this.#rest);
    this.#rest = null;
    this.push(null);
  }
}

async function composed(mail: OutgoingMail): Promise<Composed> {
  const composer = new MailComposer({
    from: mail.from,
    replyTo: mail.replyTo,
    to: mail.to,
    subject: mail.subject,
    text: mail.text,
    html: mail.html,
    messageId: mail.messageId,
    date: mail.at,
    ...(mail.inReplyTo ? { inReplyTo: mail.inReplyTo, references: mail.inReplyTo } : {}),
    // Of a person's own words nothing is said; what goes to many says so (RFC 3834 §5).
    headers: mail.unsubscribe
      ? {
          'List-Unsubscribe': `<${mail.unsubscribe.url}>, <${mail.unsubscribe.mailto}>`,
          'List-Unsubscribe-Post': 'List-Unsubscribe=One-Click',
          'Auto-Submitted': 'auto-generated',
        }
      : {},
    ...{ disableFileAccess: true, disableUrlAccess: true },
  });
  return new Composed(await composer.compile().build());
}

const handOver = (connection: SMTPConnection, mail: OutgoingMail, letter: Composed): Promise<void> =>
  new Promise((resolve, reject) => {
    // A connection that breaks in silence tells only those who listen.
    const broken = (error?: Error) => reject(error ?? new Error('The connection was closed'));
    connection.once('error', broken);
    connection.once('end', broken);
    connection.send({ from: mail.returnPath, to: [mail.to] }, letter, (error) => {
      connection.off('error', broken);
      connection.off('end', broken);
      if (error) reject(error);
      else resolve();
    });
  });

interface SmtpError extends Error {
  code?: string;
  command?: string;
  responseCode?: number;
  response?: string;
}

/**
 * What a failure means. A server that answered has not taken it. One that fell silent after the letter had begun to go
 * out may have: nobody knows, and it is not sent again on a guess. Before that nothing went out.
 */
function outcomeOf({ code, command, responseCode, response }: SmtpError, begun: boolean): SubmitOutcome {
  if (responseCode !== undefined && responseCode >= 400)
    return {
      kind: 'refused',
      // A server that refuses us says nothing of the mailbox.
      reason:
        command === 'AUTH' || command === 'CONN' || command === 'EHLO' || command === 'MAIL FROM'
          ? 'mailbox-later'
          : refusalOf('', response ?? String(responseCode)),
      status: responseCode,
    };
  if (code === 'EENVELOPE' || code === 'EMESSAGE')
    return { kind: 'refused', reason: 'mail-refused', status: 0 };
  return begun ? { kind: 'unknown' } : { kind: 'not-written' };
}
