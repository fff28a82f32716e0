import type { ConsentKind, Method } from '@/core/consent/ledger';
import type { MessageKind } from '@/core/message/kinds';
import { withWords } from '@/db/delivery/bundles';
import type { Scope } from '@/db/kit/scope';

/** Who has an address, or had it; null: nobody here. */
export async function ownerOf(scope: Scope, address: string): Promise<string | null> {
  const [row] = await scope.rows<{ person_id: string }>(
    `select person_id from (
       select a.person_id, 0 as rank, now() as at from address a where a.workspace_id = :workspace and a.value = :address
       union all select e.person_id, 1, e.at from consent_event e where e.workspace_id = :workspace and e.address = :address) known
      order by rank, at desc limit 1`,
    { address },
  );
  return row?.person_id ?? null;
}

export interface SentRow {
  id: string;
  at: Date;
  channel: string;
  from: string | null;
  program: string;
  kind: MessageKind;
  body: string;
  state: string;
  clearance: unknown;
}

/** Everything that left for an address, by whoever has it, oldest first. */
export const sentTo = async (scope: Scope, personId: string, address: string): Promise<SentRow[]> =>
  withWords(
    scope,
    await scope.rows<SentRow & { bundle_id: string | null }>(
      `select m.id, m.submitted_at as at, m.channel, s.number as from, p.name as program, m.kind, m.body, m.state, m.clearance, m.bundle_id
       from message m join program p on p.id = m.program_id left join sender_number s on s.id = m.sender_id
      where m.workspace_id = :workspace and m.person_id = :personId and m.address = :address and m.submitted_at is not null order by m.submitted_at, m.id`,
      { personId, address },
    ),
  );

export interface ReceivedRow {
  at: Date;
  channel: string;
  to: string | null;
  body: string;
  meaning: string;
}

export const receivedFrom = (scope: Scope, personId: string, address: string): Promise<ReceivedRow[]> =>
  scope.rows<ReceivedRow>(
    `select i.at, i.channel, s.number as to, i.body, i.meaning from inbound_text i left join sender_number s on s.id = i.sender_id
      where i.workspace_id = :workspace and i.person_id = :personId and i.from_number = :address order by i.at, i.id`,
    { personId, address },
  );

export interface ToldRow {
  at: Date;
  program: string;
  channel: string;
  kind: ConsentKind;
  method: Method;
  evidence: unknown;
}

/** What they told programs: of this address, and whatever ends it for all addresses. */
export const toldBy = (scope: Scope, personId: string, address: string): Promise<ToldRow[]> =>
  scope.rows<ToldRow>(
    `select e.at, p.name as program, e.channel, e.kind, e.method, e.evidence from consent_event e join program p on p.id = e.program_id
      where e.workspace_id = :workspace and e.person_id = :personId and (e.address = :address or e.kind = 'opted-out') order by e.seq`,
    { personId, address },
  );
