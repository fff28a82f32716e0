import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { HELP } from '@/ui/help/pages';
import { Page, Section } from '@/ui/kit/page';
import { requireSession } from '../../session';

export const metadata: Metadata = { title: 'Help' };

export default async function HelpIndexPage() {
  await requireSession();
  const words = HELP.flatMap((page) => page.words.map(([word]) => ({ word, page }))).sort((a, b) =>
    a.word.localeCompare(b.word),
  );
  return (
    <Page title="Help">
      <Section title="Places">
        <ul>
          {HELP.map(({ place, title, what }) => (
            <li key={place} className="border-b border-rule py-2">
              <Link className="link" href={`/help/${place}`}>
                {title}
              </Link>
              <p className="max-w-prose text-soft">{what}</p>
            </li>
          ))}
        </ul>
      </Section>
      <Section title="Words">
        <ul className="columns-2 gap-8 sm:columns-3">
          {words.map(({ word, page }) => (
            <li key={word}>
              <Link className="link" href={`/help/${page.place}`}>
                {word}
              </Link>
            </li>
          ))}
        </ul>
      </Section>
    </Page>
  );
}
