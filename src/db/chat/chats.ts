import type { Category } from '@/core/chat/network';
import type { WordingState } from '@/core/chat/wording-life';
import type { ChatWords } from '@/core/chat/template';
import type { Crossing, Reading, Scope } from '@/db/kit/scope';
import { toJson } from '@/db/kit/json';

export interface NewChat {
  messageId: string;
  accountId: string;
  wordingId: string | null;
  category: Category | 'conversation';
  filled: Record<string, string> | null;
  /** Of words of our own. */
  buttons: readonly string[] | null;
  media: readonly string[] | null;
}

/** Between words that can be pressed, of which none holds it: they are cleaned before they are kept. */
const BETWEEN = '\u001f';

/** What only a chat message knows, beside messages that are there: one that was left out has none. */
export const insertChats = (scope: Scope, chats: readonly NewChat[]): Promise<number> =>
  chats.length === 0
    ? Promise.resolve(0)
    : scope.run(
        `insert into chat (message_id, workspace_id, account_id, wording_id, category, filled, buttons, media)
         select u.id, :workspace, u.account, u.wording, u.category, u.filled, string_to_array(u.buttons, chr(31)), string_to_array(u.media, ',')
           from unnest(:ids::text[], :accounts::text[], :wordings::text[], :categories::text[], :filled::jsonb[], :buttons::text[], :media::text[]) as u (id, account, wording, category, filled, buttons, media)
           join message m on m.workspace_id = :workspace and m.id = u.id on conflict do nothing`,
        {
          ids: chats.map(({ messageId }) => messageId),
          accounts: chats.map(({ accountId }) => accountId),
          wordings: chats.map(({ wordingId }) => wordingId),
          categories: chats.map(({ category }) => category),
          filled: chats.map(({ filled }) => (filled ? toJson(filled) : null)),
          buttons: chats.map(({ buttons }) => buttons?.join(BETWEEN) ?? null),
          media: chats.map(({ media }) => media?.join() ?? null),
        },
      );

export interface ChatRow {
  message_id: string;
  account_id: string;
  wording_id: string | null;
  category: Category | 'conversation';
  filled: Record<string, string> | null;
  buttons: string[] | null;
  media: string[] | null;
  /** Of its wording. */
  state: WordingState | null;
  language: string | null;
  network_id: string | null;
  words: ChatWords | null;
}

/** What messages leave with, and how the templates of those that have one stand. */
export const chatsOf = (scope: Scope, ids: readonly string[]): Promise<ChatRow[]> =>
  scope.rows<ChatRow>(
    `select c.message_id, c.account_id, c.wording_id, c.category, c.filled, c.buttons, c.media, w.state, w.language, w.network_id, w.words
       from chat c left join chat_wording w on w.id = c.wording_id where c.workspace_id = :workspace and c.message_id = any(:ids::text[])`,
    { ids },
  );

export interface AccountFactRow {
  id: string;
  state: 'open' | 'restricted' | 'closed';
  begin_limit: number | null;
  prices: Record<Category | 'conversation', number>;
  /** People it began with in the last day. */
  begun: number;
}

/** Accounts of the workspace, the first connected first. */
export const accountFacts = (scope: Scope, dayAgo: Date): Promise<AccountFactRow[]> =>
  scope.rows<AccountFactRow>(
    `select a.id, a.state, a.begin_limit, a.prices,
            case when a.begin_limit is null then 0 else (select count(*)::int from chat_window w where w.account_id = a.id and w.begun_at > :dayAgo) end as begun
       from chat_account a where a.workspace_id = :workspace and a.removed_at is null order by a.created_at, a.id`,
    { dayAgo },
  );

/** Held until the transaction ends: how many an account began with is counted by one worker at a time. */
export const lockAccountsOf = (crossing: Crossing, workspaces: readonly string[]): Promise<object[]> =>
  crossing.rows(
    `select id from chat_account where workspace_id = any(:workspaces::text[]) order by id for no key update`,
    { workspaces },
  );

/** Conversations that begin with what leaves now. */
export const noteBegun = (
  scope: Scope,
  begun: readonly { accountId: string; address: string }[],
  at: Date,
): Promise<number> =>
  scope.run(
    `insert into chat_window (workspace_id, account_id, address, begun_at)
     select distinct :workspace, u.account, u.address, :at::timestamptz from unnest(:accounts::text[], :addresses::text[]) as u (account, address)
     on conflict (account_id, address) do update set begun_at = excluded.begun_at`,
    { accounts: begun.map(({ accountId }) => accountId), addresses: begun.map(({ address }) => address), at },
  );

