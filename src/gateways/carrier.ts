import type { Alphabet } from '@/core/text/measure';
import type { LinkState } from '@/core/delivery/link';
import type { ReceiptIds } from '@/core/delivery/carrier-id';
import type { ReceiptStat } from '@/core/delivery/receipt';
import type { FailureReason } from '@/core/delivery/failure';

/** One part of a text on its way to the carrier. */
export interface OutgoingPart {
  /** E.164 number or the digits of a short code. */
  from: string;
  to: string;
  body: string;
  alphabet: Alphabet;
  /** Null: the text has one part. `reference` is 0 to 255. */
  concat: { reference: number; total: number; index: number } | null;
  /** 16 bits that the carrier gives back with the receipt, so that a receipt finds its text without a carrier id. */
  userReference: number;
  /** Seconds the carrier may try to reach the phone. */
  validitySeconds: number;
}

/** What became of a submit. Nothing is thrown: a broken link is an outcome. */
export type SubmitOutcome =
  | { kind: 'taken'; carrierId: string }
  | { kind: 'refused'; reason: FailureReason; status: number }
  /** The bytes went out and no answer came: nobody knows. */
  | { kind: 'unknown' }
  /** Nothing went out: it may be tried again. */
  | { kind: 'not-written' };

export interface Receipt {
  carrierId: string;
  stat: ReceiptStat;
  err: string;
  /** Where it went. */
  number: string;
  userReference: number | null;
  /** What else the id may mean, where the carrier's way of telling it is not known. */
  otherIds?: readonly { ids: ReceiptIds; id: string }[];
  /** Which carrier told it; absent: the installation's. */
  carrier?: string;
  /** Nothing but its words says that this is a receipt: then it must come from where the text went. */
  byWords?: boolean;
  /** Why it failed, where the channel says so itself; absent: it is read from `stat` and `err`. */
  failure?: FailureReason;
}

export interface IncomingPart {
  /** The carrier's id of this text; null where it gives none, which is usual. */
  carrierId: string | null;
  from: string;
  to: string;
  /** As it was decoded: a part may begin or end with half a surrogate pair. */
  body: string;
  concat: { reference: number; total: number; index: number } | null;
}

/** What the application does with what arrives. The carrier hears "taken" only once the promise resolves. */
export interface CarrierEvents {
  receipt(receipt: Receipt): Promise<void>;
  text(part: IncomingPart): Promise<void>;
  /** The carrier has surely got our "taken" for this one: if the same comes again, the person wrote it again. */
  settled(part: IncomingPart): void;
  /** `why`: what the carrier or the network said of it. */
  link(state: LinkState, why: string | null): void;
}

export interface Carrier {
  /** Submits that may be started now without waiting. */
  free(): number;
  submit(part: OutgoingPart): Promise<SubmitOutcome>;
  /** Resolves when every started submit has its outcome, then unbinds. */
  close(): Promise<void>;
}
