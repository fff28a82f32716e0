import { fixedBehaviour, type Behaviour } from './faults';

export interface HandsetText {
  direction: 'in' | 'out';
  from: string;
  to: string;
  body: string;
  at: string;
  parts: number;
  /** Of a picture message. */
  files?: { id: string; name: string; type: string; size: number }[];
  /** Of a voicemail: what is heard. */
  voicemail?: { sound: string; seconds: number };
  /** Of a chat message: files, shown from where they stand. */
  pictures?: { url: string; name: string; type: string }[];
  /** By chat: the account it came from or went to, and what can be pressed under it. */
  chat?: string;
  buttons?: { kind: string; words: string; key?: string; url?: string; number?: string }[];
}

export interface Handset {
  number: string;
  behaviour: Behaviour;
  /** Shown on the page; others exist because something was sent to them. */
  pinned: boolean;
  texts: HandsetText[];
}

interface Assembly {
  pieces: (string | undefined)[];
  since: number;
}

const MOST_TEXTS = 500;

/** Every number of the simulated world is a phone that keeps what it got; pinned ones show on the page. */
export class Handsets {
  readonly #all = new Map<string, Handset>();
  readonly #assemblies = new Map<string, Assembly>();
  readonly #listeners = new Set<() => void>();

  get(number: string): Handset {
    let handset = this.#all.get(number);
    if (!handset) {
      handset = { number, behaviour: fixedBehaviour(number), pinned: false, texts: [] };
      this.#all.set(number, handset);
    }
    return handset;
  }

  pinned(): Handset[] {
    return [...this.#all.values()].filter((handset) => handset.pinned);
  }

  find(number: string): Handset | undefined {
    return this.#all.get(number);
  }

  /** A part arrives; the phone shows the text once all parts are there. */
  receive(part: {
    from: string;
    to: string;
    body: string;
    at: string;
    concat: { reference: number; total: number; index: number } | null;
  }): void {
    const { from, to, at, concat } = part;
    if (!concat) return this.#show(to, { direction: 'in', from, to, body: part.body, at, parts: 1 });
    const key = `${from}|${to}|${concat.reference}|${concat.total}`;
    const assembly = this.#assemblies.get(key) ?? {
      pieces: new Array<string | undefined>(concat.total),
      since: Date.now(),
    };
    this.#assemblies.set(key, assembly);
    assembly.pieces[concat.index - 1] = part.body;
    for (let i = 0; i < concat.total; i++) if (assembly.pieces[i] === undefined) return;
    this.#assemblies.delete(key);
    this.#show(to, { direction: 'in', from, to, body: assembly.pieces.join(''), at, parts: concat.total });
  }

  /** A picture message arrives, or leaves. */
  showPicture({
    files,
    sent = false,
    ...text
  }: {
    from: string;
    to: string;
    body: string;
    at: string;
    sent?: boolean;
    files: { id: string; name: string; type: string; bytes: Buffer }[];
  }): void {
    const shown = files.map(({ id, name, type, bytes }) => ({ id, name, type, size: bytes.length }));
    const [from, to] = sent ? [text.to, text.from] : [text.from, text.to];
    const row: HandsetText = {
      ...{ direction: sent ? 'out' : 'in', from, to, body: text.body, at: text.at, parts: 1 },
      files: shown,
    };
    this.#show(text.to, row);
  }

  /** A voicemail that was left. */
  showVoicemail({
    sound,
    seconds,
    ...text
  }: {
    from: string;
    to: string;
    at: string;
    sound: string;
    seconds: number;
  }): void {
    this.#show(text.to, {
      ...{ direction: 'in', ...text, body: `voicemail, ${Math.round(seconds)} seconds`, parts: 1 },
      voicemail: { sound, seconds },
    });
  }

  /** A chat message that came, or left. */
  showChat(id: string, text: HandsetText): void {
    this.#show(id, text);
  }

  sent(text: HandsetText): void {
    this.#show(text.from, text);
  }

  #show(number: string, text: HandsetText): void {
    const { texts } = this.get(number);
    texts.push(text);
    if (texts.length > MOST_TEXTS) texts.shift();
    for (const listener of this.#listeners) listener();
  }

  onChange(listener: () => void): () => void {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  }
}
