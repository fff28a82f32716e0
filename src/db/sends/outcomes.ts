import type { Scope, SqlValue } from '@/db/kit/scope';
import { whereOf, type Cut } from '@/db/audience/cut';

/** What became of each message of a broadcast (`t`), as columns. Acts are of the person, after this message. */
const REPLIED = `exists (select 1 from inbound_text i where i.after_text_id = t.id and i.meaning in ('reply', 'unclear'))`;
const CLICKED = `exists (select 1 from engagement e where e.person_id = t.person_id and e.kind = 'clicked' and e.text_id = t.id)`;
const LEFT = `(exists (select 1 from inbound_text i where i.after_text_id = t.id and i.meaning = 'opt-out')
  or (t.channel = 'email' and exists (select 1 from consent_event e where e.person_id = t.person_id and e.channel = 'email' and e.kind = 'opted-out'
        and e.method in ('form', 'carrier') and e.evidence ->> 'afterTextId' = t.id)))`;

export interface Outcome {
  people: number;
  delivered: number;
  failed: number;
  replies: number;
  clicks: number;
  opt_outs: number;
}

export interface OutcomeGroup extends Outcome {
  /** The value they have in common; null: none is known. */
  key: string | null;
}

const COUNTS = `count(*)::int as people, count(*) filter (where t.state = 'delivered')::int as delivered, count(*) filter (where t.state = 'failed')::int as failed,
  count(*) filter (where ${REPLIED})::int as replies, count(*) filter (where ${CLICKED})::int as clicks, count(*) filter (where ${LEFT})::int as opt_outs`;

/** What left of it, one row for each person. */
const LEFT_FOR = `t.workspace_id = :workspace and t.send_id = :id and t.submitted_at is not null`;

export type OutcomeBy = 'number' | 'hour' | 'minute' | 'place' | 'wording';

const KEYS: Record<OutcomeBy, string> = {
  number: `(select number from sender_number s where s.id = t.sender_id)`,
  // The hour at which it left, as clocks of the workspace showed it.
  hour: `to_char(t.submitted_at at time zone :zone, 'YYYY-MM-DD HH24:00')`,
  minute: `to_char(t.submitted_at at time zone :zone, 'YYYY-MM-DD HH24:MI')`,
  place: `(select place_region from person p where p.id = t.person_id)`,
  wording: `t.wording::text`,
};

/** What became of a broadcast, by what its messages have in common. */
export const outcomesBy = (
  scope: Scope,
  asked: { id: string; by: OutcomeBy; zone: string },
): Promise<OutcomeGroup[]> =>
  scope.rows<OutcomeGroup>(
    `select ${KEYS[asked.by]} as key, ${COUNTS} from message t
      where ${LEFT_FOR} and :zone::text is not null group by 1 order by ${asked.by === 'hour' || asked.by === 'minute' ? '1' : '2 desc, 1'} limit 200`,
    { id: asked.id, zone: asked.zone },
  );

/** What became of each wording of a broadcast, the first first, with those whose message still waits. */
export async function tallyWordings(scope: Scope, id: string, wordings: number): Promise<Outcome[]> {
  const rows = await scope.rows<Outcome & { wording: number }>(
    `select t.wording, ${COUNTS} from message t
      where t.workspace_id = :workspace and t.send_id = :id and t.wording is not null and t.state not in ('blocked', 'cancelled')
      group by t.wording`,
    { id },
  );
  const none = { people: 0, delivered: 0, failed: 0, replies: 0, clicks: 0, opt_outs: 0 };
  return Array.from({ length: wordings }, (_, i) => {
    const { wording: _wording, ...found } = rows.find(({ wording }) => wording === i) ?? {
      ...none,
      wording: i,
    };
    return found;
  });
}

/** The same of those who are in a cut now. */
export async function outcomeIn(scope: Scope, id: string, cut: Cut): Promise<Outcome> {
  const { where, values } = whereOf(cut);
  const [row] = await scope.rows<Outcome>(
    `select ${COUNTS} from message t join person p on p.id = t.person_id where ${LEFT_FOR} and ${where}`,
    { ...values, id },
  );
  return row!;
}

/** Ids of the last finished broadcasts of a program on a channel, without one. */
export async function lastFinished(
  scope: Scope,
  asked: { program: string; channel: string; except: string; most: number },
): Promise<string[]> {
  const rows = await scope.rows<{ id: string }>(
    `select id from broadcast where workspace_id = :workspace and program_id = :program and channel = :channel and state = 'finished' and id <> :except
      order by finished_at desc limit :most`,
    asked,
  );
  return rows.map(({ id }) => id);
}

export interface OutcomeRow {
  id: string;
  person_id: string;
  first_name: string | null;
  last_name: string | null;
  address: string;
  state: string;
  failure: string | null;
  reasons: string[];
  wording: number | null;
  parts: number;
  credits: number;
  sender: string | null;
  submitted_at: Date | null;
  settled_at: Date | null;
  replied: boolean;
  clicked: boolean;
  left: boolean;
}

/** Every person of a broadcast with what became of it, page by page in the order of their messages. */
export const outcomeRows = (
  scope: Scope,
  values: { id: string; after: string; most: number } & Record<string, SqlValue>,
): Promise<OutcomeRow[]> =>
  scope.rows<OutcomeRow>(
    `select t.id, t.person_id, p.first_name, p.last_name, t.address, t.state, t.failure, t.wording, t.parts, t.credits, t.submitted_at, t.settled_at,
            (select number from sender_number s where s.id = t.sender_id) as sender,
            coalesce((select array_agg(r ->> 'code') from jsonb_array_elements(t.clearance -> 'reasons') r), '{}') as reasons,
            ${REPLIED} as replied, ${CLICKED} as clicked, ${LEFT} as left
       from message t join person p on p.id = t.person_id
      where t.workspace_id = :workspace and t.send_id = :id and t.id > :after order by t.id limit :most`,
    values,
  );
