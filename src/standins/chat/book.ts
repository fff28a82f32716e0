import { keep, kept } from '../kept';

export interface NetworkButton {
  kind: 'reply' | 'link' | 'call';
  words: string;
  key?: string;
  url?: string;
  number?: string;
}

export type NetworkPiece = { text: string } | { variable: string };

export interface NetworkTemplate {
  id: string;
  name: string;
  language: string;
  category: string;
  header?: { text: string };
  body: NetworkPiece[];
  footer?: string;
  buttons: NetworkButton[];
  samples: Record<string, string>;
  state: 'in-review' | 'approved' | 'refused' | 'paused' | 'withdrawn';
  reason?: string;
  /** When the reviewer decides, on the bench’s clock. */
  dueAt?: number;
}

export interface NetworkAccount {
  id: string;
  token: string;
  name: string;
  address: string;
  state: 'open' | 'restricted' | 'closed';
  missing: string[];
  quality: 'good' | 'middling' | 'poor';
  begin_limit: number | null;
  callbacks: { url: string; secret: string } | null;
  templates: NetworkTemplate[];
  /** By chat id: their last message, and when the account last began with them. */
  people: Record<string, { wrote?: number; begun?: number; blocked?: true }>;
}

/** Accounts there are from the start. */
const ACCOUNTS: NetworkAccount[] = [
  {
    ...{ id: 'juniper', token: 'bench', name: 'Juniper Gap Observatory', address: '+17195550170' },
    ...{
      state: 'open',
      missing: [],
      quality: 'good',
      begin_limit: 1_000,
      callbacks: null,
      templates: [],
      people: {},
    },
  },
  {
    ...{
      id: 'unfinished',
      token: 'bench',
      name: 'An account that lacks things',
      address: '+17195550171',
      state: 'restricted',
    },
    missing: ['a picture of the business', 'the address of its privacy page'],
    ...{ quality: 'good', begin_limit: 0, callbacks: null, templates: [], people: {} },
  },
  {
    ...{
      id: 'small',
      token: 'bench',
      name: 'A new account',
      address: '+17195550172',
      state: 'open',
      missing: [],
    },
    ...{ quality: 'middling', begin_limit: 5, callbacks: null, templates: [], people: {} },
  },
];

/** What the network knows; kept in a file, since the application remembers what was approved. */
export class NetworkBook {
  accounts: NetworkAccount[];
  #timer: NodeJS.Timeout | null = null;

  constructor(private readonly file: string | null) {
    const { accounts = [] } = kept<{ accounts: NetworkAccount[] }>(file);
    const known = new Set(accounts.map(({ id }) => id));
    this.accounts = [...accounts, ...structuredClone(ACCOUNTS).filter(({ id }) => !known.has(id))];
  }

  account(id: string): NetworkAccount | undefined {
    return this.accounts.find((one) => one.id === id);
  }

  /** By what people write to: its address, or its id. */
  called(name: string): NetworkAccount | undefined {
    return this.accounts.find(({ id, address }) => id === name || address === name);
  }

  /** Takes these in the place of what it knew, their moments moved. Who calls back is told anew. */
  replace(accounts: readonly NetworkAccount[], by: number): void {
    this.accounts = structuredClone([...accounts]);
    for (const account of this.accounts) {
      account.callbacks = null;
      for (const template of account.templates) if (template.dueAt !== undefined) template.dueAt += by;
      for (const person of Object.values(account.people)) {
        if (person.wrote !== undefined) person.wrote += by;
        if (person.begun !== undefined) person.begun += by;
      }
    }
    this.changed();
  }

  /** Written soon: many changes come together. */
  changed(): void {
    if (!this.file || this.#timer) return;
    this.#timer = setTimeout(() => this.keep(), 100);
    this.#timer.unref();
  }

  keep(): void {
    this.#timer = null;
    keep(this.file, { accounts: this.accounts });
  }
}
