import { parseDuration } from './clock';

/** How the simulated carrier misbehaves. Shares are of all texts, 0 to 1. */
export interface Faults {
  /** Time before a submit is answered and before a receipt leaves, in real milliseconds. */
  submit_latency_ms: number;
  receipt_latency_ms: number;
  /** Submits a second beyond which ESME_RTHROTTLED is answered; null: no limit. */
  throttle_per_second: number | null;
  /** Share refused with `refuse_status`. */
  refuse_share: number;
  refuse_status: number;
  lost_receipt_share: number;
  double_receipt_share: number;
  late_receipt_share: number;
  /** How late, ISO 8601 duration on the bench's clock. */
  late_by: string;
  /** The link is cut after this many more submits, the last ones taken but not answered; null: never. */
  drop_link_after: number | null;
  /** Share of texts from handsets that come with an id of the carrier's; most carriers give none. */
  inbound_id_share: number;
  /** Share of texts from handsets whose body stands in `message_payload` instead of `short_message`. */
  inbound_payload_share: number;
  /** Share of picture messages that the relay takes without being able to say so: the line is cut. */
  picture_cut_share: number;
}

export const NO_FAULTS: Faults = {
  submit_latency_ms: 1,
  receipt_latency_ms: 30,
  throttle_per_second: null,
  refuse_share: 0,
  refuse_status: 0x08,
  lost_receipt_share: 0,
  double_receipt_share: 0,
  late_receipt_share: 0,
  late_by: 'PT30M',
  drop_link_after: null,
  inbound_id_share: 0,
  inbound_payload_share: 0,
  picture_cut_share: 0,
};

/** How a handset or number always behaves. */
export const BEHAVIOURS = [
  'normal',
  'off',
  'unknown-number',
  'landline',
  'spam-blocked',
  'carrier-opt-out',
  'throttled-twice',
  'receipt-lost',
  'receipt-twice',
  'receipt-late',
  'refused',
  'no-pictures',
  'box-full',
  'no-voicemail',
  'answers',
] as const;
export type Behaviour = (typeof BEHAVIOURS)[number];

/** Documented numbers that always behave in one way: (307) 555-0189 to -0199. */
const FIXED: Record<string, Behaviour> = {
  '+13075550189': 'no-pictures',
  '+13075550190': 'off',
  '+13075550191': 'unknown-number',
  '+13075550192': 'landline',
  '+13075550193': 'spam-blocked',
  '+13075550194': 'carrier-opt-out',
  '+13075550195': 'throttled-twice',
  '+13075550196': 'receipt-lost',
  '+13075550197': 'receipt-twice',
  '+13075550198': 'receipt-late',
  '+13075550199': 'refused',
};

export const fixedBehaviour = (number: string): Behaviour => FIXED[number] ?? 'normal';
export const FIXED_NUMBERS = FIXED;

/** A change to the faults, or the sentence that says what is wrong with it. */
export function readFaults(input: unknown, current: Faults): Faults | string {
  if (typeof input !== 'object' || input === null || Array.isArray(input))
    return 'Send a JSON object of faults.';
  const next = { ...current } as Record<string, unknown>;
  for (const [name, value] of Object.entries(input)) {
    if (!(name in NO_FAULTS)) return `${name}: not a fault. Faults are ${Object.keys(NO_FAULTS).join(', ')}.`;
    const wrong = problemOf(name, value);
    if (wrong) return wrong;
    next[name] = value;
  }
  return next as unknown as Faults;
}

function problemOf(name: string, value: unknown): string | null {
  const nullable = name === 'throttle_per_second' || name === 'drop_link_after';
  if (value === null) return nullable ? null : `${name}: null is not allowed here.`;
  if (name === 'late_by')
    return parseDuration(value) !== null ? null : 'late_by: give an ISO 8601 duration such as PT30M.';
  if (typeof value !== 'number' || value < 0) return `${name}: give a number of 0 or more.`;
  if (name.endsWith('_share') && value > 1) return `${name}: a share lies between 0 and 1.`;
  return null;
}
