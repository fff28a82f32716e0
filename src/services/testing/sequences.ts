import { FORMAT, type Line, type SequenceDocument, type What, type When } from '@/core/sequence/document';
import { follow } from '@/services/kit/happenings';
import { findProgram } from '@/services/programs/find-program';
import { SEQUENCES_FOLLOW } from '@/services/sequences/follow';
import { runDue } from '@/services/sequences/run';
import { createSequence, publishSequence } from '@/services/sequences/sequences';
import { must } from './people';
import { round, Scripted } from './sending';
import type { World } from './world';

const ME = { name: 'test', accountId: null };

export const line = (id: string, when: When, what: What, more: Partial<Line> = {}): Line => ({
  ...{ id, when, what, late: 'go' },
  ...more,
});
export const says = (body: string): What => ({ do: 'text', body });

/** Sequences as they run: documents published, the clock moved, what is due done. */
export class SequenceDesk {
  constructor(readonly world: () => World) {}

  document = async (lines: Line[], more: Partial<SequenceDocument> = {}): Promise<SequenceDocument> => {
    const program = await this.world().within((scope) => findProgram(scope, 'Clear Sky Alerts'));
    return {
      ...{
        format: FORMAT,
        name: 'Welcome',
        program: program!.id,
        begins: [{ on: 'joined', program: program!.id }],
      },
      ...{ only: null, again: { rule: 'never' }, grace_minutes: 5, hours: null, ends: [] },
      ...{ lines },
      ...more,
    } as SequenceDocument;
  };

  publish = async (lines: Line[], more: Partial<SequenceDocument> = {}): Promise<string> => {
    const { ctx, within } = this.world();
    const document = await this.document(lines, more);
    return within(async (scope) => {
      const made = must(await createSequence(ctx, scope, { document }, ME));
      must(await publishSequence(ctx, scope, made.id, { stamp: made.draftStamp }, ME));
      return made.id;
    });
  };

  /** Lets happen what is due at this moment, until nothing is. */
  settle = async (): Promise<void> => {
    const { ctx } = this.world();
    for (let i = 0; i < 50; i++) {
      const followed = await follow(ctx, SEQUENCES_FOLLOW);
      const moved = await runDue(ctx);
      const sent = await round(this.world(), new Scripted());
      if (followed + moved + sent === 0) return;
    }
    throw new Error('It does not settle');
  };

  /** Moves the clock in steps, and lets happen what falls due on the way. */
  pass = async (ms: number, step = 10 * 60_000): Promise<void> => {
    const { clock } = this.world();
    for (const end = clock.at + ms; clock.at < end;) {
      clock.at = Math.min(end, clock.at + step);
      await this.settle();
    }
  };

  /** Texts of sequences, in the order they were queued. */
  sent = () =>
    this.world().rows<{ body: string; state: string; kind: string; at: Date | null }>(
      `select body, state, kind, submitted_at as at from message where workspace_id = :workspace and enrolment_id is not null order by id`,
    );
  bodies = async () => (await this.sent()).filter(({ at }) => at).map(({ body }) => body);
  enrolments = () =>
    this.world().rows<{
      id: string;
      person_id: string;
      state: string;
      line: string | null;
      ended_why: string | null;
      version: number;
      look_at: Date | null;
      due_at: Date | null;
    }>(
      `select id, person_id, state, line, ended_why, version, look_at, due_at from enrolment where workspace_id = :workspace order by id`,
    );
  passed = () =>
    this.world().rows<{ line: string; because: string | null }>(
      `select line, because from enrolment_line where workspace_id = :workspace order by at, line`,
    );
}
