import type { Metadata } from 'next';
import { readThings } from '@/services/people/people-screen';
import { Page, Section } from '@/ui/kit/page';
import { ScanDesk } from '@/ui/people/scan-desk';
import { readScreen } from '../../../session';
import { keepCardAction } from './actions';

export const metadata: Metadata = { title: 'Scan a card' };

export default async function ScanPage() {
  const { data } = await readScreen((scope) => readThings(scope));
  return (
    <Page
      title="Scan a card"
      margin={
        <Section title="What follows">
          <p className="text-soft">
            A QR code with a vCard or a number. Somebody who is here already is updated, and the tags are put
            on just the same. A scan is no consent: let them text a keyword, or give the words they agreed to.
          </p>
        </Section>
      }
    >
      <ScanDesk
        tags={data.filter(({ kind }) => kind === 'tag').map(({ name }) => name)}
        save={keepCardAction}
      />
    </Page>
  );
}
