import type { FailureReason } from './failure';

/** Answers to a submit. Source: SMPP 3.4, 5.1.3. Null: taken. */
const STATUS: Record<number, FailureReason | null> = {
  0x00: null,
  0x58: 'throttled',
  0x14: 'carrier-busy',
  0x08: 'carrier-error',
  0x45: 'carrier-error',
  0x01: 'too-long',
  0x0b: 'number-unknown',
  0x0a: 'sender-refused',
};

/**
 * What a `command_status` means, by the carrier's own codes (its numbers in decimal) before the standard's; anything not named
 * is a refusal that is not tried again.
 */
export function failureOfStatus(
  status: number,
  own: Readonly<Record<string, FailureReason>> = {},
): FailureReason | null {
  if (status === 0) return null;
  return own[String(status)] ?? (status in STATUS ? (STATUS[status] ?? null) : 'refused');
}
