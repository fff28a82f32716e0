import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { notFound } from 'next/navigation';
import { findItem } from '@/services/items/items';
import { keptPictures } from '@/services/media/files';
import { ItemForm } from '@/ui/items/item-form';
import { Page, Section } from '@/ui/kit/page';
import { PlainForm } from '@/ui/kit/plain-form';
import { localTime } from '@/ui/kit/time';
import { ShownFiles } from '@/ui/media/shown-files';
import { readScreen } from '../../../../session';
import { dropItemAction, putItemAction } from '../actions';

export const metadata: Metadata = { title: 'What is on' };

export default async function ItemPage({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  const { data, session } = await readScreen(async (scope) => ({
    found: await findItem(scope, id),
    pictures: (await keptPictures(scope)).map(({ id: key, name }) => ({ id: key, name })),
  }));
  if (!data.found) notFound();
  const { item, files } = data.found;
  const local = (at: Date | null) => (at ? localTime(at.getTime(), session.workspaceZone) : '');
  return (
    <Page
      title={`${item.number} ${item.name}`}
      margin={
        <>
          {files.length > 0 && (
            <Section title="Picture">
              <ShownFiles files={files} />
            </Section>
          )}
          <Section title="Offer it no more">
            <p className="mb-2 text-sm text-soft">Texts that name it still do; the check says so.</p>
            <PlainForm action={dropItemAction} submit="Put it away" hidden={{ item: id }} />
          </Section>
        </>
      }
    >
      <p className="mb-4">
        <Link className="link" href="/sends/items">
          All that is on
        </Link>
      </p>
      <div className="max-w-xl">
        <ItemForm
          action={putItemAction}
          pictures={data.pictures}
          item={{
            ...{
              number: item.number,
              kind: item.kind,
              name: item.name,
              place: item.place,
              price: item.price,
            },
            ...{ link: item.url, picture: item.mediaId ?? '', allDay: item.allDay, state: item.state },
            ...{ starts: local(item.startsAt), ends: local(item.endsAt) },
          }}
        />
      </div>
    </Page>
  );
}
