import type { ImportState } from '@/core/import/lifecycle';
import { Mark, type Tone } from '@/ui/kit/mark';

const STATES: Record<ImportState, { tone: Tone; words: string }> = {
  draft: { tone: 'plain', words: 'not begun' },
  checking: { tone: 'wait', words: 'trial run' },
  checked: { tone: 'plain', words: 'tried, not run' },
  running: { tone: 'wait', words: 'under way' },
  finished: { tone: 'good', words: 'done' },
  stopped: { tone: 'plain', words: 'stopped' },
  failed: { tone: 'bad', words: 'cannot be read' },
  undoing: { tone: 'wait', words: 'being undone' },
  undone: { tone: 'plain', words: 'undone' },
};

export const ImportStateMark = ({ state }: { state: ImportState }) => (
  <Mark tone={STATES[state].tone}>{STATES[state].words}</Mark>
);
