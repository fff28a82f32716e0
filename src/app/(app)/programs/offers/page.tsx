import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { may } from '@/core/access/roles';
import { readOffers } from '@/services/offers/screen';
import { ListTable } from '@/ui/kit/list-table';
import { Mark } from '@/ui/kit/mark';
import { count, plural } from '@/ui/kit/numbers';
import { Page, Section } from '@/ui/kit/page';
import { dayAndTime } from '@/ui/kit/time';
import { OfferForm } from '@/ui/offers/offer-form';
import { OfferState } from '@/ui/offers/offer-state';
import { readScreen } from '../../../session';
import { createOfferAction } from './actions';

export const metadata: Metadata = { title: 'Offers' };

export default async function OffersPage() {
  const {
    data: { offers, wrong },
    session,
    now,
  } = await readScreen((scope, _, at) => readOffers(scope, at));
  const zone = session.workspaceZone;
  return (
    <Page
      title="Offers"
      actions={
        <Link href="/counter" className="button">
          The counter
        </Link>
      }
      margin={
        <>
          <p className="mb-6 text-soft">
            An offer rides on a keyword: whoever joins by it gets a voucher of their own, shows its code or
            its link at the counter, and it is used up there.
          </p>
          {wrong.length > 0 && (
            <Section title="Wrong codes today">
              <ul>
                {wrong.map(({ account_id: key, name, n, last }) => (
                  <li key={key ?? 'api'} className="border-b border-rule py-1">
                    <Mark tone={n >= 10 ? 'bad' : 'plain'}>{plural(n, 'code')}</Mark>{' '}
                    <span className="text-soft">
                      by {name ?? 'a key of the API'}, last {dayAndTime(last, zone)}
                    </span>
                  </li>
                ))}
              </ul>
              <p className="mt-1 text-sm text-soft">After ten within ten minutes a till waits ten minutes.</p>
            </Section>
          )}
        </>
      }
    >
      <ListTable
        label="Offers"
        rows={offers}
        rowKey={({ offer }) => offer.id}
        empty="No offer yet: make the first below, then put it on a keyword."
        columns={[
          {
            title: 'Offer',
            cell: ({ offer }) => (
              <>
                <Link href={`/programs/offers/${offer.id}`} className="link">
                  {offer.name}
                </Link>{' '}
                <span className="text-sm text-soft">{offer.words}</span>
              </>
            ),
          },
          { title: 'State', cell: ({ offer }) => <OfferState offer={offer} now={now} /> },
          {
            title: 'Given',
            kind: 'number',
            cell: ({ offer, result }) => count(result.made) + (offer.most ? ` of ${count(offer.most)}` : ''),
          },
          { title: 'Opened', kind: 'number', cell: ({ result }) => count(result.opened) },
          { title: 'Used', kind: 'number', cell: ({ result }) => count(result.redeemed) },
          { title: 'Let end', kind: 'number', cell: ({ result }) => count(result.expired) },
        ]}
      />
      {may(session.role, 'edit-programs') && (
        <Section title="A new offer">
          <OfferForm action={createOfferAction} submit="Make the offer" />
        </Section>
      )}
    </Page>
  );
}
