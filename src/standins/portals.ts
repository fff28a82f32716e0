import { createHmac, generateKeyPairSync, randomUUID } from 'node:crypto';
import { request as httpRequest } from 'node:http';
import { createTransport } from 'nodemailer';
import type { BenchClock } from './clock';
import { keep, kept } from './kept';

/**
 * usual: at once, and again when it was not taken; slow: the body drips; twice: everything is sent twice;
 * down: nothing leaves until it is up again; changed: the fields have other names today;
 * replayed: as signed an hour ago; forged: somebody else writes in its name.
 */
export const PORTAL_MOODS = ['usual', 'slow', 'twice', 'down', 'changed', 'replayed', 'forged'] as const;
export type PortalMood = (typeof PORTAL_MOODS)[number];

/** What somebody fills in on a portal. */
export interface Asking {
  name: string;
  number: string;
  email: string;
  what: string;
  words: string;
}

interface Portal {
  id: string;
  name: string;
  speaks: string;
  /** Where it sends to: an address of the web, or of mail. */
  to: string;
  secret: string;
  mood: PortalMood;
}

/** One inquiry, and what became of each attempt to bring it. */
export interface Brought {
  id: string;
  portal: string;
  name: string;
  at: string;
  answers: string[];
}

interface Parcel {
  type: string;
  body: string;
  headers: Record<string, string>;
}

/** The domain of the portal that writes letters, and what it signs them with since the bench began. */
const LETTERS_FROM = 'evenings-out.example';
const pair = generateKeyPairSync('rsa', { modulusLength: 2_048 });
const KEYS = {
  private: pair.privateKey.export({ type: 'pkcs8', format: 'pem' }).toString(),
  public: pair.publicKey.export({ type: 'spki', format: 'der' }),
};

const DRIP_MS = 150;
const ATTEMPTS = 6;
const HOUR_S = 3_600;

