import type { Metadata } from 'next';
import { notFound } from 'next/navigation';
import { letterOf } from '@/core/broadcast/wordings';
import { wilson } from '@/core/results/rates';
import { getContext } from '@/services/runtime';
import { readShared } from '@/services/sends/share-result';
import { ListTable } from '@/ui/kit/list-table';
import { Mark } from '@/ui/kit/mark';
import { count } from '@/ui/kit/numbers';
import { Section } from '@/ui/kit/page';
import { dayAndTime, fullDay } from '@/ui/kit/time';
import { RateLine } from '@/ui/results/result-lines';
import { readable } from '@/ui/sends/readable';

export const metadata: Metadata = { title: 'Result of a broadcast', robots: { index: false } };
export const dynamic = 'force-dynamic';

/** What became of a broadcast, for somebody without an account: counts and words, nothing of any person. */
export default async function SharedPage({ params }: { params: Promise<{ key: string }> }) {
  const shared = await readShared(await getContext(), (await params).key);
  if (!shared) notFound();
  const { result, zone, wordings, by } = shared;
  const lines = [
    { label: 'people', n: result.people, rate: null },
    { label: 'delivered', n: result.delivered, rate: result.deliveryRate },
    { label: 'replied', n: result.replies, rate: result.replyRate },
    { label: 'followed a link', n: result.clicks, rate: result.clickRate },
    { label: 'opted out', n: result.optOuts, rate: result.optOutRate },
    { label: 'still on the way', n: result.open, rate: null },
  ];
  return (
    <main id="main" className="mx-auto max-w-3xl px-5 py-8">
      <p className="text-soft">{shared.business}</p>
      <h1 className="mb-1">{shared.name}</h1>
      <p className="mb-6 text-soft">
        {shared.program}
        {shared.begunAt && `, began ${dayAndTime(shared.begunAt, zone)} (${zone.replace('_', ' ')})`}
      </p>
      <Section title="What became of it">
        <ListTable
          label="What became of it"
          rows={lines}
          rowKey={({ label }) => label}
          columns={[
            { title: 'Who', cell: ({ label }) => label },
            { title: 'People', kind: 'number', cell: ({ n }) => count(n) },
            { title: 'Share', kind: 'number', cell: ({ rate }) => (rate ? <RateLine rate={rate} /> : null) },
          ]}
          empty="Nothing was sent yet."
        />
      </Section>
      <div className="mt-8">
        <Section title={wordings.length > 1 ? 'The wordings' : 'The words'}>
          {wordings.map(({ body, people, delivered, acts }, i) => (
            <div key={i} className="border-b border-rule py-2">
              <p className="whitespace-pre-wrap [overflow-wrap:anywhere]">
                {wordings.length > 1 && <strong>{letterOf(i)} </strong>}
                {readable(body)}
              </p>
              {by && (
                <p className="text-sm text-soft">
                  {count(people)} people, <RateLine rate={wilson(Math.min(acts, delivered), delivered)} />{' '}
                  {by === 'replies' ? 'replied' : by === 'clicks' ? 'clicked' : 'opted out'}{' '}
                  {shared.better === i && <Mark tone="good">better, and that is no chance</Mark>}
                </p>
              )}
            </div>
          ))}
        </Section>
      </div>
      <p className="mt-8 text-sm text-soft">
        This page ends on {fullDay(shared.endsAt, zone)}. Intervals are of 95 %.
      </p>
    </main>
  );
}
