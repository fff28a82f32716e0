import { displayNumber } from '@/core/phone/number';
import { dayAndTime } from '@/ui/kit/time';
import { cutText } from '@/core/shared/clean-text';
import { METHOD_WORDS, type ConsentEvidence, type Method } from '@/core/consent/ledger';
import type { Grounds } from './why';

/** An entry of the ledger, as the pages of somebody read it. */
interface LedgerRow {
  program_id: string;
  channel: string;
  kind: string;
  method: Method;
  at: Date;
  address: string;
  evidence: ConsentEvidence;
  recorded_by_name: string | null;
}

/** When, how and after which text somebody agreed or left, and who wrote it down, in one sentence. */
export function howItCame(entry: LedgerRow, zone: string, after?: string): string {
  const { at, address, method, evidence, recorded_by_name: by } = entry;
  const quoted = evidence.said ?? evidence.wording;
  return [
    `${dayAndTime(at, zone)}, ${displayNumber(address)}, ${METHOD_WORDS[method]}${quoted === undefined ? '' : `: “${quoted}”`}`,
    evidence.why,
    evidence.source?.replace(/\+\d+/, displayNumber),
    by && `noted by ${by}`,
    after && `after “${after.length > 60 ? `${cutText(after, 60)}…` : after}”`,
  ]
    .filter(Boolean)
    .join(', ');
}

/** What a thread needs beside its entries to say why somebody got something. */
export const groundsOf = (
  { consents, audiences }: { consents: readonly LedgerRow[]; audiences: Grounds['audiences'] },
  zone: string,
): Grounds => ({
  audiences,
  consents: consents.map((entry) => ({ ...entry, how: howItCame(entry, zone) })),
});
