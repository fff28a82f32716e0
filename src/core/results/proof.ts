import type { ConsentKind, Method } from '../consent/ledger';
import { KINDS, type MessageKind } from '../message/kinds';

export const PROOF_FORMAT = 'steady-wren/proof/1';

/** Instants are ISO 8601 in UTC. */
export interface ProofMessage {
  id: string;
  at: string;
  channel: string;
  from: string | null;
  program: string;
  kind: MessageKind;
  words: string;
  state: string;
  /** What clearance found when it left; null: it is from before that was kept. */
  clearance: unknown;
}

export interface ProofEntry {
  at: string;
  program: string;
  channel: string;
  kind: ConsentKind;
  method: Method;
  /** What was shown, said and noted. */
  evidence: unknown;
}

export interface ProofFacts {
  business: string;
  address: string;
  madeAt: string;
  messages: readonly ProofMessage[];
  received: readonly { at: string; channel: string; to: string | null; words: string; read_as: string }[];
  consent: readonly ProofEntry[];
}

export interface ProofDocument extends Omit<ProofFacts, 'messages' | 'madeAt'> {
  format: typeof PROOF_FORMAT;
  made_at: string;
  messages: (ProofMessage & {
    /** What they had last told its program on its channel. */
    basis: ProofEntry | null;
    /** They had left then; `because`: why it went all the same. */
    after_leaving: boolean;
    because: string | null;
  })[];
  /** When they left what. */
  left: { at: string; program: string; channel: string }[];
  /** Ids of messages that went after they had left. */
  went_after: string[];
}

/** Everything that went to an address, each with what it rested on, and what went after they had left. */
export function proofOf({ madeAt, messages, consent, ...facts }: ProofFacts): ProofDocument {
  const ledger = [...consent].sort((a, b) => a.at.localeCompare(b.at));
  const told = [...messages]
    .sort((a, b) => a.at.localeCompare(b.at))
    .map((message) => {
      const basis = ledger.findLast((entry) => fits(entry, message) && entry.at <= message.at) ?? null;
      const after = basis?.kind === 'opted-out';
      return { ...message, basis, after_leaving: after, because: after ? becauseOf(message.kind) : null };
    });
  return {
    format: PROOF_FORMAT,
    made_at: madeAt,
    ...facts,
    messages: told,
    consent: ledger,
    left: ledger
      .filter(({ kind }) => kind === 'opted-out')
      .map(({ at, program, channel }) => ({ at, program, channel })),
    went_after: told.filter(({ after_leaving: after }) => after).map(({ id }) => id),
  };
}

const fits = (entry: ProofEntry, message: ProofMessage): boolean =>
  entry.program === message.program && entry.channel === message.channel;

/** What may still go to somebody who left: the one confirmation of it, what they ask for, an answer by hand to what they write. */
function becauseOf(kind: MessageKind): string | null {
  if (kind === 'opt-out-confirmation') return 'the one confirmation that they left';
  if (KINDS[kind].survivesOptOut) return 'they asked for it';
  return kind === 'answer' ? 'an answer by hand to what they wrote' : null;
}

/** JSON with the names of each object in order and nothing between, so that the same content is the same text (RFC 8785 in spirit). */
export function canonical(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map(canonical).join(',')}]`;
  if (typeof value !== 'object' || value === null) return JSON.stringify(value ?? null);
  const entries = Object.entries(value)
    .filter(([, one]) => one !== undefined)
    .sort(([a], [b]) => (a < b ? -1 : 1));
  return `{${entries.map(([name, one]) => `${JSON.stringify(name)}:${canonical(one)}`).join(',')}}`;
}