/** They wrote: the window is open. */
export const noteWrote = (
  scope: Scope,
  wrote: { accountId: string; address: string; at: Date },
): Promise<number> =>
  scope.run(
    `insert into chat_window (workspace_id, account_id, address, wrote_at) values (:workspace, :accountId, :address, :at)
     on conflict (account_id, address) do update set wrote_at = greatest(chat_window.wrote_at, excluded.wrote_at)`,
    wrote,
  );

/** They were read; the first time counts. Of messages of one account alone. */
export const noteRead = (
  crossing: Crossing,
  accountId: string,
  read: readonly { id: string; at: Date }[],
): Promise<number> =>
  crossing.run(
    `update chat c set read_at = least(coalesce(c.read_at, u.at), u.at) from unnest(:ids::text[], :ats::timestamptz[]) as u (id, at)
      where c.message_id = u.id and c.account_id = :accountId`,
    { accountId, ids: read.map(({ id }) => id), ats: read.map(({ at }) => at) },
  );

export interface SentChat {
  id: string;
  workspace_id: string;
  address: string;
  state: string;
}

/** Messages that references of ours name, of one account. */
export const sentChats = (
  crossing: Crossing,
  accountId: string,
  ids: readonly string[],
): Promise<SentChat[]> =>
  crossing.rows<SentChat>(
    `select m.id, m.workspace_id, m.address, m.state from chat c join message m on m.id = c.message_id
      where c.account_id = :accountId and c.message_id = any(:ids::text[])`,
    { accountId, ids },
  );

/** Told once something came from a network, so that it is worked on at once. */
export const CHAT_ARRIVED = 'wren_chat';

export interface NewTold {
  id: string;
  eventId: string;
  who: string;
  leaves: boolean;
  content: unknown;
}

/** Keeps what a network told; what it told before is kept once. */
export const insertTold = (
  scope: Scope,
  { accountId, at, told }: { accountId: string; at: Date; told: readonly NewTold[] },
): Promise<object[]> =>
  scope.rows(
    `with kept as (
       insert into chat_told (id, workspace_id, account_id, event_id, who, leaves, content, at, due_at)
       select u.id, :workspace, :accountId, u.event_id, u.who, u.leaves, u.content, :at, :at
         from unnest(:ids::text[], :events::text[], :whos::text[], :leaves::boolean[], :contents::jsonb[]) as u (id, event_id, who, leaves, content)
       on conflict (account_id, event_id) do nothing returning 1)
     select pg_notify('${CHAT_ARRIVED}', '') from kept limit 1`,
    {
      accountId,
      at,
      ids: told.map(({ id }) => id),
      events: told.map(({ eventId }) => eventId),
      whos: told.map(({ who }) => who),
      leaves: told.map(({ leaves }) => leaves),
      contents: told.map(({ content }) => toJson(content)),
    },
  );

const MOST_EACH = 100;

/** What waits, few of each workspace. Of one person in the order it came; what may be an opt-out waits for nothing. */
export const toldDue = (
  reading: Reading,
  untroubled: string,
  at: Date,
): Promise<{ id: string; workspace_id: string }[]> =>
  reading.rows(
    `select id, workspace_id from (
       select t.id, t.workspace_id, t.at, row_number() over (partition by t.workspace_id order by t.at, t.id) as nth from chat_told t
        where t.due_at <= :at and ${untroubled}
          and (t.leaves or t.who = '' or not exists (select 1 from chat_told e where e.workspace_id = t.workspace_id and e.account_id = t.account_id
                 and e.who = t.who and e.due_at is not null and (e.at, e.id) < (t.at, t.id)))) d
      where nth <= ${MOST_EACH} order by at, id`,
    { at },
  );

export const forgetTold = (crossing: Crossing, before: Date): Promise<number> =>
  crossing.run(`delete from chat_told where due_at is null and at < :before`, { before });

/** What was written about somebody’s chats, and how things stand with their ids. */
export const CHAT_ERASURES = [
  `delete from chat where workspace_id = :workspace and message_id in (select id from message where workspace_id = :workspace and person_id = any(:ids::text[]))`,
  `delete from chat_window w where w.workspace_id = :workspace and w.address = any(:addresses::text[])`,
  `delete from chat_told t where t.workspace_id = :workspace and t.who = any(:addresses::text[])`,
];
