import { group } from 'd3-array';
import type { Channel } from '@/core/message/channel';
import type { Interpretation } from '@/core/reply/interpret';
import { MINUTE, type Millis } from '@/core/shared/instant';
import type { CleanText } from '@/core/shared/clean-text';
import type { Crossing, Scope } from '@/db/kit/scope';

/** Whether a text that left for them under a program holds these words. */
export const wasSentWords = async (
  scope: Scope,
  of: { personId: string; programId: string; channel: Channel; words: string; since: Date },
): Promise<boolean> =>
  (
    await scope.rows(
      `select 1 from message where workspace_id = :workspace and person_id = :personId and program_id = :programId and channel = :channel
          and submitted_at > :since and position(:words in body) > 0 limit 1`,
      { ...of },
    )
  ).length > 0;

/** A part of a longer text, its body as decoded. */
export interface InboundPart {
  from: string;
  to: string;
  body: string;
  concat: { reference: number; total: number; index: number };
}

/** Parts of one text come within minutes. What is older than this belongs to another text with the same reference. */
export const PARTS_EXPIRE: Millis = 10 * MINUTE;

/** Half a surrogate pair at the end of a part is made whole by the next: the units are kept, not the text. */
const unitsOf = (body: string): string => Buffer.from(body, 'utf16le').toString('base64');
const bodyOf = (units: string): string => Buffer.from(units, 'base64').toString('utf16le');

interface PartRow {
  index: number;
  units: string;
  at: Date;
  done_at: Date | null;
}

/**
 * Keeps a part of a longer text; gives the texts that can be read now: the whole once every part is there, before it
 * what was left of an older one that used the same reference and never became whole. None: parts are still missing, or
 * this one was delivered again.
 */
export async function assembleInbound(crossing: Crossing, part: InboundPart, at: Date): Promise<string[]> {
  const { reference, total, index } = part.concat;
  const key = { from: part.from, to: part.to, reference, total };
  // Parts can come over several links at once: one at a time puts them together.
  await crossing.rows(`select pg_advisory_xact_lock(hashtext(:key))`, { key: Object.values(key).join('|') });
  const units = unitsOf(part.body);
  const known = await crossing.rows<PartRow>(
    `select index, units, at, done_at from inbound_part where ${SAME_TEXT} order by index`,
    key,
  );
  const fresh = known.some((one) => at.getTime() - (one.done_at ?? one.at).getTime() < PARTS_EXPIRE);
  const [recent, old] = fresh ? [known, []] : [[], known];
  if (recent.some((one) => one.index === index && one.units === units)) return [];
  // The same place with other words, or a text that is whole already: the reference is used anew.
  const anew = recent.some((one) => one.index === index || one.done_at !== null);
  const over = anew ? known : old;
  const ready = leftOver(over);
  if (over.length > 0)
    await crossing.run(`delete from inbound_part where ${SAME_TEXT} and index = any(:over::int[])`, {
      ...key,
      over: over.map((one) => one.index),
    });
  await crossing.run(
    `insert into inbound_part (from_number, to_number, reference, total, index, units, at) values (:from, :to, :reference, :total, :index, :units, :at)`,
    { ...key, index, units, at },
  );
  const pieces = [...(anew ? [] : recent), { index, units }].sort((a, b) => a.index - b.index);
  if (pieces.length < total) return ready;
  await crossing.run(`update inbound_part set done_at = :at where ${SAME_TEXT}`, { ...key, at });
  return [...ready, pieces.map((piece) => bodyOf(piece.units)).join('')];
}

const SAME_TEXT = `from_number = :from and to_number = :to and reference = :reference and total = :total`;

/** Words of a text of which a part never came: read as they are, with the gap marked. */
function leftOver(parts: readonly PartRow[]): string[] {
  const open = parts.filter(({ done_at }) => done_at === null);
  return open.length === 0 ? [] : [open.map(({ units }) => bodyOf(units)).join(' […] ')];
}

