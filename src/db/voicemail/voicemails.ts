import type { Crossing, Scope } from '@/db/kit/scope';

export interface VoicemailFactRow {
  id: string;
  state: 'open' | 'closed';
  price: number;
}

/** Who leaves voicemails for the workspace; null: nobody does. */
export async function voicemailFacts(scope: Scope): Promise<VoicemailFactRow | null> {
  const [row] = await scope.rows<VoicemailFactRow>(
    `select id, state, price from voicemail_account where workspace_id = :workspace and removed_at is null`,
  );
  return row ?? null;
}

/** What only voicemails know, beside messages that are there: one that was left out has none. */
export const insertVoicemails = (
  scope: Scope,
  voicemails: readonly { messageId: string; recordingId: string }[],
): Promise<number> =>
  voicemails.length === 0
    ? Promise.resolve(0)
    : scope.run(
        `insert into voicemail (message_id, workspace_id, recording_id)
         select u.id, :workspace, u.recording from unnest(:ids::text[], :recordings::text[]) as u (id, recording)
           join message m on m.workspace_id = :workspace and m.id = u.id
           join voice_recording r on r.workspace_id = :workspace and r.id = u.recording on conflict do nothing`,
        {
          ids: voicemails.map(({ messageId }) => messageId),
          recordings: voicemails.map(({ recordingId }) => recordingId),
        },
      );

/** By whom and from which number they leave. */
export const noteCallers = (
  scope: Scope,
  leaving: readonly { messageId: string; accountId: string; from: string }[],
): Promise<number> =>
  scope.run(
    `update voicemail v set account_id = u.account, from_number = u.number from unnest(:ids::text[], :accounts::text[], :numbers::text[]) as u (id, account, number)
      where v.workspace_id = :workspace and v.message_id = u.id`,
    {
      ids: leaving.map(({ messageId }) => messageId),
      accounts: leaving.map(({ accountId }) => accountId),
      numbers: leaving.map(({ from }) => from),
    },
  );

export interface VoicemailRow {
  account_id: string;
  recording_id: string;
  from_number: string;
  heard_as: string | null;
}

/** What voicemails leave with, by their messages. */
export async function voicemailsOf(scope: Scope, ids: readonly string[]): Promise<Map<string, VoicemailRow>> {
  const rows = await scope.rows<VoicemailRow & { id: string }>(
    `select v.message_id as id, v.account_id, v.recording_id, v.from_number, r.heard_as from voicemail v join voice_recording r on r.id = v.recording_id
      where v.workspace_id = :workspace and v.message_id = any(:ids::text[])`,
    { ids: [...ids] },
  );
  return new Map(rows.map((row) => [row.id, row]));
}

export interface LeftVoicemail {
  id: string;
  workspace_id: string;
  address: string;
}

/** Voicemails that references of ours name, of one account. */
export const leftVoicemails = (
  crossing: Crossing,
  accountId: string,
  ids: readonly string[],
): Promise<LeftVoicemail[]> =>
  crossing.rows<LeftVoicemail>(
    `select m.id, m.workspace_id, m.address from voicemail v join message m on m.id = v.message_id
      where v.account_id = :accountId and v.message_id = any(:ids::text[])`,
    { accountId, ids },
  );

/** The newest version of each voice message in use, by name. */
export const newestRecordings = (scope: Scope): Promise<{ id: string; name: string; words: string }[]> =>
  scope.rows(
    `select distinct on (lower(m.name)) r.id, m.name, r.words from voice_message m join voice_recording r on r.message_id = m.id
      where m.workspace_id = :workspace and m.archived_at is null order by lower(m.name), r.version desc`,
  );

/** What is dropped upon whom is forgotten with the person. */
export const VOICEMAIL_ERASURES = [
  `delete from voicemail where workspace_id = :workspace and message_id in (select id from message where workspace_id = :workspace and person_id = any(:ids::text[]))`,
];
