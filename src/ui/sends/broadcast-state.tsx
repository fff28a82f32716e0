import { BROADCAST_STATE_WORDS, type BroadcastState } from '@/core/broadcast/lifecycle';
import { Mark, type Tone } from '@/ui/kit/mark';

const TONES: Record<BroadcastState, Tone> = {
  draft: 'plain',
  scheduled: 'wait',
  preparing: 'wait',
  sending: 'wait',
  paused: 'bad',
  stopped: 'bad',
  finished: 'good',
};

export const BroadcastMark = ({ state }: { state: BroadcastState }) => (
  <Mark tone={TONES[state]}>{BROADCAST_STATE_WORDS[state]}</Mark>
);
