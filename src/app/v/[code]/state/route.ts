import { openVoucher } from '@/services/offers/public-voucher';
import { getContext } from '@/services/runtime';

export const dynamic = 'force-dynamic';

/** What a voucher that is being looked at is worth now. */
export async function POST(_: Request, { params }: { params: Promise<{ code: string }> }): Promise<Response> {
  const state = await openVoucher(await getContext(), (await params).code);
  const headers = { 'cache-control': 'no-store' };
  return state === null
    ? Response.json({ message: 'There is no such voucher.' }, { status: 404, headers })
    : Response.json({ state }, { headers });
}
