import type { Interpretation } from '@/core/reply/interpret';
import { Person } from '../entities';
import type { Crossing, Scope } from '../scope';

interface InboundPart {
  carrierId: string;
  from: string;
  to: string;
  body: string;
  concat: { reference: number; total: number; index: number } | null;
}

/** Keeps a part of a longer text; gives the whole once every part is there, and null until then. */
export async function assembleInbound(
  crossing: Crossing,
  part: InboundPart,
  at: Date,
): Promise<string | null> {
  const { reference, total, index } = part.concat!;
  const key = { from: part.from, to: part.to, reference, total };
  // Parts can come over several links at once: one at a time puts them together.
  await crossing.rows(`select pg_advisory_xact_lock(hashtext(:key))`, {
    key: `${part.from}|${part.to}|${reference}`,
  });
  await crossing.run(
    `insert into inbound_part (from_number, to_number, reference, total, index, carrier_id, body, at)
     values (:from, :to, :reference, :total, :index, :carrierId, :body, :at)
     on conflict (from_number, to_number, reference, total, index) do update set body = excluded.body, at = excluded.at`,
    { ...key, index, carrierId: part.carrierId, body: part.body, at },
  );
  const pieces = await crossing.rows<{ body: string }>(
    `select body from inbound_part where from_number = :from and to_number = :to and reference = :reference and total = :total order by index`,
    key,
  );
  if (pieces.length < total) return null;
  await crossing.run(
    `delete from inbound_part where from_number = :from and to_number = :to and reference = :reference and total = :total`,
    key,
  );
  return pieces.map((piece) => piece.body).join('');
}

/**
 * The person with this number, made when there is none, locked so that their texts are taken one by one. A number
 * of somebody who was merged belongs to the person that was kept.
 */
export async function lockPersonByNumber(
  scope: Scope,
  made: {
    id: string;
    number: string;
    source: string;
    at: Date;
    region: string | null;
    zones: readonly string[];
  },
): Promise<Person> {
  await scope.run(
    `insert into person (id, workspace_id, number, source, created_at, place_region, place_zones)
     values (:id, :workspace, :number, :source, :at, :region, :zones::text[])
     on conflict (workspace_id, number) do nothing`,
    made,
  );
  const [row] = await scope.rows<{ id: string }>(
    `select coalesce(merged_into, id) as id from person where workspace_id = :workspace and number = :number for update`,
    { number: made.number },
  );
  await scope.rows(`select id from person where workspace_id = :workspace and id = :id for update`, {
    id: row!.id,
  });
  return scope.em.findOneOrFail(Person, { id: row!.id });
}

export interface NewInbound {
  id: string;
  personId: string;
  senderId: string;
  carrierId: string;
  body: string;
  interpretation: Interpretation;
  afterTextId: string | null;
  at: Date;
}

/** False when the carrier delivered this very text before: it is stored and acted on once. */
export async function insertInbound(scope: Scope, inbound: NewInbound): Promise<boolean> {
  const { interpretation, ...rest } = inbound;
  const added = await scope.run(
    `insert into inbound_text (id, workspace_id, person_id, sender_id, carrier_id, body, meaning, rule, evidence, keyword, near_keyword, after_text_id, at)
     values (:id, :workspace, :personId, :senderId, :carrierId, :body, :meaning, :rule, :evidence, :keyword, :nearKeyword, :afterTextId, :at)
     on conflict (sender_id, carrier_id) do nothing`,
    { ...rest, ...interpretation },
  );
  return added === 1;
}

/** The last text that left for this person. */
export async function lastTextTo(
  scope: Scope,
  personId: string,
): Promise<{ id: string; program_id: string } | null> {
  const [row] = await scope.rows<{ id: string; program_id: string }>(
    `select id, program_id from text where workspace_id = :workspace and person_id = :personId and submitted_at is not null
      order by submitted_at desc, id desc limit 1`,
    { personId },
  );
  return row ?? null;
}

export async function numberProgram(scope: Scope, senderId: string): Promise<string | null> {
  const [row] = await scope.rows<{ program_id: string }>(
    `select ps.program_id from program_sender ps where ps.workspace_id = :workspace and ps.sender_id = :senderId order by ps.program_id limit 1`,
    { senderId },
  );
  return row?.program_id ?? null;
}

export async function recentConfirmation(
  scope: Scope,
  personId: string,
  programId: string,
  since: Date,
): Promise<boolean> {
  const rows = await scope.rows(
    `select 1 as found from text where workspace_id = :workspace and person_id = :personId and program_id = :programId
        and kind in ('confirmation', 'question') and created_at > :since limit 1`,
    { personId, programId, since },
  );
  return rows.length > 0;
}
