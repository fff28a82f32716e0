import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { notFound } from 'next/navigation';
import { may } from '@/core/access/roles';
import { readPosterScreen } from '@/services/posters/screen';
import { PlainForm } from '@/ui/kit/plain-form';
import { PosterDesk } from '@/ui/posters/poster-desk';
import { readScreen } from '../../../../session';
import { removePosterAction, savePosterAction } from '../actions';

export const metadata: Metadata = { title: 'Poster' };

export default async function PosterPage({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  const { data, session } = await readScreen((scope) => readPosterScreen(scope, id));
  if (!data) notFound();
  const { poster, of, pictures, svg, findings } = data;
  const mayEdit = may(session.role, 'edit-programs');
  return (
    <main id="main" className="mx-auto max-w-(--page) px-4 py-5 sm:px-6">
      <Link className="link text-sm" href={of.href}>
        {of.name}
      </Link>
      <h1 className="mb-4">Poster</h1>
      <PosterDesk
        poster={{ id, stamp: poster.stamp, document: poster.document }}
        first={{ svg, findings }}
        pictures={pictures}
        mayEdit={mayEdit}
        save={savePosterAction}
      >
        {mayEdit && (
          <PlainForm action={removePosterAction} submit="Throw it away" hidden={{ id, back: of.href }} />
        )}
      </PosterDesk>
    </main>
  );
}
