import type { PriceRule } from '@/core/credits/prices';
import type { Workspace } from '@/db/access/entities';
import type { CreditOrder } from '@/db/credits/entities';
import type { EntryRow } from '@/db/credits/ledger';
import { iso } from '@/services/kit/views';
import type { Sold } from './buy';

export const creditsView = (workspace: Workspace) => ({
  balance: Number(workspace.creditBalance),
  enough_until: iso(workspace.enoughUntil),
  day_limit: workspace.dailyCredits,
  prices: pricesView(workspace),
});

export const pricesView = ({
  creditsPerPart,
  creditsPerPicture,
  prices,
}: Workspace): { part: number; picture: number; rules: PriceRule[] } => ({
  ...{ part: creditsPerPart, picture: creditsPerPicture, rules: prices },
});

export const packView = ({ provider, ...pack }: Sold) => ({
  ...{ ...pack, provider_id: provider.id, provider: provider.name },
});

export const creditOrderView = (order: CreditOrder) => ({
  ...{ id: order.id, pack: order.pack, credits: order.credits, price: order.price, currency: order.currency },
  ...{ state: order.state, reason: order.reason },
  ...{ created_at: iso(order.createdAt), done_at: iso(order.doneAt) },
});

export const entryView = ({ id, at, ...entry }: EntryRow) => ({ id: String(id), ...entry, at: iso(at) });
