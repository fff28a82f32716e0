import type { FailureReason } from '@/core/delivery/failure';
import type { TextState } from '@/core/delivery/lifecycle';
import type { Channel } from '@/core/message/channel';
import type { MessageKind } from '@/core/message/kinds';
import { withWords } from '../delivery/bundles';
import type { Scope } from '../kit/scope';
import { joinNames, SEND_NAME } from '../sends/names';

/** A message as other tools read it. */
export interface MessageRow {
  id: string;
  person_id: string;
  channel: Channel;
  kind: MessageKind;
  program: string;
  send_id: string | null;
  send: string | null;
  address: string;
  from: string | null;
  body: string;
  parts: number;
  credits: number;
  state: TextState;
  failure: FailureReason | null;
  created_at: Date;
  left_at: Date | null;
  settled_at: Date | null;
}

type StoredRow = MessageRow & { bundle_id: string | null };

/** Messages in the order they were made, after one of them: a page. `from` and `until`: when they were made; null: whenever. */
export const messageRows = async (
  scope: Scope,
  { after, most, from, until }: { after: string; most: number; from: Date | null; until: Date | null },
): Promise<MessageRow[]> => {
  const rows = await scope.rows<StoredRow>(
    `select m.id, m.person_id, m.channel, m.kind, g.name as program, m.send_id, ${SEND_NAME} as send, m.address, n.number as "from", m.body,
            coalesce(m.parts, 0) as parts, case when m.submitted_at is null then 0 else m.credits end as credits, m.state, m.failure, m.created_at, m.submitted_at as left_at, m.settled_at, m.bundle_id
       from (select * from message where workspace_id = :workspace and id > :after and (:from::timestamptz is null or created_at >= :from) and (:until::timestamptz is null or created_at < :until)
              order by id limit :most) m
       join program g on g.id = m.program_id left join sender_number n on n.id = m.sender_id
       ${joinNames('m.send_id')}
      order by m.id`,
    { after, most, from, until },
  );
  return withWords(scope, rows);
};
