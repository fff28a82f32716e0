/**
 * What message centres do differently, each a habit the bench's carrier can have. What SMPP 3.4 says comes first of each.
 */
export const HABITS = {
  /** Which binds it takes. */
  binds: ['any', 'transceiver only', 'one out and one in'],
  /** How it answers a bind it does not take. */
  bind_refusal: ['by its status', 'generic_nack'],
  /** The form of ids in the answer to a submit, and in the receipt. */
  ids: ['the same', 'hexadecimal, then decimal', 'decimal, then hexadecimal', 'capital letters in receipts'],
  /** Optional parameters in receipts: all, or none and no reference either. */
  receipt_parameters: ['all', 'none'],
  /** Whether `esm_class` marks a receipt, or only its words do. */
  receipt_mark: ['marked', 'words only'],
  /** Over which link receipts come. */
  receipts_over: ['any', 'another than the submit'],
  /** What `data_coding` 0 means. */
  alphabet: ['GSM 7-bit', 'Latin-1', 'ASCII'],
  /** How texts from handsets are coded. */
  inbound_coding: ['0 or 8', '0xF0', '1', '3', '4', '8', '0x18'],
  /** How long texts from handsets are cut. */
  inbound_parts: ['8-bit header', '16-bit header', 'sar', 'one payload'],
  /** National tables in texts from handsets. */
  inbound_table: ['none', 'Spanish', 'Portuguese', 'Turkish'],
  /** How numbers of handsets are written. */
  numbers: ['international', 'with a plus', 'without country', 'with 00'],
  /** How PDUs are put into packets. */
  packets: ['as they come', 'several together', 'cut anywhere'],
  /** Codes of failures in receipts. */
  errors: ['usual', 'of its own'],
} as const;

export type Habits = { -readonly [K in keyof typeof HABITS]: (typeof HABITS)[K][number] } & {
  /** Octets of a body beyond which a submit is refused with ESME_RINVMSGLEN. */
  longest_body: number;
};

export const NO_HABITS: Habits = {
  ...{ binds: 'any', bind_refusal: 'by its status', ids: 'the same', receipt_parameters: 'all' },
  ...{ receipt_mark: 'marked', receipts_over: 'any', alphabet: 'GSM 7-bit', inbound_coding: '0 or 8' },
  ...{ inbound_parts: '8-bit header', inbound_table: 'none', numbers: 'international' },
  ...{ packets: 'as they come', errors: 'usual', longest_body: 254 },
};

/** A change to the habits, or the sentence that says what is wrong with it. */
export function readHabits(input: unknown, current: Habits): Habits | string {
  if (typeof input !== 'object' || input === null || Array.isArray(input))
    return 'Send a JSON object of habits.';
  for (const [name, value] of Object.entries(input)) {
    if (name === 'longest_body') {
      if (!Number.isInteger(value) || value < 1 || value > 254)
        return 'longest_body: give a whole number from 1 to 254.';
    } else if (!Object.hasOwn(HABITS, name))
      return `${name}: not a habit. Habits are ${[...Object.keys(HABITS), 'longest_body'].join(', ')}.`;
    else if (!(HABITS[name as keyof typeof HABITS] as readonly unknown[]).includes(value))
      return `${name}: one of ${HABITS[name as keyof typeof HABITS].join(', ')}.`;
  }
  return { ...current, ...(input as Partial<Habits>) };
}
