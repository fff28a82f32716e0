import type { Metadata } from 'next';
import { headers } from 'next/headers';
import { notFound } from 'next/navigation';
import encodeQR from 'qr';
import { unlessGuessed } from '@/services/offers/guesses';
import { readPublicVoucher } from '@/services/offers/public-voucher';
import { getContext } from '@/services/runtime';
import { ADDRESS_HEADER } from '../../address-header';
import { QrPicture } from '@/ui/kit/qr-picture';
import { VoucherMark } from '@/ui/offers/voucher-mark';
import { fullDay } from '@/ui/kit/time';

export const metadata: Metadata = { title: 'Voucher', robots: { index: false } };
export const dynamic = 'force-dynamic';

/** A voucher as its link shows it. It says nothing of who it is for: whoever has the link may see it. */
export default async function VoucherPage({ params }: { params: Promise<{ code: string }> }) {
  const { code } = await params;
  const ctx = await getContext();
  const address = (await headers()).get(ADDRESS_HEADER) ?? 'unknown';
  const voucher = await unlessGuessed(address, () => readPublicVoucher(ctx, code));
  if (!voucher) notFound();
  if (voucher === 'too-many') return <TooMany />;
  return (
    <main id="main" className="mx-auto max-w-sm px-5 py-6 text-center">
      <p className="text-soft">{voucher.business}</p>
      <h1 className="mb-3">{voucher.words}</h1>
      <VoucherMark code={code} state={voucher.state} now={voucher.now.getTime()} zone={voucher.zone} />
      <QrPicture
        rows={encodeQR(voucher.code, 'raw', { ecc: 'medium', border: 4 })}
        label={`QR code of ${voucher.code}`}
        className="mx-auto my-4 w-56"
      />
      <p className="font-mono text-2xl tracking-wider">{voucher.code}</p>
      <p className="mt-4 text-soft">
        {voucher.offer}
        {voucher.place && <>, {voucher.place}</>}
      </p>
      {voucher.state === 'not-yet' && voucher.beginsAt && (
        <p className="text-soft">Counts from {fullDay(voucher.beginsAt, voucher.zone)}.</p>
      )}
      {voucher.endsAt && <p className="text-soft">Until {fullDay(voucher.endsAt, voucher.zone)}.</p>}
    </main>
  );
}

function TooMany() {
  return (
    <main id="main" className="mx-auto max-w-sm px-5 py-12">
      <h1 className="mb-3">Too many codes were tried from here</h1>
      <p className="text-soft">Wait ten minutes, then open the link of your text again.</p>
    </main>
  );
}
