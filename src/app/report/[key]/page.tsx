import type { Metadata } from 'next';
import { notFound } from 'next/navigation';
import { readSharedReport } from '@/services/results/reports';
import { getContext } from '@/services/runtime';
import { ResultTables } from '@/ui/results/result-tables';
import { spanWords } from '@/ui/results/results-frame';

export const metadata: Metadata = { title: 'Report', robots: { index: false } };
export const dynamic = 'force-dynamic';

/** A report for whoever holds its link: counts, nothing of any person. */
export default async function SharedReportPage({ params }: { params: Promise<{ key: string }> }) {
  const shown = await readSharedReport(await getContext(), (await params).key);
  if (!shown) notFound();
  return (
    <main id="main" className="mx-auto max-w-(--page) px-4 py-6">
      <h1>{shown.name}</h1>
      <p className="mb-5 text-soft">
        {shown.business}, {spanWords(shown.span)}
      </p>
      <ResultTables tables={shown.tables} />
    </main>
  );
}
