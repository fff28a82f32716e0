import { MikroORM } from '@mikro-orm/postgresql';
import { ormConfig } from '@/db/kit/config';
import { FORMAT, type SequenceDocument } from '@/core/sequence/document';
import { DAY, HOUR } from '@/core/shared/instant';
import { acrossWorkspaces, inWorkspace, type Scope } from '@/db/kit/scope';
import { makeContext } from '@/services/context';
import { addSenderNumber, createWorkspace } from '@/services/access/create-workspace';
import { follow } from '@/services/kit/happenings';
import { migrate } from '@/services/migrate';
import { createProgram } from '@/services/programs/create-program';
import { createBatch, runBatchSlice } from '@/services/batches/batches';
import { findOrMakeLabel } from '@/services/people/labels';
import { tallyMove } from '@/services/sequences/difference';
import { SEQUENCES_FOLLOW } from '@/services/sequences/follow';
import { rehearseSequence } from '@/services/sequences/rehearsal';
import { runDue } from '@/services/sequences/run';
import { createSequence, publishSequence } from '@/services/sequences/sequences';
import { addCrowd } from '@/services/testing/crowd';
import { scratchDatabase } from '../e2e/support/app';
import { round, say } from './report';

/** As many as there are fictional numbers, so that none is made twice. */
const PEOPLE = 30_000;
const ME = { name: 'bench', accountId: null };

/** Enrolments that are due together, a tag to enrolled, a rehearsal, the difference of a version, and what waiting costs. */
export async function benchSequences(): Promise<void> {
  const orm = MikroORM.initSync(ormConfig(await scratchDatabase('bench_sequences'))) as MikroORM;
  try {
    await migrate(orm);
    const clock = { at: Date.UTC(2026, 10, 24, 19) };
    const ctx = makeContext(orm, () => clock.at);
    const { id: workspaceId } = await createWorkspace(ctx, HOUSE);
    const within = <T>(work: (scope: Scope) => Promise<T>) => inWorkspace(orm, workspaceId, work);
    const program = await within(async (scope) => {
      await addSenderNumber(ctx, scope, {
        number: '+17195550110',
        kind: 'local',
        registration: 'registered',
        partsPerSecond: 1_000,
      });
      const made = await createProgram(
        ctx,
        scope,
        { name: 'Clear Sky Alerts', purpose: 'recurring' },
        'bench',
      );
      if (!made.ok) throw new Error('refused');
      return made.value.id;
    });
    await within((scope) => addCrowd(scope, program, PEOPLE));
    await analyse(orm);
    const [label, other] = await within(async (scope) => {
      const labels = [];
      for (const name of ['one', 'other']) {
        const made = await findOrMakeLabel(ctx, scope, 'tag', name, 'bench');
        if (!made.ok) throw new Error('refused');
        labels.push(made.value.id);
      }
      return labels as [string, string];
    });
    const people = await within(async (scope) =>
      (
        await scope.rows<{ id: string }>(`select id from person where workspace_id = :workspace order by id`)
      ).map(({ id }) => id),
    );
    const sequence = await within(async (scope) => {
      const made = await createSequence(ctx, scope, { document: documentOf(program, label) }, ME);
      if (!made.ok) throw new Error(JSON.stringify(made.reason));
      const published = await publishSequence(ctx, scope, made.value.id, { stamp: 1 }, ME);
      if (!published.ok) throw new Error(JSON.stringify(published.reason));
      return made.value;
    });
    const tag = (id: string) =>
      timed(async () => {
        const made = await within((scope) =>
          createBatch(
            ctx,
            scope,
            {
              ...{ name: 'Tag all', action: 'add-label', id, grace_seconds: 0 },
              condition: JSON.stringify({ all: [] }),
            },
            ME,
          ),
        );
        if (!made.ok) throw new Error(JSON.stringify(made.reason));
        while (await runBatchSlice(ctx));
      });
    const plain = await tag(other);
    // What came before is nobody's news in this measure.
    while ((await follow(ctx, SEQUENCES_FOLLOW)) > 0);
    const tagged = await tag(label);
    const entered = await timed(async () => {
      while ((await follow(ctx, SEQUENCES_FOLLOW)) > 0);
    });
    say('tag to enrolled, beside the batch of the tag itself', {
      ...{ people: PEOPLE, tag_ms: [round(plain), round(tagged)], enrol_ms: round(entered) },
      ...{ ratio: round(entered / Math.max(plain, tagged)), asked: 2 },
    });
    await analyse(orm);
    clock.at += HOUR;
    const due = await timed(async () => {
      while ((await runDue(ctx)) > 0);
    });
    const byHand = await timed(() => within((scope) => insertByHand(scope, clock.at)));
    say('due together, each queues a text', {
      ...{ enrolments: PEOPLE, per_second: Math.round(PEOPLE / (due / 1_000)), asked_per_second: 2_000 },
      ...{ ratio_to_hand_written: round(due / byHand), asked: 5 },
    });
    const shorter = { ...sequence.draft, lines: sequence.draft.lines.slice(0, 20) };
    const difference = (patience?: number) =>
      within((scope) => tallyMove(ctx, scope, sequence.id, shorter, patience));
    const counted = await difference();
    const drawn = await timed(() => difference());
    const whole = await timed(() => difference(Infinity));
    say('difference of a version', {
      ...{ enrolments: PEOPLE, counted: counted.counted, ms: round(drawn), asked_ms: 5_000 },
      for_all_of_50000_ms: Math.round((whole / PEOPLE) * 50_000),
    });
    const from = new Date(clock.at + DAY).toISOString();
    const rehearse = () =>
      within((scope) => rehearseSequence(ctx, scope, { sequence: sequence.id, person: people[7]!, from }));
    await rehearse();
    const played = await timed(async () => {
      for (let i = 0; i < 20; i++) await rehearse();
    });
    say('rehearsal of forty lines over a hundred days', { ms: round(played / 20), asked_ms: 60 });
    const waiting = await within((scope) => fillWithWaiting(scope, sequence.id, clock.at));
    await analyse(orm);
    const idle = await timed(async () => {
      for (let i = 0; i < 50; i++) await runDue(ctx);
    });
    // The worker looks five times a second.
    say('waiting, none due', {
      ...{
        enrolments: waiting,
        ms_per_look: round(idle / 50),
        share_of_a_core: round((idle / 50 / 1_000) * 5),
      },
      ...{ asked_share: 0.03 },
    });
  } finally {
    await orm.close(true);
  }
}

