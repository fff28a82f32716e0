import { Mark } from '@/ui/kit/mark';
import { count } from '@/ui/kit/numbers';

const STATES = {
  draft: ['plain', 'draft'],
  running: ['good', 'running'],
  paused: ['wait', 'paused'],
  stopped: ['plain', 'ended for all'],
} as const;

export function SequenceState({ state, grace }: { state: keyof typeof STATES; grace: number }) {
  const [tone, words] = STATES[state];
  return (
    <Mark tone={tone}>
      {words}
      {grace > 0 && `, ${count(grace)} in their grace`}
    </Mark>
  );
}