/** Three portals where people ask about visits. Each has a layout and a way of its own. */
export class Portals {
  readonly #portals: Portal[] = [
    {
      ...{ id: 'night-sky-guide', name: 'Night Sky Guide', to: '', secret: '', mood: 'usual' },
      speaks: 'JSON, signed as Standard Webhooks has it once it has a secret',
    },
    {
      ...{ id: 'out-with-the-class', name: 'Out With The Class', to: '', secret: '', mood: 'usual' },
      speaks: 'form data, with an HMAC of the body in x-class-signature once it has a secret',
    },
    {
      ...{ id: 'evenings-out', name: 'Evenings Out', to: '', secret: '', mood: 'usual' },
      speaks: 'letters with a table, to an address of mail, signed (DKIM) by evenings-out.example',
    },
  ];
  readonly #brought: Brought[] = [];
  readonly #waiting: (() => void)[] = [];
  /** No id is given twice, also not after a restart: a source takes each once for ever. */
  #next = Math.floor(Date.now() / 1000);

  constructor(
    private readonly clock: BenchClock,
    /** Where letters to the application go. */
    private readonly door: { host: string; port: number },
    private readonly file: string | null,
  ) {
    const known = kept<{ portals: Portal[] }>(file).portals ?? [];
    for (const portal of this.#portals) {
      const was = known.find(({ id }) => id === portal.id);
      if (was) Object.assign(portal, { to: was.to, secret: was.secret });
    }
  }

  /** What its letters are signed with, as names of the domain say it: where a receiver looks it up. */
  records(): Record<string, string> {
    return { [`bench._domainkey.${LETTERS_FROM}`]: `v=DKIM1; k=rsa; p=${KEYS.public.toString('base64')}` };
  }

  /** The latest inquiries first. */
  view(): { portals: Portal[]; brought: Brought[]; moods: readonly string[] } {
    return { portals: this.#portals, brought: this.#brought.slice(-60).reverse(), moods: PORTAL_MOODS };
  }

  /** A sentence when it cannot be so; null: it is. */
  set(id: string, { to, secret, mood }: Record<string, unknown>): string | null {
    const portal = this.#portals.find((one) => one.id === id);
    if (!portal) return 'There is no such portal.';
    if (to !== undefined && (typeof to !== 'string' || !isAddressFor(id, to)))
      return id === 'evenings-out'
        ? 'to: give the mail address of the source.'
        : 'to: give the web address of the source, as it stands on its page.';
    if (secret !== undefined && typeof secret !== 'string') return 'secret: must be words.';
    if (mood !== undefined && !PORTAL_MOODS.includes(mood as PortalMood))
      return `mood: one of ${PORTAL_MOODS.join(', ')}.`;
    Object.assign(portal, {
      ...(typeof to === 'string' ? { to: to.trim() } : {}),
      ...(typeof secret === 'string' ? { secret: secret.trim() } : {}),
      ...(mood ? { mood } : {}),
    });
    keep(this.file, { portals: this.#portals });
    if (portal.mood !== 'down') this.#waiting.splice(0).forEach((bring) => bring());
    return null;
  }

  /** Somebody asks on a portal. The id it gives them, or a sentence. */
  ask(portalId: string, asking: Asking): { id: string } | string {
    const portal = this.#portals.find(({ id }) => id === portalId);
    if (!portal) return 'There is no such portal.';
    if (!portal.to)
      return `Say first where ${portal.name} sends to: the address stands on the source’s page.`;
    const brought: Brought = {
      ...{ id: String(this.#next++), portal: portal.name, name: asking.name, answers: [] },
      at: new Date(this.clock.now()).toISOString(),
    };
    this.#brought.push(brought);
    if (this.#brought.length > 2_000) this.#brought.shift();
    void this.#bring(portal, brought, asking);
    return { id: brought.id };
  }

  async #bring(portal: Portal, brought: Brought, asking: Asking): Promise<void> {
    if (portal.mood === 'down') {
      brought.answers.push('the portal is down');
      return void this.#waiting.push(() => void this.#bring(portal, brought, asking));
    }
    // As the portal is now: what comes a second time is the same, whatever its mood by then.
    const now = { ...portal };
    const parcel = PACKED[now.id]?.(now, brought.id, asking, this.clock.now());
    const times = now.mood === 'twice' ? 2 : 1;
    for (let i = 0; i < times; i++)
      await (parcel ? this.#post(now, brought, parcel) : this.#mail(now, brought, asking));
  }

  /** Until it is taken or refused for good; the same delivery each time. */
  async #post(portal: Portal, brought: Brought, parcel: Parcel): Promise<void> {
    for (let i = 0; i < ATTEMPTS; i++) {
      const status = await deliver(portal, parcel);
      brought.answers.push(status === null ? 'not reached' : String(status));
      if (status !== null && status < 500 && status !== 429) return;
      await new Promise((resolve) => setTimeout(resolve, Math.min(250 * 2 ** i, 4_000)));
    }
    brought.answers.push('given up');
  }

  async #mail(portal: Portal, brought: Brought, asking: Asking): Promise<void> {
    const transport = createTransport({
      ...{ ...this.door, secure: false, ignoreTLS: true },
      ...(portal.mood === 'forged'
        ? {}
        : { dkim: { domainName: LETTERS_FROM, keySelector: 'bench', privateKey: KEYS.private } }),
    });
    const labels = portal.mood === 'changed' ? CHANGED_LABELS : LABELS;
    const rows = Object.entries(labels).map(
      ([key, label]) => `<tr><th>${label}</th><td>${escaped(asking[key as keyof Asking])}</td></tr>`,
    );
    const done = await transport
      .sendMail({
        ...{ from: `Evenings Out <desk@${LETTERS_FROM}>`, to: portal.to },
        ...{ subject: `New request ${brought.id}`, date: new Date(this.clock.now()) },
        messageId: `<request-${brought.id}@${LETTERS_FROM}>`,
        html: `<p>Somebody asked about an evening with you.</p><table>${rows.join('')}</table><p>Evenings Out, the desk</p>`,
      })
      .then(
        () => 'taken',
        (error: Error) => error.message.slice(0, 120),
      )
      .finally(() => transport.close());
    brought.answers.push(done);
  }
}

const LABELS = { name: 'Guest', number: 'Mobile', email: 'E-mail', what: 'Occasion', words: 'They write' };
const CHANGED_LABELS = { name: 'Who', number: 'Reach', email: 'Letter box', what: 'About', words: 'Lines' };

type Packed = (portal: Portal, id: string, asking: Asking, now: number) => Parcel;
const PACKED: Record<string, Packed> = {
  'night-sky-guide': ({ secret, mood }, id, { name, number, email, what, words }, now) => {
    const contact =
      mood === 'changed'
        ? { who: name, reach: { mobile: number, letters: email } }
        : { full_name: name, phone: number, mail: email };
    const body = JSON.stringify({ lead: { id: `NSG-${id}`, topic: what, message: words }, contact });
    if (!secret) return { type: 'application/json', body, headers: {} };
    // The specification, 1.0.0: id, time and body with dots between.
    const sent = randomUUID();
    const time = Math.floor(now / 1000) - (mood === 'replayed' ? HOUR_S : 0);
    const key = Buffer.from(secret.replace(/^whsec_/, ''), 'base64');
    const signature = createHmac('sha256', key).update(`${sent}.${time}.${body}`).digest('base64');
    const headers = { id: sent, timestamp: String(time), signature: `v1,${signature}` };
    return {
      ...{ type: 'application/json', body },
      headers: Object.fromEntries(Object.entries(headers).map(([name, value]) => [`webhook-${name}`, value])),
    };
  },
  'out-with-the-class': ({ secret, mood }, id, { name, number, email, what, words }): Parcel => {
    const [first, ...rest] = name.split(' ');
    const fields: Record<string, string> =
      mood === 'changed'
        ? { ref: id, pupil_guide: name, line: number, box: email, about: what, lines: words }
        : { ref: id, vorname: first ?? '', last: rest.join(' '), tel: number, email, what, text: words };
    const body = new URLSearchParams(fields).toString();
    const type = 'application/x-www-form-urlencoded';
    if (!secret) return { type, body, headers: {} };
    const signature = createHmac('sha256', secret).update(body).digest('hex');
    return { type, body, headers: { 'x-class-signature': signature } };
  },
};

/** The answer's status; null when nobody answered. */
function deliver({ to, mood }: Portal, { type, body, headers }: Parcel): Promise<number | null> {
  return new Promise((resolve) => {
    const bytes = Buffer.from(body);
    const request = httpRequest(
      to,
      { method: 'POST', headers: { ...headers, 'content-type': type, 'content-length': bytes.length } },
      (response) => {
        response.resume();
        response.on('end', () => resolve(response.statusCode ?? null));
        response.on('error', () => resolve(null));
      },
    );
    request.on('error', () => resolve(null));
    if (mood !== 'slow') return void request.end(bytes);
    const piece = Math.ceil(bytes.length / 8);
    let at = 0;
    const drip = setInterval(() => {
      request.write(bytes.subarray(at, at + piece));
      at += piece;
      if (at < bytes.length) return;
      clearInterval(drip);
      request.end();
    }, DRIP_MS);
    request.on('close', () => clearInterval(drip));
  });
}

const isAddressFor = (id: string, to: string): boolean =>
  to.trim() === '' || (id === 'evenings-out' ? /^[^\s@]+@[^\s@]+$/ : /^http:\/\/[^\s]+$/).test(to.trim());

const escaped = (text: string): string =>
  text.replace(/[&<>"]/g, (sign) => `&#${sign.charCodeAt(0)};`).replace(/\n/g, '<br>');
