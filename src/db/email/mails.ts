import type { Crossing, Scope } from '@/db/kit/scope';

export interface NewMail {
  messageId: string;
  token: string;
  subject: string;
  answers: string | null;
}

/** What only an e-mail knows, beside messages that are there: one that was left out has none. */
export const insertMails = (scope: Scope, mails: readonly NewMail[]): Promise<number> =>
  mails.length === 0
    ? Promise.resolve(0)
    : scope.run(
        `insert into mail (message_id, workspace_id, token, subject, answers)
         select u.id, :workspace, u.token, u.subject, u.answers
           from unnest(:ids::text[], :tokens::text[], :subjects::text[], :answers::text[]) as u (id, token, subject, answers)
           join message m on m.workspace_id = :workspace and m.id = u.id on conflict do nothing`,
        {
          ids: mails.map(({ messageId }) => messageId),
          tokens: mails.map(({ token }) => token),
          subjects: mails.map(({ subject }) => subject),
          answers: mails.map(({ answers }) => answers),
        },
      );

export interface MailRow {
  message_id: string;
  token: string;
  subject: string;
  answers: string | null;
}

export const mailsOf = (scope: Scope, ids: readonly string[]): Promise<MailRow[]> =>
  scope.rows<MailRow>(
    `select message_id, token, subject, answers from mail where workspace_id = :workspace and message_id = any(:ids::text[])`,
    { ids },
  );

export interface SentMailRow {
  workspace_id: string;
  message_id: string;
  person_id: string;
  program_id: string;
  address: string;
  subject: string;
  state: string;
  submitted_at: Date | null;
}

const SENT = `select m.workspace_id, m.id as message_id, m.person_id, m.program_id, m.address, e.subject, m.state, m.submitted_at
  from mail e join message m on m.id = e.message_id`;

/** The letter that a token from outside names. */
export const mailByToken = async (crossing: Crossing, token: string): Promise<SentMailRow | null> =>
  (await crossing.rows<SentMailRow>(`${SENT} where e.token = :token`, { token }))[0] ?? null;

/** What letters are told by. */
export const tokensOf = (
  crossing: Crossing,
  messageIds: readonly string[],
): Promise<{ id: string; token: string }[]> =>
  crossing.rows(`select message_id as id, token from mail where message_id = any(:messageIds)`, {
    messageIds,
  });

/** What was written about somebody's letters. */
export const MAIL_ERASURES = [
  `delete from mail where workspace_id = :workspace and message_id in (select id from message where workspace_id = :workspace and person_id = any(:ids::text[]))`,
];