const HOUSE = {
  ...{ name: 'Bench', business: 'Bench', contact: 'bench', zone: 'America/Denver', weeklyCap: null },
  ...{ slug: 'bench', credits: 10_000_000 },
};

/** Forty lines over a hundred days. */
const documentOf = (program: string, label: string): SequenceDocument => ({
  ...{ format: FORMAT, name: 'Forty lines', program, begins: [{ on: 'tag', label }], only: null },
  ...{ again: { rule: 'never' }, grace_minutes: 5, hours: null, ends: [] },
  lines: Array.from({ length: 40 }, (_, i) => ({
    id: `l${i}`,
    when:
      i === 0 ? { at: 'once' as const } : { at: 'after' as const, minutes: 3_600, from: 'before' as const },
    what: {
      do: 'text' as const,
      body: `Bench: hello {$person.first_name :wren:field fallback=friend}, ${i}. Reply STOP to stop.`,
    },
    late: 'go' as const,
  })),
});

/** Everybody in as many more sequences as make a million that wait, none of them before tomorrow. Gives how many. */
async function fillWithWaiting(scope: Scope, sequenceId: string, at: number): Promise<number> {
  let waiting = PEOPLE;
  for (let copy = 1; waiting < 1_000_000; copy++) {
    const id = `${sequenceId}.${copy}`;
    await scope.run(
      `insert into sequence (id, workspace_id, name, program_id, state, draft, version, created_at, updated_at)
       select :id, workspace_id, :id, program_id, state, draft, version, created_at, updated_at from sequence where workspace_id = :workspace and id = :sequenceId`,
      { sequenceId, id },
    );
    waiting += await scope.run(
      `insert into enrolment (id, workspace_id, sequence_id, version, person_id, state, began_at, begun_by, prompted, line, arrived_at, due_at, look_at, before_at)
       select :id || id, workspace_id, :id, 1, id, 'waiting', :at, 'bench', false, 'l0', :at, :at + interval '1 day', :at + interval '1 day' + random() * interval '90 days', :at
         from person where workspace_id = :workspace`,
      { id, at: new Date(at) },
    );
  }
  return waiting;
}

/** As the database does by itself after a minute. */
const analyse = (orm: MikroORM) => acrossWorkspaces(orm, (crossing) => crossing.rows(`analyze`));

async function timed(work: () => Promise<unknown>): Promise<number> {
  const from = performance.now();
  await work();
  return performance.now() - from;
}

/** The yardstick: the same messages and the same enrolments, by one statement for each slice. */
async function insertByHand(scope: Scope, at: number): Promise<void> {
  for (let slice = 0; slice * 500 < PEOPLE; slice++)
    await scope.run(
      `with chosen as (select e.id, e.person_id, e.sequence_id, p.number, p.first_name from enrolment e join person p on p.id = e.person_id
         where e.workspace_id = :workspace order by e.id limit 500 offset :skip), moved as (
         update enrolment e set due_at = :at, arrived_at = :at from chosen c where e.id = c.id returning e.id)
       insert into message (id, workspace_id, person_id, program_id, send_id, enrolment_id, step_id, kind, channel, address, body, body_hash, alphabet, parts, credits, state, priority, not_before, created_at)
       select 'hand_' || c.id, :workspace, c.person_id, s.program_id, c.sequence_id, c.id, c.sequence_id || '.hand', 'sequence', 'sms', c.number,
              'Bench: hello ' || coalesce(c.first_name, 'friend'), 'x', 'GSM-7', 1, 1, 'queued', 4, :at, :at from chosen c join sequence s on s.id = c.sequence_id`,
      { skip: slice * 500, at: new Date(at) },
    );
}
