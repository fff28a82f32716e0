import type { ReceiptIds } from '@/core/delivery/carrier-id';
import type { CarrierProfile } from '@/core/delivery/carrier-profile';
import type { LinkSights, LinkState } from '@/core/delivery/link';
import { toJson } from '@/db/kit/json';
import type { Crossing, Scope } from '@/db/kit/scope';
import { ALIVE } from './silence';

/** A carrier that a worker holds a link to. */
export interface LinkedCarrier {
  id: string;
  /** Null: the installation's. */
  workspace_id: string | null;
  host: string | null;
  port: number | null;
  system_id: string | null;
  password: string | null;
  profile: Partial<CarrierProfile>;
}

/** Every carrier there is. */
export const carriersToLink = (crossing: Crossing): Promise<LinkedCarrier[]> =>
  crossing.rows<LinkedCarrier>(
    `select id, workspace_id, host, port, system_id, password, profile from carrier where removed_at is null order by workspace_id nulls first, id`,
  );

/** How a carrier tells ids in receipts, where nobody has said it. */
export const learnReceiptIds = (crossing: Crossing, carrier: string, ids: ReceiptIds): Promise<number> =>
  crossing.run(
    `update carrier set profile = profile || jsonb_build_object('receiptIds', :ids::text)
      where id = :carrier and coalesce(profile ->> 'receiptIds', 'unknown') = 'unknown'`,
    { carrier, ids },
  );

export interface LinkChange {
  worker: number;
  carrier: string;
  state: LinkState;
  why: string | null;
  at: Date;
}

export const saveLink = (
  crossing: Crossing,
  { worker, carrier, state, why, at }: LinkChange,
): Promise<number> =>
  crossing.run(
    `insert into carrier_link (worker, carrier_id, state, up_since, why) values (:worker, :carrier, :state, case when :state = 'up' then :at::timestamptz end, :why)
     on conflict (worker, carrier_id) do update set state = excluded.state, up_since = excluded.up_since, why = excluded.why`,
    { worker, carrier, state, why, at },
  );

export const saveSights = (
  crossing: Crossing,
  worker: number,
  carrier: string,
  sights: LinkSights,
): Promise<number> =>
  crossing.run(
    `update carrier_link set sights = :sights::jsonb where worker = :worker and carrier_id = :carrier`,
    { worker, carrier, sights: toJson(sights) },
  );

/** The link of a worker that is no more, or to a carrier that was taken away. */
export const forgetLink = (crossing: Crossing, worker: number, carrier: string): Promise<number> =>
  crossing.run(`delete from carrier_link where worker = :worker and carrier_id = :carrier`, {
    worker,
    carrier,
  });

/** Since when every link to a carrier that is up has been; null: none is. */
export async function linkUpSince(crossing: Crossing, carrier: string): Promise<Date | null> {
  const [row] = await crossing.rows<{ since: Date | null }>(
    `select min(l.up_since) as since from carrier_link l join (${ALIVE}) as alive on alive.worker = l.worker
      where l.carrier_id = :carrier and l.state = 'up'`,
    { carrier },
  );
  return row?.since ?? null;
}

export interface CarrierState {
  id: string;
  name: string;
  host: string | null;
  port: number | null;
  system_id: string | null;
  profile: Partial<CarrierProfile>;
  /** One of each living worker. */
  links: { state: LinkState; upSince: string | null; why: string | null; sights: LinkSights | null }[];
  senders: { id: string; number: string }[];
}

/** The carriers of a workspace, the installation's first, with how their links stand. */
export const carrierStates = (scope: Scope): Promise<CarrierState[]> =>
  scope.rows<CarrierState>(
    `select c.id, c.name, c.host, c.port, c.system_id, c.profile,
            coalesce((select jsonb_agg(jsonb_build_object('state', l.state, 'upSince', l.up_since, 'why', l.why, 'sights', l.sights) order by l.worker)
                        from carrier_link l join (${ALIVE}) as alive on alive.worker = l.worker where l.carrier_id = c.id), '[]') as links,
            coalesce((select jsonb_agg(jsonb_build_object('id', s.id, 'number', s.number) order by s.id)
                        from sender_number s where s.workspace_id = :workspace and s.carrier_id = c.id and s.released_at is null), '[]') as senders
       from carrier c where c.removed_at is null and (c.workspace_id = :workspace or c.workspace_id is null) order by c.workspace_id nulls first, c.id`,
  );

/** Whether a number is one of a workspace's. */
export async function mayBringTo(crossing: Crossing, workspaceId: string, number: string): Promise<boolean> {
  const [row] = await crossing.rows<{ theirs: boolean }>(
    `select workspace_id = :workspaceId as theirs from sender_number where number = :number`,
    { workspaceId, number },
  );
  return row?.theirs ?? false;
}
