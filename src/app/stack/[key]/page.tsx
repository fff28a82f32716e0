import type { Metadata } from 'next';
import { notFound } from 'next/navigation';
import { getContext } from '@/services/runtime';
import { inStackOf, openDesk } from '@/services/stacks/press';
import { StackDesk } from '@/ui/stacks/stack-desk';

export const metadata: Metadata = { title: 'Your stack', robots: { index: false } };
export const dynamic = 'force-dynamic';

/** The desk of somebody who was invited for this alone: their own stack, and nothing else of the house. */
export default async function GuestStackPage({ params }: { params: Promise<{ key: string }> }) {
  const { key } = await params;
  const ctx = await getContext();
  const desk = await inStackOf(ctx, key, (scope, stackId) => openDesk(ctx, scope, stackId));
  if (!desk) notFound();
  return (
    <main id="main" className="mx-auto max-w-2xl px-4 py-5">
      <h1 className="mb-1">{desk.broadcast.name}</h1>
      <p className="mb-5 text-soft">
        The people of {desk.stack.name}. Each gets the text when you press, and only then.
      </p>
      <StackDesk first={desk} path={`/stack/${key}/desk`} more={{}} guest />
    </main>
  );
}
