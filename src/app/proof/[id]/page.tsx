import type { Metadata } from 'next';
import { notFound } from 'next/navigation';
import { publicProof } from '@/services/results/proofs';
import { getContext } from '@/services/runtime';
import { Facts } from '@/ui/kit/page';

export const metadata: Metadata = { title: 'Proof', robots: { index: false } };
export const dynamic = 'force-dynamic';

/** That a proof was made, when, and its hash: for whoever was given one. Nothing of what stands in it. */
export default async function PublicProofPage({ params }: { params: Promise<{ id: string }> }) {
  const proof = await publicProof(await getContext(), (await params).id);
  if (!proof) notFound();
  return (
    <main id="main" className="mx-auto max-w-3xl px-4 py-8">
      <h1 className="mb-3">A proof was made here</h1>
      <Facts
        rows={[
          ['By', proof.business],
          ['On', proof.madeAt.toISOString()],
          ['SHA-256 of the document', <code key="hash">{proof.hash}</code>],
        ]}
      />
      <p className="mt-4 text-soft">
        The hash is that of the JSON document without its member “hash”: names of members in order, nothing
        between them, UTF-8. If yours has another, it is not the document that was made here.
      </p>
    </main>
  );
}
