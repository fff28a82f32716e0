import { broadcastResult, type BroadcastResult } from '@/core/results/broadcast-result';
import type { Rate } from '@/core/results/rates';
import type { Broadcast, KeywordRow, Person, Program, Segment, SenderNumberRow } from '@/db/entities';
import type { BatchRow } from '@/db/batches/batches';
import type { BroadcastCountsRow } from '@/db/results/results';

/** Rows as the API gives them: snake case, ISO instants, null for unknown. */

const iso = (at: Date | null): string | null => at?.toISOString() ?? null;

export const personView = (person: Person) => ({
  id: person.id,
  number: person.number,
  first_name: person.firstName,
  last_name: person.lastName,
  email: person.email,
  region: person.region,
  postal_code: person.postalCode,
  zone: person.zone,
  line_type: person.lineType,
  number_state: person.numberState,
  fields: person.fields,
  source: person.source,
  unclear_since: iso(person.unclearSince),
  last_wrote_at: iso(person.lastWroteAt),
  waiting_since: iso(person.waitingSince),
  created_at: iso(person.createdAt),
});

export const programView = (program: Program) => ({
  id: program.id,
  name: program.name,
  purpose: program.purpose,
  promise:
    program.promiseCount === null ? null : { count: program.promiseCount, period: program.promisePeriod },
  welcome: program.welcome,
  double_opt_in: program.doubleOptIn,
  hours: program.ownHours,
  archived_at: iso(program.archivedAt),
  created_at: iso(program.createdAt),
});

export const keywordView = (keyword: KeywordRow) => ({
  id: keyword.id,
  program_id: keyword.programId,
  word: keyword.word,
  created_at: iso(keyword.createdAt),
});

export const senderView = (sender: SenderNumberRow) => ({
  id: sender.id,
  number: sender.number,
  kind: sender.kind,
  registration: sender.registration,
  parts_per_second: sender.partsPerSecond,
  daily_cap: sender.dailyCap,
});

export const broadcastView = (broadcast: Broadcast) => ({
  id: broadcast.id,
  program_id: broadcast.programId,
  audience: broadcast.audience,
  name: broadcast.name,
  body: broadcast.body,
  state: broadcast.state,
  send_at: iso(broadcast.sendAt),
  begun_at: iso(broadcast.begunAt),
  finished_at: iso(broadcast.finishedAt),
  created_at: iso(broadcast.createdAt),
});

export const resultOf = (row: BroadcastCountsRow): BroadcastResult =>
  broadcastResult({ ...row, optOuts: row.opt_outs });

const rateView = (rate: Rate) => ({
  count: rate.count,
  of: rate.of,
  share: rate.share,
  low: rate.low,
  high: rate.high,
});

export const resultView = (result: BroadcastResult) => ({
  people: result.people,
  open: result.open,
  queued: result.queued,
  sending: result.sending,
  submitted: result.submitted,
  delivered: result.delivered,
  failed: result.failed,
  unconfirmed: result.unconfirmed,
  blocked: result.blocked,
  cancelled: result.cancelled,
  parts: result.parts,
  credits: result.credits,
  replies: result.replies,
  opt_outs: result.optOuts,
  failures: result.failures,
  blocks: result.blocks,
  delivery_rate: rateView(result.deliveryRate),
  reply_rate: rateView(result.replyRate),
  opt_out_rate: rateView(result.optOutRate),
});

export const segmentView = (segment: Segment) => ({
  id: segment.id,
  name: segment.name,
  condition: segment.condition,
  columns: segment.columns,
  version: segment.version,
  created_at: iso(segment.createdAt),
});

export const batchView = (row: BatchRow) => ({
  id: row.id,
  name: row.name,
  action: row.action,
  state: row.state,
  total: row.total,
  done: row.cursor - row.failed,
  failed: row.failed,
  starts_at: iso(row.start_at),
  finished_at: iso(row.finished_at),
});
