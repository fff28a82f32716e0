import { parseCode, showCode } from '@/core/offer/code';
import type { VoucherState } from '@/core/offer/voucher';
import { publicVoucher, noteOpened } from '@/db/offers/public';
import { acrossWorkspaces } from '@/db/kit/scope';
import type { Context } from '@/services/kit/context';
import { worthOf } from './worth';

export interface PublicVoucher {
  state: VoucherState;
  code: string;
  business: string;
  offer: string;
  words: string;
  place: string;
  zone: string;
  endsAt: Date | null;
  beginsAt: Date | null;
  now: Date;
}

/** What the link of a voucher shows to whoever has it. Null: there is none with this code. */
export async function readPublicVoucher(ctx: Context, typed: string): Promise<PublicVoucher | null> {
  const code = parseCode(typed);
  if (!code.ok) return null;
  const row = await acrossWorkspaces(ctx.orm, (crossing) => publicVoucher(crossing, code.value));
  if (!row) return null;
  const now = ctx.now();
  const { state, end } = worthOf(row, now);
  return {
    ...{ state, code: showCode(code.value), now: new Date(now) },
    ...{ business: row.business, offer: row.offer, words: row.words, place: row.place, zone: row.zone },
    ...{ endsAt: end === null ? null : new Date(end), beginsAt: row.from_at },
  };
}

/** A page that was drawn by a person's browser asks for its state; a robot that looks at a link does not. */
export async function openVoucher(ctx: Context, typed: string): Promise<VoucherState | null> {
  const code = parseCode(typed);
  if (!code.ok) return null;
  await acrossWorkspaces(ctx.orm, (crossing) => noteOpened(crossing, code.value, new Date(ctx.now())));
  return (await readPublicVoucher(ctx, typed))?.state ?? null;
}
