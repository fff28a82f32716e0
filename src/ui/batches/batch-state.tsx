import type { BatchState } from '@/core/batch/batch';
import { Mark, type Tone } from '@/ui/kit/mark';

const STATES: Record<BatchState, { tone: Tone; words: string }> = {
  waiting: { tone: 'wait', words: 'waiting' },
  running: { tone: 'wait', words: 'under way' },
  finished: { tone: 'good', words: 'done' },
  stopped: { tone: 'plain', words: 'stopped' },
  undoing: { tone: 'wait', words: 'being undone' },
  undone: { tone: 'plain', words: 'undone' },
};

export const BatchStateMark = ({ state }: { state: BatchState }) => (
  <Mark tone={STATES[state].tone}>{STATES[state].words}</Mark>
);
