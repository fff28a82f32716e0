import type { FailureReason } from './failure';

/** The state of one part of a text, as its own receipts tell. */
export type PartState = 'pending' | 'accepted' | 'delivered' | 'failed';

/** Final states of a receipt. Source: SMPP 3.4, appendix B and 5.2.28. */
export type ReceiptStat =
  | 'DELIVRD'
  | 'EXPIRED'
  | 'DELETED'
  | 'UNDELIV'
  | 'ACCEPTD'
  | 'UNKNOWN'
  | 'REJECTD'
  | 'ENROUTE';

/** What a receipt says of its part; null: nothing final. */
export function partAfter(stat: ReceiptStat): PartState | null {
  switch (stat) {
    case 'DELIVRD':
      return 'delivered';
    case 'ACCEPTD':
    case 'ENROUTE':
    case 'UNKNOWN':
      return null;
    case 'EXPIRED':
    case 'DELETED':
    case 'UNDELIV':
    case 'REJECTD':
      return 'failed';
  }
}

/**
 * The reason behind a final failure. `err` is the carrier's three-digit code: carriers differ, so the map is
 * a setting; these are the codes of the common table, 000 meaning none given.
 */
export const ERROR_CODES: Record<string, FailureReason> = {
  '001': 'number-unknown',
  '005': 'number-unknown',
  '006': 'unreachable',
  '011': 'landline',
  '013': 'carrier-opt-out',
  '027': 'unreachable',
  '034': 'carrier-error',
  '040': 'spam-blocked',
  '051': 'sender-refused',
};

/** `own`: what codes mean to this carrier, before what they usually mean. */
export function failureOf(
  stat: ReceiptStat,
  err: string,
  own: Readonly<Record<string, FailureReason>> = {},
): FailureReason {
  const named = own[err] ?? own[err.replace(/^0+(?=.)/, '')] ?? ERROR_CODES[err.padStart(3, '0')];
  if (named) return named;
  return stat === 'EXPIRED' ? 'unreachable' : 'refused';
}
