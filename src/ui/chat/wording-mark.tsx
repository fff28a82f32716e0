import { WORDING_STATE_WORDS, type WordingState } from '@/core/chat/wording-life';
import { Mark, type Tone } from '@/ui/kit/mark';

const TONES: Record<WordingState, Tone> = {
  ...{
    draft: 'plain',
    'in-review': 'wait',
    approved: 'good',
    refused: 'bad',
    paused: 'wait',
    withdrawn: 'plain',
  },
};

export const WordingMark = ({ state }: { state: WordingState }) => (
  <Mark tone={TONES[state]}>{WORDING_STATE_WORDS[state]}</Mark>
);
