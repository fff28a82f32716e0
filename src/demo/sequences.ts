import { FORMAT, type Line, type SequenceDocument } from '@/core/sequence/document';
import { answerThread } from '@/services/inbox/answer-thread';
import { findProgram } from '@/services/programs/find-program';
import { createSequence, publishSequence } from '@/services/sequences/sequences';
import { changeTask, openTasks } from '@/services/tasks/tasks';
import type { Actor } from '@/services/kit/actor';
import type { Context } from '@/services/kit/context';
import type { Scope } from '@/db/kit/scope';
import { must } from './world';

const day = (id: string, n: number, time: string, body: string): Line => ({
  ...{ id, late: 'go', when: { at: 'day', day: n, time }, what: { do: 'text', body } },
});

const FIRST_NAME = '{$person.first_name :wren:field fallback=there}';

/** What follows after somebody joins the members of the dome: rarely, and for three months. */
const UNDER_THE_DOME = (program: string): SequenceDocument => ({
  ...{ format: FORMAT, name: 'Three months under the dome', program },
  begins: [{ on: 'joined', program, method: 'keyword' }],
  ...{ only: null, again: { rule: 'never' }, grace_minutes: 5 },
  hours: { days: [1, 2, 3, 4, 5, 6], from: '09:30', to: '18:30', holidays: [], apart_minutes: 2_880 },
  lines: [
    day(
      'seat',
      3,
      '10:10',
      `Juniper Gap Observatory: ${FIRST_NAME}, row C is the best one under the dome, few know it. Reply STOP to stop.`,
    ),
    day(
      'night',
      12,
      '11:20',
      'Members may stay after the last show: would you like to see the dome without the crowd?',
    ),
    day(
      'bring',
      26,
      '10:40',
      'Bring somebody who has never been: their first ticket is on us. Whom would you take?',
    ),
    day('autumn', 47, '10:10', 'The season turns, and so does the program. Which show should we bring back?'),
    day(
      'quiet',
      66,
      '11:20',
      `${FIRST_NAME}, we have a quiet evening with one big telescope and twelve chairs. Shall I keep you one?`,
    ),
    day(
      'winter',
      79,
      '10:40',
      'Winter skies are the clearest. May I put you down for the first frosty night?',
    ),
  ],
  ends: [
    {
      when: { on: 'reply' },
      then: [
        {
          do: 'task',
          title: 'Wrote back to the dome series: answer',
          for: { to: 'turn', role: 'teammate' },
          due_minutes: 180,
        },
      ],
    },
  ],
});

/** How many in a hundred write back to each line: few at first, most in the third month. */
export const WRITE_BACK: Readonly<Record<string, number>> = {
  ...{ seat: 0.012, night: 0.02, bring: 0.025, autumn: 0.03, quiet: 0.11, winter: 0.12 },
};

export const DOME_REPLIES = [
  'Yes please, for two',
  'Is there a chair left on a Friday?',
  'My sister would love that',
  'The one about the rings!',
  'Put me down',
  'Which evening would that be?',
  'I had forgotten about you, lovely. Yes.',
];

export async function publishDomeSeries(ctx: Context, scope: Scope, me: Actor): Promise<void> {
  const program = (await findProgram(scope, 'Dome Members'))!;
  const made = must(await createSequence(ctx, scope, { document: UNDER_THE_DOME(program.id) }, me));
  must(await publishSequence(ctx, scope, made.id, { stamp: made.draftStamp }, me));
}

/** A teammate answers whoever wrote back, and the task is done; a few are left for today. */
export async function workTasks(
  ctx: Context,
  scope: Scope,
  { chance, pick }: { chance(): number; pick(list: readonly string[]): string },
  answers: readonly string[],
  leave: number,
): Promise<void> {
  for (const task of await openTasks(scope, null)) {
    if (!task.account_id || !task.person_id || chance() < leave) continue;
    await answerThread(ctx, scope, task.person_id, pick(answers), task.account_id);
    await changeTask(
      ctx,
      scope,
      task.id,
      { verb: 'done' },
      { name: task.account_id, accountId: task.account_id },
    );
  }
}
