import type { Category } from '@/core/chat/network';
import type { WordingState } from '@/core/chat/wording-life';
import type { Scope } from '@/db/kit/scope';

export interface WordingUse {
  wording_id: string;
  sent: number;
  read: number;
  last_at: Date | null;
}

/** What was sent by each wording, and read. Those that failed count not. */
export const wordingUses = (scope: Scope, ids: readonly string[]): Promise<WordingUse[]> =>
  scope.rows<WordingUse>(
    `select c.wording_id, count(*) filter (where m.state in ('submitted', 'delivered', 'no-receipt'))::int as sent, count(c.read_at)::int as read,
            max(m.submitted_at) as last_at
       from chat c join message m on m.id = c.message_id
      where c.workspace_id = :workspace and c.wording_id = any(:ids::text[]) group by 1`,
    { ids },
  );

export interface OpenWindow {
  account: string;
  address: string;
  wrote_at: Date;
}

/** The chats of somebody, the last written to first: when they last wrote to which account. */
export const windowsOf = (scope: Scope, personId: string): Promise<OpenWindow[]> =>
  scope.rows<OpenWindow>(
    `select c.name as account, a.value as address, w.wrote_at from address a
       join chat_window w on w.workspace_id = a.workspace_id and w.address = a.value and w.wrote_at is not null
       join chat_account c on c.id = w.account_id and c.removed_at is null
      where a.workspace_id = :workspace and a.person_id = :personId and a.kind = 'chat' order by w.wrote_at desc`,
    { personId },
  );

export interface ChatTally {
  category: Category;
  sent: number;
  delivered: number;
  read: number;
  credits: number;
}

/** What went by chat of a send, by what the network prices it as. */
export const chatTallies = (scope: Scope, sendId: string): Promise<ChatTally[]> =>
  scope.rows<ChatTally>(
    `select c.category, count(m.submitted_at)::int as sent, count(*) filter (where m.state = 'delivered')::int as delivered, count(c.read_at)::int as read,
            coalesce(sum(m.credits) filter (where m.submitted_at is not null), 0)::int as credits
       from message m join chat c on c.message_id = m.id where m.workspace_id = :workspace and m.send_id = :sendId group by 1 order by 1`,
    { sendId },
  );

/** Templates with a wording that is approved, of an account that may send. */
export const readyTemplates = async (scope: Scope, ids: readonly string[]): Promise<Set<string>> =>
  new Set(
    (
      await scope.rows<{ id: string }>(
        `select t.id from chat_template t join chat_account a on a.id = t.account_id and a.removed_at is null and a.state <> 'closed'
          where t.workspace_id = :workspace and t.id = any(:ids::text[])
            and exists (select 1 from chat_wording w where w.template_id = t.id and w.state = 'approved')`,
        { ids },
      )
    ).map(({ id }) => id),
  );

/** Those of these people who agreed to a program by chat, and are reached there. */
export const reachedByChat = async (
  scope: Scope,
  programId: string,
  people: readonly string[],
): Promise<string[]> =>
  (
    await scope.rows<{ person_id: string }>(
      `select c.person_id from consent_state c
         join address a on a.workspace_id = c.workspace_id and a.person_id = c.person_id and a.kind = 'chat' and a.value = c.address and a.state not in ('gone', 'blocked')
        where c.workspace_id = :workspace and c.program_id = :programId and c.channel = 'chat' and c.current and c.state = 'in' and c.person_id = any(:people::text[])`,
      { programId, people },
    )
  ).map((row) => row.person_id);

export interface WaitingReview {
  template_id: string;
  name: string;
  wording_id: string;
  language: string;
  state: WordingState;
  reason: string | null;
  since: Date;
}

/** Templates that a network reads, and those it refused, paused or withdrew lately with nothing approved in their place. */
export const waitingReviews = (scope: Scope, lately: Date): Promise<WaitingReview[]> =>
  scope.rows<WaitingReview>(
    `select t.id as template_id, t.name, w.id as wording_id, w.language, w.state, w.reason, coalesce(w.decided_at, w.handed_in_at) as since
       from chat_wording w join chat_template t on t.id = w.template_id and t.archived_at is null
      where w.workspace_id = :workspace and (w.state = 'in-review' or (w.state in ('refused', 'paused', 'withdrawn') and w.decided_at > :lately))
        and not exists (select 1 from chat_wording o where o.template_id = w.template_id and o.language = w.language and o.version > w.version)
      order by since`,
    { lately },
  );
