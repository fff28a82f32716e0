import { isReasonCode, REASON_WORDS } from '@/core/clearance/reasons';
import { KINDS, type MessageKind } from '@/core/message/kinds';
import { parseInstant } from '@/core/shared/instant';
import { dayAndTime } from '@/ui/kit/time';

/** What a thread needs beside its entries to say why somebody got something. */
export interface Grounds {
  /** Whom a broadcast was for, in words, by its id; absent: everybody of its program. */
  audiences: Record<string, string>;
  /** What they agreed to and left, newest first. */
  consents: readonly {
    program_id: string;
    channel: string;
    kind: string;
    at: Date;
    how: string;
  }[];
}

/** A message as far as it is asked why it went. */
interface Sent {
  at: Date;
  channel: string;
  kind: string;
  state: string | null;
  program_id: string | null;
  program: string | null;
  broadcast_id: string | null;
  broadcast: string | null;
  sequence_id: string | null;
  sequence: string | null;
  sent_by: string | null;
  clearance: Record<string, unknown> | null;
}

interface StoredReason {
  code: string;
  effect: string;
  evidence: Record<string, unknown>;
}

/** Why somebody got a message, or did not: who or what chose them, what they agreed to, and what clearance found. */
export function Why({ entry, grounds, zone }: { entry: Sent; grounds: Grounds; zone: string }) {
  const clearance = entry.clearance!;
  const reasons = (clearance.reasons ?? []) as StoredReason[];
  const went = entry.state !== 'blocked' && entry.state !== 'queued';
  const question = went ? 'Why did they get this?' : entry.state === 'queued' ? 'Why not yet?' : 'Why not?';
  const at = typeof clearance.at === 'string' ? parseInstant(clearance.at) : null;
  return (
    <details className="mt-1 text-sm">
      <summary className="cursor-pointer text-soft">{question}</summary>
      <ul className="mt-1 space-y-0.5 border-l border-rule pl-3 text-soft">
        <li>{chosenBy(entry, grounds)}</li>
        <li>{agreed(entry, grounds)}</li>
        <li>
          Clearance{at !== null && ` of ${dayAndTime(at, zone)}`}:{' '}
          {reasons.length === 0
            ? 'number, line type, opt-out, consent, sending hours, frequency, sender number and credits: nothing against it.'
            : String(clearance.verdict)}
        </li>
        {reasons.map((reason) => (
          <li key={reason.code} className="pl-3">
            {isReasonCode(reason.code) ? REASON_WORDS[reason.code].short : reason.code}
            {shownEvidence(reason.evidence, zone)}
          </li>
        ))}
      </ul>
    </details>
  );
}

function chosenBy(entry: Sent, { audiences }: Grounds): string {
  if (entry.broadcast_id) {
    const who = audiences[entry.broadcast_id];
    return `Chosen by the audience of “${entry.broadcast}”: ${who ?? `Everybody in ${entry.program}`}.`;
  }
  if (entry.sequence_id) return `It is a line of the sequence “${entry.sequence}” they are in.`;
  if (entry.kind === 'answer') return `Written to them${entry.sent_by ? ` by ${entry.sent_by}` : ''}.`;
  return `It follows from what they wrote or did: ${KINDS[entry.kind as MessageKind]?.words ?? entry.kind}.`;
}

/** The consent in force when it went. */
function agreed(entry: Sent, { consents }: Grounds): string {
  const needs = KINDS[entry.kind as MessageKind]?.checks.consent ?? true;
  const last = consents.find(
    ({ program_id, channel, at }) =>
      program_id === entry.program_id && channel === entry.channel && at <= entry.at,
  );
  if (last?.kind === 'opted-in') return `Consent to ${entry.program}: ${last.how}.`;
  if (!needs) return 'It needs no consent to a program: it answers them.';
  return last
    ? `Their last word to ${entry.program} was another: ${last.how}.`
    : `No consent to ${entry.program} is on record.`;
}

/** Instants in local time; ids of rows say nothing to anybody. */
function shownEvidence(evidence: Record<string, unknown>, zone: string): string {
  const shown = (value: unknown): string | null => {
    const text = Array.isArray(value) ? value.join(', ') : String(value);
    if (value === null || text === '' || /^[a-z]{2,4}_[a-z0-9]{6,}$/i.test(text)) return null;
    const at = parseInstant(text);
    return at === null ? text : dayAndTime(at, zone);
  };
  return Object.entries(evidence)
    .flatMap(([name, value]) => {
      const words = shown(value);
      return words === null ? [] : [` · ${name.replaceAll('_', ' ')}: ${words}`];
    })
    .join('');
}
