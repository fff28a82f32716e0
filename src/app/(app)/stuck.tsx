import { readTroubles } from '@/services/stuck';
import { Section } from '@/ui/kit/page';
import { StuckList } from '@/ui/today/stuck-list';
import { readScreen } from '../session';
import { stuckAction } from './stuck-actions';

/** What the worker could not do about one thing, on its own page. */
export async function Stuck({ id }: { id: string }) {
  const { data, session, now } = await readScreen((scope) => readTroubles(scope, id));
  if (data.length === 0) return null;
  return (
    <Section title="Stuck">
      <StuckList rows={data} act={stuckAction} now={now} zone={session.workspaceZone} />
    </Section>
  );
}