/** Texts of which a part did not come in time, taken out of where parts wait. Parts of whole ones go after a while. */
export async function expireParts(
  crossing: Crossing,
  at: Date,
): Promise<{ from: string; to: string; body: string }[]> {
  const rows = await crossing.rows<
    PartRow & { from_number: string; to_number: string; reference: number; total: number }
  >(
    `delete from inbound_part where (from_number, to_number, reference, total) in (
       select from_number, to_number, reference, total from inbound_part group by 1, 2, 3, 4 having max(coalesce(done_at, at)) < :before) returning *`,
    { before: new Date(at.getTime() - PARTS_EXPIRE) },
  );
  const texts = group(
    rows.filter((row) => row.done_at === null),
    (row) => [row.from_number, row.to_number, row.reference, row.total].join('|'),
  );
  return [...texts.values()].map((parts) => ({
    from: parts[0]!.from_number,
    to: parts[0]!.to_number,
    body: leftOver([...parts].sort((a, b) => a.index - b.index))[0]!,
  }));
}

export interface NewInbound {
  id: string;
  personId: string;
  channel: Channel;
  subject: string | null;
  senderId: string | null;
  from: string;
  carrierId: string | null;
  fingerprint: string | null;
  body: CleanText;
  interpretation: Interpretation;
  afterTextId: string | null;
  at: Date;
  /** Of a chat message: the account it came to, and the words of the button that was pressed. */
  chatAccountId?: string;
  button?: string | null;
}

/** False when the carrier delivered this very text before: it is stored and acted on once. */
export async function insertInbound(scope: Scope, inbound: NewInbound): Promise<boolean> {
  const { interpretation, ...rest } = inbound;
  const added = await scope.run(
    `insert into inbound_text (id, workspace_id, person_id, channel, subject, sender_id, from_number, carrier_id, fingerprint, body, meaning, rule, evidence, keyword, near_keyword, after_text_id, at, chat_account_id, button)
     values (:id, :workspace, :personId, :channel, :subject, :senderId, :from, :carrierId, :fingerprint, :body, :meaning, :rule, :evidence, :keyword, :nearKeyword, :afterTextId, :at, :chatAccountId, :button)
     on conflict do nothing`,
    { chatAccountId: null, button: null, ...rest, ...interpretation },
  );
  return added === 1;
}

/** Whether a text without an id may be one that is stored: the carrier does not surely know that we have it. */
export async function maybeStored(scope: Scope, fingerprint: string): Promise<boolean> {
  const rows = await scope.rows(
    `select 1 from inbound_text where workspace_id = :workspace and fingerprint = :fingerprint limit 1`,
    { fingerprint },
  );
  return rows.length > 0;
}

/** The carrier knows that we have it: the same words again are words again. */
export async function forgetFingerprint(crossing: Crossing, fingerprint: string): Promise<void> {
  await crossing.run(`update inbound_text set fingerprint = null where fingerprint = :fingerprint`, {
    fingerprint,
  });
  await crossing.run(`update unread_text set fingerprint = null where fingerprint = :fingerprint`, {
    fingerprint,
  });
}

/** Whether this person wrote after an instant. */
export async function wroteSince(scope: Scope, personId: string, at: Date): Promise<boolean> {
  const rows = await scope.rows(
    `select 1 from inbound_text where workspace_id = :workspace and person_id = :personId and at > :at limit 1`,
    { personId, at },
  );
  return rows.length > 0;
}

/** The last message that left for this person by a channel. */
export async function lastTextTo(
  scope: Scope,
  personId: string,
  channel: Channel,
): Promise<{ id: string; program_id: string } | null> {
  const [row] = await scope.rows<{ id: string; program_id: string }>(
    `select id, program_id from message where workspace_id = :workspace and person_id = :personId and submitted_at is not null and channel = :channel
      order by submitted_at desc, id desc limit 1`,
    { personId, channel },
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

/** Whether this keyword was answered just now: no loop of answers. Another keyword is another thing to answer. */
export async function recentConfirmation(
  scope: Scope,
  personId: string,
  { programId, word }: { programId: string; word: string },
  since: Date,
): Promise<boolean> {
  const rows = await scope.rows(
    `select 1 as found from message m left join inbound_text i on i.id = m.in_reply_to
      where m.workspace_id = :workspace and m.person_id = :personId and m.program_id = :programId and m.created_at > :since
        and m.kind in ('confirmation', 'late-answer', 'question', 'notice') and coalesce(i.keyword, :word) = :word limit 1`,
    { personId, programId, word, since },
  );
  return rows.length > 0;
}

/** Whether anything was written to them since, whatever it was. */
export const wroteToSince = async (scope: Scope, personId: string, since: Date): Promise<boolean> =>
  (
    await scope.rows(
      `select 1 as found from message where workspace_id = :workspace and person_id = :personId and created_at > :since limit 1`,
      { personId, since },
    )
  ).length > 0;
