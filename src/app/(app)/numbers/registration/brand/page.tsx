import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { may } from '@/core/access/roles';
import { mustsOf } from '@/core/registration/check';
import { readBrandScreen } from '@/services/registration/screen';
import { BrandDesk } from '@/ui/registration/brand-desk';
import { StandingSection } from '@/ui/registration/standing';
import { readScreen } from '../../../../session';
import { handInAction, keepBrandAction, takeBackAction } from '../actions';

export const metadata: Metadata = { title: 'The business' };

/** What a reviewer is told of the business. */
export default async function BrandPage() {
  const { data, session } = await readScreen((scope, _, now) => readBrandScreen(scope, now));
  const { line, account, steps, file, stamp, business, contact, addresses } = data;
  return (
    <main id="main" className="mx-auto max-w-(--page) px-4 py-5 sm:px-6">
      <Link className="link text-sm" href="/numbers/registration">
        Registration
      </Link>
      <h1 className="mb-4">{business}</h1>
      <BrandDesk
        {...{ file, stamp, business, contact, addresses }}
        save={may(session.role, 'manage-keys') ? keepBrandAction : null}
      >
        <StandingSection
          {...{
            about: 'brand',
            subject: '',
            row: line.row,
            forecast: line.forecast,
            broken: line.broken,
            steps,
          }}
          blocked={mustsOf(line.found).length > 0}
          registrar={account?.name ?? null}
          zone={session.workspaceZone}
          acts={
            may(session.role, 'edit-programs') ? { handIn: handInAction, takeBack: takeBackAction } : null
          }
        />
      </BrandDesk>
    </main>
  );
}
