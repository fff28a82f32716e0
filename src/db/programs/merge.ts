import type { Method } from '@/core/consent/ledger';
import type { Channel } from '@/core/message/channel';
import type { Scope } from '@/db/kit/scope';

export interface ComingOver {
  person_id: string;
  channel: Channel;
  address: string;
  method: Method;
  since: Date;
}

// In one program, and has said nothing to the other.
const COMING = `f.workspace_id = :workspace and f.program_id = :fromId and f.state = 'in'
        and not exists (select 1 from consent_state i where i.person_id = f.person_id and i.program_id = :intoId and i.channel = f.channel
          and (i.address = f.address or (i.state = 'out' and i.current)))`;

export const peopleComingOver = async (
  scope: Scope,
  between: { fromId: string; intoId: string },
): Promise<number> =>
  (
    await scope.rows<{ n: number }>(
      `select count(distinct f.person_id)::int as n from consent_state f where ${COMING}`,
      between,
    )
  )[0]!.n;

/** Addresses that are in one program and have said nothing to the other, so many at a time. */
export const comingOver = (
  scope: Scope,
  { fromId, intoId, most }: { fromId: string; intoId: string; most: number },
): Promise<ComingOver[]> =>
  scope.rows<ComingOver>(
    `select f.person_id, f.channel, f.address, f.method, f.since from consent_state f
      where ${COMING}
      order by f.person_id, f.channel, f.address limit :most`,
    { fromId, intoId, most },
  );

/** Forms go along, closed: what they say is agreed to is no longer what is, until they are published again. */
export const moveForms = (
  scope: Scope,
  between: { fromId: string; intoId: string; at: Date },
): Promise<number> =>
  scope.run(
    `update form set program_id = :intoId, closed_at = coalesce(closed_at, :at), stamp = stamp + 1 where workspace_id = :workspace and program_id = :fromId`,
    between,
  );
