import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { notFound } from 'next/navigation';
import { may } from '@/core/access/roles';
import { readOfferScreen } from '@/services/offers/screen';
import { ListTable } from '@/ui/kit/list-table';
import { count, percent } from '@/ui/kit/numbers';
import { Empty, Facts, Page, Section } from '@/ui/kit/page';
import { PlainForm } from '@/ui/kit/plain-form';
import { localTime } from '@/ui/kit/time';
import { OfferChart } from '@/ui/offers/offer-chart';
import { OfferForm } from '@/ui/offers/offer-form';
import { OfferState } from '@/ui/offers/offer-state';
import { readScreen } from '../../../../session';
import { changeOfferAction, endOfferAction } from '../actions';

export const metadata: Metadata = { title: 'Offer' };

export default async function OfferPage({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  const { data, session, now } = await readScreen((scope, _, at) => readOfferScreen(scope, id, at));
  if (!data) notFound();
  const { offer, result, zone, keywords } = data;
  const local = (at: Date | null) => (at ? localTime(at, zone) : '');
  const typed = {
    ...{ id, stamp: offer.stamp, name: offer.name, words: offer.words, place: offer.place },
    ...{ days: String(offer.days ?? ''), uses: String(offer.uses), most: String(offer.most ?? '') },
    ...{ from: local(offer.fromAt), to: local(offer.toAt) },
  };
  const mayEdit = may(session.role, 'edit-programs');
  const share = (n: number) => (result.made === 0 ? '' : ` (${percent(n / result.made)})`);
  return (
    <Page
      title={offer.name}
      margin={
        <>
          <Section title="What came of it">
            <Facts
              rows={[
                ['state', <OfferState key="state" offer={offer} now={now} />],
                ['given', count(result.made) + (offer.most ? ` of ${count(offer.most)}` : '')],
                ['delivered', count(result.received) + share(result.received)],
                ['opened', count(result.opened) + share(result.opened)],
                ['used', count(result.redeemed) + share(result.redeemed)],
                ...(offer.uses > 1 ? [['uses in all', count(result.uses)] as [string, string]] : []),
                ['let end', count(result.expired) + share(result.expired)],
                ['half used it within', result.median_hours === null ? '…' : spanOf(result.median_hours)],
              ]}
            />
          </Section>
          <Section title="On these keywords">
            {keywords.length === 0 ? (
              <p className="text-soft">
                On none: nobody gets it. Open a keyword under{' '}
                <Link href="/programs" className="link">
                  Programs
                </Link>{' '}
                and choose it there.
              </p>
            ) : (
              <ul>
                {keywords.map(({ id: key, word }) => (
                  <li key={key} className="border-b border-rule py-1">
                    <Link className="link font-semibold" href={`/programs/keywords/${key}`}>
                      {word.toUpperCase()}
                    </Link>
                  </li>
                ))}
              </ul>
            )}
          </Section>
        </>
      }
    >
      <Section title="Given and used">
        {result.by_day.length === 0 ? (
          <Empty>Nobody has got a voucher yet.</Empty>
        ) : (
          <OfferChart days={result.by_day} />
        )}
      </Section>
      {result.by_keyword.length > 0 && (
        <Section title="By keyword">
          <ListTable
            label="By keyword"
            rows={result.by_keyword}
            rowKey={({ keyword }) => keyword ?? ''}
            empty="Nobody has got a voucher yet."
            columns={[
              { title: 'Keyword', cell: ({ keyword }) => keyword?.toUpperCase() ?? 'otherwise' },
              { title: 'Given', kind: 'number', cell: ({ made }) => count(made) },
              { title: 'Used', kind: 'number', cell: ({ redeemed }) => count(redeemed) },
              {
                title: 'Share',
                kind: 'number',
                cell: ({ made, redeemed }) => (made === 0 ? '…' : percent(redeemed / made)),
              },
            ]}
          />
        </Section>
      )}
      {mayEdit && (
        <Section title="Its terms">
          <OfferForm action={changeOfferAction} submit="Save the change" offer={typed} />
          <p className="mt-2 mb-3 text-sm text-soft">
            A change holds for vouchers to come. Of those that were given, what they say, from when and until
            when change with it; how often and how many days they count do not.
          </p>
          <PlainForm
            action={endOfferAction}
            submit={offer.archivedAt ? 'Bring it back' : 'End it now: no voucher counts any more'}
            hidden={{
              ...Object.fromEntries(Object.entries(typed).map(([name, value]) => [name, String(value)])),
              archived: offer.archivedAt ? 'no' : 'yes',
            }}
          />
        </Section>
      )}
    </Page>
  );
}

const spanOf = (hours: number): string =>
  hours < 48 ? `${Math.round(hours * 10) / 10} h` : `${Math.round(hours / 24)} days`;
