import { sqlList } from '@/db/kit/sql';
import { KINDS, kindsThat, type MessageKind } from '@/core/message/kinds';
import type { Channel } from '@/core/message/channel';
import type { Alphabet } from '@/core/text/measure';
import type { Crossing, Scope, SqlValue } from '@/db/kit/scope';
import { unnested, type Column } from '@/db/kit/unnest';

/** Told to workers in the same commit, so that a text leaves within milliseconds. */
export const DUE_CHANNEL = 'wren_due';
/** Told to web processes: something a workspace's screens show has changed. */
export const LIVE_CHANNEL = 'wren_live';

/** Texts by program (`g`, `t`): the index of what left when is in this order. */
export const TEXTS_BY_PROGRAM = `program g join message t on t.workspace_id = g.workspace_id and t.program_id = g.id`;

/** Whether a message counts, in SQL: what somebody tried out, or was told as a teammate, counts nowhere. */
export const countsAsSent = (message: string): string => `${message}.kind not in ('trial', 'told')`;

export interface NewText {
  id: string;
  personId: string;
  programId: string;
  sendId: string | null;
  /** The enrolment and the line it comes from, of a sequence's message. */
  from?: { enrolmentId: string; step: string };
  inReplyTo: string | null;
  kind: MessageKind;
  channel: Channel;
  /** Where it goes, on its channel. */
  address: string;
  senderId: string | null;
  body: string;
  bodyHash: string;
  /** Of a text. */
  alphabet: Alphabet | null;
  parts: number;
  credits: number;
  /** When it may leave; null: it was blocked. */
  notBefore: Date | null;
  /** Its send has a pace: it waits for its turn, and may have it when it may leave. */
  inTurn?: boolean;
  /** It goes with another message to the same person, and waits for that. */
  forCompanion?: boolean;
  /** Which of several wordings it is; left out: there is one. */
  wording?: number | null;
  /** The files it carries as a picture message; left out or null: it is words. */
  media?: readonly string[] | null;
  clearance: string | null;
  createdBy: string | null;
  createdAt: Date;
}

/** Every priority there is, the most urgent first. */
export const PRIORITIES: readonly number[] = [
  ...new Set(Object.values(KINDS).map(({ priority }) => priority)),
].sort((a, b) => a - b);

const COLUMNS: readonly Column<NewText>[] = [
  ['id', 'text', (t) => t.id],
  ['person_id', 'text', (t) => t.personId],
  ['program_id', 'text', (t) => t.programId],
  ['send_id', 'text', (t) => t.sendId],
  ['enrolment_id', 'text', (t) => t.from?.enrolmentId ?? null],
  ['step_id', 'text', (t) => t.from?.step ?? null],
  ['in_reply_to', 'text', (t) => t.inReplyTo],
  ['kind', 'text', (t) => t.kind],
  ['channel', 'text', (t) => t.channel],
  ['address', 'text', (t) => t.address],
  ['sender_id', 'text', (t) => t.senderId],
  ['body', 'text', (t) => t.body],
  ['body_hash', 'text', (t) => t.bodyHash],
  ['alphabet', 'text', (t) => t.alphabet],
  ['parts', 'smallint', (t) => t.parts],
  ['credits', 'integer', (t) => t.credits],
  ['state', 'text', (t) => (t.notBefore ? 'queued' : 'blocked')],
  ['priority', 'smallint', (t) => KINDS[t.kind].priority],
  [
    'not_before',
    'timestamptz',
    (t) => (t.notBefore && (t.inTurn || t.forCompanion) ? 'infinity' : t.notBefore),
  ],
  [
    'turn_at',
    'timestamptz',
    (t) => (t.notBefore && t.forCompanion ? 'infinity' : t.inTurn ? t.notBefore : null),
  ],
  ['wording', 'smallint', (t) => t.wording ?? null],
  // A list of lists cannot be taken apart again: each goes as one word, and ids hold no comma.
  ['media', 'text', (t) => t.media?.join() ?? null],
  ['clearance', 'jsonb', (t) => t.clearance],
  ['created_by', 'text', (t) => t.createdBy],
  ['created_at', 'timestamptz', (t) => t.createdAt],
  ['settled_at', 'timestamptz', (t) => (t.notBefore ? null : t.createdAt)],
];

/**
 * Adds texts in one statement and wakes the workers when the transaction commits. A person who already has a
 * text of the same broadcast, or of this line of their sequence, gets no second one: that row is left out. Gives the
 * number added.
 */
export async function insertTexts(scope: Scope, texts: readonly NewText[]): Promise<number> {
  if (texts.length === 0) return 0;
  const { rows, columns, values } = unnested(texts, COLUMNS);
  const names = COLUMNS.map(([column]) => column);
  const read = columns.map((column, i) =>
    names[i] === 'media' ? `string_to_array(${column}, ',')` : column,
  );
  const added = await scope.run(
    `insert into message (workspace_id, ${names.join(', ')})
     select :workspace, ${read.join(', ')} from ${rows} on conflict (send_id, person_id, enrolment_id, step_id) where send_id is not null do nothing`,
    values,
  );
  await announce(scope, true);
  return added;
}

/** Wakes screens, and workers too when something is due, once the transaction commits. */
export async function announce(scope: Scope, due: boolean): Promise<void> {
  await scope.rows(
    `select pg_notify('${LIVE_CHANNEL}', :workspace)${due ? `, pg_notify('${DUE_CHANNEL}', '')` : ''}`,
  );
}

/** Wakes the screens of the workspaces these rows belong to. */
export const announceAll = (crossing: Crossing, workspaceIds: readonly string[]): Promise<object[]> =>
  crossing.rows(
    `select pg_notify('${LIVE_CHANNEL}', w) from (select distinct unnest(:workspaces::text[]) as w) d`,
    { workspaces: workspaceIds },
  );

/** Calls back what still waits for this person, whoever queued it: all of it, or that of one program or channel. Gives how many. */
export const cancelQueued = (
  scope: Scope,
  personId: string,
  at: Date,
  {
    programId = null,
    channels = null,
  }: { programId?: string | null; channels?: readonly Channel[] | null } = {},
  why = 'opted out',
): Promise<number> =>
  callBack(
    scope,
    `person_id = :personId and kind not in (${sqlList(kindsThat(({ survivesOptOut }) => survivesOptOut))})
       and (:programId::text is null or program_id = :programId) and (:channels::text[] is null or channel = any(:channels::text[]))`,
    { personId, programId, channels },
    at,
    why,
  );

/** Calls texts back that have not left, with the reason in their history. `which`: of the texts of the workspace. Gives how many. */
export const callBack = (
  scope: Scope,
  which: string,
  values: Record<string, SqlValue>,
  at: Date,
  why: string,
): Promise<number> =>
  scope.run(
    `with gone as (
       update message set state = 'cancelled', not_before = null, settled_at = :at
        where workspace_id = :workspace and not_before is not null and ${which} returning id)
     insert into message_event (workspace_id, message_id, event, detail, at) select :workspace, id, 'cancel', :why, :at from gone`,
    { ...values, at, why },
  );
