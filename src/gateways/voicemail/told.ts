import { cleanText, cutText } from '@/core/shared/clean-text';
import type { FailureReason } from '@/core/delivery/failure';
import { isRecord, parseJson } from '@/core/shared/json';
import { dropFailureCalled } from './dropper';

/** What became of a voicemail of ours, or that the account itself changed. */
export type DropTold =
  | { kind: 'left'; reference: string }
  | { kind: 'failed'; reference: string; failure: FailureReason }
  | { kind: 'account' };

/** Reads what an account tells, in the order it stands there; what we know nothing of is left out. Null: it is no such body. */
export function readDropsTold(body: string): DropTold[] | null {
  const read = parseJson(body);
  if (!read.ok || !isRecord(read.value) || !Array.isArray(read.value.events)) return null;
  return read.value.events.flatMap((event: unknown): DropTold[] => {
    if (!isRecord(event)) return [];
    if (event.kind === 'account.changed') return [{ kind: 'account' }];
    const reference = typeof event.reference === 'string' ? cutText(cleanText(event.reference), 200) : '';
    if (reference === '') return [];
    if (event.kind === 'drop.left') return [{ kind: 'left', reference }];
    return event.kind === 'drop.failed'
      ? [{ kind: 'failed', reference, failure: dropFailureCalled(event.reason) }]
      : [];
  });
}
