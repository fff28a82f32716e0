import type { FailureReason } from './failure';

/** Answers to a submit. Source: SMPP 3.4, 5.1.3. Null: taken. */
const STATUS: Record<number, FailureReason | null> = {
  0x00: null,
  0x58: 'throttled',
  0x14: 'carrier-busy',
  0x08: 'carrier-error',
  0x45: 'carrier-error',
  0x0b: 'number-unknown',
  0x0a: 'sender-refused',
};

/** What a `command_status` means; anything not named is a refusal that is not tried again. */
export const failureOfStatus = (status: number): FailureReason | null =>
  status in STATUS ? (STATUS[status] ?? null) : 'refused';
