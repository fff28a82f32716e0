import { unlessGuessed } from '@/services/offers/guesses';
import { openVoucher } from '@/services/offers/public-voucher';
import { getContext } from '@/services/runtime';
import { ADDRESS_HEADER } from '../../../address-header';

export const dynamic = 'force-dynamic';

/** What a voucher that is being looked at is worth now. */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ code: string }> },
): Promise<Response> {
  const { code } = await params;
  const ctx = await getContext();
  const address = request.headers.get(ADDRESS_HEADER) ?? 'unknown';
  const state = await unlessGuessed(address, () => openVoucher(ctx, code));
  const headers = { 'cache-control': 'no-store' };
  if (state === 'too-many')
    return Response.json({ message: 'Too many codes were tried from here.' }, { status: 429, headers });
  return state === null
    ? Response.json({ message: 'There is no such voucher.' }, { status: 404, headers })
    : Response.json({ state }, { headers });
}
