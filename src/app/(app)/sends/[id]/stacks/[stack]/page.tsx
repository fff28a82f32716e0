import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { notFound } from 'next/navigation';
import { readStack } from '@/services/stacks/screen';
import { count, plural } from '@/ui/kit/numbers';
import { Page, Section } from '@/ui/kit/page';
import { PressedList } from '@/ui/stacks/pressed-list';
import { readScreen } from '../../../../../session';

export const metadata: Metadata = { title: 'A stack' };

/** Reading along: it shows by itself what whoever has the stack presses, and what people write back. */
export default async function ReadStackPage({ params }: { params: Promise<{ id: string; stack: string }> }) {
  const { id, stack } = await params;
  const { data, session, now } = await readScreen((scope, _, at) => readStack(scope, id, stack, at));
  if (!data) notFound();
  const { broadcast, counts, next, pressed } = data;
  return (
    <Page
      title={`The stack of ${counts.name}`}
      actions={
        <Link href={`/sends/${id}/stacks`} className="button">
          All stacks
        </Link>
      }
      margin={
        <Section title="Who is next">
          {next.length === 0 ? (
            <p className="text-soft">
              {counts.ended_at ? 'The stack was ended.' : 'Nobody can be pressed now.'}
            </p>
          ) : (
            <ol>
              {next.map((row) => (
                <li key={row.id} className="border-b border-rule py-2">
                  {[row.first_name, row.last_name].filter(Boolean).join(' ') || 'No name known'}
                  <span className="block text-sm text-soft [overflow-wrap:anywhere]">{row.body}</span>
                </li>
              ))}
            </ol>
          )}
        </Section>
      }
    >
      <p className="mb-4 text-soft">
        {broadcast.name}: {count(counts.to_send)} left to press, {count(counts.pressed)} pressed,{' '}
        {count(counts.replied)} replied, {plural(counts.waiting, 'waits', 'wait')} for an answer. This page
        follows by itself. An answer you give in a thread stands there under your name, in the place of{' '}
        {counts.name}.
      </p>
      <PressedList rows={pressed} now={now} zone={session.workspaceZone} />
    </Page>
  );
}
