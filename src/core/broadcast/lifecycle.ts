import type { SendGoes } from '../message/send';

/**
 * The life of a broadcast.
 *
 *   draft ──schedule──> scheduled ──begin──> preparing ──prepared──> sending ──settle──> finished
 *     ^                    │                     │          pause <──> resume (paused)
 *     └──── call-back ─────┘                     ^   │          └── choose ──> preparing
 *                                                    └── stop ──> stopped <── stop ── (sending, paused)
 *
 * `scheduled` covers the grace too: until `begin`, calling it back leaves a draft and nothing was sent.
 * `choose`: which wording the rest gets, of those who wait while some get several; their messages are made then.
 */
export type BroadcastState =
  | 'draft'
  | 'scheduled'
  | 'preparing'
  | 'sending'
  | 'paused'
  | 'stopped'
  | 'finished';
export type BroadcastEvent =
  | 'schedule'
  | 'call-back'
  | 'begin'
  | 'prepared'
  | 'choose'
  | 'pause'
  | 'resume'
  | 'stop'
  | 'settle';

export const BROADCAST_TRANSITIONS: Record<
  BroadcastState,
  Partial<Record<BroadcastEvent, BroadcastState>>
> = {
  draft: { schedule: 'scheduled' },
  scheduled: { 'call-back': 'draft', begin: 'preparing' },
  preparing: { prepared: 'sending', stop: 'stopped' },
  sending: { choose: 'preparing', pause: 'paused', stop: 'stopped', settle: 'finished' },
  paused: { resume: 'sending', stop: 'stopped' },
  stopped: {},
  finished: {},
};

/** Whether texts of a broadcast in this state may leave, wait for somebody, or are called back. */
export const SEND_GOES: Record<BroadcastState, SendGoes> = {
  draft: 'over',
  scheduled: 'over',
  preparing: 'on',
  sending: 'on',
  paused: 'waits',
  stopped: 'over',
  finished: 'on',
};

export const nextBroadcastState = (state: BroadcastState, event: BroadcastEvent): BroadcastState | null =>
  BROADCAST_TRANSITIONS[state][event] ?? null;

export const BROADCAST_STATE_WORDS: Record<BroadcastState, string> = {
  draft: 'draft',
  scheduled: 'scheduled',
  preparing: 'getting ready',
  sending: 'going out',
  paused: 'paused',
  stopped: 'stopped',
  finished: 'finished',
};
