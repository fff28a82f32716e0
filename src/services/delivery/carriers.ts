import { isDeepStrictEqual } from 'node:util';
import { HOUSE, readProfile, type CarrierProfile } from '@/core/delivery/carrier-profile';
import type { LinkSights, LinkState } from '@/core/delivery/link';
import {
  carriersToLink,
  forgetLink,
  mayBringTo,
  saveLink,
  saveSights,
  type LinkedCarrier,
} from '@/db/delivery/carriers';
import { acrossWorkspaces } from '@/db/kit/scope';
import type { LinkOptions } from '@/gateways/smpp/link';
import type { Context } from '@/services/kit/context';
import { carrierHosts, carrierProfile, carrierSettings } from '@/services/kit/settings';
import { hostLookup } from '@/gateways/public-lookup';

/** A carrier as a link needs it. */
export interface CarrierToLink {
  id: string;
  /** Whose it is; null: the installation's. */
  workspaceId: string | null;
  options: LinkOptions & { profile: CarrierProfile };
}

/** Every carrier there is, with how it is reached. */
export async function readCarriers(ctx: Context): Promise<CarrierToLink[]> {
  const rows = await acrossWorkspaces(ctx.orm, carriersToLink);
  return rows.map((row) => ({ id: row.id, workspaceId: row.workspace_id, options: optionsOf(row) }));
}

/** How a carrier is reached: the installation's by the environment, another by its row. */
export function optionsOf(row: LinkedCarrier): LinkOptions & { profile: CarrierProfile } {
  const house = carrierSettings();
  if (row.id === HOUSE) return { ...house, profile: carrierProfile(row.profile) };
  const { profile } = readProfile(row.profile);
  return {
    ...house,
    ...{ host: row.host!, port: row.port!, systemId: row.system_id ?? '', password: row.password ?? '' },
    ...{ profile, idsOf: row.id, window: profile.window ?? house.window },
    lookup: hostLookup(row.host!, carrierHosts()),
  };
}

/** Whether a link must be made anew for what changed; how receipts tell ids is learned on the way. */
export const sameLink = (a: CarrierToLink, b: CarrierToLink): boolean =>
  isDeepStrictEqual(comparable(a), comparable(b));

const comparable = ({ options: { lookup: _, profile, ...options }, workspaceId }: CarrierToLink) => ({
  ...{ options, workspaceId },
  profile: { ...profile, receiptIds: null },
});

export const tellLink = (
  ctx: Context,
  worker: number,
  carrier: string,
  state: LinkState,
  why: string | null,
): Promise<number> =>
  acrossWorkspaces(ctx.orm, (crossing) =>
    saveLink(crossing, { worker, carrier, state, why, at: new Date(ctx.now()) }),
  );

export const tellSights = (
  ctx: Context,
  worker: number,
  carrier: string,
  sights: LinkSights,
): Promise<number> => acrossWorkspaces(ctx.orm, (crossing) => saveSights(crossing, worker, carrier, sights));

export const dropLink = (ctx: Context, worker: number, carrier: string): Promise<number> =>
  acrossWorkspaces(ctx.orm, (crossing) => forgetLink(crossing, worker, carrier));

/**
 * Whether a carrier may bring a text to this number. A workspace's own carrier brings texts to the numbers of that workspace:
 * what it says of others is not believed. One that is nobody's yet is not taken: the carrier keeps it until the number is entered.
 */
export const mayBring = async (ctx: Context, workspaceId: string | null, number: string): Promise<boolean> =>
  workspaceId === null || acrossWorkspaces(ctx.orm, (crossing) => mayBringTo(crossing, workspaceId, number));
