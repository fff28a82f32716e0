import type { Metadata } from 'next';
import { notFound } from 'next/navigation';
import { readPublicPage } from '@/services/registration/screen';
import { getContext } from '@/services/runtime';

export const metadata: Metadata = { title: 'About our texts' };
export const dynamic = 'force-dynamic';

const TITLES: Readonly<Record<string, string>> = { privacy: 'Privacy', terms: 'Terms of our texts' };

/** The privacy page and the terms of a business, for its people and for reviewers of its numbers. */
export default async function AboutPage({ params }: { params: Promise<{ slug: string; page: string }> }) {
  const { slug, page } = await params;
  if (page !== 'privacy' && page !== 'terms') notFound();
  const shown = await readPublicPage(await getContext(), slug, page);
  if (!shown) notFound();
  return (
    <main id="main" className="mx-auto max-w-2xl px-4 py-8">
      <p className="text-soft">{shown.business}</p>
      <h1 className="mb-4">{TITLES[page]}</h1>
      {shown.sections.map(({ title, paragraphs }) => (
        <section key={title} className="mb-5">
          <h2 className="mb-1">{title}</h2>
          {paragraphs.map((words) => (
            <p key={words} className="mb-2 [overflow-wrap:anywhere]">
              {words}
            </p>
          ))}
        </section>
      ))}
      <nav aria-label="Both pages" className="border-t border-rule pt-3">
        <a className="link" href={page === 'privacy' ? 'terms' : 'privacy'}>
          {TITLES[page === 'privacy' ? 'terms' : 'privacy']}
        </a>
      </nav>
    </main>
  );
}
