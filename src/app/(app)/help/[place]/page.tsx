import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { notFound } from 'next/navigation';
import { helpFor } from '@/ui/help/pages';
import { Page, Section } from '@/ui/kit/page';
import { requireSession } from '../../../session';

export const metadata: Metadata = { title: 'Help' };

export default async function HelpPlacePage({ params }: { params: Promise<{ place: string }> }) {
  await requireSession();
  const page = helpFor((await params).place);
  if (!page) notFound();
  return (
    <Page
      title={page.title}
      actions={
        <>
          <Link href={page.href} className="button button-main">
            Go there
          </Link>
          <Link href="/help" className="button">
            All help
          </Link>
        </>
      }
    >
      <p className="mb-6 max-w-prose">{page.what}</p>
      <Section title="What one does here">
        <ol className="list-decimal pl-5">
          {page.steps.map((step) => (
            <li key={step} className="max-w-prose py-1">
              {step}
            </li>
          ))}
        </ol>
      </Section>
      <Section title="Words">
        <dl className="max-w-prose">
          {page.words.map(([word, meaning]) => (
            <div key={word} className="border-b border-rule py-2">
              <dt>{word}</dt>
              <dd className="text-soft">{meaning}</dd>
            </div>
          ))}
        </dl>
      </Section>
    </Page>
  );
}
