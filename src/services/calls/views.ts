import type { Call, CallEvent, CallOutcome, Switchboard } from '@/db/calls/entities';
import type { CallRow } from '@/db/calls/calls';
import { publicUrl } from '@/services/kit/settings';
import { iso } from '@/services/kit/views';

/** Where a telephone system tells us of calls. */
export const boardUrl = ({ doorKey }: Pick<Switchboard, 'doorKey'>): string =>
  `${publicUrl()}/calls/${doorKey}`;

/** Without what it knows us by. */
export const switchboardView = (board: Switchboard) => ({
  ...{ id: board.id, name: board.name, url: boardUrl(board), signs: board.signs, mapping: board.mapping },
  ...{ numbers_url: board.numbersUrl, heard_at: iso(board.heardAt), created_at: iso(board.createdAt) },
});

export const eventView = ({ id, content, trouble, at }: CallEvent) => ({
  ...{ id, content, trouble, at: iso(at) },
});

export const outcomeView = (outcome: CallOutcome) => ({
  ...{ id: outcome.id, name: outcome.name, calls: outcome.calls, missed: outcome.missed },
  ...{ reached: outcome.reached, program: outcome.programId, body: outcome.body },
  ...{ sequence: outcome.sequenceId, rank: outcome.rank },
});

export const callView = (call: Call) => ({
  ...{ id: call.id, direction: call.direction, address: call.address, sender_number: call.senderId },
  ...{ person: call.personId, teammate: call.teammate, rang_at: iso(call.rangAt) },
  ...{ answered_at: iso(call.answeredAt), ended_at: iso(call.endedAt), outcome: call.outcomeId },
  ...{ note: call.note, after_message: call.afterMessageId },
});

export const callRowView = (row: CallRow) => ({
  ...{ id: row.id, direction: row.direction, address: row.address, number: row.number },
  ...{ teammate: row.teammate, rang_at: iso(row.rang_at), answered_at: iso(row.answered_at) },
  ...{ ended_at: iso(row.ended_at), outcome: row.outcome, note: row.note, texts: row.texts },
});
