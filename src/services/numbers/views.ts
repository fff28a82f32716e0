import type { Offer } from '@/core/numbers/stock';
import type { CarrierRow } from '@/db/delivery/entities';
import type { NumberOrder, NumberProvider, SenderNumberRow } from '@/db/numbers/entities';
import { iso } from '@/services/kit/views';

export const senderView = (sender: SenderNumberRow) => ({
  id: sender.id,
  number: sender.number,
  kind: sender.kind,
  registration: sender.registration,
  mms: sender.mms,
  parts_per_second: sender.partsPerSecond,
  daily_cap: sender.dailyCap,
  carrier: sender.carrierId,
  monthly_credits: sender.monthlyCredits,
  rests_until: iso(sender.restUntil),
  rests_because: sender.restWhy,
  back_since: iso(sender.backAt),
});

/** Without its password, which is never shown. */
export const carrierView = ({ id, name, host, port, systemId, profile }: CarrierRow) => ({
  ...{ id, name, host, port, system_id: systemId, profile },
});

/** Without what the provider knows us by. */
export const providerView = ({ id, name, url, account, state, trouble, checkedAt }: NumberProvider) => ({
  ...{ id, name, url, account, state, trouble, checked_at: iso(checkedAt) },
});

export const offerView = ({ provider, ...number }: Offer) => ({
  ...{ ...number, provider_id: provider.id, provider: provider.name },
});

export const orderView = ({ id, number, what, state, reason, programs, ...order }: NumberOrder) => ({
  ...{
    id,
    provider_id: order.providerId,
    number,
    what,
    state,
    reason,
    programs,
    planned_at: iso(order.plannedAt),
  },
  ...{ created_at: iso(order.createdAt), done_at: iso(order.doneAt) },
});
