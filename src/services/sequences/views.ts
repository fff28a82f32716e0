import type { EnrolmentFull } from '@/db/sequences/enrolments';
import type { Sequence } from '@/db/sequences/entities';
import { iso } from '@/services/kit/views';

export const sequenceView = (sequence: Sequence) => ({
  ...{ id: sequence.id, name: sequence.name, program_id: sequence.programId, state: sequence.state },
  ...{ version: sequence.version, draft: sequence.draft, draft_stamp: sequence.draftStamp },
  ...{ created_at: iso(sequence.createdAt), updated_at: iso(sequence.updatedAt) },
});

const isoOf = (at: number | null): string | null =>
  at === null || !Number.isFinite(at) ? null : new Date(at).toISOString();

export const enrolmentView = (one: EnrolmentFull) => ({
  ...{ id: one.id, sequence_id: one.sequenceId, version: one.version, person_id: one.personId },
  ...{ state: one.state, line: one.line, began_at: isoOf(one.began), begun_by: one.begunBy },
  ...{ due_at: isoOf(one.due), ended_at: isoOf(one.ended?.at ?? null), ended_why: one.ended?.why ?? null },
});
