import type { Day } from '../audience/days';
import type { TextState } from '../delivery/lifecycle';

/** What is summed beside the states of messages. */
export const DEEDS = [
  'begun',
  'replied',
  'conversation',
  'answered',
  'joined',
  'left',
  'lost',
  'clicked',
  'redeemed',
] as const;

/**
 * What people did. `begun`: messages delivered that we began ourselves, of which answers and goings are a share; `replied`: texts that came; `conversation`: of these, what came after a week of silence; `answered`: begun
 * messages that were replied to, by when they left; `joined` and `left`: consents given and ended, one for each program and channel;
 * `lost`: consents to its program a begun message cost, by when it left; `clicked`: messages of which a link was followed;
 * `redeemed`: vouchers used.
 */
export type Deed = (typeof DEEDS)[number];

/** A kept sum of a day. `reason`: of what failed why, of who joined by which way, of who left after what kind of message. */
export interface DaySum {
  day: Day;
  channel: string;
  what: TextState | Deed;
  reason: string;
  n: number;
  credits: number;
}

/** Messages that left, whatever became of them. */
export const LEFT_STATES: readonly TextState[] = [
  'submitting',
  'submitted',
  'delivered',
  'failed',
  'no-receipt',
  'unconfirmed',
];
