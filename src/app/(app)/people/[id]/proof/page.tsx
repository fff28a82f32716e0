import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { notFound } from 'next/navigation';
import { displayNumber } from '@/core/phone/number';
import { readProofs } from '@/services/results/proofs';
import { ListTable } from '@/ui/kit/list-table';
import { count } from '@/ui/kit/numbers';
import { Page, Section } from '@/ui/kit/page';
import { PlainForm } from '@/ui/kit/plain-form';
import { dayAndTime } from '@/ui/kit/time';
import { readScreen } from '../../../../session';
import { checkProofAction, makeProofAction } from './actions';
import { CheckProof } from '@/ui/results/check-proof';

export const metadata: Metadata = { title: 'Proof' };

export default async function ProofPage({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  const { data, session } = await readScreen((scope) => readProofs(scope, id));
  if (!data) notFound();
  const { addresses, proofs } = data;
  return (
    <Page
      title="Proof for a complaint"
      actions={
        <Link href={`/people/${id}`} className="button">
          Back to the person
        </Link>
      }
      margin={
        <Section title="Check one">
          <p className="mb-2 text-sm text-soft">
            Somebody shows you a proof: is it what was made here, unchanged?
          </p>
          <CheckProof action={checkProofAction} />
        </Section>
      }
    >
      <Section title="Make one">
        <p className="mb-3 max-w-prose text-soft">
          Everything that went to an address, each with the consent it rested on and what clearance found;
          what they wrote; when they left, and what went after that. As it is now: a later one may hold more.
        </p>
        {addresses.length === 0 ? (
          <p>They have no number and no e-mail address.</p>
        ) : (
          <PlainForm
            action={makeProofAction}
            submit="Make the proof"
            main
            fields={[
              {
                name: 'address',
                label: 'Of which address',
                options: addresses.map((value) => ({ value, label: displayNumber(value) })),
                initial: addresses[0]!,
              },
            ]}
          />
        )}
      </Section>
      <Section title="Made so far">
        <ListTable
          label="Proofs"
          rows={proofs}
          columns={[
            { title: 'Made', kind: 'when', cell: ({ madeAt }) => dayAndTime(madeAt, session.workspaceZone) },
            { title: 'Of', cell: ({ document }) => (document ? displayNumber(document.address) : '') },
            {
              title: 'Messages',
              kind: 'number',
              cell: ({ document }) => count(document?.messages.length ?? 0),
            },
            {
              title: 'After they left',
              kind: 'number',
              cell: ({ document }) => count(document?.went_after.length ?? 0),
            },
            {
              title: 'Take along',
              cell: (proof) => (
                <>
                  <a className="link mr-3" href={`/people/${id}/proof/${proof.id}?format=pdf`} download>
                    PDF
                  </a>
                  <a className="link" href={`/people/${id}/proof/${proof.id}`} download>
                    JSON
                  </a>
                </>
              ),
            },
            {
              title: 'To be compared at',
              cell: (proof) => (
                <Link className="link" href={`/proof/${proof.id}`}>
                  its hash
                </Link>
              ),
            },
          ]}
          rowKey={({ id: proof }) => proof}
          empty="None yet."
        />
      </Section>
    </Page>
  );
}
