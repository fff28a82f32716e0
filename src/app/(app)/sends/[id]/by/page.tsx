import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { notFound } from 'next/navigation';
import { BY_WORDS, isBy, readOutcomes } from '@/services/sends/outcomes';
import { findBroadcast } from '@/services/sends/screen';
import { ListTable } from '@/ui/kit/list-table';
import { Page } from '@/ui/kit/page';
import { outcomeColumns } from '@/ui/sends/outcome-columns';
import { readScreen } from '../../../../session';

export const metadata: Metadata = { title: 'What became of it' };

/** What became of a broadcast, by what its people have in common. */
export default async function ByPage({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>;
  searchParams: Promise<{ by?: string }>;
}) {
  const { id } = await params;
  const { by = 'hour' } = await searchParams;
  if (!isBy(by)) notFound();
  const { data } = await readScreen(async (scope, { accountId, workspaceZone: zone }, now) => ({
    broadcast: await findBroadcast(scope, id),
    lines: await readOutcomes(scope, { id, by, zone, accountId, now }),
  }));
  if (!data.broadcast) notFound();
  const several = data.broadcast.comparison !== null;
  return (
    <Page
      title={`${data.broadcast.name}, by ${BY_WORDS[by]}`}
      actions={
        <Link href={`/sends/${id}`} className="button">
          Back to the broadcast
        </Link>
      }
    >
      <nav aria-label="By" className="mb-4 flex flex-wrap gap-x-5">
        {Object.entries(BY_WORDS)
          .filter(([one]) => one !== 'wording' || several)
          .map(([one, words]) => (
            <Link
              key={one}
              href={`/sends/${id}/by?by=${one}`}
              className={one === by ? 'border-b-2 border-accent font-semibold' : 'link'}
              aria-current={one === by ? 'page' : undefined}
            >
              {words}
            </Link>
          ))}
      </nav>
      <ListTable
        label="What became of it"
        rows={data.lines}
        rowKey={({ label }) => label}
        columns={outcomeColumns(BY_WORDS[by])}
        empty="Nothing has left yet, or nobody stands in such a group."
      />
      <p className="mt-2 text-sm text-soft">
        Shares are of people it was delivered to, with their 95 % interval: where two overlap much, the
        difference may be chance.
      </p>
    </Page>
  );
}
